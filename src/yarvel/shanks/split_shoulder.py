"""Split shoulders: each end of the band is sawn into two branches, spread, and notched to hold a wall or a ring."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from yarvel.figures.figure import COMMON_PRACTICE, FROM_MEMORY, GEOMETRY, FigureKey, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.heads.shape import HeadShape, reach_at
from yarvel.heads.style import BASE, CLAWS, FOOT, WALL
from yarvel.metals.alloys import Alloy
from yarvel.metals.joints import Seam
from yarvel.shanks import blanks, inset
from yarvel.shanks.band import Band
from yarvel.shanks.fitting import FitChoice, FitRequest, Fitted, WidthAt
from yarvel.shanks.inset import fit
from yarvel.shanks.joinery import Joinery, Split

METHOD = "split-shoulder"
LABEL = "Split shoulders"
FEET = (WALL, CLAWS, BASE)
FIELDS = ("split_mm",)

__all__ = ["FEET", "FIELDS", "LABEL", "METHOD", "enter", "fit", "joinery", "seams"]


@figure(
    "shank.split_from",
    "Split from the middle",
    "mm",
    "max(s, r_o + m)",
    COMMON_PRACTICE,
    wanted_mm="s",
    outer_radius_mm="r_o",
    left_mm="m",
)
def split_from_mm(wanted_mm: Number, outer_radius_mm: Number, left_mm: Number) -> Number:
    """Where the saw cut ends, in mm from the head's middle; at least ``left_mm`` beyond the head's outside."""
    return np.maximum(wanted_mm, outer_radius_mm + left_mm)


@figure(
    "shank.meets_at",
    "Head's outside where the branches meet it",
    "mm",
    "κ·b/2",
    GEOMETRY,
    share="κ",
    width_mm="b",
)
def meets_at_mm(share: Number, width_mm: Number) -> Number:
    """Way in mm from the head's middle to its outside in the direction of the branches; ``share`` of half its width
    along the band."""
    return share * width_mm / 2


@figure(
    "shank.ring_gripped",
    "Height of the ring within the notches",
    "mm",
    "max(0, min(p − z_o, √(max(R_o² − x², 0)) − R_i) − max(p − z_o − v, √(max(R_i² − x², 0)) − R_i))",
    GEOMETRY,
    plane_mm="p",
    drop_mm="z_o",
    wire_mm="v",
    outside_radius_mm="R_o",
    inside_radius_mm="R_i",
    out_mm="x",
)
def ring_gripped_mm(
    plane_mm: Number,
    drop_mm: Number,
    wire_mm: Number,
    outside_radius_mm: Number,
    inside_radius_mm: Number,
    out_mm: Number,
) -> Number:
    """How much in mm of a ring's wire lies between the underside and the top of the branches at their tips, all
    heights from the finger: its top lies ``drop_mm`` under the seat plane."""
    top, low = (
        np.sqrt(np.maximum(radius**2 - out_mm**2, 0.0)) - inside_radius_mm
        for radius in (outside_radius_mm, inside_radius_mm)
    )
    ring = plane_mm - drop_mm
    gripped: Number = np.maximum(0.0, np.minimum(ring, top) - np.maximum(ring - wire_mm, low))
    return gripped


@figure("shank.branch", "Branch before filing", "mm", "(w_b − c)/2", GEOMETRY, width_mm="w_b", kerf_mm="c")
def branch_mm(width_mm: Number, kerf_mm: Number) -> Number:
    """Width in mm of each branch once the band is sawn along its middle."""
    return (width_mm - kerf_mm) / 2


@figure(
    "shank.bezel_notch",
    "Notch for the head, deep",
    "mm",
    "min(k·b, r_o/2)",
    FROM_MEMORY,
    share="k",
    branch_mm="b",
    outer_radius_mm="r_o",
)
def notch_mm(share: Number, branch_mm: Number, outer_radius_mm: Number) -> Number:
    """Depth in mm of the notch in each branch's tip; never more than half the way from the head's outside to its
    middle, or the branches of both sides would meet there."""
    return np.minimum(share * branch_mm, outer_radius_mm / 2)


@figure(
    "shank.tip_out",
    "Branch tips from the middle, along",
    "mm",
    "(r_o − n)·cos(ψ)",
    GEOMETRY,
    radius_mm="r_o",
    notch_mm="n",
    angle_deg="ψ",
)
def tip_out_mm(radius_mm: Number, notch_mm: Number, angle_deg: float) -> Number:
    """Way in mm along the band from the head's middle to a branch's tip before it is notched to hold."""
    return (radius_mm - notch_mm) * float(np.cos(np.radians(angle_deg)))


@figure(
    "shank.tip_side",
    "Branch tips from the middle, across",
    "mm",
    "(r_o − n)·sin(ψ)",
    GEOMETRY,
    radius_mm="r_o",
    notch_mm="n",
    angle_deg="ψ",
)
def tip_side_mm(radius_mm: Number, notch_mm: Number, angle_deg: float) -> Number:
    """Way in mm across the band from the head's middle to the middle of a branch's tip."""
    return (radius_mm - notch_mm) * float(np.sin(np.radians(angle_deg)))


@figure(
    "shank.spread",
    "Branches spread to each side",
    "°",
    "atan((y − b/2)/(s − x))",
    GEOMETRY,
    places=1,
    side_mm="y",
    branch_mm="b",
    start_mm="s",
    out_mm="x",
)
def spread_deg(side_mm: Number, branch_mm: Number, start_mm: Number, out_mm: Number) -> Number:
    """Angle in degrees by which each branch leaves the band's own direction."""
    return np.degrees(np.arctan((side_mm - branch_mm / 2) / np.maximum(start_mm - out_mm, 1e-6)))


