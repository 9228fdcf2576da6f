"""Princess: four sharp corners, a stepped crown, chevrons that start steep at the girdle and flatten to the culet."""

from __future__ import annotations

from yarvel.stones.chevrons import chevroned
from yarvel.stones.cut import Cut, Girth
from yarvel.stones.outline import Outline
from yarvel.stones.shapes import cut_corners
from yarvel.stones.weight import by_box, constant

CROWN = ((0.0, 0.0), (0.40, 0.60), (1.0, 1.0))
CHEVRONS = ((0.0, 1.75), (9.0, 1.28), (20.0, 1.0))
"""``CROWN``, ``CHEVRONS``: set to the published weight factor."""


def outline(girth: Girth) -> Outline:
    """A rectangle with sharp corners."""
    return cut_corners(Girth(girth.length_mm, girth.width_mm))


CUT = Cut(
    key="princess",
    label="Princess",
    table=0.70,
    crown=0.10,
    girdle=0.03,
    pavilion=0.58,
    outline=outline,
    bodies=chevroned(CROWN, CHEVRONS),
    weight_formula=by_box,
    weight_factor=constant(0.0083),
    square=True,
    aspect=(0.9, 1.6),
)
