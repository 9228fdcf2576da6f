"""Claws of V section over sharp points: the corner never touches metal.

Two methods: the V is undercut and folded over whole, or its corner is sawn and two tabs are folded.
"""

from __future__ import annotations

import numpy as np

from yarvel.figures.figure import CHOSEN, COMMON_PRACTICE, FROM_MEMORY, GEOMETRY, FigureKey, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.heads.places import POINT, ClawPosition
from yarvel.heads.style import StoneFacts
from yarvel.stones.outline import Outline

V_ANGLE = FigureKey("head.v_angle")
KEEL_RUN = FigureKey("head.keel_run")
V_FOOT = FigureKey("head.v_foot")
V_POINTS = FigureKey("head.v_points")

FOLDED, SOLID = "folded", "solid"
MADE_FROM = {FOLDED: "Folded from strip", SOLID: "Filed from solid"}
FOLD, TABS = "fold", "tabs"
FOLD_METHODS = {FOLD: "Fold whole", TABS: "Fold two tabs"}


@figure(
    "head.v_leg",
    "Leg of a V",
    "mm",
    "k·w",
    FROM_MEMORY,
    share="k",
    claw_mm="w",
    shown_in="head",
)
def leg_mm(share: Number, claw_mm: Number) -> Number:
    """Length in mm of each side of a V."""
    return share * claw_mm


@figure(
    "head.v_outside_leg",
    "Leg of a V, outside",
    "mm",
    "b + (w − s)/tan(γ/2)",
    GEOMETRY,
    leg_mm="b",
    claw_mm="w",
    seat_mm="s",
    angle_deg="γ",
    shown_in="head",
)
def outside_leg_mm(leg_mm: Number, claw_mm: Number, seat_mm: Number, angle_deg: Number) -> Number:
    """Length in mm of each side of a V along its outside, to the mitred corner."""
    return leg_mm + (claw_mm - seat_mm) / np.tan(np.radians(angle_deg) / 2)


@figure(
    "head.v_width",
    "V laid flat",
    "mm",
    "2·b_o",
    GEOMETRY,
    outside_mm="b_o",
    shown_in="head",
)
def flat_width_mm(outside_mm: Number) -> Number:
    """Width in mm of the strip that is scored on its inside and folded into a V: its outside keeps its length."""
    return 2 * outside_mm


@figure(
    "head.v_solid",
    "Square wire that a V is filed from",
    "mm",
    "max(b_o·(1 − min(cos(γ), 0)), b_o·cos(γ) + w·sin(γ), b_o·sin(γ) − w·min(cos(γ), 0))",
    GEOMETRY,
    outside_mm="b_o",
    claw_mm="w",
    angle_deg="γ",
    shown_in="head",
)
def solid_mm(outside_mm: Number, claw_mm: Number, angle_deg: Number) -> Number:
    """Side in mm of the square that holds a V of this angle with one leg along its edge."""
    cosine, sine = np.cos(np.radians(angle_deg)), np.sin(np.radians(angle_deg))
    blunt = np.minimum(cosine, 0.0)
    along = np.maximum(outside_mm * (1 - blunt), outside_mm * cosine + claw_mm * sine)
    return np.maximum(along, outside_mm * sine - claw_mm * blunt)


@figure("head.v_apex", "Stone's corner into the V", "mm", "s/sin(γ/2)", GEOMETRY, seat_mm="s", angle_deg="γ")
def apex_mm(seat_mm: Number, angle_deg: Number) -> Number:
    """How far in mm the V's inner corner lies inside the stone's corner before its seat is cut."""
    return seat_mm / np.sin(np.radians(angle_deg) / 2)


@figure(
    "head.relief_hole",
    "Relief hole in the corner",
    "mm",
    "2·c",
    FROM_MEMORY,
    clearance_mm="c",
    shown_in="head",
)
def relief_hole_mm(clearance_mm: Number) -> Number:
    """Diameter in mm of the hole drilled where the stone's corner will lie."""
    return 2 * clearance_mm


@figure(
    "head.left_behind_relief",
    "Left outside the relief hole",
    "mm",
    "(w − s)/sin(γ/2) − c",
    GEOMETRY,
    claw_mm="w",
    seat_mm="s",
    angle_deg="γ",
    clearance_mm="c",
    shown_in="head",
)
def left_behind_relief_mm(claw_mm: Number, seat_mm: Number, angle_deg: Number, clearance_mm: Number) -> Number:
    """Metal in mm between the relief hole and the V's outer corner: less than about 0.3 shows after polishing."""
    return (claw_mm - seat_mm) / np.sin(np.radians(angle_deg) / 2) - clearance_mm


