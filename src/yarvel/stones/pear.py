"""Pear brilliant: a round end and one point, towards which its length runs (y)."""

from __future__ import annotations

import numpy as np

from yarvel.stones.brilliants import brilliant
from yarvel.stones.cut import Cut, Girth
from yarvel.stones.outline import Outline, curve
from yarvel.stones.shapes import PARTS
from yarvel.stones.weight import by_box, interpolated

ROUND_END = 0.37
"""Culet to the round end, share of the length."""
BELLY = 2.45
"""How full the sides run to the point: x = W/2·(1 − vᵇ). From memory."""


def outline(girth: Girth) -> Outline:
    """Half an ellipse at the round end, two bowed sides to the point."""
    turn = np.pi + np.arange(PARTS // 2 + 1) * np.pi / (PARTS // 2)
    low = np.column_stack([np.cos(turn) * girth.width_mm / 2, np.sin(turn) * ROUND_END * girth.length_mm])
    share = np.linspace(0, 1, PARTS // 4 + 1)
    side = np.column_stack([(1 - share**BELLY) * girth.width_mm / 2, share * (1 - ROUND_END) * girth.length_mm])
    return Outline(curve(np.vstack([low, side[1:], side[1:-1][::-1] * (-1, 1)])))


CUT = Cut(
    key="pear",
    label="Pear brilliant",
    table=0.57,
    crown=0.14,
    girdle=0.035,
    pavilion=0.43,
    outline=outline,
    bodies=brilliant(8, 90.0, half_length=0.88),
    weight_formula=by_box,
    weight_factor=interpolated((1.25, 0.00615), (1.50, 0.0060), (1.66, 0.0059), (2.00, 0.00575)),
    aspect=(1.0, 2.5),
    claws=5,
)
