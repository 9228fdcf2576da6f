"""Yarvel: heads, seats and shanks worked out from the stone on the gauge."""

__version__ = "0.1.0"
