"""Which layout of the store this Yarvel writes."""

HEAD = "0021"
"""Newest migration; a test holds it against the migration scripts."""
