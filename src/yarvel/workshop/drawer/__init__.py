"""The stock drawer."""
