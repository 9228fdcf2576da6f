"""A gauge or caliper. Reads lengths. One line a press of its button: ``7.64 mm``, or ``0.3008 in``."""

from __future__ import annotations

from yarvel.instruments.kind import InstrumentKind

KIND = InstrumentKind(key="gauge", label="A gauge or caliper", unit="mm", low=0.05, high=200, speed=9600)
