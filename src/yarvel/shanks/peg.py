"""Peg: a bought head's, or one that a basket's legs close on; into a hole in the band, base filed to its curve."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from yarvel.figures.figure import CHOSEN, COMMON_PRACTICE, FROM_MEMORY, GEOMETRY, FigureKey, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.heads.shape import HeadShape
from yarvel.heads.style import BASE, CLAWS, FOOT
from yarvel.metals.alloys import Alloy
from yarvel.metals.joints import Seam
from yarvel.shanks import blanks, fish_mouth, fitting
from yarvel.shanks.band import Band
from yarvel.shanks.fish_mouth import fit
from yarvel.shanks.fitting import BLIND, FitChoice, FitRequest, Fitted, WidthAt
from yarvel.shanks.joinery import Hole, Joinery

PEG = FigureKey("shank.peg")

METHOD = "peg"
LABEL = "Peg in a hole"
FEET = (BASE, CLAWS)
FIELDS = ("hole",)

__all__ = ["FEET", "FIELDS", "LABEL", "METHOD", "enter", "fit", "joinery", "seams"]


@figure("shank.hole", "Hole for the peg", "mm", "d_p", GEOMETRY, peg_mm="d_p")
def hole_mm(peg_mm: Number) -> Number:
    """Diameter in mm of the hole: the peg's, so that solder only has to creep."""
    return peg_mm


@figure("shank.hole_depth", "Hole, deep", "mm", "max(t − m, t/2)", FROM_MEMORY, thickness_mm="t", left_mm="m")
def blind_depth_mm(thickness_mm: Number, left_mm: Number) -> Number:
    """Depth in mm of a blind hole: ``left_mm`` stays between it and the finger, at least half of the band is used."""
    return np.maximum(thickness_mm - left_mm, thickness_mm / 2)


@figure("shank.hole_depth", "Hole, through the band", "mm", "t", GEOMETRY, thickness_mm="t")
def through_depth_mm(thickness_mm: Number) -> Number:
    """Depth in mm of a hole that goes through."""
    return thickness_mm


@figure("shank.peg_length", "Peg below the base", "mm", "d_h", GEOMETRY, depth_mm="d_h")
def peg_length_mm(depth_mm: Number) -> Number:
    """Length in mm of the peg under the base: it ends at the hole's bottom, or flush with the inside."""
    return depth_mm


@figure(
    "shank.beside_hole",
    "Band left on each side of the hole",
    "mm",
    "(w_b − d_p)/2",
    GEOMETRY,
    width_mm="w_b",
    peg_mm="d_p",
)
def beside_hole_mm(width_mm: Number, peg_mm: Number) -> Number:
    """Metal in mm that stays on each side of the hole."""
    return (width_mm - peg_mm) / 2


@figure("shank.hole_pilot", "Pilot for the hole", "mm", "k·d_h", COMMON_PRACTICE, share="k", hole_mm="d_h")
def pilot_mm(share: Number, hole_mm: Number) -> Number:
    """Diameter in mm of the first hole, which the full one follows straight."""
    return share * hole_mm


@figure("shank.hole_bur", "Round bur for the hole's mouth", "mm", "k·d_h", COMMON_PRACTICE, share="k", hole_mm="d_h")
def mouth_bur_mm(share: Number, hole_mm: Number) -> Number:
    """Diameter in mm of the round bur that touches the hole's mouth, so that solder has room to run."""
    return share * hole_mm


_PILOT, _MOUTH = 0.9, 2.3
"""Pilot and round bur against the hole: 0.9, 1.0 and 2.3 mm; common practice, no source."""


def enter(
    ledger: Ledger, request: FitRequest, fitted: Fitted, width_at: WidthAt, band: Band, rules: HouseRules
) -> None:
    """Enter this method's figures."""
    fish_mouth.enter(ledger, request, fitted, width_at, band, rules)
    asked = request.choice.peg_mm
    peg = rules.peg_mm if asked is None else asked
    ledger.given(PEG, "Peg", "mm", peg, FROM_MEMORY if asked is None else CHOSEN)
    hole = ledger.enter(hole_mm, peg)
    ledger.enter(pilot_mm, _PILOT, hole)
    ledger.enter(mouth_bur_mm, _MOUTH, hole)
    if request.choice.hole == BLIND:
        depth = ledger.enter(blind_depth_mm, band.thickness_mm, rules.hole_left_mm)
    else:
        depth = ledger.enter(through_depth_mm, band.thickness_mm)
    ledger.enter(peg_length_mm, depth)
    ledger.enter(beside_hole_mm, band.width_mm, peg)


def joinery(figures: Mapping[FigureKey, float], band: Band, choice: FitChoice, shape: HeadShape) -> Joinery:
    """The base cut to the band, the peg in its hole."""
    depth = figures[fitting.HOLE_DEPTH]
    hole = Hole(figures[fitting.HOLE], depth, choice.hole != BLIND)
    return Joinery(saddle=True, hole=hole, peg_mm=(figures[PEG], depth))


def seams(head: Alloy, shank: Alloy, figures: Mapping[FigureKey, float]) -> list[Seam]:
    """The closed shank, then peg and base in one heat."""
    return [
        blanks.back_seam(shank, figures),
        Seam(
            what="peg and base to the band",
            grade="medium",
            group="head-to-shank",
            metals=(head, shank),
            shield="heat the shank first, the thin head comes up last",
            ends=((FOOT, 0.0), (blanks.SHANK, 0.0)),
        ),
    ]
