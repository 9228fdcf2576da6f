"""A measured stone: readings to proportions, measured or assumed."""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from msgspec.structs import astuple

from yarvel.figures.figure import ASSUMED, GEOMETRY, MEASURED, FigureKey, Ledger, Number, figure

MEAN_DIAMETER = FigureKey("stone.mean_diameter")
DEPTH = FigureKey("stone.depth")
GIRDLE = FigureKey("stone.girdle")
TABLE = FigureKey("stone.table")
LENGTH = FigureKey("stone.length")
WIDTH = FigureKey("stone.width")
CORNER = FigureKey("stone.corner")
NARROW_WIDTH = FigureKey("stone.narrow_width")
LARGEST_DIAMETER = FigureKey("stone.largest_diameter")
CROWN_HEIGHT = FigureKey("stone.crown_height")
PAVILION_DEPTH = FigureKey("stone.pavilion_depth")

MICRO_MM = 1e-9


class Readings(Struct, frozen=True, kw_only=True):
    """What the gauge gave, and what stands in for what it did not.

    Every number may be an array of samples. ``diameters_mm`` has one entry a reading, none where the stone is not
    round: then ``length_mm`` and ``width_mm`` are there, ``corner_mm`` and ``narrow_mm`` where the cut has them
    (measured or not). Optional measures are None where they were not taken; ``table_share`` and the typical proportions
    are shares of the width."""

    diameters_mm: tuple[Number, ...]
    length_mm: Number
    width_mm: Number
    depth_mm: Number | None
    table_share: Number
    crown_height_mm: Number | None
    girdle_mm: Number | None
    pavilion_depth_mm: Number | None
    typical_crown_share: Number
    typical_girdle_share: Number
    typical_pavilion_share: Number
    corner_mm: Number = 0.0
    narrow_mm: Number = 0.0
    table_measured: bool = False
    corner_measured: bool = False
    narrow_measured: bool = False

    gravity_share: Number = 1.0
    """The stone's specific gravity as a share of its species'."""
    beside: Number = 0.0
    """Samples of −1 … 1 for what is assumed of the head, not of the stone."""


class Stone(Struct, frozen=True):
    """Proportions in mm (``table_share`` a share of the width); numbers or arrays of samples. A round stone is as long
    as it is wide. ``corner_mm`` is the length of a cut corner, ``narrow_mm`` the width at a taper's narrow end; 0
    without.

    Frame: z = 0 is the girdle's lower edge, up is +, the culet lies at z = −pavilion_depth.
    """

    length_mm: Number
    width_mm: Number
    depth_mm: Number
    crown_height_mm: Number
    girdle_mm: Number
    pavilion_depth_mm: Number
    table_share: Number
    corner_mm: Number = 0.0
    narrow_mm: Number = 0.0

    @property
    def diameter(self) -> Number:
        """The width in mm: what a round stone is called by, and what sizes a head across any other."""
        return self.width_mm


def plain(stone: Stone) -> Stone:
    """The same stone in plain floats."""
    return Stone(*map(float, astuple(stone)))


@figure(MEAN_DIAMETER, "Mean diameter", "mm", "(D₁ + D₂)/2", GEOMETRY, largest_mm="D₁", smallest_mm="D₂")
def middle_diameter(largest_mm: Number, smallest_mm: Number) -> Number:
    """Mean of two readings, in mm."""
    return (largest_mm + smallest_mm) / 2


@figure(MEAN_DIAMETER, "Mean diameter", "mm", "Σd/n", GEOMETRY, total_mm="Σd", count="n")
def mean_diameter(total_mm: Number, count: Number) -> Number:
    """Mean of all diameter readings, in mm: it sizes the head."""
    return total_mm / count


@figure(
    "stone.out_of_round",
    "Out of round",
    "",
    "(D₁ − D₂)/D",
    GEOMETRY,
    places=3,
    largest_mm="D₁",
    smallest_mm="D₂",
    mean_mm="D",
)
def out_of_round(largest_mm: Number, smallest_mm: Number, mean_mm: Number) -> Number:
    """Spread of the diameter readings as a share of their mean."""
    return (largest_mm - smallest_mm) / mean_mm


@figure("stone.elongation", "Length over width", "", "L/W", GEOMETRY, length_mm="L", width_mm="W")
def elongation(length_mm: Number, width_mm: Number) -> Number:
    """Length over width."""
    return length_mm / width_mm


@figure(
    "stone.out_of_square",
    "Out of square",
    "",
    "abs(L − W)/((L + W)/2)",
    GEOMETRY,
    places=3,
    length_mm="L",
    width_mm="W",
)
def out_of_square(length_mm: Number, width_mm: Number) -> Number:
    """Difference between length and width as a share of their mean, for a stone that is meant to be square."""
    off: Number = np.abs(length_mm - width_mm) / ((length_mm + width_mm) / 2)
    return off


