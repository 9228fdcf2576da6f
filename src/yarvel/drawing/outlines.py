"""Plane outlines of solid things: silhouettes of claws, rings and walls, sections of facet solids."""

from __future__ import annotations

from functools import cache

import numpy as np

from yarvel.drawing.primitives import Points
from yarvel.heads.places import ClawPosition
from yarvel.heads.shape import Polygon, Vees, WireRing, reach_at
from yarvel.stones.facets import FacetSolid
from yarvel.stones.plane import outer_hull

_LEVELS = 20
_HALF_CIRCLE = np.column_stack(
    [np.cos(np.linspace(-np.pi / 2, np.pi / 2, 11)), np.sin(np.linspace(-np.pi / 2, np.pi / 2, 11))]
)


@cache
def _unit_circle(count: int) -> Points:
    turn = np.linspace(0, 2 * np.pi, count, endpoint=False)
    return np.column_stack([np.cos(turn), np.sin(turn)])


def circle(radius: float, count: int = 56) -> Points:
    """Closed circle (n, 2) around the origin, mm."""
    return radius * _unit_circle(count)


def arc(radius: float, start: float, end: float, count: int = 40) -> Points:
    """Points (n, 2) on a circle around the origin, mm, from one angle to another, in radians."""
    turn = np.linspace(start, end, count)
    return radius * np.column_stack([np.cos(turn), np.sin(turn)])


def reach_by_height(profile: Polygon, levels: int = _LEVELS) -> tuple[Points, Points, Points]:
    """Least and greatest radius in mm of a radial section (m, 2) at evenly spaced heights, and the heights, each
    (n,)."""
    heights = np.linspace(profile[:, 1].min(), profile[:, 1].max(), levels)
    least, most = reach_at(profile, heights)
    return least, most, np.clip(heights, heights[0] + 1e-9, heights[-1] - 1e-9)


def claw_silhouette(reach: tuple[Points, Points, Points], width: float, base: float, along: float) -> Points:
    """Outline (n, 2), mm, of a round claw seen from the side.

    ``base`` is where its contact lies along the view, ``along`` the part of its outward normal that runs along the view
    (−1 … 1). Its section is round, drawn out to a tongue with round ends where it closes over the crown.
    """
    least, most, heights = reach
    top = heights[-1]
    round_from = top - 0.45 * width
    rounding = np.clip((heights - round_from) / max(top - round_from, 1e-9), 0, 1)
    across = float(np.sqrt(max(1 - along**2, 0.0)))
    half = width / 2 * np.sqrt(np.maximum(1 - rounding**2 * 0.85, 0)) * across
    middle, reach_out = base + along * (least + most) / 2, (most - least) / 2
    end = np.minimum(reach_out, width / 2)
    extent = abs(along) * (reach_out - end) + np.hypot(along * end, half)
    left, right = middle - extent, middle + extent
    return np.vstack([np.column_stack([left, heights]), np.column_stack([right, heights])[::-1]])


def vee_silhouette(
    reach: tuple[Points, Points, Points], vees: Vees, place: ClawPosition, right: tuple[float, float]
) -> Points:
    """Outline (n, 2), mm, of a V seen from the side; ``right`` is the view's right in the plane of the outline."""
    least, most, heights = reach
    spots = np.stack([vees.stations(place, side, heights) @ np.array(right) for side in (least, most)])
    left, far = spots.min(axis=(0, 1)), spots.max(axis=(0, 1))
    return np.vstack([np.column_stack([left, heights]), np.column_stack([far, heights])[::-1]])


def vee_from_above(vees: Vees, place: ClawPosition, cover: float, out: float) -> Points:
    """Outline (n, 2), mm, of a closed V seen straight down, on its two sides of the stone's corner."""
    path, ways = vees.path(place)
    return np.vstack([path - ways * cover, (path + ways * out)[::-1]])


def bar_silhouette(start: float, end: float, z_mm: float, wire_mm: float) -> Points:
    """Outline (4, 2), mm, of a bar of round wire seen from the side, from where it turns (``start``) to its cut end,
    both along the view's right."""
    half = wire_mm / 2
    low, high = min(start - half, end), max(start + half, end)
    return np.array([(high, z_mm - half), (high, z_mm + half), (low, z_mm + half), (low, z_mm - half)])


def ring_silhouette(left: float, right: float, ring: WireRing) -> Points:
    """Outline (n, 2), mm, of a ring of wire seen edge on, its mid-line between left and right: a bar with the wire's
    ends."""
    z, half, foot, top = ring.z_mm, ring.across_mm / 2, ring.foot_mm, ring.top_mm
    if ring.angular:
        return np.array([(right + half, foot), (right + half, top), (left - half, top), (left - half, foot)])
    end = _HALF_CIRCLE * half
    return np.vstack([end + (right, z), (-end) + (left, z)])


def wall_silhouette(profile: Polygon, left: float, right: float, losses: tuple[float, float]) -> Points:
    """Outline (n, 2), mm, of a wall seen from the side: the stone's edge there and what an outward offset adds at
    either end."""
    _, most, heights = reach_by_height(profile)
    return np.vstack(
        [
            np.column_stack([right + losses[1] * most, heights]),
            np.column_stack([left - losses[0] * most, heights])[::-1],
        ]
    )


def claw_from_above(place: ClawPosition, cover: float, out: float, width: float) -> Points:
    """Outline (n, 2), mm, of a closed claw seen straight down: a tongue with round ends, square to the stone's edge."""
    half = width / 2
    end = min(half, (out + cover) / 2)
    nose = _HALF_CIRCLE * (end, half)
    tongue = np.vstack([nose + (out - end, 0), -nose * (0.8, 1) + (-cover + end * 0.8, 0)])
    x, y = place.normal
    laid: Points = tongue @ np.array([[x, y], [-y, x]]) + (place.x_mm, place.y_mm)
    return laid


def plane_section(solid: FacetSolid, azimuth_deg: float, off_mm: float = 0.0) -> Points:
    """Section of a convex solid by an upright plane at this azimuth, ``off_mm`` to its left of the axis: closed outline
    (n, 2) in (r, z), mm, empty where it misses."""
    angle = np.radians(azimuth_deg)
    along = solid.points @ np.array([np.cos(angle), np.sin(angle), 0.0])
    off = solid.points @ np.array([-np.sin(angle), np.cos(angle), 0.0]) - off_mm
    first, second = solid.edges.T
    crossing = off[first] * off[second] <= 1e-12
    first, second = first[crossing], second[crossing]
    if len(first) < 3:
        return np.empty((0, 2))
    gap = off[second] - off[first]
    share = np.where(np.abs(gap) < 1e-12, 0.0, -off[first] / np.where(np.abs(gap) < 1e-12, 1.0, gap))
    radius = along[first] + share * (along[second] - along[first])
    height = solid.points[first, 2] + share * (solid.points[second, 2] - solid.points[first, 2])
    return outer_hull(np.column_stack([radius, height]))


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
