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
    key="baguette",
    label="Baguette",
    table=0.60,
    crown=0.10,
    girdle=0.03,
    pavilion=0.47,
    outline=outline,
    bodies=steps.stepped(steps.SLIGHT),
    weight_formula=by_box_from_memory,
    weight_factor=constant(0.0092),
    aspect=(1.0, 6.0),
    formula_holds=(1.65, 4.5),
)
