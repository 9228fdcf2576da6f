"""How a stone looks from each side: worked out once a stone, for it stays the same while all else is dragged."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from yarvel.drawing.outlines import facet_normals, hull, radial_section
from yarvel.drawing.primitives import Points
from yarvel.stones.cuts import CUTS
from yarvel.stones.round_brilliant import FacetSolid
from yarvel.stones.stone import Stone

Vector = tuple[float, float, float]
_LIGHT = np.array([-0.45, -0.35, 0.82]) / float(np.linalg.norm([-0.45, -0.35, 0.82]))
_CONTRAST, _TONE = 0.42, -0.04


@dataclass(frozen=True)
class Direction:
    """A way of looking, in the model's frame: the view's right, up, and towards the viewer; ``along`` is the azimuth
    of its right, in degrees."""

    right: Vector
    up: Vector
    toward: Vector
    along: float = 0.0


FRONT = Direction((1, 0, 0), (0, 0, 1), (0, -1, 0))
SIDE = Direction((0, -1, 0), (0, 0, 1), (-1, 0, 0), -90.0)
ABOVE = Direction((1, 0, 0), (0, 1, 0), (0, 0, 1))


@dataclass(frozen=True)
class StoneLook:
    """A stone seen from one side, in model mm: all corners, the outline, the facets that face the viewer as loops of
    corner numbers, how light each is, and the edges between them."""

    corners: Points
    outline: Points
    loops: tuple[tuple[int, ...], ...]
    shades: tuple[float, ...]
    edges: tuple[tuple[int, int], ...]


@lru_cache(maxsize=8)
def _solid(cut: str, stone: Stone) -> tuple[FacetSolid, NDArray[np.float64]]:
    solid: FacetSolid = CUTS[cut].solid(stone)
    return solid, facet_normals(solid)


@lru_cache(maxsize=24)
def look(cut: str, stone: Stone, direction: Direction) -> StoneLook:
    """A stone of this cut, seen from this direction; the girdle is left plain."""
    solid, normals = _solid(cut, stone)
    corners = np.column_stack([solid.points @ np.array(direction.right), solid.points @ np.array(direction.up)])
    facing = normals @ np.array(direction.toward, dtype=float)
    shades = np.round(_CONTRAST * (normals @ _LIGHT) + _TONE, 2).tolist()
    seen = [place for place in np.flatnonzero(facing > 1e-6).tolist() if solid.facets[place][0] != "girdle"]
    loops = tuple(solid.facets[place][1] for place in seen)
    edges = {(min(a, b), max(a, b)) for loop in loops for a, b in zip(loop, loop[1:] + loop[:1], strict=True)}
    return StoneLook(corners, hull(corners), loops, tuple(shades[place] for place in seen), tuple(sorted(edges)))


@lru_cache(maxsize=8)
def section(cut: str, stone: Stone, azimuth_deg: float) -> Points:
    """Section of a stone through its axis, as a closed outline in (r, z)."""
    return radial_section(_solid(cut, stone)[0], azimuth_deg)
