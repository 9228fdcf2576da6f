"""The shank itself: section, blank length, and what a gap takes from it."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from yarvel.figures.figure import GEOMETRY, FigureKey, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.metals.alloys import Alloy
from yarvel.metals.joints import Seam
from yarvel.shanks.band import Band

INSIDE_DIAMETER = FigureKey("shank.inside_diameter")
WIDTH = FigureKey("shank.width")
THICKNESS = FigureKey("shank.thickness")
BACK_WIDTH = FigureKey("shank.back_width")
BACK_THICKNESS = FigureKey("shank.back_thickness")

SHANK = "shank"
"""Name of the shank in the graph of joints; ways along it are counted from under the head."""


@figure(
    "shank.full_length",
    "Length of a whole ring",
    "mm",
    "π·(d_i + t)",
    GEOMETRY,
    inside_diameter_mm="d_i",
    thickness_mm="t",
)
def full_length_mm(inside_diameter_mm: Number, thickness_mm: Number) -> Number:
    """Mid-line length in mm of a closed ring."""
    return np.pi * (inside_diameter_mm + thickness_mm)


@figure(
    "shank.blank_length",
    "Blank length",
    "mm",
    "π·(d_i + t) − gap",
    GEOMETRY,
    inside_diameter_mm="d_i",
    thickness_mm="t",
    gap_mm="gap",
)
def blank_length_mm(inside_diameter_mm: Number, thickness_mm: Number, gap_mm: Number) -> Number:
    """Mid-line length in mm of the blank, less the arc that the head takes up (0 for a closed ring)."""
    return np.pi * (inside_diameter_mm + thickness_mm) - gap_mm


@figure("shank.cut_length", "Cut the stock at", "mm", "l + a", GEOMETRY, places=1, length_mm="l", allowance_mm="a")
def cut_length_mm(length_mm: Number, allowance_mm: Number) -> Number:
    """Length in mm to cut, with the saw allowance."""
    return length_mm + allowance_mm


@figure("shank.gap_arc", "Gap on the mid-line", "mm", "2·r·asin(b/(2·r))·π/180", GEOMETRY, radius_mm="r", width_mm="b")
def gap_arc_mm(radius_mm: Number, width_mm: Number) -> Number:
    """Arc in mm on a circle of this radius over a gap this wide (chord)."""
    arc: Number = 2 * radius_mm * np.arcsin(np.clip(width_mm / (2 * radius_mm), 0, 1))
    return arc


@figure("shank.removed_arc_deg", "Arc removed", "°", "2·asin(b/(2·r))", GEOMETRY, places=1, width_mm="b", radius_mm="r")
def removed_arc_deg(width_mm: Number, radius_mm: Number) -> Number:
    """Angle in degrees of the arc taken out at the inside of the band."""
    angle: Number = 2 * np.degrees(np.arcsin(np.clip(width_mm / (2 * radius_mm), 0, 1)))
    return angle


OF_STOCK: tuple[FigureKey, ...] = (full_length_mm, blank_length_mm, cut_length_mm)
"""What a band is cut from: nothing to be told of one that is there."""


def sagitta_mm(radius_mm: Number, chord_mm: Number) -> Number:
    """Height in mm of the arc over a chord; the whole radius where the chord reaches the diameter."""
    return radius_mm - np.sqrt(np.maximum(radius_mm**2 - chord_mm**2 / 4, 0))


def enter_closed(ledger: Ledger, band: Band, rules: HouseRules, gap_mm: Number = 0.0) -> None:
    """Enter the blank of a band that is closed under its head, or that is left open by a gap in mm on its mid-line."""
    length = ledger.enter(blank_length_mm, band.inside_diameter_mm, band.mean_thickness, gap_mm)
    ledger.enter(cut_length_mm, length, rules.saw_allowance_mm)


def back_seam(shank: Alloy, figures: Mapping[FigureKey, float]) -> Seam:
    """The seam of a closed band, opposite the head."""
    half = figures[blank_length_mm] / 2
    return Seam(what="shank seam", grade="hard", group="shank-seam", metals=(shank,), ends=((SHANK, half),))
