"""Painters that replay a drawing: SVG text, and Qt for screen, print and PDF."""
