"""A stone's outline seen from above: points, normals, corners, reach, offsets. One for every cut.

Frame: the culet is the origin, the stone's length runs along y, its width along x; counter-clockwise.
"""

from __future__ import annotations

from functools import cached_property, lru_cache

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from yarvel.stones.plane import hull

Points = NDArray[np.float64]

CORNER_DEG = 25.0
"""A vertex that turns by more than this is a corner; what turns less belongs to a curve."""
_EPSILON = 1e-9

_BESIDE = 1e-7
"""What share of an edge a ray may miss it by: two edges that meet in a corner are each known to about this."""


class Outline(Struct, frozen=True, eq=False, dict=True):
    """A closed outline, ``points`` (n, 2) in mm, convex but for one cleft where ``cleft`` says so."""

    points: Points
    cleft: bool = False

    @cached_property
    def edges(self) -> Points:
        """Edge vectors (n, 2): from each point to the next."""
        return np.roll(self.points, -1, axis=0) - self.points

    @cached_property
    def lengths(self) -> Points:
        """Length of each edge, (n,) mm."""
        return np.hypot(self.edges[:, 0], self.edges[:, 1])

    @cached_property
    def normals(self) -> Points:
        """Outward unit normal of each edge, (n, 2)."""
        # counter-clockwise: the inside is to the left of each edge, so outwards is a quarter turn to the right
        unit: Points = np.column_stack([self.edges[:, 1], -self.edges[:, 0]]) / self.lengths[:, None]
        return unit

    @cached_property
    def turning(self) -> Points:
        """Turn in radians at each point, (n,), positive where the outline is convex."""
        before = np.roll(self.normals, 1, axis=0)
        cross = before[:, 0] * self.normals[:, 1] - before[:, 1] * self.normals[:, 0]
        turn: Points = np.arctan2(cross, np.einsum("ij,ij->i", before, self.normals))
        return turn

    @cached_property
    def mitres(self) -> Points:
        """How each point moves when the outline moves outwards by 1 mm, (n, 2)."""
        # both sides move by 1 mm along their normals; 0.2 keeps a needle point from running off
        before = np.roll(self.normals, 1, axis=0)
        ways: Points = (before + self.normals) / np.maximum(1 + np.einsum("ij,ij->i", before, self.normals), 0.2)[
            :, None
        ]
        return ways

    @cached_property
    def corners(self) -> tuple[int, ...]:
        """Numbers of the points that are sharp corners (a cleft is none)."""
        return tuple(np.flatnonzero(self.turning > np.radians(CORNER_DEG)).tolist())

    @cached_property
    def perimeter(self) -> float:
        """Length of the whole outline, mm."""
        return float(self.lengths.sum())

    @cached_property
    def size(self) -> tuple[float, float]:
        """Width (along x) and length (along y), mm."""
        width, length = np.ptp(self.points, axis=0).tolist()
        return width, length

    @cached_property
    def is_circle(self) -> bool:
        """Whether it is a circle about the origin."""
        radius = np.hypot(self.points[:, 0], self.points[:, 1])
        return bool(np.ptp(radius) < 1e-6)

    @cached_property
    def area(self) -> float:
        """Area inside, mm²."""
        x, y = self.points.T
        return float(np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y) / 2)

    @cached_property
    def middle(self) -> tuple[float, float]:
        """Middle of the area inside, mm: where a stone of even depth would balance on a point."""
        x, y = self.points.T
        crossed = x * np.roll(y, -1) - np.roll(x, -1) * y
        across = float(np.sum((x + np.roll(x, -1)) * crossed)) / (6 * self.area)
        along = float(np.sum((y + np.roll(y, -1)) * crossed)) / (6 * self.area)
        return across, along

    @cached_property
    def turn_sum(self) -> float:
        """What an inward offset of 1 mm takes off the perimeter: 2·tan(turn/2) over all points (2π on a curve)."""
        return float(np.sum(2 * np.tan(self.turning / 2)))

    @cached_property
    def perimeter_shares(self) -> tuple[float, float]:
        """(along the width, along the length): perimeter = first·width + second·length, also to first order."""
        width, length = self.size
        first = float(np.sum(self.edges[:, 0] ** 2 / self.lengths) / width)
        return first, float(np.sum(self.edges[:, 1] ** 2 / self.lengths) / length)

    @cached_property
    def inradius(self) -> float:
        """Least distance from the culet to the outline, mm."""
        return float(np.min(np.einsum("ij,ij->i", self.points, self.normals)))

    @cached_property
    def widest_mm(self) -> float:
        """Radius in mm of the largest circle inside, wherever its middle lies (source: linear program, SciPy)."""
        from scipy.optimize import linprog

        # n·m + r ≤ n·p for every edge: the largest r, and the middle m that allows it
        products = np.einsum("ij,ij->i", self.points, self.normals)
        rows = np.column_stack([self.normals, np.ones(len(products))])
        solution = linprog([0.0, 0.0, -1.0], A_ub=rows, b_ub=products, bounds=[(None, None), (None, None), (0, None)])
        return float(solution.x[2])

    def support(self, azimuths_deg: Points | float) -> Points:
        """Distance in mm from the culet to the tangent line with this outward normal, shape (n,) of the azimuths in
        degrees."""
        turn = np.radians(np.asarray(azimuths_deg, dtype=float))
        ways = np.stack([np.cos(turn), np.sin(turn)], axis=-1)
        reach: Points = np.max(ways @ self.points.T, axis=-1)
        return reach

    def radius(self, azimuths_deg: Points | float) -> Points:
        """R(φ): distance from the culet to the outline at these azimuths (counter-clockwise from x, n of them), (n,)
        mm."""
        turn = np.atleast_1d(np.radians(np.asarray(azimuths_deg, dtype=float)))
        way = np.stack([np.cos(turn), np.sin(turn)], axis=-1)
        # where the ray t·way meets start + s·edge: Cramer's rule; parallel edges are never met
        start, edge = self.points, self.edges
        across = way[:, None, 0] * edge[None, :, 1] - way[:, None, 1] * edge[None, :, 0]
        flat = np.abs(across) < _EPSILON
        safe = np.where(flat, 1.0, across)
        along = (start[None, :, 0] * edge[None, :, 1] - start[None, :, 1] * edge[None, :, 0]) / safe
        share = (start[None, :, 0] * way[:, None, 1] - start[None, :, 1] * way[:, None, 0]) / safe
        met = ~flat & (along > 0) & (share >= -_BESIDE) & (share <= 1 + _BESIDE)
        # a ray through a corner may miss both of its edges by rounding: the corner's own reach counts then
        beside = met & ((share < 0) | (share > 1))
        if beside.any():
            ray, at = np.nonzero(beside)
            corner = start[at] + np.clip(share[beside], 0.0, 1.0)[:, None] * edge[at]
            along[beside] = np.einsum("ij,ij->i", corner, way[ray])
        distances: Points = np.where(met, along, 0.0).max(axis=1)
        return distances

    def inset(self, distance_mm: float) -> Points:
        """The outline moved inwards (outwards where negative) by a distance in mm, (m, 2), sharp corners kept sharp.

        Curves that are tighter than the distance close up to a corner. The distance is held under nine tenths of
        the inradius. A cleft is moved by its mitre.
        """
        if self.cleft and distance_mm > 0:
            return _moved_in(self, distance_mm)
        distance_mm = min(distance_mm, 0.9 * self.inradius)
        moved = self.points - self.mitres * distance_mm
        # an edge that now points backwards has been swallowed by its neighbours
        ahead = np.einsum("ij,ij->i", np.concatenate((moved[1:], moved[:1])) - moved, self.edges)
        if self.cleft or float(ahead.min()) > 0:
            kept: Points = moved[(ahead > 0) | (np.roll(ahead, 1) > 0)]
            return kept
        # some were: what is left is the intersection of the moved half-planes, corners found by their dual
        distances = np.einsum("ij,ij->i", self.points, self.normals) - distance_mm
        return _polar(self.normals, distances)

    def loss(self, azimuth_deg: float) -> float:
        """How much reach in this direction is lost per mm of inset: 1 on a curve or side, more at a sharp corner."""
        return _loss(self, azimuth_deg % 360)

    def turned(self, angle_deg: float) -> Outline:
        """The same outline turned about the culet, counter-clockwise."""
        if angle_deg == 0:
            return self
        turn = np.radians(angle_deg)
        spin = np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]])
        return Outline(self.points @ spin, self.cleft)


