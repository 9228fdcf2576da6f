"""Stone against metal at the girdle: openings, outsides, notches and what they leave, in claws and in walls.

Each formula stands here once; where claw and wall call its result by different names, it is declared twice.
"""

from __future__ import annotations

from yarvel.figures.figure import COMMON_PRACTICE, GEOMETRY, FigureKey, Number, figure

SEAT_DEPTH = FigureKey("seat.depth")
REMAINING = FigureKey("seat.remaining")


def _between(diameter_mm: Number, ratio: Number, metal_mm: Number) -> Number:
    """Width in mm between the metal's inner faces, where the stone takes ``ratio`` of the metal on each side."""
    return diameter_mm - 2 * ratio * metal_mm


def _over(diameter_mm: Number, ratio: Number, metal_mm: Number) -> Number:
    """Width in mm over the metal's outer faces."""
    return diameter_mm + 2 * metal_mm * (1 - ratio)


def _share(ratio: Number, metal_mm: Number) -> Number:
    """A share of the metal, in mm."""
    return ratio * metal_mm


def _half_the_difference(diameter_mm: Number, opening_mm: Number) -> Number:
    """How far in mm a stone reaches into the metal on each side of an opening; negative where it falls through."""
    return (diameter_mm - opening_mm) / 2


def _left(metal_mm: Number, depth_mm: Number) -> Number:
    """What a notch leaves of the metal, in mm."""
    return metal_mm - depth_mm


claw_opening_mm = figure(
    "head.inner_opening",
    "Opening between the claws",
    "mm",
    "D − 2·ρ·w",
    GEOMETRY,
    diameter_mm="D",
    ratio="ρ",
    metal_mm="w",
    shown_in="head",
)(_between)
made_for_opening_mm = figure(
    "head.inner_opening",
    "Opening between the claws",
    "mm",
    "M − 2·ρ₀·w",
    GEOMETRY,
    diameter_mm="M",
    ratio="ρ₀",
    metal_mm="w",
    shown_in="head",
)(_between)
collet_bore_mm = figure(
    "head.inner_opening",
    "Bore at the girdle",
    "mm",
    "D − 2·ρ·t_h",
    GEOMETRY,
    diameter_mm="D",
    ratio="ρ",
    metal_mm="t_h",
    shown_in="head",
)(_between)
outer_over_claws_mm = figure(
    "head.outer_over_claws",
    "Outside over the claws",
    "mm",
    "D + 2·w·(1 − ρ)",
    GEOMETRY,
    diameter_mm="D",
    ratio="ρ",
    metal_mm="w",
    shown_in="head",
)(_over)
collet_outer_mm = figure(
    "head.collet_outer",
    "Collet at the girdle, outside",
    "mm",
    "D + 2·t_h·(1 − ρ)",
    GEOMETRY,
    diameter_mm="D",
    ratio="ρ",
    metal_mm="t_h",
)(_over)
claw_depth_mm = figure(SEAT_DEPTH, "Seat depth in the claw", "mm", "ρ·w", COMMON_PRACTICE, ratio="ρ", metal_mm="w")(
    _share
)
collet_depth_mm = figure(
    SEAT_DEPTH, "Seat ledge in the wall", "mm", "ρ·t_h", COMMON_PRACTICE, ratio="ρ", metal_mm="t_h"
)(_share)
first_cut_mm = figure("seat.first_cut", "First cut", "mm", "q·w", COMMON_PRACTICE, ratio="q", metal_mm="w")(_share)
claw_reach_mm = figure(
    SEAT_DEPTH, "Seat depth in the claw", "mm", "(D − o)/2", GEOMETRY, diameter_mm="D", opening_mm="o"
)(_half_the_difference)
wall_reach_mm = figure(
    SEAT_DEPTH, "Seat ledge in the wall", "mm", "(D − o)/2", GEOMETRY, diameter_mm="D", opening_mm="o"
)(_half_the_difference)
claw_left_mm = figure(REMAINING, "Claw left behind the girdle", "mm", "w − s", GEOMETRY, metal_mm="w", depth_mm="s")(
    _left
)
wall_left_mm = figure(REMAINING, "Wall left outside the girdle", "mm", "w − s", GEOMETRY, metal_mm="w", depth_mm="s")(
    _left
)


@figure("seat.notch_ratio", "Notch ratio", "", "(D − o)/(2·w)", GEOMETRY, diameter_mm="D", opening_mm="o", metal_mm="w")
def notch_ratio(diameter_mm: Number, opening_mm: Number, metal_mm: Number) -> Number:
    """Share of the metal that the notch takes, for a stone of this diameter in a head of this opening."""
    return (diameter_mm - opening_mm) / (2 * metal_mm)
