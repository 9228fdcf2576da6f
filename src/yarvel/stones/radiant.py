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
    "radiant",
    "Radiant",
    0.62,
    0.14,
    0.03,
    0.50,
    cut_corners,
    chevroned(CROWN, CHEVRONS),
    by_box_from_memory,
    constant(0.0081),
    measures=("corner_mm",),
    corner=0.22,
    aspect=(1.0, 2.0),
)
