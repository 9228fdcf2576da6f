"""A gram scale. Weighs metal and pieces. One line a weighing, or all the time: ``12.345 g``; ``12.345 g ?`` while it
moves."""

from __future__ import annotations

from yarvel.instruments.kind import InstrumentKind

KIND = InstrumentKind(key="gram-scale", label="A gram scale", unit="g", low=0.001, high=20000, speed=9600)