@figure(
    "shank.branch_length",
    "Branch, from split to tip",
    "mm",
    "√((y − b/2)² + (s − x)²)",
    GEOMETRY,
    side_mm="y",
    branch_mm="b",
    start_mm="s",
    out_mm="x",
)
def branch_length_mm(side_mm: Number, branch_mm: Number, start_mm: Number, out_mm: Number) -> Number:
    """Length in mm of a branch along its middle."""
    return np.hypot(side_mm - branch_mm / 2, start_mm - out_mm)


def enter(
    ledger: Ledger, request: FitRequest, fitted: Fitted, width_at: WidthAt, band: Band, rules: HouseRules
) -> None:
    """Enter this method's figures; the branches meet a wall at the middle of the band's thickness, or the lowest
    ring."""
    asked, shape = request.choice.split_mm, request.shape
    ring = shape.rings[-1] if shape is not None and shape.rings else None
    along, share = _meeting(shape, rules.branch_meets_deg, band.thickness_mm / 2)
    width = along if ring is not None else width_at(fitted.height_mm - band.thickness_mm / 2)
    outer = ledger.enter(meets_at_mm, share, width)
    wanted = rules.split_from_mm if asked is None else asked
    start = ledger.enter(split_from_mm, wanted, outer, rules.split_beyond_mm)
    branch = ledger.enter(branch_mm, band.width_mm, rules.saw_allowance_mm)
    notch = ledger.enter(notch_mm, rules.bezel_notch_share, branch, outer)
    out = ledger.enter(tip_out_mm, outer, notch, rules.branch_meets_deg)
    side = ledger.enter(tip_side_mm, outer, notch, rules.branch_meets_deg)
    ledger.enter(spread_deg, side, branch, start, out)
    ledger.enter(branch_length_mm, side, branch, start, out)
    sagitta = ledger.enter(inset.finger_sagitta_mm, band.inside_radius, fitted.foot_width_mm)
    plane = ledger.enter(inset.plane_above_finger_mm, fitted.height_mm, sagitta)
    if shape is not None and ring is not None:
        drop = fitted.height_mm - shape.height_mm - ring.top_mm
        radii = band.inside_radius + band.thickness_mm, band.inside_radius
        ledger.enter(ring_gripped_mm, plane, drop, ring.high_mm, *radii, out)
    ledger.enter(inset.culet_clearance_mm, plane, request.pavilion_mm)
    ledger.enter(blanks.full_length_mm, band.inside_diameter_mm, band.mean_thickness)
    gap = ledger.enter(blanks.gap_arc_mm, band.inside_radius + band.thickness_mm / 2, 2 * out)
    length = ledger.enter(blanks.blank_length_mm, band.inside_diameter_mm, band.mean_thickness, gap)
    ledger.enter(blanks.cut_length_mm, length, rules.saw_allowance_mm)


def _meeting(shape: HeadShape | None, angle_deg: float, above_foot_mm: float) -> tuple[float, float]:
    """The width in mm along the band of what branches meet of a head, and how far out it lies in their direction, as a
    share of half of that: of its lowest ring, or of its wall so far above the foot."""
    if shape is None:
        return 0.0, 1.0
    if shape.rings:
        ring = shape.rings[-1]
        loop = shape.outline.inset(ring.outside_inset_mm)
    else:
        level = np.array([above_foot_mm - shape.height_mm])
        loop = shape.outline.inset(-float(reach_at(shape.walls[0].profile, level)[1][0]))
    half = float(np.abs(loop[:, 0]).max())
    azimuths = np.degrees(np.arctan2(loop[:, 1], loop[:, 0])) % 360
    order = np.argsort(azimuths)
    there = np.interp(angle_deg, azimuths[order], np.hypot(*loop.T)[order], period=360)
    return 2 * half, float(there) / half


def joinery(figures: Mapping[FigureKey, float], band: Band, choice: FitChoice, shape: HeadShape) -> Joinery:
    """Four branches round the bezel or the ring."""
    return Joinery(
        split=Split(
            figures[split_from_mm],
            figures[branch_mm],
            figures[tip_out_mm],
            figures[tip_side_mm],
            figures[notch_mm],
        )
    )


def seams(head: Alloy, shank: Alloy, figures: Mapping[FigureKey, float]) -> list[Seam]:
    """Four branches to the bezel, or to the ring."""
    gripped = "ring" if ring_gripped_mm in figures else "bezel"
    length = figures[blanks.blank_length_mm]
    return [
        Seam(
            what=f"{side} {which} branch to the {gripped}",
            grade="medium",
            group="branches-to-bezel",
            metals=(head, shank),
            shield=f"the thin {gripped} comes up last",
            ends=((FOOT, 0.0), (blanks.SHANK, way)),
        )
        for side, way in (("left", 0.0), ("right", length))
        for which in ("near", "far")
    ]
