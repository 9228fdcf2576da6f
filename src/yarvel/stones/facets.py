"""Facet solids: closed convex bodies from half-spaces, and the planes that brilliants and step cuts are laid out by.

A plane is a row (a, b, c, d, kind): a·x + b·y + c·z ≤ d, kind the number of its name in :data:`NAMES`. Heights are
counted from the girdle's lower edge, z = 0; the crown starts at z = girdle.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Protocol

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from yarvel.stones.outline import Outline

Points = NDArray[np.float64]
NAMES = (
    "table",
    "star",
    "crown main",
    "upper half",
    "girdle",
    "lower half",
    "pavilion main",
    "step",
    "chevron",
    "joint",
    "dome",
    "base",
)
_KIND = {name: place for place, name in enumerate(NAMES)}
Plane = tuple[float, float, float, float, float]

Tiers = Sequence[tuple[float, float]]
"""Tier corners as (share of the way in, share of the height), from the girdle (0, 0) to the end (1, 1)."""


class FacetSolid(Struct, frozen=True):
    """A closed convex solid: ``points`` (n, 3) in mm, ``facets`` as loops of point numbers, with their names;
    ``edges`` (m, 2) the pairs of points that facets share."""

    points: Points
    facets: tuple[tuple[str, tuple[int, ...]], ...]
    edges: NDArray[np.intp]

    @property
    def volume(self) -> float:
        """Volume in mm³."""
        first = np.array([loop[0] for _, loop in self.facets for _ in loop[2:]])
        rest = np.array([pair for _, loop in self.facets for pair in zip(loop[1:-1], loop[2:], strict=True)])
        apex = self.points.mean(axis=0)
        a, b, c = self.points[first] - apex, self.points[rest[:, 0]] - apex, self.points[rest[:, 1]] - apex
        return float(np.abs(np.einsum("ij,ij->i", a, np.cross(b, c))).sum()) / 6


class Body(Protocol):
    """A convex body of a stone, before its facets are worked out."""

    @property
    def volume(self) -> float:
        """Volume in mm³."""

    def solid(self) -> FacetSolid:
        """Its facets."""


class PlaneBody(Struct, frozen=True):
    """The body that lies inside all ``planes``; ``inside`` is a point within it. Planes that do not touch it fall away.

    Source: half-space intersection by the polar dual (SciPy, Qhull).
    """

    planes: Sequence[Plane]
    inside: tuple[float, float, float]

    def _meeting(self) -> tuple[Points, Points, Points]:
        from scipy.spatial import HalfspaceIntersection

        rows = np.array(self.planes, dtype=float)
        size = np.linalg.norm(rows[:, :3], axis=1)
        normals, distances = rows[:, :3] / size[:, None], rows[:, 3] / size
        meeting = HalfspaceIntersection(np.column_stack([normals, -distances]), np.asarray(self.inside, dtype=float))
        points = meeting.intersections
        return points[np.all(np.isfinite(points), axis=1)], normals, distances

    @property
    def volume(self) -> float:
        """Volume in mm³."""
        from scipy.spatial import ConvexHull

        return float(ConvexHull(self._meeting()[0]).volume)

    def solid(self) -> FacetSolid:
        """Its facets, each a loop counter-clockwise seen from outside."""
        corners, normals, distances = self._meeting()
        points = _distinct(corners)
        first = _first_of_each(np.round(np.column_stack([normals, distances]), 9))
        reach = float(np.ptp(points, axis=0).max())
        on = np.abs(points @ normals.T - distances) < 1e-6 * max(reach, 1.0)
        facets = []
        for place in sorted(set(np.flatnonzero(on.sum(axis=0) >= 3).tolist()) & set(first.tolist())):
            loop = _around(points, np.flatnonzero(on[:, place]), normals[place])
            facets.append((NAMES[int(self.planes[place][4])], loop))
        return FacetSolid(points, tuple(facets), edges_of(loop for _, loop in facets))


def edges_of(loops: Iterable[tuple[int, ...]]) -> NDArray[np.intp]:
    """Every edge of the loops once, shape (m, 2)."""
    pairs = {(min(a, b), max(a, b)) for loop in loops for a, b in zip(loop, loop[1:] + loop[:1], strict=True)}
    return np.array(sorted(pairs), dtype=np.intp)


def _first_of_each(rows: NDArray[np.floating]) -> NDArray[np.intp]:
    """Numbers of the first of all rows (n, m) that are alike, ascending. NumPy's own way to them loads a tenth more of
    NumPy, which a start would wait for."""
    first: dict[tuple[float, ...], int] = {}
    for number, row in enumerate(map(tuple, rows.tolist())):
        first.setdefault(row, number)
    return np.array(list(first.values()), dtype=np.intp)


def _distinct(points: Points) -> Points:
    """Points without near repeats (Qhull gives one for every triple of planes that meets there)."""
    grid = np.round(points / max(float(np.ptp(points)), 1e-9) * 1e6)
    first = _first_of_each(grid)
    kept = points[first]
    near = np.linalg.norm(kept[:, None] - kept[None], axis=2) < 3e-6 * float(np.ptp(points))
    owner = near.argmax(axis=1)
    result: Points = kept[owner == np.arange(len(kept))]
    return result


def _around(points: Points, members: NDArray[np.intp], normal: Points) -> tuple[int, ...]:
    """Members of one plane in counter-clockwise order seen from outside, those on straight runs left out."""
    x, y, z = normal.tolist()
    level = (x * x + y * y) ** 0.5
    first = np.array([-y / level, x / level, 0.0]) if level > 1e-6 else np.array([1.0, 0.0, 0.0])
    second = np.array([y * first[2] - z * first[1], z * first[0] - x * first[2], x * first[1] - y * first[0]])
    own = points[members]
    flat = own - own.mean(axis=0)
    order = np.argsort(np.arctan2(flat @ second, flat @ first))
    return tuple(members[order].tolist())


# --- layouts ---------------------------------------------------------------------------------------------------


class Heights(Struct, frozen=True):
    """Heights of a stone in mm, and its table's half-width share."""

    crown: float
    girdle: float
    pavilion: float
    table: float


