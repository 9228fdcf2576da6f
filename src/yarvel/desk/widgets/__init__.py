"""Widgets that more than one window uses."""
