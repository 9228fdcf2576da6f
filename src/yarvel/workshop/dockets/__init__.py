"""Dockets: what they are, how they are edited, found and shown again, their photographs and claw charts."""
