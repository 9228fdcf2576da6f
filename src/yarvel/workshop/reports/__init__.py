"""Reports over the whole workshop."""
