"""Marquise brilliant: two bows that meet in a point at each end of the length (y)."""

from __future__ import annotations

import numpy as np

from yarvel.stones.brilliants import brilliant
from yarvel.stones.cut import Cut, Girth
from yarvel.stones.outline import Outline, curve
from yarvel.stones.shapes import PARTS
from yarvel.stones.weight import by_box, interpolated

BELLY = 2.45
"""How full the bows are: x = W/2·(1 − |v|ᵇ). From memory."""


def outline(girth: Girth) -> Outline:
    """Two bows."""
    share = np.linspace(-1, 1, PARTS // 2 + 1)
    bow = np.column_stack([(1 - np.abs(share) ** BELLY) * girth.width_mm / 2, share * girth.length_mm / 2])
    return Outline(curve(np.vstack([bow, bow[1:-1][::-1] * (-1, 1)])))


CUT = Cut(
    key="marquise",
    label="Marquise brilliant",
    table=0.57,
    crown=0.14,
    girdle=0.035,
    pavilion=0.43,
    outline=outline,
    bodies=brilliant(8, half_length=0.88),
    weight_formula=by_box,
    weight_factor=interpolated((1.5, 0.00565), (2.0, 0.0058), (2.5, 0.00585), (3.0, 0.00595)),
    aspect=(1.4, 4.0),
    claws=6,
)
