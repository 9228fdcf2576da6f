"""Holding: whether the contacts keep a stone in the plane, against shifting and, where it has corners, turning.

A stone is held when its contacts' pushes can balance each other whatever way it is pressed: when the inward normals
(with their moments, for turning) span their space positively. The linear program for that has so few vectors here
that its deciding planes are tried one by one; decision 0007 says why, the tests hold both against each other.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from yarvel.figures.figure import GEOMETRY, FigureKey, Ledger
from yarvel.heads import claws
from yarvel.heads import places as placing
from yarvel.heads.places import POINT, ClawPosition
from yarvel.heads.style import StoneFacts

OPEN_STRETCH = FigureKey("head.open_stretch")
TURN_HELD = FigureKey("head.turn_held")

Vectors = NDArray[np.float64]
_NEAR = 1e-9


class Holding(Struct, frozen=True):
    """What a set of contacts does.

    ``open_arc_deg`` largest angle between neighbouring pushes (180 or more: the stone can leave); ``turns`` whether
    turning is held too, None where the stone is round and may turn; ``lost_deg`` the open arc if each claw is lost.
    """

    open_arc_deg: float
    held: bool
    turns: bool | None
    lost_deg: tuple[float, ...]

    @property
    def worst_loss_deg(self) -> float:
        """Open arc after the loss of the claw that matters most."""
        return max(self.lost_deg)


def contacts(places: Sequence[ClawPosition], leg_mm: float) -> tuple[Vectors, Vectors, NDArray[np.intp]]:
    """Contact points (n, 2), outward normals (n, 2), and the claw each belongs to; a V touches both its sides, half a
    leg from the point."""
    points, normals, owners = [], [], []
    for owner, place in enumerate(places):
        if place.kind != POINT:
            points.append((place.x_mm, place.y_mm))
            normals.append(place.normal)
            owners.append(owner)
            continue
        for side in (-1.0, 1.0):
            turn = np.radians(place.normal_deg + side * place.spread_deg)
            normal = (float(np.cos(turn)), float(np.sin(turn)))
            along = (-side * normal[1], side * normal[0])
            points.append((place.x_mm + along[0] * leg_mm / 2, place.y_mm + along[1] * leg_mm / 2))
            normals.append(normal)
            owners.append(owner)
    return np.array(points), np.array(normals), np.array(owners)


def open_arc_deg(normals: Vectors) -> float:
    """Largest angle in degrees between neighbouring normals (n, 2)."""
    if len(normals) == 0:
        return 360.0
    turns = np.sort(np.degrees(np.arctan2(normals[:, 1], normals[:, 0])))
    return float(np.diff([*turns, turns[0] + 360.0]).max())


def spans_positively(vectors: Vectors) -> bool:
    """Whether non-negative sums of the vectors (n, 3) reach all of space.

    They do unless a plane through the origin has all of them on one closed side; if there is one, there is one that
    holds two of them (or all lie in a plane), so those planes are tried.
    """
    count = len(vectors)
    if count < 4 or np.linalg.matrix_rank(vectors, tol=1e-7) < 3:
        return False
    first, second = np.triu_indices(count, 1)
    walls = np.cross(vectors[first], vectors[second])
    size = np.linalg.norm(walls, axis=1)
    walls = walls[size > _NEAR] / size[size > _NEAR, None]
    sides = walls @ vectors.T
    return bool(np.all((sides > 1e-7).any(axis=1) & (sides < -1e-7).any(axis=1)))


def wrenches(points: Vectors, normals: Vectors) -> Vectors:
    """Inward pushes with their moments about the culet, scaled by the stone's size: (n, 3)."""
    inward = -normals
    moment = points[:, 0] * inward[:, 1] - points[:, 1] * inward[:, 0]
    size = max(float(np.abs(points).max()), _NEAR)
    return np.column_stack([inward, moment / size])


def holding(places: Sequence[ClawPosition], leg_mm: float, turning: bool) -> Holding:
    """Judge the claws as they stand, and without each of them; ``turning``: the stone has to be kept from turning."""
    points, normals, owners = contacts(places, leg_mm)
    arc = open_arc_deg(normals)
    lost = tuple(open_arc_deg(normals[owners != owner]) for owner in range(len(places)))
    turns = spans_positively(wrenches(points, normals)) if turning else None
    return Holding(arc, arc < 180.0 - 1e-6, turns, lost)


def enter_holding(ledger: Ledger, places: Sequence[ClawPosition], facts: StoneFacts, leg_mm: float) -> None:
    """Enter the open arcs and the longest unsupported stretch of claws that are not evenly spread round a circle."""
    turning = not facts.cut.smooth
    claws_holding = holding(places, leg_mm, turning)
    ledger.given(
        claws.open_arc_deg,
        "Largest open arc",
        "°",
        claws_holding.open_arc_deg,
        GEOMETRY,
        places=0,
        formula="largest angle between neighbouring contacts' normals",
        shown_in="head",
    )
    ledger.given(
        claws.open_arc_one_lost_deg,
        "Open arc if one claw goes",
        "°",
        claws_holding.worst_loss_deg,
        GEOMETRY,
        places=0,
        formula="the same without the claw that matters most",
    )
    ledger.given(
        OPEN_STRETCH,
        "Longest open stretch",
        "mm",
        placing.largest_stretch_mm(facts.outline, places),
        GEOMETRY,
        formula="longest run of the girdle between neighbouring claws",
        shown_in="head",
    )
    if claws_holding.turns is not None:
        ledger.given(
            TURN_HELD,
            "Held against turning (1 yes, 0 no)",
            "",
            float(claws_holding.turns),
            GEOMETRY,
            places=0,
            formula="whether the contacts' pushes and moments span positively",
        )
