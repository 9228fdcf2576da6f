"""Oval brilliant: an ellipse a little fuller than true, eight mains."""

from __future__ import annotations

from yarvel.stones.brilliants import brilliant
from yarvel.stones.cut import Cut, Girth
from yarvel.stones.outline import Outline
from yarvel.stones.shapes import superellipse
from yarvel.stones.weight import by_mean_diameter, constant

FULLNESS = 2.25
"""Power of the outline: ovals are cut a little fuller than an ellipse; from memory."""


def outline(girth: Girth) -> Outline:
    """The oval."""
    return superellipse(girth, FULLNESS)


CUT = Cut(
    key="oval",
    label="Oval brilliant",
    table=0.57,
    crown=0.14,
    girdle=0.03,
    pavilion=0.43,
    outline=outline,
    bodies=brilliant(8, half_length=0.82),
    weight_formula=by_mean_diameter,
    weight_factor=constant(0.0062),
    aspect=(1.0, 2.5),
    formula_holds=(1.0, 1.74),
    smooth=True,
)
