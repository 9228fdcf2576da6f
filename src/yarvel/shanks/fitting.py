"""What every fit method is asked and answers, and the solving that they share."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Protocol

import numpy as np
from msgspec import Struct

from yarvel.figures.figure import GEOMETRY, FigureKey, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.heads.shape import HeadShape
from yarvel.metals.alloys import Alloy
from yarvel.metals.joints import Seam
from yarvel.shanks.band import Band
from yarvel.shanks.joinery import Joinery

CULET_CLEARANCE = FigureKey("seat.culet_clearance")

PLANE_ABOVE_FINGER = FigureKey("seat.plane_above_finger")
HOLE = FigureKey("shank.hole")
BESIDE_HOLE = FigureKey("shank.beside_hole")
HOLE_DEPTH = FigureKey("shank.hole_depth")

WidthAt = Callable[[Number], Number]
"""Width of the head along the band, in mm, at a depth below the seat plane, in mm."""

BLIND, THROUGH = "blind", "through"
HOLES = (BLIND, THROUGH)


class FitChoice(Struct, frozen=True, kw_only=True):
    """What a job says of its fit; lengths in mm, None to be derived; ``open_ring``: the ring is never closed without
    its head."""

    below_ring_mm: float | None = None
    hole: str = BLIND
    peg_mm: float | None = None
    split_mm: float | None = None
    branch_mm: float | None = None
    open_ring: bool = False
    let_mm: float | None = None


class FitRequest(Struct, frozen=True, kw_only=True):
    """What a head asks of a fit; lengths in mm.

    ``plane_above_finger_mm`` is the seat height asked for, None for "as low as possible"; ``fixed_height_mm`` is the
    height from foot to seat of a head that is already made; ``least_height_mm`` the lowest that can be drawn at all;
    ``foot_circle`` how far from the axis the claws' middles lie at the foot, by height; ``claws`` how many there are;
    ``across_share`` the head's width across over that along the band; ``shape`` the head's form for the stone as
    measured, once its height is known; ``fixed_by`` the condition that a fixed height is told as; ``floor_mm`` the
    metal across the foot under the culet.
    """

    pavilion_mm: Number
    gallery_height_mm: Number
    least_height_mm: Number
    plane_above_finger_mm: Number | None
    fixed_height_mm: Number | None
    choice: FitChoice
    foot_circle: WidthAt
    claws: int
    across_share: float = 1.0
    shape: HeadShape | None = None
    sawn_least_mm: Number = 0.0
    floor_mm: Number = 0.0
    fixed_by: str = "made"


class Fitted(Struct, frozen=True):
    """``height_mm`` from the head's foot to the seat plane, ``foot_width_mm`` along the band at the foot, in mm;
    ``conditions`` the least height that each condition asks for, by name: the greatest decided."""

    height_mm: Number
    foot_width_mm: Number
    conditions: Mapping[str, Number]


ASKED, MADE, CULET, GALLERY, LEAST, BEARER = "asked", "made", "culet", "gallery", "least", "bearer"
SAWN = "sawn"


def solved(
    request: FitRequest, conditions: Mapping[str, Number], asked_mm: Number | None
) -> tuple[Number, dict[str, Number]]:
    """Height in mm from foot to seat and what asked for it: a head already made, the height asked for (``asked_mm``,
    from foot to seat; not under what can be made, nor over a head that is made already), or the greatest of the
    conditions."""
    if asked_mm is not None:
        both: dict[str, Number] = {ASKED: asked_mm, LEAST: request.least_height_mm}
        wanted = np.maximum(asked_mm, request.least_height_mm)
        if request.fixed_height_mm is None:
            return wanted, both
        if np.any(wanted < request.fixed_height_mm):  # a head that is made can only be trimmed
            return np.minimum(wanted, request.fixed_height_mm), {**both, MADE: request.fixed_height_mm}
    if request.fixed_height_mm is not None:
        return request.fixed_height_mm, {request.fixed_by: request.fixed_height_mm}
    height: Number = 0.0
    for value in conditions.values():
        height = np.maximum(height, value)
    return height, dict(conditions)


@figure(
    CULET_CLEARANCE,
    "Culet clearance over the wires below",
    "mm",
    "H − w − h_p",
    GEOMETRY,
    height_mm="H",
    floor_mm="w",
    pavilion_mm="h_p",
)
def over_floor_mm(height_mm: Number, floor_mm: Number, pavilion_mm: Number) -> Number:
    """Room in mm between culet and the wires that lie across the foot under it."""
    return height_mm - floor_mm - pavilion_mm


class FitMethod(Protocol):
    """A module of a fit method. ``FEET`` the kinds of foot it takes, ``FIELDS`` the job's fields of a fit that it
    reads."""

    @property
    def METHOD(self) -> str:
        """The word for it in a job file."""

    @property
    def LABEL(self) -> str:
        """Its name for people."""

    @property
    def FEET(self) -> tuple[str, ...]:
        """Kinds of foot that it takes."""

    @property
    def FIELDS(self) -> tuple[str, ...]:
        """The job's fields of a fit that it reads, beside the height."""

    def fit(self, request: FitRequest, width_at: WidthAt, band: Band, rules: HouseRules) -> Fitted:
        """Solve the height from foot to seat."""

    def enter(
        self, ledger: Ledger, request: FitRequest, fitted: Fitted, width_at: WidthAt, band: Band, rules: HouseRules
    ) -> None:
        """Enter this method's figures."""

    def joinery(self, figures: Mapping[FigureKey, float], band: Band, choice: FitChoice, shape: HeadShape) -> Joinery:
        """How band and head are cut, from the plan's finished figures."""

    def seams(self, head: Alloy, shank: Alloy, figures: Mapping[FigureKey, float]) -> list[Seam]:
        """Joints of this method."""


_SETTLED_MM, _STRAIGHT = 1e-10, 1e-14


def settle(step: Callable[[Number], Number], start_mm: Number, rounds: int = 60) -> Number:
    """Fixed point, in the unit of its start, of a contraction by repeated steps, each two of them drawn out to where
    they lead (Steffensen's method; steps alone gain about a digit each for heads and bands)."""
    value = start_mm
    for _ in range(rounds):
        first = step(value)
        if _gap(first, value) < _SETTLED_MM:
            return first
        value = _drawn_out(value, first, step(first))
    return value


def _gap(one: Number, other: Number) -> float:
    """How far two values lie apart; of columns, the farthest."""
    apart = one - other
    return float(np.abs(apart).max()) if isinstance(apart, np.ndarray) else abs(apart)


def _drawn_out(value: Number, first: Number, second: Number) -> Number:
    """Where two steps lead; the second of them where they do not tell, or would lead farther than the first went."""
    went, bend = first - value, second - 2 * first + value
    if not isinstance(bend, np.ndarray):
        led = float(value - went**2 / bend) if abs(bend) > _STRAIGHT else float(second)
        return led if abs(led - float(second)) <= abs(float(went)) else second
    stretches = np.abs(bend) > _STRAIGHT
    drawn = value - went**2 / np.where(stretches, bend, 1.0)
    return np.where(stretches & (np.abs(drawn - second) <= np.abs(went)), drawn, second)
