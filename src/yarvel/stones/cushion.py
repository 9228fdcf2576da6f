"""Cushion brilliant: bowed sides, rounded corners; a brilliant crown over a pavilion that is full near the girdle."""

from __future__ import annotations

from yarvel.stones.brilliants import STAR_REACH, mains
from yarvel.stones.chevrons import SIDES_DEG
from yarvel.stones.cut import Cut, Girth
from yarvel.stones.facets import (
    Body,
    Heights,
    PlaneBody,
    brilliant_crown,
    chevron_planes,
    girdle_planes,
    table_plane,
)
from yarvel.stones.outline import Outline
from yarvel.stones.shapes import superellipse
from yarvel.stones.weight import by_box_from_memory, constant

SQUARENESS = 3.6
"""Power of the outline; from memory."""
CHEVRONS = ((0.0, 2.0), (12.0, 1.45), (26.0, 1.0), (45.0, 1.35))
"""As for the princess, and the rounded corners; from memory."""


def outline(girth: Girth) -> Outline:
    """The cushion."""
    return superellipse(girth, SQUARENESS)


def bodies(shape: Outline, heights: Heights) -> tuple[Body, ...]:
    """Eight mains above, chevrons below."""
    planes = [
        *girdle_planes(shape),
        *table_plane(heights),
        *brilliant_crown(shape, heights, mains(shape, 8), STAR_REACH),
        *chevron_planes(shape, heights.pavilion, SIDES_DEG, CHEVRONS),
    ]
    return (PlaneBody(planes, (0.0, 0.0, heights.girdle / 2)),)


CUT = Cut(
    key="cushion",
    label="Cushion brilliant",
    table=0.60,
    crown=0.17,
    girdle=0.03,
    pavilion=0.44,
    outline=outline,
    bodies=bodies,
    weight_formula=by_box_from_memory,
    weight_factor=constant(0.0080),
    square=True,
    aspect=(0.9, 2.0),
    blunt=True,
)
