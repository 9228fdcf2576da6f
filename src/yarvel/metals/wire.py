"""Wire: gauge numbers, and the strain of bending a claw over the crown."""

from __future__ import annotations

import numpy as np

from yarvel.figures.figure import GEOMETRY, Number, figure, published


def gauge_diameter_mm(gauge: Number) -> Number:
    """Diameter in mm of a wire by its B&S gauge number (published: ASTM B258)."""
    return 0.127 * 92 ** ((36 - gauge) / 39)


@figure("head.claw_gauge", "Claw wire, B&S gauge", "", "36 − 39·ln(w/0.127)/ln(92)", published("ASTM B258"), places=1,
        diameter="w")
def gauge_number(diameter: Number) -> Number:
    """B&S gauge number of a wire of this diameter in mm; between two whole ones where no gauge is that thick."""
    number: Number = 36 - 39 * np.log(diameter / 0.127) / np.log(92)
    return number


@figure("head.bend_strain", "Strain at the bend", "", "t/(2·r + t)", GEOMETRY, thickness="t", radius="r")
def bend_strain(thickness: Number, radius: float) -> Number:
    """Outer-fibre strain of a strip of this thickness bent to this inside radius, both in mm."""
    return thickness / (2 * radius + thickness)
