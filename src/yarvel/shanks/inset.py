"""Inset head: a piece is cut out of the band and the head stands in the gap, its foot flush with the inside."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from yarvel.figures.errors import JobError, Problem
from yarvel.figures.figure import GEOMETRY, FigureKey, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.heads.envelope import envelopes, whole
from yarvel.heads.heights import clear_of_culet, lowered
from yarvel.heads.shape import HeadShape
from yarvel.heads.style import BASE, CLAWS, FOOT, WALL
from yarvel.metals.alloys import Alloy
from yarvel.metals.joints import Seam
from yarvel.shanks import blanks
from yarvel.shanks.band import Band
from yarvel.shanks.fitting import CULET, GALLERY, LEAST, SAWN, FitChoice, FitRequest, Fitted, WidthAt, settle, solved
from yarvel.shanks.joinery import Joinery

MARK_HALF = FigureKey("shank.mark_half")
MARK_HALF_OUTSIDE = FigureKey("shank.mark_half_outside")

METHOD = "inset"
LABEL = "Inset in a gap"
FEET = (WALL, CLAWS, BASE)
FIELDS: tuple[str, ...] = ()


@figure("shank.gap_inside", "Gap at the inside", "mm", "b_f", GEOMETRY, foot_width_mm="b_f")
def gap_inside_mm(foot_width_mm: Number) -> Number:
    """Gap in mm at the finger side: the head's width along the band at its foot."""
    return foot_width_mm


@figure("shank.gap_outside", "Gap at the outside", "mm", "b_f + Δb", GEOMETRY, foot_width_mm="b_f", widening="Δb")
def gap_outside_mm(foot_width_mm: Number, widening: Number) -> Number:
    """Gap in mm at the outside: ``widening`` is what the head gains in width over one band thickness."""
    return foot_width_mm + widening


def _chord_of_round(width_mm: Number, band_mm: Number) -> Number:
    """How far out in mm the edges of a band meet a round head; 0 where the band is as wide as the head."""
    return np.sqrt(np.maximum(width_mm**2 - band_mm**2, 0.0)) / 2


def _share_of_width(width_mm: Number, share: float) -> Number:
    """How far out in mm a head that is not round reaches least within the band."""
    return share * width_mm / 2


mark_round_mm = figure(
    MARK_HALF,
    "Saw mark each side of the middle, inside",
    "mm",
    "√(b_f² − w_b²)/2",
    GEOMETRY,
    width_mm="b_f",
    band_mm="w_b",
)(_chord_of_round)
mark_round_outside_mm = figure(
    MARK_HALF_OUTSIDE,
    "Saw mark each side of the middle, outside",
    "mm",
    "√(b_o² − w_b²)/2",
    GEOMETRY,
    width_mm="b_o",
    band_mm="w_b",
)(_chord_of_round)
mark_shaped_mm = figure(
    MARK_HALF, "Saw mark each side of the middle, inside", "mm", "q·b_f/2", GEOMETRY, width_mm="b_f", share="q"
)(_share_of_width)
mark_shaped_outside_mm = figure(
    MARK_HALF_OUTSIDE,
    "Saw mark each side of the middle, outside",
    "mm",
    "q·b_o/2",
    GEOMETRY,
    width_mm="b_o",
    share="q",
)(_share_of_width)


@figure(
    "shank.hollow_limit", "Hollowing reaches no farther from the middle than", "mm", "b_f/2", GEOMETRY, width_mm="b_f"
)
def hollow_limit_mm(width_mm: Number) -> Number:
    """Half the head's width on the middle line, in mm: the limit of the file, not a mark for the saw."""
    return width_mm / 2


@figure(
    "shank.size_if_sprung",
    "Circumference if sprung open",
    "mm",
    "π·d_i + b_f",
    GEOMETRY,
    inside_diameter_mm="d_i",
    foot_width_mm="b_f",
)
def size_if_sprung_mm(inside_diameter_mm: Number, foot_width_mm: Number) -> Number:
    """Inside circumference in mm that the ring takes if it is cut once and sprung open over the foot."""
    return np.pi * inside_diameter_mm + foot_width_mm


