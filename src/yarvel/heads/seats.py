"""Cutting the seat: which burs, in which order, and what to do between sizes."""

from __future__ import annotations

import numpy as np

from yarvel.figures.figure import GEOMETRY, Number, figure

BUR_SIZES_MM: tuple[float, ...] = (
    0.9,
    1.0,
    1.2,
    1.4,
    1.6,
    1.8,
    2.1,
    2.3,
    2.5,
    2.7,
    2.9,
    3.1,
    3.3,
    3.5,
    3.7,
    4.0,
    4.2,
    4.5,
    4.7,
    5.0,
    5.2,
    5.5,
    5.7,
    6.0,
    6.2,
    6.5,
    6.7,
    7.0,
    7.2,
    7.5,
    7.7,
    8.0,
    8.5,
    9.0,
    9.5,
    10.0,
)
"""Setting burs of a usual drawer, mm: to 2.5 the nominal sizes of ISO 2157, above from memory."""
STEPS_UNDER = 2
"""Common practice: start two or three sizes under the stone."""


def bur_steps_mm(
    diameter_mm: float, drawer_mm: tuple[float, ...] = BUR_SIZES_MM, slack_mm: float = 0.0
) -> tuple[float, ...]:
    """Burs in the order of use: two sizes under, then up to the largest that is not over the stone.

    ``slack_mm`` is how much over the stone, in mm, a bur may be and still count as on size. Empty where even the
    smallest bur is too large.
    """
    fitting = [size for size in drawer_mm if size <= diameter_mm + slack_mm]
    return tuple(fitting[-(STEPS_UNDER + 1) :])


@figure("seat.push_to_claw", "Push towards each claw", "mm", "(D − d)/2", GEOMETRY, diameter_mm="D", bur_mm="d")
def push_to_claw_mm(diameter_mm: Number, bur_mm: Number) -> Number:
    """How far in mm a bur under size is pushed towards each claw in turn."""
    return (diameter_mm - bur_mm) / 2


@figure(
    "seat.bur_gap",
    "Gap at the seat's lip",
    "mm",
    "s·abs(tan(β_b) − tan(β_p))",
    GEOMETRY,
    places=3,
    depth_mm="s",
    bur_deg="β_b",
    pavilion_deg="β_p",
)
def bur_gap_mm(depth_mm: Number, bur_deg: Number, pavilion_deg: Number) -> Number:
    """Gap in mm between pavilion and seat at the notch's lip, for a bur of this angle (degrees from the girdle)."""
    gap: Number = np.abs(depth_mm) * np.abs(np.tan(np.radians(bur_deg)) - np.tan(np.radians(pavilion_deg)))
    return gap


@figure(
    "seat.line_from_top",
    "Dividers: from levelled tops to the girdle's line",
    "mm",
    "l − H/cos(σ)",
    GEOMETRY,
    length_mm="l",
    height_mm="H",
    lean_deg="σ",
)
def line_from_top_mm(length_mm: Number, height_mm: Number, lean_deg: Number) -> Number:
    """Setting in mm of the dividers along a claw or wall of this length that leans by an angle in degrees."""
    return length_mm - height_mm / np.cos(np.radians(lean_deg))


@figure(
    "seat.line_from_foot",
    "Dividers: from the foot to the girdle's line",
    "mm",
    "H/cos(σ)",
    GEOMETRY,
    height_mm="H",
    lean_deg="σ",
)
def line_from_foot_mm(height_mm: Number, lean_deg: Number) -> Number:
    """The same from the foot, mm."""
    return height_mm / np.cos(np.radians(lean_deg))


@figure("seat.opening", "Open the seat to", "mm", "g + r", GEOMETRY, girdle_mm="g", room_mm="r")
def seat_opening_mm(girdle_mm: Number, room_mm: Number) -> Number:
    """Height in mm to which the notch is opened so that the girdle goes in."""
    return girdle_mm + room_mm
