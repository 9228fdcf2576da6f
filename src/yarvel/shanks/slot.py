"""Old head out, new head in: the slot as the old one left it, and what the new one needs to stand in it."""

from __future__ import annotations

import numpy as np

from yarvel.figures.figure import GEOMETRY, MEASURED, FigureKey, Ledger, Number, figure
from yarvel.shanks import inset

INSIDE = FigureKey("slot.inside")
OUTSIDE = FigureKey("slot.outside")
LEFT = FigureKey("slot.left")
RIGHT = FigureKey("slot.right")


@figure(
    "slot.spare",
    "Head wider than the slot; narrower where negative",
    "mm",
    "b_f − b_s",
    GEOMETRY,
    foot_mm="b_f",
    slot_mm="b_s",
)
def spare_mm(foot_mm: Number, slot_mm: Number) -> Number:
    """How much wider in mm the new head's foot is than the slot at the inside of the band."""
    return foot_mm - slot_mm


@figure(
    "slot.widens",
    "Head widens upwards, each mm",
    "",
    "(b_o − b_f)/t",
    GEOMETRY,
    outside_mm="b_o",
    foot_mm="b_f",
    thickness_mm="t",
)
def widens(outside_mm: Number, foot_mm: Number, thickness_mm: Number) -> Number:
    """What the head gains in width for each mm of height."""
    return (outside_mm - foot_mm) / thickness_mm


@figure(
    "slot.trim",
    "Trim the base by",
    "mm",
    "max(0, (b_s − b_f)/q)",
    GEOMETRY,
    slot_mm="b_s",
    foot_mm="b_f",
    widening="q",
)
def trim_mm(slot_mm: Number, foot_mm: Number, widening: Number) -> Number:
    """What has to come off the base in mm until the head is as wide there as the slot; 0 where it is wide enough."""
    return np.maximum(0.0, (slot_mm - foot_mm) / np.maximum(widening, LEAST_FLARE))


LEAST_FLARE = 0.05
"""What a head gains in width by less than this for each mm of its height is never trimmed to fit; from memory."""


@figure(
    "slot.open_each",
    "Open the slot on each side by",
    "mm",
    "max(0, b_f − b_s)/2",
    GEOMETRY,
    foot_mm="b_f",
    slot_mm="b_s",
)
def open_each_mm(foot_mm: Number, slot_mm: Number) -> Number:
    """What has to come off each end of the band in mm so that the foot goes in; 0 where it goes in."""
    return np.maximum(0.0, foot_mm - slot_mm) / 2


@figure(
    "slot.square_by",
    "Slot tapers by, outside over inside",
    "mm",
    "b_a − b_s",
    GEOMETRY,
    outside_mm="b_a",
    inside_mm="b_s",
)
def taper_mm(outside_mm: Number, inside_mm: Number) -> Number:
    """How much wider in mm the slot is at the outside of the band."""
    return outside_mm - inside_mm


@figure(
    "slot.lower_left",
    "Left end lower; right end where negative",
    "mm",
    "h_r − h_l",
    GEOMETRY,
    right_mm="h_r",
    left_mm="h_l",
)
def lower_left_mm(right_mm: Number, left_mm: Number) -> Number:
    """How much lower in mm the left end of the band stands: where wear has taken more."""
    return right_mm - left_mm


@figure(
    "slot.lean",
    "A head squared to the ends leans by",
    "°",
    "atan((h_r − h_l)/b_s)",
    GEOMETRY,
    places=1,
    right_mm="h_r",
    left_mm="h_l",
    slot_mm="b_s",
)
def lean_deg(right_mm: Number, left_mm: Number, slot_mm: Number) -> Number:
    """Angle in degrees by which a head that follows both ends leans to the left."""
    return np.degrees(np.arctan((right_mm - left_mm) / slot_mm))


def enter(
    ledger: Ledger, inside_mm: float, outside_mm: float | None, ends_mm: tuple[float, float] | None, thickness_mm: float
) -> None:
    """Enter the slot's figures against those of the head that is to stand in it; ``ends_mm`` left and right, mm."""
    ledger.given(INSIDE, "Slot at the inside", "mm", inside_mm, MEASURED)
    foot, top = ledger.value(inset.gap_inside_mm), ledger.value(inset.gap_outside_mm)
    ledger.enter(spare_mm, foot, inside_mm)
    widening = ledger.enter(widens, top, foot, thickness_mm)
    if np.mean(widening) >= LEAST_FLARE:
        ledger.enter(trim_mm, inside_mm, foot, widening)
    ledger.enter(open_each_mm, foot, inside_mm)
    if outside_mm is not None:
        ledger.given(OUTSIDE, "Slot at the outside", "mm", outside_mm, MEASURED)
        ledger.enter(taper_mm, outside_mm, inside_mm)
    if ends_mm is not None:
        left, right = ends_mm
        ledger.given(LEFT, "Left end above the finger", "mm", left, MEASURED)
        ledger.given(RIGHT, "Right end above the finger", "mm", right, MEASURED)
        ledger.enter(lower_left_mm, right, left)
        ledger.enter(lean_deg, right, left, inside_mm)