@figure(
    "seat.finger_sagitta",
    "Finger rises into the foot",
    "mm",
    "r_i − √(r_i² − b_f²/4)",
    GEOMETRY,
    radius_mm="r_i",
    foot_width_mm="b_f",
)
def finger_sagitta_mm(radius_mm: Number, foot_width_mm: Number) -> Number:
    """How far in mm the finger's curve rises above the edges of the foot."""
    return blanks.sagitta_mm(radius_mm, foot_width_mm)


@figure("seat.plane_above_finger", "Seat above the finger", "mm", "H − s_f", GEOMETRY, height_mm="H", sagitta_mm="s_f")
def plane_above_finger_mm(height_mm: Number, sagitta_mm: Number) -> Number:
    """Height in mm of the seat plane above the top of the finger."""
    return height_mm - sagitta_mm


culet_clearance_mm = figure(
    "seat.culet_clearance", "Room under the culet", "mm", "P − h_p", GEOMETRY, base_mm="P", below_mm="h_p"
)(lowered)


@figure(
    "shank.band_at_gap",
    "Band's top at the gap, above the finger",
    "mm",
    "√(R_o² − b_o²/4) − r_i",
    GEOMETRY,
    outside_radius_mm="R_o",
    gap_mm="b_o",
    inside_radius_mm="r_i",
)
def band_at_gap_mm(outside_radius_mm: Number, gap_mm: Number, inside_radius_mm: Number) -> Number:
    """Height in mm of the shank's ends at the head, above the top of the finger."""
    return outside_radius_mm - blanks.sagitta_mm(outside_radius_mm, gap_mm) - inside_radius_mm


@figure(
    "shank.hollow",
    "Ends hollowed to the head's curve by",
    "mm",
    "a_h − a_s",
    GEOMETRY,
    limit_mm="a_h",
    mark_mm="a_s",
)
def hollow_mm(limit_mm: Number, mark_mm: Number) -> Number:
    """Depth in mm of the hollow in each end of the band, from the saw cut to the head on the middle line."""
    return limit_mm - mark_mm


@figure(
    "shank.beside_head",
    "Band left on each side of the head",
    "mm",
    "(w_b − b_y)/2",
    GEOMETRY,
    width_mm="w_b",
    across_mm="b_y",
)
def beside_head_mm(width_mm: Number, across_mm: Number) -> Number:
    """Metal in mm that stays on each side of the head in a band that is wider than it."""
    return (width_mm - across_mm) / 2


def is_bored(band: Band, shape: HeadShape) -> bool:
    """Whether the band is wider than the head, which then stands in a hole: no gap."""
    return band.width_mm >= 2 * whole(shape, -shape.height_mm + band.thickness_mm)[1]


def is_round(shape: HeadShape) -> bool:
    """Whether the head is a round tube or cone, so that a gap's ends follow a circle."""
    return bool(shape.walls) and shape.outline.is_circle


def free_mm(height_mm: Number, foot_mm: Number, gap_mm: Number, band: Band) -> Number:
    """Height in mm below the seat that stands above the band's top at the gap, of a head as high as ``height_mm``."""
    plane = plane_above_finger_mm(height_mm, blanks.sagitta_mm(band.inside_radius, foot_mm))
    return plane - band_at_gap_mm(band.outside_radius, gap_mm, band.inside_radius)


def fit(request: FitRequest, width_at: WidthAt, band: Band, rules: HouseRules) -> Fitted:
    """Height from foot to seat: as asked, or the lowest that clears culet and gallery above the curved finger."""
    radius = band.inside_radius

    def above_finger(plane: Number) -> Number:
        return settle(lambda height: plane + blanks.sagitta_mm(radius, width_at(height)), plane)

    conditions = {
        CULET: above_finger(clear_of_culet(request.pavilion_mm, rules.culet_clearance_mm)),
        GALLERY: request.gallery_height_mm,
        LEAST: request.least_height_mm,
    }
    if np.any(request.sawn_least_mm):
        conditions[SAWN] = above_finger(band.thickness_mm + request.sawn_least_mm)
    wanted = request.plane_above_finger_mm
    height, why = solved(request, conditions, None if wanted is None else above_finger(wanted))
    return Fitted(height, width_at(height), why)


