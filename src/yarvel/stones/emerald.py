"""Emerald cut: a long step cut with cut corners and a keel."""

from __future__ import annotations

from yarvel.stones import steps
from yarvel.stones.cut import Cut
from yarvel.stones.shapes import cut_corners
from yarvel.stones.weight import by_box, interpolated

CUT = Cut(
    key="emerald",
    label="Emerald cut",
    table=0.60,
    crown=0.13,
    girdle=0.03,
    pavilion=0.47,
    outline=cut_corners,
    bodies=steps.stepped(steps.PAVILION),
    weight_formula=by_box,
    weight_factor=interpolated((1.0, 0.0080), (1.5, 0.0092), (2.0, 0.0100), (2.5, 0.0106)),
    measures=("corner_mm",),
    corner=0.30,
    aspect=(1.0, 3.5),
)
