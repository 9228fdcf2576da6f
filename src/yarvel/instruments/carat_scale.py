"""A carat scale. Weighs stones. One line a weighing: ``1.524 ct``, or ``0.3048 g``."""

from __future__ import annotations

from yarvel.instruments.kind import InstrumentKind

KIND = InstrumentKind(key="carat-scale", label="A carat scale", unit="ct", low=0.001, high=2000, speed=9600)
