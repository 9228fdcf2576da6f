"""Trimming the base of a made head: how low it may come in its shank before culet, gallery or foot forbid it.

Trimming a splayed head widens its foot, and in a gap or on a curve the metal under it then rises into it: what comes
off is found by halving, over one head or columns of heads with the same places.
"""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from yarvel.figures.figure import Number
from yarvel.figures.rules import HouseRules
from yarvel.heads.bought import Bought
from yarvel.shanks import blanks, inset, peg
from yarvel.shanks.band import Band

Column = NDArray[np.float64]

_STEPS, _PLACES = 26, 2
"""Halvings: of 40 mm less than a millionth is left, which is what rounding allows for."""
WORTH_MM = 0.1
"""Less than this too tall is not worth a saw cut."""


class Under(Struct, frozen=True):
    """What lies under them: the stone's ``pavilion_mm`` in mm, how far the readings leave that open, and the band with
    its fit (None: no shank)."""

    pavilion_mm: float
    open_mm: float
    band: Band | None
    method: str | None
    rules: HouseRules

    @property
    def least_mm(self) -> float:
        """Clearance that a head must have by the plan."""
        return self.open_mm + self.rules.culet_least_mm

    @property
    def wanted_mm(self) -> float:
        """Clearance to leave when trimming."""
        return max(self.rules.culet_clearance_mm, self.least_mm)


def clearance(heads: Bought, under: Under, height_mm: Number) -> Number:
    """Room in mm under the culet of heads trimmed to a height, in their shank or above their own foot."""
    return height_mm - _risen(heads, under, height_mm) - under.pavilion_mm


def _risen(heads: Bought, under: Under, height: Number) -> Number:
    """How far in mm finger or band rise into the foot."""
    band = under.band
    if band is None or under.method not in (inset.METHOD, peg.METHOD):
        return 0.0 * height
    radius = band.inside_radius if under.method == inset.METHOD else band.outside_radius
    return blanks.sagitta_mm(radius, heads.width_at(height, height))


_LEAST_HEIGHT_MM = 1.0
"""What a job keeps of a bought head's height, at the least."""


def foot_is_sound(heads: Bought, under: Under, height_mm: Number) -> NDArray[np.bool_]:
    """Whether what is filed off the base for finger or band leaves its ring; bool, shape (n,) of the heights."""
    return _is_sound(heads, under, _risen(heads, under, height_mm))


def _is_sound(heads: Bought, under: Under, risen_mm: Number) -> NDArray[np.bool_]:
    most = 1 - under.rules.foot_left_share if under.method == inset.METHOD else under.rules.base_cut_share
    return np.asarray(risen_mm <= most * heads.wire_mm + 1e-9)


def most_trim(heads: Bought, under: Under) -> Column:
    """How much in mm may come off the base: the culet keeps its room, base ring and daylight over it stay, and the
    foot stays as sound as it is; 0 where nothing may."""
    sold = np.asarray(heads.sold_mm, dtype=float)
    room = np.asarray(sold - np.maximum(2 * heads.claw_mm, _LEAST_HEIGHT_MM), dtype=float)
    if heads.rail_mm is not None:  # the rail goes with the claws: what is trimmed stays below it
        room = np.fmin(room, np.asarray(heads.rail_mm - 2 * heads.wire_mm, dtype=float))
    room = np.maximum(room, 0.0)
    low, high = np.zeros_like(room), room
    sound = foot_is_sound(heads, under, sold)

    def allowed(trim: Column) -> NDArray[np.bool_]:
        height = sold - trim
        risen = _risen(heads, under, height)
        clear = np.asarray(height - risen - under.pavilion_mm >= under.wanted_mm - 1e-9)
        return clear & (_is_sound(heads, under, risen) | ~sound)

    for _ in range(_STEPS):
        middle = (low + high) / 2
        good = allowed(middle)
        low, high = np.where(good, middle, low), np.where(good, high, middle)
    column: Column = np.floor(low * 10**_PLACES + 1e-6) / 10**_PLACES
    return np.where(column >= WORTH_MM, column, 0.0)
