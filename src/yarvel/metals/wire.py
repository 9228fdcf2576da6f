"""Wire: gauge numbers."""

from __future__ import annotations

import numpy as np

from yarvel.figures.figure import Number, figure, published


@figure(
    "head.claw_gauge",
    "Claw wire, B&S gauge",
    "",
    "36 − 39·ln(w/0.127)/ln(92)",
    published("ASTM B258"),
    places=1,
    diameter_mm="w",
    shown_in="head",
)
def gauge_number(diameter_mm: Number) -> Number:
    """B&S gauge number of a wire of this diameter in mm; between two whole ones where no gauge is that thick."""
    number: Number = 36 - 39 * np.log(diameter_mm / 0.127) / np.log(92)
    return number
