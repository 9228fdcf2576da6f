"""The board: who has what, and what will be late."""
