"""Levelling: how a stone rests on seats of unequal height, and how a table that was measured leans."""

from __future__ import annotations

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


def resting(places: Points, heights: Points) -> Rest:
    """How a flat stone rests on seats at ``places`` (n, 2) with their ``heights`` (n,), mm.

    It comes down as far as it can: the lowest plane a + b·x + c·y that lies on or above every seat, by linear program
    (source: geometry). Ties between equally low planes are broken by the solver.
    """
    from scipy.optimize import linprog

    above = np.column_stack([-np.ones(len(heights)), -places])
    solution = linprog([1.0, 0.0, 0.0], A_ub=above, b_ub=-heights, bounds=[(None, None)] * 3, method="highs")
    height, x, y = solution.x
    gaps = height + places @ np.array([x, y]) - heights
    return Rest(
        _tilt(x, y), _low(x, y), tuple(bool(gap < 1e-6) for gap in gaps), tuple(float(max(gap, 0.0)) for gap in gaps)
    )


class Lean(Struct, frozen=True):
    """How a table leans: ``tilt_deg`` from level, the azimuth ``low_deg`` of its low side, and what to take off each
    seat in mm to level it (0 where it is lowest)."""

    tilt_deg: float
    low_deg: float
    take_off_mm: tuple[float, ...]


def table_lean(places: Points, heights: Points) -> Lean:
    """Lean of a table from its heights (n,) read at ``places`` (n, 2), three or more, mm: the plane of least squares.

    Reading errors even out; three readings determine the plane exactly.
    """
    terms = np.column_stack([np.ones(len(heights)), places])
    (_, x, y), *_ = np.linalg.lstsq(terms, heights, rcond=None)
    fitted = places @ np.array([x, y])
    take_off = fitted - fitted.min()
    return Lean(_tilt(x, y), _low(x, y), tuple(float(value) for value in take_off))


def _tilt(x: float, y: float) -> float:
    return float(np.degrees(np.arctan(np.hypot(x, y))))


def _low(x: float, y: float) -> float:
    return float(np.degrees(np.arctan2(-y, -x)) % 360)
