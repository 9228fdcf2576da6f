"""Instruments that type their readings: gauges, scales, scanners on a serial or USB port.

``frame`` lines out of bytes, ``reading`` a line read, ``gate`` what is let through; ``kinds`` the register, one module
a kind (``gauge``, ``gram_scale``, ``carat_scale``, ``scanner``); ``port`` listens; ``simulated`` speaks the same
lines.
"""
