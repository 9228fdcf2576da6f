"""Finding anything from one line."""
