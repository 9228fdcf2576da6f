"""Work that the window does not wait for."""
