"""The bench window: run, sheet, calls, working."""
