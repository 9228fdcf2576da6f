"""Basket point: claws run on below the lower ring, bent until they meet; the point stands in a blind hole."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from yarvel.figures.figure import CHOSEN, COMMON_PRACTICE, FROM_MEMORY, GEOMETRY, FigureKey, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.heads import basket, claws, rings
from yarvel.heads.heights import clear_of_culet, lowered
from yarvel.heads.shape import HeadShape
from yarvel.heads.style import CLAWS, FOOT
from yarvel.metals.alloys import Alloy
from yarvel.metals.joints import Seam
from yarvel.shanks import blanks, fitting
from yarvel.shanks.band import Band
from yarvel.shanks.fitting import CULET, GALLERY, LEAST, FitChoice, FitRequest, Fitted, WidthAt, settle, solved
from yarvel.shanks.joinery import Hole, Joinery

BELOW_RING = FigureKey("head.below_ring")

METHOD = "basket-point"
LABEL = "Claws to a point"
FEET = (CLAWS,)
FIELDS = ("below_ring_mm",)


@figure(
    "head.claw_piece_length",
    "Claw with its part of the point",
    "mm",
    "l + L",
    GEOMETRY,
    places=1,
    claw_mm="l",
    below_mm="L",
)
def claw_piece_length_mm(claw_mm: Number, below_mm: Number) -> Number:
    """Wire in mm for one claw that runs on below the lower ring."""
    return claw_mm + below_mm


@figure(
    "shank.point_depth",
    "Claws meet below the lower ring at",
    "mm",
    "√(L² − r²)",
    GEOMETRY,
    length_mm="L",
    radius_mm="r",
)
def point_depth_mm(length_mm: Number, radius_mm: Number) -> Number:
    """Depth in mm of the apex under the lower ring, for claws of this length on this radius."""
    depth: Number = np.sqrt(np.maximum(length_mm**2 - radius_mm**2, 1e-6))
    return depth


@figure("shank.point_angle", "Angle of the point", "°", "2·asin(r/L)", GEOMETRY, places=1, length_mm="L", radius_mm="r")
def point_angle_deg(length_mm: Number, radius_mm: Number) -> Number:
    """Included angle in degrees of the point."""
    angle: Number = 2 * np.degrees(np.arcsin(np.clip(radius_mm / length_mm, 0, 1)))
    return angle


@figure("head.claw_circle", "Claws' middles at the lower ring, radius", "mm", "r", GEOMETRY, radius_mm="r")
def claw_circle_mm(radius_mm: Number) -> Number:
    """Mean distance in mm of the claws' middles from the axis at the lower ring."""
    return radius_mm


@figure("head.claw_bevel", "Insides of the claws bevelled, each side", "°", "180/N", GEOMETRY, places=1, count="N")
def bevel_deg(count: Number) -> Number:
    """Angle in degrees from a claw's own plane to each of its two bevels, so that N claws close to a point."""
    return 180 / count


@figure(
    "shank.hole",
    "Blind hole for the point",
    "mm",
    "2·d·tan(γ/2)",
    GEOMETRY,
    depth_mm="d",
    angle_deg="γ",
)
def hole_mm(depth_mm: Number, angle_deg: Number) -> Number:
    """Diameter in mm at the band's top of a hole that takes the point, ground to a sharp cone as steep as the claws run
    in; what stands outside of the cone is a shoulder on the band."""
    return 2 * depth_mm * np.tan(np.radians(angle_deg / 2))


@figure("shank.hole_depth", "Hole, deep", "mm", "k·t", FROM_MEMORY, share="k", thickness_mm="t")
def hole_depth_mm(share: Number, thickness_mm: Number) -> Number:
    """Depth in mm of the blind hole."""
    return share * thickness_mm


@figure(
    "shank.beside_hole",
    "Band left on each side of the hole",
    "mm",
    "(w_b − d_h)/2",
    GEOMETRY,
    width_mm="w_b",
    hole_mm="d_h",
)
def beside_hole_mm(width_mm: Number, hole_mm: Number) -> Number:
    """Metal in mm that stays on each side of the hole."""
    return (width_mm - hole_mm) / 2


