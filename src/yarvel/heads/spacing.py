"""Claw spacing from chords: how evenly the claws of a round head stand, and which is out by how much."""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

Array = NDArray[np.float64]


class Spacing(Struct, frozen=True):
    """Claws on a circle of ``radius_mm`` mm: angle from each to the next, and by how much each stands out of its even
    place, in degrees, counter-clockwise positive."""

    radius_mm: float
    angles_deg: tuple[float, ...]
    out_deg: tuple[float, ...]


def from_chords(chords: Array) -> Spacing:
    """Spacing from the chords between neighbouring claws, in order round the head, mm.

    The circle is the one on which they close: 2·Σ asin(c/2r) = 360° (source: geometry); the even places are turned to
    where the claws as a whole stand.

    Raises
    ------
    ValueError : fewer than three chords, or chords that close on no circle round the stone.
    """
    if len(chords) < 3 or np.min(chords) <= 0:
        raise ValueError("at least three chords, each longer than nothing")
    low, high = float(np.max(chords)) / 2, float(np.sum(chords))

    def over(radius_mm: float) -> float:
        return float(2 * np.sum(np.arcsin(np.minimum(chords / (2 * radius_mm), 1.0))) - 2 * np.pi)

    if over(low) < 0:
        raise ValueError("one chord is longer than the circle that the others make")
    for _ in range(80):
        middle = (low + high) / 2
        low, high = (middle, high) if over(middle) > 0 else (low, middle)
    radius = (low + high) / 2
    angles = np.degrees(2 * np.arcsin(np.minimum(chords / (2 * radius), 1.0)))
    places = np.concatenate([[0.0], np.cumsum(angles)[:-1]])
    out = places - np.arange(len(chords)) * 360.0 / len(chords)
    return Spacing(radius, tuple(angles.tolist()), tuple((out - out.mean()).tolist()))
