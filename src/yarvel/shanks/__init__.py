"""Finger sizes, blanks, and one module a fit method."""
