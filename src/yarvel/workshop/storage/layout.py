"""Which layout of the store this Yarvel writes."""

HEAD = "0019"
"""Newest migration; a test holds it against the migration scripts."""
