"""Dialogs, one file each; each returns a value."""
