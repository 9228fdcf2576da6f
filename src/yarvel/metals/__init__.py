"""Alloys, wire, bending, solder and joints."""