@figure(
    "head.keel_cut",
    "Clear the keel down to",
    "mm",
    "a/u_k",
    GEOMETRY,
    apex_mm="a",
    keel="u_k",
    shown_in="head",
)
def keel_cut_mm(apex_mm: Number, keel: Number) -> Number:
    """Depth in mm below the girdle at which the keel leaves the metal of the V; ``keel`` is its way in per mm."""
    return apex_mm / keel


@figure(
    "head.guide_line",
    "First guide line, at most",
    "mm",
    "q·w",
    COMMON_PRACTICE,
    share="q",
    claw_mm="w",
    shown_in="head",
)
def guide_line_mm(share: Number, claw_mm: Number) -> Number:
    """Depth in mm of the first line scribed and cut into a V."""
    return share * claw_mm


@figure(
    "head.tab_strength",
    "Two tabs against the whole V",
    "",
    "w/(b·cos(γ/2))",
    GEOMETRY,
    claw_mm="w",
    leg_mm="b",
    angle_deg="γ",
    shown_in="head",
)
def tab_strength(claw_mm: Number, leg_mm: Number, angle_deg: Number) -> Number:
    """Section modulus of two flat tabs over that of the V: (b·w²/3) over (w·b²·cos(γ/2)/3)."""
    return claw_mm / (leg_mm * np.cos(np.radians(angle_deg) / 2))


def foot_mm(made_from: str, chosen_mm: float | None, metal_mm: float) -> float | None:
    """How thick a V is at its foot, mm, where it is filed thinner there; None where it is as thick as above."""
    return None if chosen_mm is None or made_from != SOLID else min(chosen_mm, metal_mm)


def point_sides_mm(outline: Outline, places: tuple[ClawPosition, ...]) -> list[float]:
    """Ways in mm along the stone's edge from each point with a V to the next; once round where there is only one."""
    spots = np.array([(place.x_mm, place.y_mm) for place in places if place.kind == POINT])
    if len(spots) == 0:
        return []
    starts = np.concatenate([[0.0], np.cumsum(outline.lengths)])
    near = [int(np.argmin(np.hypot(*(outline.points - spot).T))) for spot in spots]
    along = sorted(float(starts[number]) for number in near)
    return [later - earlier for earlier, later in zip(along, [*along[1:], along[0] + outline.perimeter], strict=True)]


def most_metal_mm(outline: Outline, places: tuple[ClawPosition, ...], rules: HouseRules) -> float:
    """The thickest metal in mm, to 0.05 below, whose V legs leave enough of the stone's sides open; no limit without
    points."""
    sides = point_sides_mm(outline, places)
    if not sides:
        return float("inf")
    return float(np.floor(rules.v_cover_most_share * min(sides) / 2 / rules.v_leg_share * 20 + 1e-9) / 20)


def enter_vees(
    ledger: Ledger,
    facts: StoneFacts,
    places: tuple[ClawPosition, ...],
    claw_mm: float,
    seat_mm: Number,
    rules: HouseRules,
    method: str,
    made_from: str = FOLDED,
) -> float:
    """Enter what a V needs, for the sharpest point; returns the length of its legs, mm (0 without points)."""
    points = [place for place in places if place.kind == POINT]
    if not points:
        return 0.0
    sharpest = min(points, key=lambda place: place.half_angle_deg)
    angle = 2 * sharpest.half_angle_deg
    ledger.given(
        V_ANGLE,
        "Angle of the V",
        "°",
        angle,
        GEOMETRY,
        places=0,
        shown_in="head",
    )
    leg = float(ledger.enter(leg_mm, rules.v_leg_share, claw_mm))
    outside = ledger.enter(outside_leg_mm, leg, claw_mm, seat_mm, angle)
    if made_from == SOLID:
        ledger.enter(solid_mm, outside, claw_mm, angle)
    else:
        ledger.enter(flat_width_mm, outside)
    apex = ledger.enter(apex_mm, seat_mm, angle)
    ledger.enter(relief_hole_mm, rules.corner_relief_mm)
    ledger.enter(left_behind_relief_mm, claw_mm, seat_mm, angle, rules.corner_relief_mm)
    if not facts.cut.domed:
        reach = float(np.hypot(sharpest.x_mm, sharpest.y_mm))
        keel = reach / facts.stone.pavilion_depth_mm
        ledger.given(KEEL_RUN, "Keel comes in per mm of depth", "", keel, GEOMETRY)
        ledger.enter(keel_cut_mm, apex, keel)
    ledger.enter(guide_line_mm, rules.first_cut_ratio, claw_mm)
    ledger.given(V_POINTS, "Claws of V section", "", float(len(points)), CHOSEN, places=0)
    if method == TABS:
        ledger.enter(tab_strength, claw_mm, leg, angle)
    return leg
