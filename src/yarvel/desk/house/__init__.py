"""Dialogs of the house: rules, alloys, species."""
