"""Cabochons: a dome over the outline, a low upright edge, and a base that is flat or domed."""

from __future__ import annotations

import numpy as np
from msgspec import Struct

from yarvel.stones.facets import Body, FacetSolid, Heights, edges_of
from yarvel.stones.outline import Outline, Points

LEVELS = 14


def _cap(outline: Outline, height: float, from_z: float, up: float) -> list[Points]:
    """Rings of points from the edge (left out) towards the top (left out) of half an ellipsoid."""
    turns = np.linspace(0, np.pi / 2, LEVELS + 1)[1:-1]
    return [
        np.column_stack(
            [outline.points * np.cos(turn), np.full(len(outline.points), from_z + up * height * np.sin(turn))]
        )
        for turn in turns
    ]


class Dome(Struct, frozen=True):
    """A cabochon as rings of facets; the girdle's lower edge is z = 0."""

    outline: Outline
    heights: Heights

    @property
    def volume(self) -> float:
        """Volume in mm³, of the ellipsoids' halves and the edge between them."""
        heights = self.heights
        return self.outline.area * (2 / 3 * (heights.crown + heights.pavilion) + heights.girdle)

    def solid(self) -> FacetSolid:
        """Its facets."""
        return _facets(self.outline, self.heights)


def dome(outline: Outline, heights: Heights) -> tuple[Body, ...]:
    """The one body of a cabochon."""
    return (Dome(outline, heights),)


def _facets(outline: Outline, heights: Heights) -> FacetSolid:
    edge = outline.points
    count = len(edge)
    level = np.zeros(count)
    below = [] if heights.pavilion <= 0 else _cap(outline, heights.pavilion, 0.0, -1.0)
    rings = [
        *below[::-1],
        np.column_stack([edge, level]),
        np.column_stack([edge, level + heights.girdle]),
        *_cap(outline, heights.crown, heights.girdle, 1.0),
    ]
    ends = np.array([(0, 0, -heights.pavilion if below else 0.0), (0, 0, heights.girdle + heights.crown)])
    points = np.vstack([*rings, ends])
    low, high = len(points) - 2, len(points) - 1
    facets: list[tuple[str, tuple[int, ...]]] = []
    for ring in range(len(rings) - 1):
        name = "girdle" if ring == len(below) else "dome" if ring > len(below) else "base"
        for i in range(count):
            j = (i + 1) % count
            a, b = ring * count, (ring + 1) * count
            facets.append((name, (a + i, a + j, b + j, b + i)))
    last = (len(rings) - 1) * count
    facets += [("dome", (last + i, last + (i + 1) % count, high)) for i in range(count)]
    if below:
        facets += [("base", ((i + 1) % count, i, low)) for i in range(count)]
    else:
        facets.append(("base", tuple(range(count))[::-1]))
        points = np.delete(points, low, axis=0)
        facets = [(name, tuple(p - (p > low) for p in loop)) for name, loop in facets]
    return FacetSolid(points, tuple(facets), edges_of(loop for _, loop in facets))
