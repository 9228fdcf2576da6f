"""Tube or collet let into the band from above: its foot stands on a floor in the band, held on both sides by it."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from yarvel.figures.figure import CHOSEN, FROM_MEMORY, GEOMETRY, FigureKey, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.heads.envelope import envelope, envelopes, whole
from yarvel.heads.heights import clear_of_culet, lowered
from yarvel.heads.shape import HeadShape
from yarvel.heads.style import FOOT, WALL
from yarvel.metals.alloys import Alloy
from yarvel.metals.joints import Seam
from yarvel.shanks import blanks, inset
from yarvel.shanks.band import Band
from yarvel.shanks.fitting import CULET, GALLERY, LEAST, SAWN, FitChoice, FitRequest, Fitted, WidthAt, settle, solved
from yarvel.shanks.joinery import Joinery, Recess

DEPTH = FigureKey("shank.let_depth")
MARK = FigureKey("shank.let_mark")

METHOD = "let-in"
LABEL = "Let into the band"
FEET = (WALL,)
FIELDS = ("let_mm",)


@figure(
    DEPTH,
    "Let into the band by",
    "mm",
    "max(min(k·t, t − l), R_o − √(R_o² − b²/4))",
    FROM_MEMORY,
    share="k",
    thickness_mm="t",
    least_mm="l",
    outside_radius_mm="R_o",
    width_mm="b",
)
def usual_depth_mm(
    share: Number, thickness_mm: Number, least_mm: Number, outside_radius_mm: Number, width_mm: Number
) -> Number:
    """Depth in mm below the band's top: a share of its thickness that leaves the least metal under it, and never less
    than a floor as wide as the foot takes."""
    return np.maximum(
        np.minimum(share * thickness_mm, thickness_mm - least_mm), blanks.sagitta_mm(outside_radius_mm, width_mm)
    )


@figure(
    "shank.let_least",
    "Let in at least by",
    "mm",
    "R_o − √(R_o² − b²/4)",
    GEOMETRY,
    outside_radius_mm="R_o",
    width_mm="b",
)
def least_depth_mm(outside_radius_mm: Number, width_mm: Number) -> Number:
    """Depth in mm of the floor that is as long as the foot along the band."""
    return blanks.sagitta_mm(outside_radius_mm, width_mm)


@figure("shank.left_under_let", "Band left under the head", "mm", "t − d", GEOMETRY, thickness_mm="t", depth_mm="d")
def left_under_mm(thickness_mm: Number, depth_mm: Number) -> Number:
    """Thickness in mm that stays under the floor."""
    return thickness_mm - depth_mm


@figure("shank.let_limit", "Hollow no farther from the middle than", "mm", "b_o/2", GEOMETRY, width_mm="b_o")
def limit_mm(width_mm: Number) -> Number:
    """Half the head's width at the band's top on the middle line, in mm: the limit of the file."""
    return width_mm / 2


@figure(MARK, "Saw mark each side of the middle", "mm", "√(b_o² − w_b²)/2", GEOMETRY, width_mm="b_o", band_mm="w_b")
def mark_round_mm(width_mm: Number, band_mm: Number) -> Number:
    """How far out in mm the band's edges meet a round head at the band's top."""
    return np.sqrt(np.maximum(width_mm**2 - band_mm**2, 0.0)) / 2


@figure(MARK, "Saw mark each side of the middle", "mm", "q·b_o/2", GEOMETRY, width_mm="b_o", share="q")
def mark_shaped_mm(width_mm: Number, share: float) -> Number:
    """How far out in mm a head that is not round reaches least within the band, at the band's top."""
    return share * width_mm / 2


@figure(
    "seat.plane_above_finger",
    "Seat above the finger",
    "mm",
    "t − d + H",
    GEOMETRY,
    thickness_mm="t",
    depth_mm="d",
    height_mm="H",
)
def plane_above_finger_mm(thickness_mm: Number, depth_mm: Number, height_mm: Number) -> Number:
    """Height in mm of the seat plane above the finger's top."""
    return thickness_mm - depth_mm + height_mm


culet_clearance_mm = figure(
    "seat.culet_clearance", "Culet above the floor", "mm", "H − h_p", GEOMETRY, base_mm="H", below_mm="h_p"
)(lowered)


