"""Trillion: three bowed sides that meet in points, one of them at +y."""

from __future__ import annotations

import numpy as np

from yarvel.stones.brilliants import brilliant
from yarvel.stones.cut import Cut, Girth
from yarvel.stones.outline import Outline, curve
from yarvel.stones.shapes import PARTS, boxed
from yarvel.stones.weight import by_box, constant

BOW = 0.12
"""How far a side bows out, share of its length; from memory."""


def outline(girth: Girth) -> Outline:
    """Three arcs between the points of a triangle around the culet."""
    ends = np.radians([90.0, 210.0, 330.0])
    tips = np.column_stack([np.cos(ends), np.sin(ends)])
    share = np.linspace(0, 1, PARTS // 3 + 1)[:-1, None]
    sides = []
    for start, end in zip(tips, np.roll(tips, -1, axis=0), strict=True):
        out = np.array([end[1] - start[1], start[0] - end[0]])
        sides.append(start + (end - start) * share + out * 4 * BOW * share * (1 - share))
    return Outline(curve(boxed(np.vstack(sides), girth)))


CUT = Cut(
    key="trillion",
    label="Trillion",
    table=0.58,
    crown=0.12,
    girdle=0.03,
    pavilion=0.36,
    outline=outline,
    bodies=brilliant(6, 30.0, half_length=0.9),
    weight_formula=by_box,
    weight_factor=constant(0.0057),
    aspect=(0.8, 1.2),
    claws=3,
)