def girdle_planes(outline: Outline) -> list[Plane]:
    """Upright planes through the outline's edges."""
    products = np.einsum("ij,ij->i", outline.points, outline.normals)
    return [
        (float(n[0]), float(n[1]), 0.0, float(d), _KIND["girdle"])
        for n, d in zip(outline.normals, products, strict=True)
    ]


def table_plane(heights: Heights) -> list[Plane]:
    """The table."""
    return [(0, 0, 1, heights.girdle + heights.crown, _KIND["table"])]


def _leaning(azimuth_deg: float, reach: float, fall: float, from_z: float, kind: str) -> Plane:
    """A plane that stands ``reach`` out at height ``from_z`` and comes in by ``fall`` per mm away from the girdle
    (upwards where fall > 0 is given for the crown, downwards with a negative sign for the pavilion)."""
    turn = np.radians(azimuth_deg)
    return (float(np.cos(turn)), float(np.sin(turn)), fall, reach + fall * from_z, _KIND[kind])


def brilliant_crown(
    outline: Outline,
    heights: Heights,
    mains_deg: Sequence[float],
    star_reach: float,
    halves_deg: Sequence[float] | None = None,
) -> list[Plane]:
    """Mains, upper halves and stars on tangents of the outline; azimuths of the mains in degrees, ascending.

    ``star_reach``: how far the stars reach from table to girdle, as a share.
    """
    table, height, top = heights.table, heights.crown, heights.girdle
    steps = np.diff([*mains_deg, mains_deg[0] + 360])
    planes = [
        _leaning(
            azimuth,
            float(outline.support(azimuth)),
            float(outline.support(azimuth)) * (1 - table) / height,
            top,
            "crown main",
        )
        for azimuth in mains_deg
    ]
    for azimuth, step in zip(mains_deg, steps, strict=True):
        half = np.radians(min(step, 60.0) / 2)
        along = table + star_reach * (np.cos(half) - table)
        corner, level = along / np.cos(half), (1 - along) / (1 - table)
        middle = azimuth + step / 2
        reach = float(outline.support(middle))
        slope = (corner - table * np.cos(half)) / max(1 - level, 1e-6)
        planes.append(_leaning(middle, reach * (corner + slope * level), reach * slope / height, top, "star"))
        for off in (step / 4, 3 * step / 4):
            reach = float(outline.support(azimuth + off))
            fall = (1 - corner * np.cos(half / 2)) / level
            planes.append(_leaning(azimuth + off, reach, reach * fall / height, top, "upper half"))
    return planes


def brilliant_pavilion(
    outline: Outline, heights: Heights, mains_deg: Sequence[float], half_length: float
) -> list[Plane]:
    """Mains to the culet and lower halves; ``half_length`` their length from girdle to culet as a share."""
    deep = heights.pavilion
    steps = np.diff([*mains_deg, mains_deg[0] + 360])
    planes = []
    for azimuth, step in zip(mains_deg, steps, strict=True):
        reach = float(outline.support(azimuth))
        planes.append(_leaning(azimuth, reach, -reach / deep, 0.0, "pavilion main"))
        half = np.radians(min(step, 60.0) / 2)
        level = 1 - (1 - half_length) * np.cos(half)
        longer = level / (1 - (1 - half_length) * np.cos(half / 2))
        for off in (step / 4, 3 * step / 4):
            reach = float(outline.support(azimuth + off))
            planes.append(_leaning(azimuth + off, reach, -reach / (deep * longer), 0.0, "lower half"))
    return planes


def step_planes(
    outline: Outline, inwards: float, height: float, from_z: float, tiers: Tiers, up: bool, kind: str = "step"
) -> list[Plane]:
    """Tiers on every side of the outline that is longer than a curve's: each side comes in by ``inwards`` mm over
    ``height`` mm, in the shares that the tiers give."""
    planes = []
    for normal, point, length in zip(outline.normals, outline.points, outline.lengths, strict=True):
        if length < 0.02 * outline.perimeter:
            continue
        azimuth = float(np.degrees(np.arctan2(normal[1], normal[0])))
        reach = float(normal @ point)
        for (near, low), (far, high) in zip(tiers[:-1], tiers[1:], strict=True):
            fall = inwards * (far - near) / (height * (high - low))
            start = from_z + (low if up else -low) * height
            planes.append(_leaning(azimuth, reach - inwards * near, fall if up else -fall, start, kind))
    return planes


def chevron_planes(
    outline: Outline, deep: float, sides_deg: Sequence[float], turns: Sequence[tuple[float, float]]
) -> list[Plane]:
    """For every side, pairs of facets turned by ± an angle from its normal; each pair (angle, reach below the
    girdle as a share of the depth). They touch the outline at the girdle, steep ones first, and meet on the keels."""
    planes = []
    for side in sides_deg:
        for turn, longer in turns:
            for azimuth in {side - turn, side + turn}:
                reach = float(outline.support(azimuth))
                planes.append(_leaning(azimuth, reach, -reach / (deep * longer), 0.0, "chevron"))
    return planes
