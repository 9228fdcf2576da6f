"""Baguette: a small step cut with four sharp corners."""

from __future__ import annotations

from yarvel.stones import steps
from yarvel.stones.cut import Cut, Girth
from yarvel.stones.outline import Outline
from yarvel.stones.shapes import cut_corners
from yarvel.stones.weight import by_box_from_memory, constant


def outline(girth: Girth) -> Outline:
    """A rectangle."""
    return cut_corners(Girth(girth.length_mm, girth.width_mm))


CUT = Cut(
    "baguette",
    "Baguette",
    0.60,
    0.10,
    0.03,
    0.47,
    outline,
    steps.stepped(steps.SLIGHT),
    by_box_from_memory,
    constant(0.0092),
    aspect=(1.0, 6.0),
    formula_holds=(1.65, 4.5),
)
