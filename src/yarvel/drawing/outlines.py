"""Plane outlines of solid things: hulls, silhouettes of claws, rings and walls, sections of facet solids."""

from __future__ import annotations

from functools import cache

import numpy as np

from yarvel.drawing.primitives import Points
from yarvel.heads.shape import Polygon
from yarvel.stones.round_brilliant import FacetSolid

_LEVELS = 20
_MANY = 60
_TURNS = np.linspace(0, 2 * np.pi, 120, endpoint=False)
_HALF_CIRCLE = np.column_stack([np.cos(np.linspace(-np.pi / 2, np.pi / 2, 11)),
                                np.sin(np.linspace(-np.pi / 2, np.pi / 2, 11))])
_DIRECTIONS = np.vstack([np.cos(_TURNS), np.sin(_TURNS)])


@cache
def _unit_circle(count: int) -> Points:
    turn = np.linspace(0, 2 * np.pi, count, endpoint=False)
    return np.column_stack([np.cos(turn), np.sin(turn)])


def circle(radius: float, count: int = 56) -> Points:
    """Closed circle around the origin."""
    return radius * _unit_circle(count)


def arc(radius: float, start: float, end: float, count: int = 40) -> Points:
    """Points on a circle around the origin from one angle to another, in radians."""
    turn = np.linspace(start, end, count)
    return radius * np.column_stack([np.cos(turn), np.sin(turn)])


def hull(points: Points) -> Points:
    """Convex hull, counter-clockwise. Of many points, only those are looked at that lie farthest in some direction."""
    if len(points) > _MANY:
        points = points[np.unique((points @ _DIRECTIONS).argmax(axis=0))]
    ordered = sorted(set(map(tuple, np.round(points, 9).tolist())))

    def chain(run: list[tuple[float, ...]]) -> list[tuple[float, ...]]:
        kept: list[tuple[float, ...]] = []
        for point in run:
            while len(kept) > 1 and _turn(kept[-2], kept[-1], point) <= 0:
                kept.pop()
            kept.append(point)
        return kept[:-1]

    return np.array(chain(ordered) + chain(ordered[::-1]))


def _turn(a: tuple[float, ...], b: tuple[float, ...], c: tuple[float, ...]) -> float:
    return (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])


def reach_by_height(profile: Polygon, levels: int = _LEVELS) -> tuple[Points, Points, Points]:
    """Least and greatest radius of a radial section at evenly spaced heights, and the heights."""
    heights = np.linspace(profile[:, 1].min(), profile[:, 1].max(), levels)
    heights = np.clip(heights, heights[0] + 1e-9, heights[-1] - 1e-9)
    start, end = profile, np.roll(profile, -1, axis=0)
    rise = end[:, 1] - start[:, 1]
    level = np.abs(rise) < 1e-12
    share = (heights[:, None] - start[None, :, 1]) / np.where(level, 1.0, rise)[None, :]
    crossing = (share >= 0) & (share <= 1) & ~level[None, :]
    radius = start[None, :, 0] + share * (end - start)[None, :, 0]
    least = np.where(crossing, radius, np.inf).min(axis=1)
    most = np.where(crossing, radius, -np.inf).max(axis=1)
    return least, most, heights


def claw_silhouette(reach: tuple[Points, Points, Points], width: float, along: float, across: float) -> Points:
    """Outline of a round claw seen from the side.

    ``along`` is the part of its radial direction that runs along the view (−1 … 1), ``across`` of its width.
    """
    least, most, heights = reach
    top = heights[-1]
    round_from = top - 0.45 * width
    rounding = np.clip((heights - round_from) / max(top - round_from, 1e-9), 0, 1)
    half = width / 2 * np.sqrt(np.maximum(1 - rounding**2 * 0.85, 0)) * abs(across)
    one, other = along * least, along * most
    left, right = np.minimum(one, other) - half, np.maximum(one, other) + half
    return np.vstack([np.column_stack([left, heights]), np.column_stack([right, heights])[::-1]])


def ring_silhouette(radius: float, z: float, wire: float) -> Points:
    """Outline of a ring of wire seen edge on: a bar with round ends."""
    end = _HALF_CIRCLE * wire / 2
    return np.vstack([end + (radius, z), (-end) + (-radius, z)])


def wall_silhouette(profile: Polygon) -> Points:
    """Outline of a body of revolution seen from the side."""
    _, most, heights = reach_by_height(profile)
    right = np.column_stack([most, heights])
    return np.vstack([right, (right * (-1, 1))[::-1]])


def claw_from_above(tip: float, outer: float, width: float, azimuth_deg: float) -> Points:
    """Outline of a closed claw seen straight down: a tongue with round ends."""
    half = width / 2
    end = min(half, (outer - tip) / 2)
    nose = _HALF_CIRCLE * (end, half)
    tongue = np.vstack([nose + (outer - end, 0), -nose * (0.8, 1) + (tip + end * 0.8, 0)])
    angle = np.radians(azimuth_deg)
    turned = np.array([[np.cos(angle), np.sin(angle)], [-np.sin(angle), np.cos(angle)]])
    laid: Points = tongue @ turned
    return laid


def radial_section(solid: FacetSolid, azimuth_deg: float) -> Points:
    """Section of a convex solid by the vertical plane through its axis: closed outline in (r, z)."""
    angle = np.radians(azimuth_deg)
    along = solid.points @ np.array([np.cos(angle), np.sin(angle), 0.0])
    off = solid.points @ np.array([-np.sin(angle), np.cos(angle), 0.0])
    first, second = solid.edges.T
    crossing = off[first] * off[second] <= 1e-12
    first, second = first[crossing], second[crossing]
    gap = off[second] - off[first]
    share = np.where(np.abs(gap) < 1e-12, 0.0, -off[first] / np.where(np.abs(gap) < 1e-12, 1.0, gap))
    radius = along[first] + share * (along[second] - along[first])
    height = solid.points[first, 2] + share * (solid.points[second, 2] - solid.points[first, 2])
    return hull(np.column_stack([radius, height]))


def facet_normals(solid: FacetSolid) -> Points:
    """Outward normals of all facets, shape (n, 3), length 1."""
    corner = np.array([loop[:3] for _, loop in solid.facets])
    a, b, c = (solid.points[corner[:, place]] for place in range(3))
    normal = np.cross(b - a, c - a)
    unit: Points = normal / np.maximum(np.linalg.norm(normal, axis=1), 1e-12)[:, None]
    centre = solid.points.mean(axis=0)
    outward = np.sign(np.einsum("ij,ij->i", unit, a - centre))
    normals: Points = unit * outward[:, None]
    return normals