@figure(
    "stone.perimeter",
    "Round the girdle",
    "mm",
    "c_w·W + c_l·L",
    GEOMETRY,
    across_mm="c_w",
    width_mm="W",
    along_mm="c_l",
    length_mm="L",
)
def perimeter_mm(across_mm: Number, width_mm: Number, along_mm: Number, length_mm: Number) -> Number:
    """Length in mm of the outline; the shares are those of its edges' squares over their lengths (Euler's theorem)."""
    return across_mm * width_mm + along_mm * length_mm


@figure("stone.perimeter", "Round the girdle", "mm", "π·D", GEOMETRY, diameter_mm="D")
def circumference_mm(diameter_mm: Number) -> Number:
    """Length in mm of a round outline."""
    return np.pi * diameter_mm


DOME_SHARE = 0.12
"""A dome's slope is taken this share of the width in from the edge, about where a tip ends; from memory."""


@figure(
    "stone.crown_angle",
    "Dome's slope near the edge",
    "°",
    "atan(h_c·√(1 − (1 − 2·q)²)/(q·W))",
    GEOMETRY,
    places=1,
    crown_height_mm="h_c",
    share="q",
    width_mm="W",
)
def dome_angle_deg(crown_height_mm: Number, share: Number, width_mm: Number) -> Number:
    """Slope in degrees of the chord from the edge to a share of the width further in, on half an ellipsoid."""
    return np.degrees(np.arctan(crown_height_mm * np.sqrt(1 - (1 - 2 * share) ** 2) / (share * width_mm)))


@figure(DEPTH, "Depth", "mm", "h_c + g + h_p", GEOMETRY, crown_mm="h_c", girdle_mm="g", pavilion_mm="h_p")
def depth_from_parts(crown_mm: Number, girdle_mm: Number, pavilion_mm: Number) -> Number:
    """Depth from table to culet, in mm, as the sum of its parts."""
    return crown_mm + girdle_mm + pavilion_mm


@figure(
    CROWN_HEIGHT,
    "Crown height",
    "mm",
    "(d − g)·c/(c + p)",
    GEOMETRY,
    depth_mm="d",
    girdle_mm="g",
    crown_mm="c",
    pavilion_mm="p",
)
def crown_from_depth(depth_mm: Number, girdle_mm: Number, crown_mm: Number, pavilion_mm: Number) -> Number:
    """Crown height in mm: the crown's share of the depth less the girdle."""
    return (depth_mm - girdle_mm) * crown_mm / (crown_mm + pavilion_mm)


@figure(
    PAVILION_DEPTH,
    "Pavilion depth",
    "mm",
    "(d − g)·p/(c + p)",
    GEOMETRY,
    depth_mm="d",
    girdle_mm="g",
    crown_mm="c",
    pavilion_mm="p",
)
def pavilion_from_depth(depth_mm: Number, girdle_mm: Number, crown_mm: Number, pavilion_mm: Number) -> Number:
    """Pavilion depth in mm: the pavilion's share of the depth less the girdle."""
    return (depth_mm - girdle_mm) * pavilion_mm / (crown_mm + pavilion_mm)


@figure(
    "stone.crown_angle",
    "Crown angle",
    "°",
    "atan(2·h_c/(D·(1 − t)))",
    GEOMETRY,
    places=1,
    crown_height_mm="h_c",
    diameter_mm="D",
    table_share="t",
)
def crown_angle_deg(crown_height_mm: Number, diameter_mm: Number, table_share: Number) -> Number:
    """Angle of the crown mains from the girdle plane, in degrees."""
    return np.degrees(np.arctan(2 * crown_height_mm / (diameter_mm * (1 - table_share))))


@figure(
    "stone.pavilion_angle",
    "Pavilion angle",
    "°",
    "atan(2·h_p/D)",
    GEOMETRY,
    places=1,
    pavilion_depth_mm="h_p",
    diameter_mm="D",
)
def pavilion_angle_deg(pavilion_depth_mm: Number, diameter_mm: Number) -> Number:
    """Angle of the pavilion mains from the girdle plane, in degrees."""
    return np.degrees(np.arctan(2 * pavilion_depth_mm / diameter_mm))


