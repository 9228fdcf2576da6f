"""Inset head: a piece is cut out of the band and the head stands in the gap, its foot flush with the inside."""

from __future__ import annotations

import numpy as np

from yarvel.figures.figure import GEOMETRY, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.heads.heights import clear_of_culet, lowered
from yarvel.metals.alloys import Alloy
from yarvel.metals.joints import Seam
from yarvel.shanks import blanks
from yarvel.shanks.blanks import Band
from yarvel.shanks.fitting import FitRequest, Fitted, WidthAt, settle

METHOD = "inset"
LABEL = "Inset in a gap"


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


@figure("shank.size_if_sprung", "Circumference if sprung open", "mm", "π·d_i + b_f", GEOMETRY,
        inside_diameter="d_i", foot_width="b_f")
def size_if_sprung_mm(inside_diameter: Number, foot_width: Number) -> Number:
    """Inside circumference in mm that the ring takes if it is cut once and sprung open over the foot."""
    return np.pi * inside_diameter + foot_width


@figure("seat.finger_sagitta", "Finger rises into the foot", "mm", "r_i − √(r_i² − b_f²/4)", GEOMETRY,
        radius="r_i", foot_width="b_f")
def finger_sagitta_mm(radius: Number, foot_width: Number) -> Number:
    """How far in mm the finger's curve rises above the edges of the foot."""
    return blanks.sagitta_mm(radius, foot_width)


@figure("seat.plane_above_finger", "Seat above the finger", "mm", "H − s_f", GEOMETRY, height="H", sagitta="s_f")
def plane_above_finger_mm(height: Number, sagitta: Number) -> Number:
    """Height in mm of the seat plane above the top of the finger."""
    return height - sagitta


culet_clearance_mm = figure("seat.culet_clearance", "Room under the culet", "mm", "P − h_p", GEOMETRY,
                            base="P", below="h_p")(lowered)


@figure("shank.band_at_gap", "Band's top at the gap, above the finger", "mm", "√(R_o² − b_o²/4) − r_i", GEOMETRY,
        outside_radius="R_o", gap="b_o", inside_radius="r_i")
def band_at_gap_mm(outside_radius: Number, gap: Number, inside_radius: Number) -> Number:
    """Height in mm of the shank's ends at the head, above the top of the finger."""
    return outside_radius - blanks.sagitta_mm(outside_radius, gap) - inside_radius


def fit(request: FitRequest, width_at: WidthAt, band: Band, rules: HouseRules) -> Fitted:
    """Height from foot to seat: as asked, or the lowest that clears culet and gallery above the curved finger."""
    radius = band.inside_radius

    def above_finger(plane: Number) -> Number:
        return settle(lambda height: plane + blanks.sagitta_mm(radius, width_at(height)), plane)

    if request.fixed_height is not None:
        height: Number = request.fixed_height
    elif request.plane_above_finger is None:
        cleared = above_finger(clear_of_culet(request.pavilion, rules.culet_clearance_mm))
        height = np.maximum(cleared, request.gallery_height)
    else:
        height = np.maximum(above_finger(request.plane_above_finger), request.least_height)
    return Fitted(height, width_at(height))


def enter(ledger: Ledger, request: FitRequest, fitted: Fitted, width_at: WidthAt, band: Band,
          rules: HouseRules) -> None:
    """Enter this method's figures."""
    foot = ledger.enter(gap_inside_mm, fitted.foot_width)
    outside = ledger.enter(gap_outside_mm, foot, width_at(fitted.height - band.thickness) - foot)
    ledger.enter(band_at_gap_mm, band.outside_radius, outside, band.inside_radius)
    ledger.enter(mark_half_mm, foot)
    ledger.enter(blanks.removed_arc_deg, foot, band.inside_radius)
    middle = width_at(fitted.height - band.thickness / 2)
    gap = ledger.enter(blanks.gap_arc_mm, band.inside_radius + band.thickness / 2, middle)
    ledger.enter(blanks.full_length_mm, band.inside_diameter, band.thickness)
    length = ledger.enter(blanks.blank_length_mm, band.inside_diameter, band.thickness, gap)
    ledger.enter(blanks.cut_length_mm, length, rules.saw_allowance_mm)
    ledger.enter(size_if_sprung_mm, band.inside_diameter, foot)
    sagitta = ledger.enter(finger_sagitta_mm, band.inside_radius, foot)
    plane = ledger.enter(plane_above_finger_mm, fitted.height, sagitta)
    ledger.enter(culet_clearance_mm, plane, request.pavilion)


def seams(head: Alloy, shank: Alloy) -> list[Seam]:
    """Joints of this method: the two shank ends to the head."""
    shield = "shield the head's seams; the thin head comes up last"
    return [Seam(f"shank's {side} end to the head", "medium", "Shank ends to the head", (head, shank), shield)
            for side in ("left", "right")]