@figure(
    "seat.plane_above_finger",
    "Seat above the finger",
    "mm",
    "t − d + a + H",
    GEOMETRY,
    thickness_mm="t",
    hole_mm="d",
    apex_mm="a",
    height_mm="H",
)
def plane_above_finger_mm(thickness_mm: Number, hole_mm: Number, apex_mm: Number, height_mm: Number) -> Number:
    """Height in mm of the seat plane above the finger's top."""
    return thickness_mm - hole_mm + apex_mm + height_mm


culet_clearance_mm = figure(
    "seat.culet_clearance", "Culet above the point", "mm", "P_a − h_p", GEOMETRY, base_mm="P_a", below_mm="h_p"
)(lowered)


def _length(request: FitRequest, rules: HouseRules) -> float:
    return rules.below_ring_mm if request.choice.below_ring_mm is None else request.choice.below_ring_mm


def fit(request: FitRequest, width_at: WidthAt, band: Band, rules: HouseRules) -> Fitted:
    """Height from the lower ring to the seat: as asked, or the lowest that clears culet and gallery."""
    length, circle = _length(request, rules), request.foot_circle
    sunk = rules.point_sunk_share * band.thickness_mm

    def to_ring(above_apex_mm: Number) -> Number:
        return settle(lambda height: above_apex_mm - point_depth_mm(length, circle(height)), above_apex_mm)

    wanted = request.plane_above_finger_mm
    asked = None if wanted is None else to_ring(wanted - band.thickness_mm + sunk)
    conditions = {
        CULET: to_ring(clear_of_culet(request.pavilion_mm, rules.culet_clearance_mm)),
        GALLERY: request.gallery_height_mm,
        LEAST: request.least_height_mm,
    }
    height, why = solved(request, conditions, asked)
    return Fitted(height, width_at(height), why)


def enter(
    ledger: Ledger, request: FitRequest, fitted: Fitted, width_at: WidthAt, band: Band, rules: HouseRules
) -> None:
    """Enter this method's figures."""
    length = _length(request, rules)
    ledger.given(
        BELOW_RING,
        "Claws below the ring" if rings.lower_ring_inset_mm not in ledger.entries else "Claws below the lower ring",
        "mm",
        length,
        COMMON_PRACTICE if request.choice.below_ring_mm is None else CHOSEN,
    )
    if ledger.entries.pop(claws.u_piece_length_mm, None) is not None:  # claws that run to a point are single
        ledger.entries.pop(basket.bridge_mm, None)
        ledger.enter(claw_piece_length_mm, ledger.value(claws.claw_length_mm), length)
    radius = ledger.enter(claw_circle_mm, request.foot_circle(fitted.height_mm))
    apex = ledger.enter(point_depth_mm, length, radius)
    angle = ledger.enter(point_angle_deg, length, radius)
    ledger.enter(bevel_deg, float(request.claws))
    depth = ledger.enter(hole_depth_mm, rules.point_sunk_share, band.thickness_mm)
    hole = ledger.enter(hole_mm, depth, angle)
    ledger.enter(beside_hole_mm, band.width_mm, hole)
    ledger.enter(plane_above_finger_mm, band.thickness_mm, depth, apex, fitted.height_mm)
    ledger.enter(culet_clearance_mm, fitted.height_mm + apex, request.pavilion_mm)
    blanks.enter_closed(ledger, band, rules)


def joinery(figures: Mapping[FigureKey, float], band: Band, choice: FitChoice, shape: HeadShape) -> Joinery:
    """Claws to a point in a blind hole."""
    return Joinery(
        hole=Hole(figures[fitting.HOLE], figures[fitting.HOLE_DEPTH], False), point_mm=figures[point_depth_mm]
    )


def seams(head: Alloy, shank: Alloy, figures: Mapping[FigureKey, float]) -> list[Seam]:
    """The point closed, the shank closed, then the point in its hole."""
    point = figures[BELOW_RING]
    return [
        Seam(
            what="claws at the point",
            grade="hard",
            group="point",
            metals=(head,),
            shield="",
            ends=((FOOT, point), ("claw 1", -point)),
        ),
        blanks.back_seam(shank, figures),
        Seam(
            what="point to the band",
            grade="medium",
            group="head-to-shank",
            metals=(head, shank),
            shield="heat the shank first, the thin head comes up last",
            ends=((FOOT, point), (blanks.SHANK, 0.0)),
        ),
    ]
