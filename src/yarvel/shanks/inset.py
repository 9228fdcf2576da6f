"""Inset head: a piece is cut out of the band and the head stands in the gap, its foot flush with the inside."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from yarvel.figures.figure import GEOMETRY, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.heads.heights import clear_of_culet, lowered
from yarvel.heads.style import BASE, CLAWS, FOOT, WALL, Making
from yarvel.metals.alloys import Alloy
from yarvel.metals.joints import Seam
from yarvel.shanks import blanks
from yarvel.shanks.blanks import Band
from yarvel.shanks.fitting import CULET, GALLERY, LEAST, FitChoice, FitRequest, Fitted, WidthAt, settle, solved
from yarvel.shanks.joinery import Joinery

METHOD = "inset"
LABEL = "Inset in a gap"
FEET = (WALL, CLAWS, BASE)
FIELDS: tuple[str, ...] = ()


@figure("shank.gap_inside", "Gap at the inside", "mm", "b_f", GEOMETRY, foot_width="b_f")
def gap_inside_mm(foot_width: Number) -> Number:
    """Gap in mm at the finger side: the head's width along the band at its foot."""
    return foot_width


@figure("shank.gap_outside", "Gap at the outside", "mm", "b_f + Δb", GEOMETRY, foot_width="b_f", widening="Δb")
def gap_outside_mm(foot_width: Number, widening: Number) -> Number:
    """Gap in mm at the outside: ``widening`` is what the head gains in width over one band thickness."""
    return foot_width + widening


@figure("shank.mark_half", "Mark each side of the middle", "mm", "b_f/2", GEOMETRY, foot_width="b_f")
def mark_half_mm(foot_width: Number) -> Number:
    """Half the inside gap, in mm."""
    return foot_width / 2


@figure(
    "shank.size_if_sprung",
    "Circumference if sprung open",
    "mm",
    "π·d_i + b_f",
    GEOMETRY,
    inside_diameter="d_i",
    foot_width="b_f",
)
def size_if_sprung_mm(inside_diameter: Number, foot_width: Number) -> Number:
    """Inside circumference in mm that the ring takes if it is cut once and sprung open over the foot."""
    return np.pi * inside_diameter + foot_width


@figure(
    "seat.finger_sagitta",
    "Finger rises into the foot",
    "mm",
    "r_i − √(r_i² − b_f²/4)",
    GEOMETRY,
    radius="r_i",
    foot_width="b_f",
)
def finger_sagitta_mm(radius: Number, foot_width: Number) -> Number:
    """How far in mm the finger's curve rises above the edges of the foot."""
    return blanks.sagitta_mm(radius, foot_width)


@figure("seat.plane_above_finger", "Seat above the finger", "mm", "H − s_f", GEOMETRY, height="H", sagitta="s_f")
def plane_above_finger_mm(height: Number, sagitta: Number) -> Number:
    """Height in mm of the seat plane above the top of the finger."""
    return height - sagitta


culet_clearance_mm = figure(
    "seat.culet_clearance", "Room under the culet", "mm", "P − h_p", GEOMETRY, base="P", below="h_p"
)(lowered)


@figure(
    "shank.band_at_gap",
    "Band's top at the gap, above the finger",
    "mm",
    "√(R_o² − b_o²/4) − r_i",
    GEOMETRY,
    outside_radius="R_o",
    gap="b_o",
    inside_radius="r_i",
)
def band_at_gap_mm(outside_radius: Number, gap: Number, inside_radius: Number) -> Number:
    """Height in mm of the shank's ends at the head, above the top of the finger."""
    return outside_radius - blanks.sagitta_mm(outside_radius, gap) - inside_radius


@figure(
    "shank.hollow",
    "Ends hollowed to the head's curve by",
    "mm",
    "b_f/2 − √(b_f² − min(w_b, b_f)²)/2",
    GEOMETRY,
    foot_width="b_f",
    width="w_b",
)
def hollow_mm(foot_width: Number, width: Number) -> Number:
    """Depth in mm of the hollow in each end of a band beside a round head; half the head where the band is as wide."""
    return foot_width / 2 - np.sqrt(foot_width**2 - np.minimum(width, foot_width) ** 2) / 2


@figure(
    "shank.beside_head", "Band left on each side of the head", "mm", "(w_b − b_o)/2", GEOMETRY, width="w_b", gap="b_o"
)
def beside_head_mm(width: Number, gap: Number) -> Number:
    """Metal in mm that stays on each side of the head in a band that is wider than it."""
    return (width - gap) / 2