def depth_mm(choice: FitChoice, foot_mm: Number, band: Band, rules: HouseRules) -> Number:
    """How deep in mm a foot of this width along the band is let in: as chosen, or as usual."""
    return usual_depth_mm(*_usual(band, rules), foot_mm) if choice.let_mm is None else choice.let_mm


def _usual(band: Band, rules: HouseRules) -> tuple[float, float, float, float]:
    """What the usual depth follows from, beside the foot."""
    return rules.let_in_share, band.thickness_mm, rules.band_least_mm, band.outside_radius


def fit(request: FitRequest, width_at: WidthAt, band: Band, rules: HouseRules) -> Fitted:
    """Height from foot to seat: as asked, or the lowest that clears culet and gallery over the floor and stands out of
    the band."""

    def let(height_mm: Number) -> Number:
        return depth_mm(request.choice, width_at(height_mm), band, rules)

    asked: Number | None = None
    wanted = request.plane_above_finger_mm
    if wanted is not None:
        asked = settle(lambda height: wanted - band.thickness_mm + let(height), wanted)
    out = settle(let, band.thickness_mm)
    conditions = {
        CULET: clear_of_culet(request.pavilion_mm, rules.culet_clearance_mm),
        GALLERY: request.gallery_height_mm,
        LEAST: np.maximum(request.least_height_mm, out + rules.let_out_mm),
    }
    if np.any(request.sawn_least_mm):
        conditions[SAWN] = out + request.sawn_least_mm
    height, why = solved(request, conditions, asked)
    return Fitted(height, width_at(height), why)


def enter(
    ledger: Ledger, request: FitRequest, fitted: Fitted, width_at: WidthAt, band: Band, rules: HouseRules
) -> None:
    """Enter this method's figures."""
    shape, foot, chosen = request.shape, fitted.foot_width_mm, request.choice.let_mm
    assert shape is not None, "a recess is cut by the head's form"
    if chosen is None:
        depth = ledger.enter(usual_depth_mm, *_usual(band, rules), foot)
    else:
        depth = ledger.given(DEPTH, "Let into the band by", "mm", chosen, CHOSEN)
    ledger.enter(least_depth_mm, band.outside_radius, foot)
    ledger.enter(left_under_mm, band.thickness_mm, depth)
    ledger.enter(plane_above_finger_mm, band.thickness_mm, depth, fitted.height_mm)
    ledger.enter(culet_clearance_mm, fitted.height_mm, request.pavilion_mm)
    blanks.enter_closed(ledger, band, rules)
    top = -shape.height_mm + float(np.mean(depth))
    if band.width_mm >= 2 * whole(shape, top)[1]:
        ledger.enter(inset.beside_head_mm, band.width_mm, 2 * whole(shape, top)[1])
        return
    outside = width_at(fitted.height_mm - depth)
    ledger.enter(limit_mm, outside)
    if inset.is_round(shape):
        ledger.enter(mark_round_mm, outside, band.width_mm)
    else:
        seen = envelope(shape, top, band.width_mm)
        ledger.enter(mark_shaped_mm, outside, seen.least / max(whole(shape, top)[0], _SAME_MM))


_SAME_MM = 5e-3


def joinery(figures: Mapping[FigureKey, float], band: Band, choice: FitChoice, shape: HeadShape) -> Joinery:
    """The recess across the band, its ends hollowed; or sunk into it, where the band is wider than the head."""
    depth = figures[DEPTH]
    sunk = inset.beside_head_mm in figures
    levels = -shape.height_mm, -shape.height_mm + depth
    wide = 2 * max(whole(shape, level)[1] for level in levels) if sunk else band.width_mm
    low, high = envelopes(shape, levels, wide)
    return Joinery(
        recess=Recess(
            depth, (2 * low.most, 2 * high.most), (low.loop, high.loop), None if sunk else (low.least, high.least)
        )
    )


def seams(head: Alloy, shank: Alloy, figures: Mapping[FigureKey, float]) -> list[Seam]:
    """The closed shank first, then the head in its recess."""
    return [
        blanks.back_seam(shank, figures),
        Seam(
            what="head into its recess",
            grade="medium",
            group="head-to-shank",
            metals=(head, shank),
            shield="heat the shank first, the thin head comes up last",
            ends=((FOOT, 0.0), (blanks.SHANK, 0.0)),
        ),
    ]
