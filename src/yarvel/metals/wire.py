"""Wire: gauge numbers, and the strain of bending a claw over the crown."""

from __future__ import annotations

import numpy as np

from yarvel.figures.figure import GEOMETRY, Number, figure


def gauge_diameter_mm(gauge: Number) -> Number:
    """Diameter in mm of a wire by its B&S gauge number (published: ASTM B258)."""
    return 0.127 * 92 ** ((36 - gauge) / 39)


def nearest_gauge(diameter_mm: float) -> int:
    """The whole B&S gauge number whose diameter lies nearest."""
    return int(np.rint(36 - 39 * np.log(diameter_mm / 0.127) / np.log(92)))


@figure("head.bend_strain", "Strain at the bend", "", "t/(2·r + t)", GEOMETRY, thickness="t", radius="r")
def bend_strain(thickness: Number, radius: float) -> Number:
    """Outer-fibre strain of a strip of this thickness bent to this inside radius, both in mm."""
    return thickness / (2 * radius + thickness)
