"""Dockets and their history: records and use-cases. No Qt here; no SQL outside."""
