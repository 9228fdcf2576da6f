"""Levelling: how a stone rests on seats of unequal height, and how a table that was measured leans."""

from __future__ import annotations

import itertools

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

Points = NDArray[np.float64]


class Rest(Struct, frozen=True):
    """How a stone rests: ``tilt_deg`` from level, the side that lies low as an azimuth ``low_deg``, which seats carry
    it, and the gap in mm at every seat (0 at those that carry)."""

    tilt_deg: float
    low_deg: float
    carries: tuple[bool, ...]
    gaps_mm: tuple[float, ...]


class Seating(Struct, frozen=True, kw_only=True):
    """All ways in which a stone can rest: one where it sits still, two or more where it rocks, none where its seats do
    not stand round its middle. ``edge``: the seats that carry it in each of them; ``rock_mm``: how far it moves at the
    seat where it moves most; ``rock_deg``: from its middle position to either side; ``tilt_deg`` and ``low_deg``: how
    it leans in the middle of its rocking."""

    rests: tuple[Rest, ...]
    edge: tuple[bool, ...]
    rock_mm: float
    rock_deg: float
    tilt_deg: float
    low_deg: float

    @property
    def rocks(self) -> bool:
        """Whether it can rest in more than one way."""
        return len(self.rests) > 1


ON_EDGE_MM = 0.05
"""How well anybody knows where a claw stands: nearer than this to a line between two seats, the stone's middle may lie
on either side of it; from memory."""

_SAME_MM = 1e-6


def seating(places: Points, heights: Points, middle: tuple[float, float] = (0.0, 0.0)) -> Seating:
    """How a flat stone rests on seats at ``places`` (n, 2) with their ``heights`` (n,), n ≥ 3, mm, its middle at
    ``middle``.

    It rests on three seats where the plane through them lies on or above all others, and where its middle is between
    them (source: statics of a rigid body on three points). On claws in opposite pairs the middle lies on the line
    between two of them: it rests on the higher pair and on either of the seats beside.
    """
    found: dict[tuple[float, ...], tuple[Rest, Points]] = {}
    centre = np.asarray(middle, dtype=float)
    for three in itertools.combinations(range(len(heights)), 3):
        corners = places[list(three)]
        if not _is_round(corners, centre):
            continue
        height, x, y = np.linalg.solve(np.column_stack([np.ones(3), corners]), heights[list(three)])
        gaps = height + places @ np.array([x, y]) - heights
        if gaps.min() < -_SAME_MM:
            continue
        carries = tuple(bool(gap < _SAME_MM) for gap in gaps)
        rest = Rest(_tilt(x, y), _low(x, y), carries, tuple(float(max(gap, 0.0)) for gap in gaps))
        found.setdefault(tuple(np.round(gaps, 5) + 0.0), (rest, np.array([x, y])))
    if not found:
        return Seating(rests=(), edge=(False,) * len(heights), rock_mm=0.0, rock_deg=0.0, tilt_deg=0.0, low_deg=0.0)
    rests = tuple(rest for rest, _ in found.values())
    slopes = np.array([slope for _, slope in found.values()])
    gaps = np.array([rest.gaps_mm for rest in rests])
    x, y = slopes.mean(axis=0)
    apart = max(_angle_deg(one, other) for one in slopes for other in slopes)
    edge = tuple(bool(carried) for carried in np.all([rest.carries for rest in rests], axis=0))
    return Seating(
        rests=rests,
        edge=edge,
        rock_mm=float(np.ptp(gaps, axis=0).max()),
        rock_deg=apart / 2,
        tilt_deg=_tilt(x, y),
        low_deg=_low(x, y),
    )


_WAYS = 16


def eased(places: Points, heights: Points, within_deg: float) -> tuple[float, ...]:
    """What to take off each seat at ``places`` (n, 2) with its ``heights`` (n,), mm, so that all carry and the stone
    leans by no more than ``within_deg``: the least in all, by linear program over the planes that no seat lies below
    (seats are taken down, never put up)."""
    from scipy.optimize import linprog

    terms = np.column_stack([np.ones(len(heights)), places])
    turned = np.arange(_WAYS) * 2 * np.pi / _WAYS
    ways = np.column_stack([np.zeros(_WAYS), np.cos(turned), np.sin(turned)])
    steepest = np.tan(np.radians(within_deg)) * np.cos(np.pi / _WAYS)
    plane = linprog(
        -terms.sum(axis=0),
        A_ub=np.vstack([terms, ways]),
        b_ub=np.concatenate([heights, np.full(_WAYS, steepest)]),
        bounds=[(None, None)] * 3,
        method="highs",
    ).x
    return tuple(float(max(cut, 0.0)) for cut in heights - terms @ plane)


def _is_round(corners: Points, centre: Points) -> bool:
    """Whether three places stand round a middle, or it lies on their edge as nearly as anybody knows."""
    sides = np.roll(corners, -1, axis=0) - corners
    turned = _cross(sides[0], sides[1])
    if abs(turned) < 1e-9:
        return False
    within = [_cross(side, centre - corner) for side, corner in zip(sides, corners, strict=True)]
    inside = np.array(within) * np.sign(turned) / np.linalg.norm(sides, axis=1)
    return bool(inside.min() > -ON_EDGE_MM)


def _cross(one: Points, other: Points) -> float:
    return float(one[0] * other[1] - one[1] * other[0])


def _angle_deg(one: Points, other: Points) -> float:
    """Between two planes of these slopes."""
    first, second = np.append(one, -1.0), np.append(other, -1.0)
    share = first @ second / np.linalg.norm(first) / np.linalg.norm(second)
    return float(np.degrees(np.arccos(np.clip(share, -1.0, 1.0))))


MOVED_MM = 0.02
"""Readings of one table that lie further from a plane than this: it moved between them; from memory."""


class Lean(Struct, frozen=True):
    """How a table leans: ``tilt_deg`` from level, the azimuth ``low_deg`` of its low side, what to take off each seat
    in mm to level it (0 where it is lowest), and how far readings lie from one plane, mm: a table is flat, so more
    than reading errors says that it moved between them."""

    tilt_deg: float
    low_deg: float
    take_off_mm: tuple[float, ...]
    unsteady_mm: float


def table_lean(places: Points, heights: Points) -> Lean:
    """Lean of a table from its heights (n,) read at ``places`` (n, 2), three or more, mm: the plane of least squares.

    Reading errors even out; three readings determine the plane exactly.
    """
    terms = np.column_stack([np.ones(len(heights)), places])
    (height, x, y), *_ = np.linalg.lstsq(terms, heights, rcond=None)
    fitted = places @ np.array([x, y])
    take_off = fitted - fitted.min()
    unsteady = float(np.abs(height + fitted - heights).max())
    return Lean(_tilt(x, y), _low(x, y), tuple(float(value) for value in take_off), unsteady)


def moved_words(lean: Lean) -> str:
    """What is said where readings of one table do not lie in one plane."""
    return (
        f"The readings lie up to {lean.unsteady_mm:.2f} mm from one plane, and a table is flat: the stone rocked "
        "between them. Hold it down at one claw and read again; then look under the claws for light."
    )


def _tilt(x: float, y: float) -> float:
    return float(np.degrees(np.arctan(np.hypot(x, y))))


def _low(x: float, y: float) -> float:
    return float(np.degrees(np.arctan2(-y, -x)) % 360)