def is_bored(band: Band, outside: Number, rules: HouseRules) -> bool:
    """Whether the band is so wide that the head stands in a hole, and the ring is not cut through."""
    return band.width - float(np.mean(outside)) >= 2 * rules.beside_head_mm


def fit(request: FitRequest, width_at: WidthAt, band: Band, rules: HouseRules) -> Fitted:
    """Height from foot to seat: as asked, or the lowest that clears culet and gallery above the curved finger."""
    radius = band.inside_radius

    def above_finger(plane: Number) -> Number:
        return settle(lambda height: plane + blanks.sagitta_mm(radius, width_at(height)), plane)

    conditions = {
        CULET: above_finger(clear_of_culet(request.pavilion, rules.culet_clearance_mm)),
        GALLERY: request.gallery_height,
        LEAST: request.least_height,
    }
    wanted = request.plane_above_finger
    height, why = solved(request, conditions, None if wanted is None else above_finger(wanted))
    return Fitted(height, width_at(height), why)


def enter(
    ledger: Ledger, request: FitRequest, fitted: Fitted, width_at: WidthAt, band: Band, rules: HouseRules
) -> None:
    """Enter this method's figures."""
    foot = ledger.enter(gap_inside_mm, fitted.foot_width)
    outside = ledger.enter(gap_outside_mm, foot, width_at(fitted.height - band.thickness) - foot)
    ledger.enter(band_at_gap_mm, band.outside_radius, outside, band.inside_radius)
    sagitta = ledger.enter(finger_sagitta_mm, band.inside_radius, foot)
    plane = ledger.enter(plane_above_finger_mm, fitted.height, sagitta)
    ledger.enter(culet_clearance_mm, plane, request.pavilion)
    ledger.enter(blanks.full_length_mm, band.inside_diameter, band.mean_thickness)
    if is_bored(band, outside, rules):
        ledger.enter(beside_head_mm, band.width, outside)
        blanks.enter_closed(ledger, band, rules)
        return
    ledger.enter(mark_half_mm, foot)
    ledger.enter(hollow_mm, foot, band.width)
    ledger.enter(blanks.removed_arc_deg, foot, band.inside_radius)
    middle = width_at(fitted.height - band.thickness / 2)
    gap = ledger.enter(blanks.gap_arc_mm, band.inside_radius + band.thickness / 2, middle)
    length = ledger.enter(blanks.blank_length_mm, band.inside_diameter, band.mean_thickness, gap)
    ledger.enter(blanks.cut_length_mm, length, rules.saw_allowance_mm)
    ledger.enter(size_if_sprung_mm, band.inside_diameter, foot)


def joinery(figures: Mapping[str, float], band: Band, choice: FitChoice) -> Joinery:
    """The gap sawn out; or the hole, where the band is wider than the head."""
    widths = figures["shank.gap_inside"], figures["shank.gap_outside"]
    return Joinery(gap=widths, bored="shank.beside_head" in figures)


def seams(head: Alloy, shank: Alloy, figures: Mapping[str, float]) -> list[Seam]:
    """Joints of this method: the two shank ends to the head, or the closed shank and the rim of its hole."""
    shield = "the thin head comes up last"
    if "shank.beside_head" in figures:
        return [
            blanks.back_seam(shank, figures),
            Seam(
                "head into the hole",
                "medium",
                "Head to shank",
                (head, shank),
                shield,
                ((FOOT, 0.0), (blanks.SHANK, 0.0)),
            ),
        ]
    length = figures["shank.blank_length"]
    return [
        Seam(
            f"shank's {side} end to the head",
            "medium",
            "Shank ends to the head",
            (head, shank),
            shield,
            ((FOOT, 0.0), (blanks.SHANK, way)),
        )
        for side, way in (("left", 0.0), ("right", length))
    ]


def making() -> Making:
    """Marked, annealed, sawn on the taper, hollowed; or bored."""
    return (
        (
            "Anneal, then mark {shank.mark_half} each side of the middle on the inside and saw the whole piece out, "
            "{shank.gap_inside} inside, {shank.gap_outside} outside, on the head's taper.",
            "the head's foot flush with the inside, the ring still on size",
        ),
        ("Hollow both ends by {shank.hollow} to the head's curve.", "no light between head and ends"),
        (
            "Saw and file a hole of {shank.gap_outside} at the outside, {shank.gap_inside} inside; "
            "{shank.beside_head} stays on each side.",
            "the head drops in without force, foot flush with the inside",
        ),
    )
