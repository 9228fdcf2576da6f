"""Emerald cut: a long step cut with cut corners and a keel."""

from __future__ import annotations

from yarvel.stones import steps
from yarvel.stones.cut import Cut
from yarvel.stones.shapes import cut_corners
from yarvel.stones.weight import by_box, interpolated

CUT = Cut(
    "emerald",
    "Emerald cut",
    0.60,
    0.13,
    0.03,
    0.47,
    cut_corners,
    steps.stepped(steps.PAVILION),
    by_box,
    interpolated((1.0, 0.0080), (1.5, 0.0092), (2.0, 0.0100), (2.5, 0.0106)),
    measures=("corner_mm",),
    corner=0.30,
    aspect=(1.0, 3.5),
)
