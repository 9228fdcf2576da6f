"""Claws: which wire, where they stand, how long they are, what their notch leaves."""

from __future__ import annotations

import numpy as np

from yarvel.figures.figure import COMMON_PRACTICE, GEOMETRY, FigureKey, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.metals.bending import bend_strain, notch_strain, whole_strain

CLAW = FigureKey("head.claw")

ORIENTATIONS = ("in-line", "square")
LEAST_CLAWS, MOST_CLAWS = 3, 8


_SIZES_MM = (2.5, 3.75, 5.25, 7.0, 9.0, 11.0)
"""Stones in the middle of the sizes that the house's rules name a wire for: between them the wire grows evenly, so that
a hair more stone never makes a head that is another step heavier and higher."""
_NEAR_HOLE = 0.08


def usual_wire_mm(
    diameter_mm: float, claws: int, rules: HouseRules, narrowest_mm: float | None = None, soft: bool = False
) -> float:
    """Claw wire in mm by stone size as the house rules have it, drawn through the workshop's plate; ``narrowest_mm`` is
    the width of a stone that is not round; ``soft`` for platinum and high-carat gold, which want it thicker."""
    widths = (
        rules.claw_upto_3_mm,
        rules.claw_upto_4_5_mm,
        rules.claw_upto_6_mm,
        rules.claw_upto_8_mm,
        rules.claw_upto_10_mm,
        rules.claw_over_10_mm,
    )
    wire = float(np.interp(diameter_mm, _SIZES_MM, widths))
    if claws >= 5:
        wire *= rules.many_claws_share
    if soft:
        wire *= rules.soft_claw_share
    most = rules.claw_most_share * (diameter_mm if narrowest_mm is None else narrowest_mm)
    return through_plate_mm(min(wire, most), rules)


def through_plate_mm(wire_mm: float, rules: HouseRules) -> float:
    """The wire in mm that this workshop draws: the nearest hole of its plate, or the nearest 0.05 where it has none
    near."""
    near = [hole for hole in rules.custom.plate_mm if abs(hole - wire_mm) <= _NEAR_HOLE * wire_mm]
    return min(near, key=lambda hole: abs(hole - wire_mm)) if near else round(wire_mm * 20) / 20


def azimuths_deg(claws: int, orientation: str) -> tuple[float, ...]:
    """Claw azimuths in degrees: 0 points along the band, counter-clockwise seen from above."""
    step = 360.0 / claws
    turn = step / 2 if orientation == "square" else 0.0
    return tuple(turn + step * place for place in range(claws))


def towards(azimuth_deg: float) -> str:
    """A direction by the hour, as the plan view shows it: 90° (along the finger, away) is 12 o'clock."""
    hour = round(((90.0 - azimuth_deg) % 360.0) / 30.0)
    return f"{(hour - 1) % 12 + 1} o'clock"


@figure(
    "head.tip_cover",
    "Tip over the crown",
    "mm",
    "min(w·k, q·(1 − t)·D/2)",
    COMMON_PRACTICE,
    claw_mm="w",
    share="k",
    way="q",
    table_share="t",
    diameter_mm="D",
)
def tip_cover_mm(claw_mm: Number, share: Number, way: Number, table_share: Number, diameter_mm: Number) -> Number:
    """How far in mm the tip reaches over the crown, seen from above; never to the table."""
    return np.minimum(claw_mm * share, way * (1 - table_share) * diameter_mm / 2)


@figure(
    "head.claw_length",
    "Claw length",
    "mm",
    "H/cos(σ) + g + c/cos(β) + a_b + a_f",
    GEOMETRY,
    places=1,
    height_mm="H",
    splay_deg="σ",
    girdle_mm="g",
    cover_mm="c",
    crown_angle_deg="β",
    bend_mm="a_b",
    file_mm="a_f",
    shown_in="head",
)
def claw_length_mm(
    height_mm: Number,
    splay_deg: Number,
    girdle_mm: Number,
    cover_mm: Number,
    crown_angle_deg: Number,
    bend_mm: Number,
    file_mm: Number,
) -> Number:
    """Length in mm of one claw from the foot to the tip before closing; angles in degrees."""
    return (
        height_mm / np.cos(np.radians(splay_deg))
        + girdle_mm
        + cover_mm / np.cos(np.radians(crown_angle_deg))
        + bend_mm
        + file_mm
    )


@figure(
    "head.u_piece_length",
    "U-piece length",
    "mm",
    "2·l + b + 2·h",
    COMMON_PRACTICE,
    places=0,
    length_mm="l",
    bridge_mm="b",
    handling_mm="h",
    shown_in="head",
)
def u_piece_length_mm(length_mm: Number, bridge_mm: Number, handling_mm: Number) -> Number:
    """Wire in mm for one U of two claws: both claws, the bridge between their feet, and legs to hold it by."""
    return 2 * length_mm + bridge_mm + 2 * handling_mm


@figure(
    "head.open_arc",
    "Largest open arc",
    "°",
    "360/N",
    GEOMETRY,
    places=0,
    claws="N",
    shown_in="head",
)
def open_arc_deg(claws: Number) -> Number:
    """Largest arc in degrees between neighbouring claws, evenly spaced."""
    return 360 / claws


@figure("head.open_arc_one_lost", "Open arc if one claw goes", "°", "2·360/N", GEOMETRY, places=0, claws="N")
def open_arc_one_lost_deg(claws: Number) -> Number:
    """Largest arc in degrees without metal after the loss of any one claw, evenly spaced."""
    return 720 / claws


def enter_arcs(ledger: Ledger, count: int) -> None:
    """Enter the open arcs of claws that are spaced evenly round a circle, with all of them and with one lost."""
    ledger.enter(open_arc_deg, float(count))
    ledger.enter(open_arc_one_lost_deg, float(count))


def enter_bending(ledger: Ledger, claw_mm: Number, seat_mm: Number, rules: HouseRules) -> None:
    """Enter what a claw's outside is strained by as it is closed: thinned, whole, and over a notch of ``seat_mm``."""
    ledger.enter(bend_strain, claw_mm * rules.tip_thinned_share, rules.bend_radius_mm)
    ledger.enter(whole_strain, claw_mm, rules.bend_radius_mm)
    ledger.enter(notch_strain, claw_mm, seat_mm, rules.bend_radius_mm)
