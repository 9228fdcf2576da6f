"""How a stone looks from each side: worked out once a stone, for it stays the same while all else is dragged."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from yarvel.drawing.outlines import facet_normals, plane_section
from yarvel.drawing.primitives import Points
from yarvel.stones.cut import solids_of
from yarvel.stones.cuts import CUTS
from yarvel.stones.facets import FacetSolid
from yarvel.stones.plane import outer_hull
from yarvel.stones.stone import Stone

Vector = tuple[float, float, float]
_LIGHT = np.array([-0.45, -0.35, 0.82]) / float(np.linalg.norm([-0.45, -0.35, 0.82]))
_CONTRAST, _TONE = 0.42, -0.04
_PLAIN = ("girdle", "joint")
_SMOOTH = ("dome", "base")


class Direction(Struct, frozen=True):
    """A way of looking, in the model's frame: the view's right, up, and towards the viewer; ``along`` is the azimuth
    of its right, in degrees."""

    right: Vector
    up: Vector
    toward: Vector
    along: float = 0.0


FRONT = Direction((1, 0, 0), (0, 0, 1), (0, -1, 0))
SIDE = Direction((0, -1, 0), (0, 0, 1), (-1, 0, 0), -90.0)
ABOVE = Direction((1, 0, 0), (0, 1, 0), (0, 0, 1))


class StoneLook(Struct, frozen=True):
    """A stone seen from one side, in model mm: its outline, and how each of its bodies looks."""

    outline: Points
    bodies: tuple[BodyLook, ...]


class BodyLook(Struct, frozen=True):
    """One body of a stone seen from one side: all corners, the facets that face the viewer as loops of corner numbers,
    how light each is, and the edges between them."""

    corners: Points
    loops: tuple[tuple[int, ...], ...]
    shades: tuple[float, ...]
    edges: tuple[tuple[int, int], ...]


@lru_cache(maxsize=8)
def _solids(cut: str, stone: Stone, along_band: bool) -> tuple[tuple[FacetSolid, NDArray[np.float64]], ...]:
    return tuple((solid, facet_normals(solid)) for solid in solids_of(CUTS[cut], stone, along_band))


@lru_cache(maxsize=24)
def look(cut: str, stone: Stone, along_band: bool, direction: Direction) -> StoneLook:
    """A stone of this cut, seen from this direction; girdle and dome are left plain."""
    facet_looks, all_corners = [], []
    for solid, normals in _solids(cut, stone, along_band):
        corners = np.column_stack([solid.points @ np.array(direction.right), solid.points @ np.array(direction.up)])
        all_corners.append(corners)
        facing = normals @ np.array(direction.toward, dtype=float)
        shades = np.round(_CONTRAST * (normals @ _LIGHT) + _TONE, 2).tolist()
        seen = [place for place in np.flatnonzero(facing > 1e-6).tolist() if solid.facets[place][0] not in _PLAIN]
        loops = tuple(solid.facets[place][1] for place in seen)
        edges = {
            (min(a, b), max(a, b))
            for place, loop in zip(seen, loops, strict=True)
            if solid.facets[place][0] not in _SMOOTH
            for a, b in zip(loop, loop[1:] + loop[:1], strict=True)
        }
        facet_looks.append(BodyLook(corners, loops, tuple(shades[place] for place in seen), tuple(sorted(edges))))
    return StoneLook(outer_hull(np.vstack(all_corners)), tuple(facet_looks))


@lru_cache(maxsize=8)
def section(cut: str, stone: Stone, along_band: bool, azimuth_deg: float, off_mm: float) -> tuple[Points, ...]:
    """Section of a stone by an upright plane at this azimuth, ``off_mm`` to the left of the culet: closed outlines
    (n, 2) in (r, z), mm, one a body."""
    cuts = (plane_section(solid, azimuth_deg, off_mm) for solid, _ in _solids(cut, stone, along_band))
    return tuple(outline for outline in cuts if len(outline) > 2)
