"""Radiant: cut corners, a stepped crown over a pavilion in chevrons."""

from __future__ import annotations

from yarvel.stones.chevrons import chevroned
from yarvel.stones.cut import Cut
from yarvel.stones.shapes import cut_corners
from yarvel.stones.steps import CROWN
from yarvel.stones.weight import by_box_from_memory, constant

CHEVRONS = ((0.0, 1.5), (10.0, 1.15), (20.0, 1.0), (45.0, 1.15))
"""As for the princess, and the corners; from memory."""

CUT = Cut(
    key="radiant",
    label="Radiant",
    table=0.62,
    crown=0.14,
    girdle=0.03,
    pavilion=0.50,
    outline=cut_corners,
    bodies=chevroned(CROWN, CHEVRONS),
    weight_formula=by_box_from_memory,
    weight_factor=constant(0.0081),
    measures=("corner_mm",),
    corner=0.22,
    aspect=(1.0, 2.0),
)
