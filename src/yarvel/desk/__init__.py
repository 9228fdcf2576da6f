"""The Qt application: windows, widgets, theme, actions."""
