"""Bending: the strain of the outside against what the metal bears in its temper."""

from __future__ import annotations

import numpy as np
from msgspec import Struct

from yarvel.figures.figure import GEOMETRY, Number, figure
from yarvel.metals.alloys import Alloy

AS_IT_IS, ANNEAL, NOTCH_FIRST, TOO_THICK = "as it is", "anneal first", "notch first", "too thick"


@figure("head.bend_strain", "Strain at the bend", "", "t/(2·r + t)", GEOMETRY, thickness_mm="t", radius_mm="r")
def bend_strain(thickness_mm: Number, radius_mm: Number) -> Number:
    """Outer-fibre strain of a strip of this thickness bent to this inside radius, both in mm."""
    return thickness_mm / (2 * radius_mm + thickness_mm)


@figure(
    "head.bend_whole", "Strain if bent before it is notched", "", "w/(2·r + w)", GEOMETRY, claw_mm="w", radius_mm="r"
)
def whole_strain(claw_mm: Number, radius_mm: Number) -> Number:
    """Outer-fibre strain of the whole claw bent at the girdle, before its seat is cut."""
    return claw_mm / (2 * radius_mm + claw_mm)


@figure(
    "head.bend_notch",
    "Strain at the notch",
    "",
    "(w − s)/(2·r + w − s)",
    GEOMETRY,
    claw_mm="w",
    seat_mm="s",
    radius_mm="r",
)
def notch_strain(claw_mm: Number, seat_mm: Number, radius_mm: Number) -> Number:
    """Outer-fibre strain of what the notch has left of a claw."""
    return (claw_mm - seat_mm) / (2 * radius_mm + claw_mm - seat_mm)


@figure(
    "shank.bend_strain",
    "Strain of rounding up the band",
    "",
    "t/(d_i + t)",
    GEOMETRY,
    thickness_mm="t",
    inside_mm="d_i",
)
def band_strain(thickness_mm: Number, inside_mm: Number) -> Number:
    """Outer-fibre strain of a straight blank bent round a rod of the ring's inside diameter, both in mm."""
    return thickness_mm / (inside_mm + thickness_mm)


@figure(
    "shank.spread_strain",
    "Strain of spreading a branch",
    "",
    "b·tan(χ/2)/l",
    GEOMETRY,
    branch_mm="b",
    angle_deg="χ",
    length_mm="l",
)
def spread_strain(branch_mm: Number, angle_deg: Number, length_mm: Number) -> Number:
    """Outer-fibre strain of a branch bent sideways by an angle in degrees evenly over its length in mm."""
    return branch_mm * np.tan(np.radians(angle_deg / 2)) / length_mm


class Bend(Struct, frozen=True):
    """How a claw is to be bent: the verdict, the strain that decides, and what the metal bears in that temper."""

    verdict: str
    strain: float
    limit: float


def verdict(whole: float, notched: float, alloy: Alloy, cast: bool = False, heated: bool = False) -> Bend:
    """Whether a claw bends as it is, annealed, only once it is notched, or not at all at this thickness; ``heated``
    where soldering has annealed it already."""
    hard = alloy.elongation_cast if cast else alloy.elongation_drawn
    soft = alloy.elongation_annealed
    if heated:
        hard = soft
    if whole <= hard:
        return Bend(AS_IT_IS, whole, hard)
    if notched <= hard:
        return Bend(NOTCH_FIRST, notched, hard)
    if whole <= soft:
        return Bend(ANNEAL, notched, hard)
    if notched <= soft:
        return Bend(NOTCH_FIRST, notched, soft)
    return Bend(TOO_THICK, notched, soft)
