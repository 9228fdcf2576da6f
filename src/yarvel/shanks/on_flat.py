"""Head on a flat: a flat is filed on the band and the head's foot stands on it."""

from __future__ import annotations

from collections.abc import Mapping

from yarvel.figures.figure import GEOMETRY, FigureKey, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.heads.heights import clear_of_culet, lowered
from yarvel.heads.shape import HeadShape
from yarvel.heads.style import BASE, CLAWS, FOOT, WALL
from yarvel.metals.alloys import Alloy
from yarvel.metals.joints import Seam
from yarvel.shanks import blanks
from yarvel.shanks.band import Band
from yarvel.shanks.fitting import CULET, GALLERY, LEAST, FitChoice, FitRequest, Fitted, WidthAt, settle, solved
from yarvel.shanks.joinery import Joinery

METHOD = "on-flat"
LABEL = "On a flat"
FEET = (WALL, CLAWS, BASE)
FIELDS: tuple[str, ...] = ()


@figure(
    "shank.flat_depth",
    "Flat takes off the band",
    "mm",
    "R_o − √(R_o² − b²/4)",
    GEOMETRY,
    outside_radius_mm="R_o",
    width_mm="b",
)
def flat_depth_mm(outside_radius_mm: Number, width_mm: Number) -> Number:
    """Depth in mm of a flat of this width on a circle of this radius."""
    return blanks.sagitta_mm(outside_radius_mm, width_mm)


@figure("shank.left_under_flat", "Band left under the flat", "mm", "t − f", GEOMETRY, thickness_mm="t", flat_mm="f")
def left_under_flat_mm(thickness_mm: Number, flat_mm: Number) -> Number:
    """Thickness in mm that stays under the flat."""
    return thickness_mm - flat_mm


@figure(
    "seat.plane_above_finger",
    "Seat above the finger",
    "mm",
    "t − f + H",
    GEOMETRY,
    thickness_mm="t",
    flat_mm="f",
    height_mm="H",
)
def plane_above_finger_mm(thickness_mm: Number, flat_mm: Number, height_mm: Number) -> Number:
    """Height in mm of the seat plane above the finger's top."""
    return thickness_mm - flat_mm + height_mm


culet_clearance_mm = figure(
    "seat.culet_clearance", "Culet above the band", "mm", "H − h_p", GEOMETRY, base_mm="H", below_mm="h_p"
)(lowered)


def fit(request: FitRequest, width_at: WidthAt, band: Band, rules: HouseRules) -> Fitted:
    """Height from foot to seat: as asked, or the lowest that clears culet and gallery."""
    asked: Number | None = None
    if request.plane_above_finger_mm is not None:
        wanted = request.plane_above_finger_mm

        def next_height(height_mm: Number) -> Number:
            return wanted - band.thickness_mm + flat_depth_mm(band.outside_radius, width_at(height_mm))

        asked = settle(next_height, wanted)
    conditions = {
        CULET: clear_of_culet(request.pavilion_mm, rules.culet_clearance_mm),
        GALLERY: request.gallery_height_mm,
        LEAST: request.least_height_mm,
    }
    height, why = solved(request, conditions, asked)
    return Fitted(height, width_at(height), why)


def enter(
    ledger: Ledger, request: FitRequest, fitted: Fitted, width_at: WidthAt, band: Band, rules: HouseRules
) -> None:
    """Enter this method's figures."""
    flat = ledger.enter(flat_depth_mm, band.outside_radius, fitted.foot_width_mm)
    ledger.enter(left_under_flat_mm, band.thickness_mm, flat)
    ledger.enter(plane_above_finger_mm, band.thickness_mm, flat, fitted.height_mm)
    ledger.enter(culet_clearance_mm, fitted.height_mm, request.pavilion_mm)
    blanks.enter_closed(ledger, band, rules)


def joinery(figures: Mapping[FigureKey, float], band: Band, choice: FitChoice, shape: HeadShape) -> Joinery:
    """The band is cut level."""
    return Joinery(flat=True)


def seams(head: Alloy, shank: Alloy, figures: Mapping[FigureKey, float]) -> list[Seam]:
    """Joints of this method: the closed shank first, then the head on it."""
    return [
        blanks.back_seam(shank, figures),
        Seam(
            what="head's foot to the flat",
            grade="medium",
            group="head-to-shank",
            metals=(head, shank),
            shield="heat the shank first, the thin head comes up last",
            ends=((FOOT, 0.0), (blanks.SHANK, 0.0)),
        ),
    ]
