"""Cast in one piece: head and band from one mould; the foot runs into the band's whole outside, nothing is joined."""

from __future__ import annotations

from collections.abc import Mapping

from msgspec.structs import replace

from yarvel.figures.figure import GEOMETRY, FigureKey, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.heads.shape import HeadShape
from yarvel.heads.style import CLAWS
from yarvel.metals.alloys import Alloy
from yarvel.metals.joints import Seam
from yarvel.shanks import fish_mouth
from yarvel.shanks.band import CROWN, Band
from yarvel.shanks.fish_mouth import deepest
from yarvel.shanks.fitting import CULET_CLEARANCE, PLANE_ABOVE_FINGER, FitChoice, FitRequest, Fitted, WidthAt
from yarvel.shanks.joinery import Joinery

METHOD = "cast-on"
LABEL = "Cast in one piece"
FEET = (CLAWS,)
FIELDS: tuple[str, ...] = ()

__all__ = ["FEET", "FIELDS", "LABEL", "METHOD", "enter", "fit", "joinery", "seams"]


@figure(
    "shank.foot_sunk",
    "Foot within the band, deepest",
    "mm",
    "R_o − √(max(R_y² − x², 0)) + m",
    GEOMETRY,
    outside_radius_mm="R_o",
    radius_there_mm="R_y",
    along_mm="x",
    runs_in_mm="m",
)
def foot_sunk_mm(outside_radius_mm: Number, radius_there_mm: Number, along_mm: Number, runs_in_mm: Number) -> Number:
    """How far in mm the band's outside rises into the foot of a head that is one with it: where it falls away most the
    foot still runs into its metal."""
    return fish_mouth.crowned_depth_mm(outside_radius_mm, radius_there_mm, along_mm) + runs_in_mm


RUNS_IN_MM = 0.4
"""How far a foot runs into its band where that falls away most; from memory."""


plane_above_finger_mm = figure(
    PLANE_ABOVE_FINGER,
    "Seat above the finger",
    "mm",
    "t + H − f_k",
    GEOMETRY,
    thickness_mm="t",
    height_mm="H",
    sunk_mm="f_k",
)(fish_mouth.above_finger)

clear_of_band_mm = figure(
    CULET_CLEARANCE,
    "Stone's underside above the band",
    "mm",
    "H − f_k − h_p",
    GEOMETRY,
    height_mm="H",
    sunk_mm="f_k",
    pavilion_mm="h_p",
)(fish_mouth.above_band)


def fit(request: FitRequest, width_at: WidthAt, band: Band, rules: HouseRules) -> Fitted:
    """Height from the lowest points of the foot to the seat: as on a hollowed foot, and what runs into the band."""
    deeper = replace(
        request,
        pavilion_mm=request.pavilion_mm + RUNS_IN_MM,
        gallery_height_mm=request.gallery_height_mm + RUNS_IN_MM,
        plane_above_finger_mm=None
        if request.plane_above_finger_mm is None
        else request.plane_above_finger_mm + RUNS_IN_MM,
    )
    return fish_mouth.fit(deeper, width_at, band, rules)


def enter(
    ledger: Ledger, request: FitRequest, fitted: Fitted, width_at: WidthAt, band: Band, rules: HouseRules
) -> None:
    """Enter this method's figures; nothing of a blank: no bar becomes this band."""
    there: Number = band.outside_radius
    along: Number = fitted.foot_width_mm / 2
    if CROWN[band.profile] > 0:
        there, along = deepest(band, fitted.foot_width_mm, request.across_share)
    sunk = ledger.enter(foot_sunk_mm, band.outside_radius, there, along, RUNS_IN_MM)
    ledger.enter(plane_above_finger_mm, band.thickness_mm, fitted.height_mm, sunk)
    ledger.enter(clear_of_band_mm, fitted.height_mm, sunk, request.pavilion_mm)


def joinery(figures: Mapping[FigureKey, float], band: Band, choice: FitChoice, shape: HeadShape) -> Joinery:
    """Nothing is cut: the band is whole, and the foot ends within it, or where the finger is."""
    return Joinery(cast=True)


def seams(head: Alloy, shank: Alloy, figures: Mapping[FigureKey, float]) -> list[Seam]:
    """A casting has no joints."""
    return []
