"""Gauges, scales and scanners at this machine."""