def measure(ledger: Ledger, readings: Readings, domed: bool = False, square: bool = False) -> Stone:
    """Turn readings into proportions, entering each figure with its origin.

    A measured depth is kept: crown and pavilion, measured or typical, are scaled so that
    crown + girdle + pavilion equals it; where just one of the two was measured, the other takes the rest.
    """
    length, width = _across(ledger, readings, square)
    girdle_given = readings.girdle_mm is not None
    girdle = readings.girdle_mm if readings.girdle_mm is not None else readings.typical_girdle_share * width
    ledger.given(GIRDLE, "Girdle", "mm", girdle, MEASURED if girdle_given else ASSUMED)
    depth, crown, pavilion = _heights(ledger, readings, width, girdle)
    stone = Stone(
        length_mm=length,
        width_mm=width,
        depth_mm=depth,
        crown_height_mm=crown,
        girdle_mm=girdle,
        pavilion_depth_mm=pavilion,
        table_share=readings.table_share,
        corner_mm=readings.corner_mm,
        narrow_mm=readings.narrow_mm,
    )
    if domed:
        ledger.enter(dome_angle_deg, crown, DOME_SHARE, width)
        return stone
    ledger.given(
        TABLE,
        "Table, share of the width",
        "",
        readings.table_share,
        MEASURED if readings.table_measured else ASSUMED,
    )
    ledger.enter(crown_angle_deg, crown, width, readings.table_share)
    ledger.enter(pavilion_angle_deg, pavilion, width)
    return stone


def _across(ledger: Ledger, readings: Readings, square: bool) -> tuple[Number, Number]:
    """Length and width; a round stone's mean diameter stands for both."""
    if readings.diameters_mm:
        mean = _diameters(ledger, readings.diameters_mm)
        return mean, mean
    ledger.given(LENGTH, "Length", "mm", readings.length_mm, MEASURED)
    ledger.given(WIDTH, "Width", "mm", readings.width_mm, MEASURED)
    ledger.enter(elongation, readings.length_mm, readings.width_mm)
    if square:
        ledger.enter(out_of_square, readings.length_mm, readings.width_mm)
    if np.any(readings.corner_mm):
        ledger.given(
            CORNER,
            "Cut at a corner",
            "mm",
            readings.corner_mm,
            MEASURED if readings.corner_measured else ASSUMED,
        )
    if np.any(readings.narrow_mm):
        ledger.given(
            NARROW_WIDTH,
            "Width at the narrow end",
            "mm",
            readings.narrow_mm,
            MEASURED if readings.narrow_measured else ASSUMED,
        )
    return readings.length_mm, readings.width_mm


def _diameters(ledger: Ledger, diameters: tuple[Number, ...]) -> Number:
    if len(diameters) == 1:
        only = diameters[0]
        ledger.given(MEAN_DIAMETER, "Diameter", "mm", only, MEASURED)
        return only
    stacked = np.stack([np.asarray(reading, dtype=float) for reading in diameters])
    largest, smallest = stacked.max(axis=0), stacked.min(axis=0)
    if len(diameters) == 2:
        mean = ledger.enter(middle_diameter, largest, smallest)
    else:
        total: Number = sum(diameters[1:], diameters[0])
        mean = ledger.enter(mean_diameter, total, float(len(diameters)))
    ledger.given(LARGEST_DIAMETER, "Largest diameter", "mm", largest, MEASURED)
    ledger.enter(out_of_round, largest, smallest, mean)
    return mean


def _heights(ledger: Ledger, readings: Readings, diameter: Number, girdle: Number) -> tuple[Number, Number, Number]:
    crown = (
        readings.crown_height_mm if readings.crown_height_mm is not None else readings.typical_crown_share * diameter
    )
    pavilion = (
        readings.pavilion_depth_mm
        if readings.pavilion_depth_mm is not None
        else readings.typical_pavilion_share * diameter
    )
    if readings.depth_mm is None:
        _given_height(ledger, CROWN_HEIGHT, "Crown height", crown, readings.crown_height_mm)
        _given_height(ledger, PAVILION_DEPTH, "Pavilion depth", pavilion, readings.pavilion_depth_mm)
        return ledger.enter(depth_from_parts, crown, girdle, pavilion), crown, pavilion
    depth = readings.depth_mm
    ledger.given(DEPTH, "Depth", "mm", depth, MEASURED)
    if readings.crown_height_mm is not None and readings.pavilion_depth_mm is None:
        pavilion = np.maximum(depth - girdle - crown, MICRO_MM)
    elif readings.pavilion_depth_mm is not None and readings.crown_height_mm is None:
        crown = np.maximum(depth - girdle - pavilion, MICRO_MM)
    return (
        depth,
        ledger.enter(crown_from_depth, depth, girdle, crown, pavilion),
        ledger.enter(pavilion_from_depth, depth, girdle, crown, pavilion),
    )


def _given_height(ledger: Ledger, key: FigureKey, label: str, value: Number, reading: Number | None) -> None:
    ledger.given(key, label, "mm", value, ASSUMED if reading is None else MEASURED)