@lru_cache(maxsize=256)
def _loss(outline: Outline, azimuth_deg: float) -> float:
    step = 0.02 * outline.inradius
    way = np.array([np.cos(np.radians(azimuth_deg)), np.sin(np.radians(azimuth_deg))])
    return float((outline.support(azimuth_deg) - np.max(outline.inset(step) @ way)) / step)


@lru_cache(maxsize=64)
def _moved_in(outline: Outline, distance_mm: float) -> Points:
    """An outline with a cleft moved inwards, corners kept sharp: what turns back on itself is cut away. Where nothing
    would be left, or its two lobes would part, the distance is taken back."""
    from manifold3d import CrossSection, FillRule, JoinType  # heavy, and only hearts ask for it

    whole = CrossSection([outline.points], FillRule.Positive)
    while True:
        loops = whole.offset(-distance_mm, JoinType.Miter, _SHARPEST).to_polygons()
        if len(loops) == 1:
            return np.asarray(loops[0], dtype=float)
        distance_mm *= 0.9


_SHARPEST = 5.0
"""How far in offsets a corner may run out before it is cut off."""


def _polar(normals: Points, distances: Points) -> Points:
    """Corner points of the intersection of half-planes n·x ≤ d (d > 0), counter-clockwise, by the polar dual."""
    # each line n·x = d is the point n/d of the dual plane; lines that bound nothing lie inside its hull
    dual = hull(normals / distances[:, None])
    after = np.roll(dual, -1, axis=0)
    area = dual[:, 0] * after[:, 1] - dual[:, 1] * after[:, 0]
    vertices: Points = np.column_stack([after[:, 1] - dual[:, 1], dual[:, 0] - after[:, 0]]) / area[:, None]
    return vertices


def curve(points: list[tuple[float, float]] | Points) -> Points:
    """Closed run of points without repeats, counter-clockwise: (n, 2) to (m, 2), m ≤ n, mm."""
    run = np.asarray(points, dtype=float)
    kept = run[np.hypot(*(np.roll(run, -1, axis=0) - run).T) > 1e-7]
    x, y = kept.T
    # twice the signed area: negative where the run goes clockwise
    signed = np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y)
    result: Points = kept if signed > 0 else kept[::-1]
    return result
