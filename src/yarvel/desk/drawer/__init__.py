"""The drawer: stock in a window, and bought heads ranked for the stone in hand."""
