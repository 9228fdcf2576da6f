"""Tapered baguette: a step cut that is wider at one end (−y) than at the other (+y)."""

from __future__ import annotations

import numpy as np

from yarvel.figures.figure import FROM_MEMORY, Number, figure
from yarvel.stones import steps
from yarvel.stones.cut import Cut, Girth
from yarvel.stones.outline import Outline
from yarvel.stones.weight import REFERENCE_SG, constant


def outline(girth: Girth) -> Outline:
    """A trapezium with its middle half way along."""
    wide, narrow, half = girth.width_mm / 2, girth.narrow_mm / 2, girth.length_mm / 2
    return Outline(np.array([(narrow, half), (-narrow, half), (-wide, -half), (wide, -half)]))


@figure(
    "stone.weight_formula",
    "Weight by formula",
    "ct",
    "L·(W + N)/2·d·f·SG/3.52",
    FROM_MEMORY,
    length_mm="L",
    width_mm="W",
    depth_mm="d",
    factor="f",
    gravity="SG",
    narrow_mm="N",
)
def weight_ct(
    length_mm: Number, width_mm: Number, depth_mm: Number, factor: Number, gravity: Number, narrow_mm: Number
) -> Number:
    """Weight in carats from length, both widths and depth in mm, and specific gravity."""
    return length_mm * (width_mm + narrow_mm) / 2 * depth_mm * factor * gravity / REFERENCE_SG


CUT = Cut(
    key="tapered-baguette",
    label="Tapered baguette",
    table=0.60,
    crown=0.10,
    girdle=0.03,
    pavilion=0.47,
    outline=outline,
    bodies=steps.stepped(steps.SLIGHT),
    weight_formula=weight_ct,
    weight_factor=constant(0.0092),
    measures=("narrow_width_mm",),
    narrow=0.7,
    aspect=(1.0, 6.0),
    formula_holds=(2.25, 6.0),
)
