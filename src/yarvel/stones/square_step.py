"""Square step cut: cut corners, tiers that meet in a point."""

from __future__ import annotations

from yarvel.stones import steps
from yarvel.stones.cut import Cut
from yarvel.stones.shapes import cut_corners
from yarvel.stones.weight import by_box, constant

CUT = Cut(
    key="square-step",
    label="Square step cut",
    table=0.60,
    crown=0.13,
    girdle=0.03,
    pavilion=0.50,
    outline=cut_corners,
    bodies=steps.stepped(steps.PAVILION),
    weight_formula=by_box,
    weight_factor=constant(0.0083),
    measures=("corner_mm",),
    corner=0.25,
    square=True,
    aspect=(0.9, 1.2),
)
