"""Who works here and who brings work."""
