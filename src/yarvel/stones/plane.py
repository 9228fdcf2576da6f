"""Plane geometry that outlines and drawings share: the convex hull."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Points = NDArray[np.float64]
_MANY = 60
_TURNS = np.linspace(0, 2 * np.pi, 120, endpoint=False)
_DIRECTIONS = np.vstack([np.cos(_TURNS), np.sin(_TURNS)])


def hull(points: Points) -> Points:
    """Convex hull of points (n, 2), counter-clockwise, without points on straight runs."""
    ordered = sorted(set(map(tuple, np.round(points, 9).tolist())))

    def chain(run: list[tuple[float, ...]]) -> list[tuple[float, ...]]:
        kept: list[tuple[float, ...]] = []
        for point in run:
            while len(kept) > 1 and _turn(kept[-2], kept[-1], point) <= 0:
                kept.pop()
            kept.append(point)
        return kept[:-1]

    return np.array(chain(ordered) + chain(ordered[::-1]))


def outer_hull(points: Points) -> Points:
    """As :func:`hull`, (n, 2) to (m, 2); of many points, only those are looked at that lie farthest in some
    direction."""
    if len(points) > _MANY:
        points = points[(points @ _DIRECTIONS).argmax(axis=0)]
    return hull(points)


def _turn(a: tuple[float, ...], b: tuple[float, ...], c: tuple[float, ...]) -> float:
    return (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])