def enter(
    ledger: Ledger, request: FitRequest, fitted: Fitted, width_at: WidthAt, band: Band, rules: HouseRules
) -> None:
    """Enter this method's figures.

    Raises
    ------
    JobError : an open ring whose head stands in a hole of the band.
    """
    shape = request.shape
    assert shape is not None, "a gap is cut by the head's form"
    top = -shape.height_mm + band.thickness_mm
    inside_of, outside_of = envelopes(shape, (-shape.height_mm, top), band.width_mm)
    bored = is_bored(band, shape)
    share = 1.0 if bored or is_round(shape) else inside_of.most / whole(shape, -shape.height_mm)[0]
    foot = ledger.enter(gap_inside_mm, fitted.foot_width_mm * share)
    if bored or is_round(shape):
        wider = width_at(fitted.height_mm - band.thickness_mm) - foot
    else:
        wider = 2 * (outside_of.most - inside_of.most)
    outside = ledger.enter(gap_outside_mm, foot, wider)
    ledger.enter(band_at_gap_mm, band.outside_radius, outside, band.inside_radius)
    sagitta = ledger.enter(finger_sagitta_mm, band.inside_radius, fitted.foot_width_mm)
    plane = ledger.enter(plane_above_finger_mm, fitted.height_mm, sagitta)
    ledger.enter(culet_clearance_mm, plane, request.pavilion_mm)
    ledger.enter(blanks.full_length_mm, band.inside_diameter_mm, band.mean_thickness)
    if bored and request.choice.open_ring:
        raise JobError([Problem("fit.ring", "the band is wider than the head, which stands in a hole", "closed")])
    if not request.choice.open_ring:
        blanks.enter_closed(ledger, band, rules)
    if bored:
        ledger.enter(beside_head_mm, band.width_mm, 2 * whole(shape, top)[1])
        return
    if is_round(shape):
        mark = ledger.enter(mark_round_mm, foot, band.width_mm)
        outer_mark = ledger.enter(mark_round_outside_mm, outside, band.width_mm)
    else:
        mark = ledger.enter(mark_shaped_mm, foot, inside_of.least / inside_of.most)
        outer_mark = ledger.enter(mark_shaped_outside_mm, outside, outside_of.least / outside_of.most)
    if request.choice.open_ring:
        gap = ledger.enter(blanks.gap_arc_mm, band.inside_radius + band.mean_thickness / 2, mark + outer_mark)
        blanks.enter_closed(ledger, band, rules, gap)
    limit = ledger.enter(hollow_limit_mm, foot)
    ledger.enter(hollow_mm, limit, mark)
    ledger.enter(blanks.removed_arc_deg, foot, band.inside_radius)
    ledger.enter(size_if_sprung_mm, band.inside_diameter_mm, foot)


def joinery(figures: Mapping[FigureKey, float], band: Band, choice: FitChoice, shape: HeadShape) -> Joinery:
    """The gap sawn out and its ends hollowed; or the hole, where the band is wider than the head."""
    widths = figures[gap_inside_mm], figures[gap_outside_mm]
    bored = beside_head_mm in figures
    wide = 2 * max(whole(shape, height)[1] for height in (-shape.height_mm, -shape.height_mm + band.thickness_mm))
    heights = (-shape.height_mm, -shape.height_mm + band.thickness_mm)
    low, high = (envelope.loop for envelope in envelopes(shape, heights, wide if bored else band.width_mm))
    marks = (0.0, 0.0) if bored else (figures[MARK_HALF], figures[MARK_HALF_OUTSIDE])
    return Joinery(gap_mm=widths, marks_mm=marks, hollow=(low, high), bored=bored)


def seams(head: Alloy, shank: Alloy, figures: Mapping[FigureKey, float]) -> list[Seam]:
    """Joints of this method: the two shank ends to the head, or the closed shank and the rim of its hole."""
    shield = "the thin head comes up last"
    if beside_head_mm in figures:
        return [
            blanks.back_seam(shank, figures),
            Seam(
                what="head into the hole",
                grade="medium",
                group="head-to-shank",
                metals=(head, shank),
                shield=shield,
                ends=((FOOT, 0.0), (blanks.SHANK, 0.0)),
            ),
        ]
    length = figures[blanks.blank_length_mm]
    closed = [] if blanks.gap_arc_mm in figures else [blanks.back_seam(shank, figures)]
    return [
        *closed,
        *(
            Seam(
                what=f"shank's {side} end to the head",
                grade="medium",
                group="ends-to-head",
                metals=(head, shank),
                shield=shield,
                ends=((FOOT, 0.0), (blanks.SHANK, way)),
            )
            for side, way in (("left", 0.0), ("right", length))
        ),
    ]
