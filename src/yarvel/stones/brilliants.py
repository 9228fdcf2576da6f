"""Brilliant cuts on any convex outline: table, stars, mains and halves on its tangents."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from yarvel.stones.facets import (
    Body,
    Heights,
    PlaneBody,
    brilliant_crown,
    brilliant_pavilion,
    girdle_planes,
    table_plane,
)
from yarvel.stones.outline import Outline

STAR_REACH = 0.45
HALF_LENGTH = 0.77
"""``STAR_REACH``, ``HALF_LENGTH``: reach of the stars and length of the lower halves, as shares; typical."""


def mains(outline: Outline, count: int, first_deg: float = 0.0) -> tuple[float, ...]:
    """Azimuths in degrees of the mains: evenly spread on the outline stretched to a square, as tangents of the true
    one."""
    width, length = np.ptp(outline.points, axis=0)
    turn = np.radians(first_deg + np.arange(count) * 360 / count)
    azimuths = np.degrees(np.arctan2(np.sin(turn) / length, np.cos(turn) / width))
    azimuths_found: list[float] = np.sort(np.mod(azimuths, 360)).tolist()
    return tuple(azimuths_found)


def brilliant(
    count: int, first_deg: float = 0.0, star_reach: float = STAR_REACH, half_length: float = HALF_LENGTH
) -> Callable[[Outline, Heights], tuple[Body, ...]]:
    """A maker of brilliants with this many mains, the first at this azimuth of the squared outline."""

    def make(outline: Outline, heights: Heights) -> tuple[Body, ...]:
        return (body(outline, heights, mains(outline, count, first_deg), star_reach, half_length),)

    return make


def body(outline: Outline, heights: Heights, mains_deg: Sequence[float], star_reach: float, half_length: float) -> Body:
    """One convex brilliant with mains at these azimuths."""
    planes = [
        *girdle_planes(outline),
        *table_plane(heights),
        *brilliant_crown(outline, heights, mains_deg, star_reach),
        *brilliant_pavilion(outline, heights, mains_deg, half_length),
    ]
    return PlaneBody(planes, (0.0, 0.0, heights.girdle / 2))
