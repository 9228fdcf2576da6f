"""A scanner on a port of its own, instead of one that types like a keyboard. One line a label: ``26-0004``."""

from __future__ import annotations

from yarvel.instruments.kind import InstrumentKind

KIND = InstrumentKind(key="scanner", label="A label scanner", unit="", low=0.0, high=0.0, speed=9600)
