"""Cuts (outline, facets), species and weight."""
