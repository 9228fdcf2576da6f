"""Square step cut: cut corners, tiers that meet in a point."""

from __future__ import annotations

from yarvel.stones import steps
from yarvel.stones.cut import Cut
from yarvel.stones.shapes import cut_corners
from yarvel.stones.weight import by_box, constant

CUT = Cut(
    "square-step",
    "Square step cut",
    0.60,
    0.13,
    0.03,
    0.50,
    cut_corners,
    steps.stepped(steps.PAVILION),
    by_box,
    constant(0.0083),
    measures=("corner_mm",),
    corner=0.25,
    square=True,
    aspect=(0.9, 1.2),
)
