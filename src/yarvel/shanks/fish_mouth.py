"""Fish-mouth: the head's foot is filed hollow to the band's outside and straddles the whole band."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from yarvel.figures.figure import GEOMETRY, FigureKey, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.heads.heights import clear_of_culet
from yarvel.heads.shape import HeadShape
from yarvel.heads.style import FOOT, WALL
from yarvel.metals.alloys import Alloy
from yarvel.metals.joints import Seam
from yarvel.shanks import blanks
from yarvel.shanks.band import CROWN, Band
from yarvel.shanks.fitting import CULET, GALLERY, LEAST, FitChoice, FitRequest, Fitted, WidthAt, settle, solved
from yarvel.shanks.joinery import Joinery

METHOD = "fish-mouth"
LABEL = "Fish-mouth over the band"
FEET = (WALL,)
FIELDS: tuple[str, ...] = ()


@figure(
    "shank.saddle_depth",
    "Foot hollowed, deepest",
    "mm",
    "R_o − √(R_o² − b²/4)",
    GEOMETRY,
    outside_radius_mm="R_o",
    width_mm="b",
)
def saddle_depth_mm(outside_radius_mm: Number, width_mm: Number) -> Number:
    """Depth in mm of the hollow in a foot of this width along a band with a level outside, at its two lowest points."""
    return blanks.sagitta_mm(outside_radius_mm, width_mm)


@figure(
    "shank.saddle_depth",
    "Foot hollowed, deepest",
    "mm",
    "R_o − √(R_y² − x²)",
    GEOMETRY,
    outside_radius_mm="R_o",
    radius_there_mm="R_y",
    along_mm="x",
)
def crowned_depth_mm(outside_radius_mm: Number, radius_there_mm: Number, along_mm: Number) -> Number:
    """Depth in mm of the hollow in a foot over a rounded band, where it is deepest: ``along_mm`` from the middle along
    the band, ``radius_there_mm`` that of the band's outside as far across."""
    return outside_radius_mm - np.sqrt(np.maximum(radius_there_mm**2 - along_mm**2, 0.0))


_TURNS = np.radians(np.linspace(0.0, 90.0, 31))


def deepest(band: Band, width_mm: Number, across_share: float = 1.0) -> tuple[Number, Number]:
    """Where the hollow of a foot this wide along the band is deepest: radius of the band's outside there, and how far
    along; ``across_share`` is the foot's width across over that along."""
    half = np.asarray(width_mm, dtype=float)[..., None] / 2
    edge = np.arcsin(np.minimum(band.width_mm / 2 / (half * across_share), 1.0))  # where the band's side begins
    turns = np.concatenate([np.broadcast_to(_TURNS, (*half.shape[:-1], len(_TURNS))), edge], axis=-1)
    along, across = half * np.cos(turns), half * across_share * np.sin(turns)
    radius = np.asarray(band.outside_at(across))
    depth = np.asarray(crowned_depth_mm(band.outside_radius, radius, along))
    place = np.argmax(depth, axis=-1)[..., None]
    there, out = (np.take_along_axis(np.broadcast_to(part, depth.shape), place, -1)[..., 0] for part in (radius, along))
    return (float(there), float(out)) if np.ndim(width_mm) == 0 else (there, out)


def _depth(band: Band, width: Number, across_share: float) -> Number:
    if CROWN[band.profile] <= 0:
        return blanks.sagitta_mm(band.outside_radius, width)
    return crowned_depth_mm(band.outside_radius, *deepest(band, width, across_share))


@figure("shank.saved_by_hollowing", "A flat would take off the band", "mm", "f_s", GEOMETRY, saddle_mm="f_s")
def saved_mm(saddle_mm: Number) -> Number:
    """What a flat for the same foot would take off the band, in mm: the hollow spares it."""
    return saddle_mm


def above_finger(thickness_mm: Number, height_mm: Number, sunk_mm: Number) -> Number:
    """Height in mm of the seat plane above the finger's top; ``height_mm`` to the lowest points of the foot, which lie
    ``sunk_mm`` mm below the band's top."""
    return thickness_mm + height_mm - sunk_mm


def above_band(height_mm: Number, sunk_mm: Number, pavilion_mm: Number) -> Number:
    """Room in mm between the stone's lowest point and the band's top."""
    return height_mm - sunk_mm - pavilion_mm


plane_above_finger_mm = figure(
    "seat.plane_above_finger",
    "Seat above the finger",
    "mm",
    "t + H − f_s",
    GEOMETRY,
    thickness_mm="t",
    height_mm="H",
    sunk_mm="f_s",
)(above_finger)

culet_clearance_mm = figure(
    "seat.culet_clearance",
    "Culet above the band",
    "mm",
    "H − f_s − h_p",
    GEOMETRY,
    height_mm="H",
    sunk_mm="f_s",
    pavilion_mm="h_p",
)(above_band)


def fit(request: FitRequest, width_at: WidthAt, band: Band, rules: HouseRules) -> Fitted:
    """Height from the lowest points of the foot to the seat: as asked, or the lowest that clears culet and gallery."""

    def on_band(above: Number) -> Number:
        return settle(lambda height: above + _depth(band, width_at(height), request.across_share), above)

    conditions = {
        CULET: on_band(clear_of_culet(request.pavilion_mm, rules.culet_clearance_mm)),
        GALLERY: on_band(request.gallery_height_mm),
        LEAST: request.least_height_mm,
    }
    wanted = request.plane_above_finger_mm
    height, why = solved(request, conditions, None if wanted is None else on_band(wanted - band.thickness_mm))
    return Fitted(height, width_at(height), why)


def enter(
    ledger: Ledger, request: FitRequest, fitted: Fitted, width_at: WidthAt, band: Band, rules: HouseRules
) -> None:
    """Enter this method's figures."""
    if CROWN[band.profile] <= 0:
        saddle = ledger.enter(saddle_depth_mm, band.outside_radius, fitted.foot_width_mm)
    else:
        there, along = deepest(band, fitted.foot_width_mm, request.across_share)
        saddle = ledger.enter(crowned_depth_mm, band.outside_radius, there, along)
    ledger.enter(saved_mm, saddle)
    ledger.enter(plane_above_finger_mm, band.thickness_mm, fitted.height_mm, saddle)
    ledger.enter(culet_clearance_mm, fitted.height_mm, saddle, request.pavilion_mm)
    blanks.enter_closed(ledger, band, rules)


def joinery(figures: Mapping[FigureKey, float], band: Band, choice: FitChoice, shape: HeadShape) -> Joinery:
    """The foot is cut to the band."""
    return Joinery(saddle=True)


def seams(head: Alloy, shank: Alloy, figures: Mapping[FigureKey, float]) -> list[Seam]:
    """Joints of this method: the closed shank first, then the head on it."""
    return [
        blanks.back_seam(shank, figures),
        Seam(
            what="head's foot to the band",
            grade="medium",
            group="head-to-shank",
            metals=(head, shank),
            shield="heat the shank first, the thin head comes up last",
            ends=((FOOT, 0.0), (blanks.SHANK, 0.0)),
        ),
    ]
