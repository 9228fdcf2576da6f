"""The round brilliant: its typical proportions, its 57 facets as a closed solid, its volume.

Eight-fold: table, 8 stars, 8 crown mains, 16 upper halves; 16 lower halves, 8 pavilion mains; a circular
girdle whose edges the halves scallop. Crown mains lie at azimuth 0°, 45°, …; each runs from a table corner
to the girdle. Every plane is fixed by the diameter, the table and the two heights, so corners and volume have
closed forms that broadcast over arrays of samples; the tests hold both against an intersection of half-spaces.
"""

from __future__ import annotations

from functools import cache

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from yarvel.figures.figure import GEOMETRY, Ledger, Number, figure
from yarvel.stones.cut import Cut, Girth
from yarvel.stones.facets import Body, FacetSolid, Heights, edges_of
from yarvel.stones.outline import Outline
from yarvel.stones.shapes import superellipse
from yarvel.stones.stone import Stone
from yarvel.stones.weight import by_diameter, constant

TABLE = 0.57
CROWN_ANGLE_DEG = 34.5
PAVILION_ANGLE_DEG = 40.75
GIRDLE = 0.03
"""``TABLE``, ``CROWN_ANGLE_DEG``, ``PAVILION_ANGLE_DEG``, ``GIRDLE``: ideal proportions as the standard gemmological
handbooks give them."""
TYPICAL_CROWN = (1 - TABLE) / 2 * float(np.tan(np.radians(CROWN_ANGLE_DEG)))
TYPICAL_PAVILION = float(np.tan(np.radians(PAVILION_ANGLE_DEG))) / 2

SPREAD = {"table": 0.03, "crown": 0.02, "girdle": 0.012, "pavilion": 0.012}
"""Half-widths (shares of the diameter) within which unmeasured proportions are assumed to lie."""
STAR_REACH = 0.38
"""How far the stars reach from the table's edge towards the girdle, as a share, along the main's slope."""
LOWER_HALF_LENGTH = 0.77
"""Length of the lower halves from the girdle to the culet, as a share; typical."""

_STEP = np.radians(22.5)
_COS_STEP = float(np.cos(_STEP))
_SIN_STEP = float(np.sin(_STEP))
_COS_HALF = float(np.cos(_STEP / 2))
_SECTORS = 16
_SEGMENT = 0.5 * float(_STEP - _SIN_STEP)
_SEGMENT_CENTRE = 4 * float(np.sin(_STEP / 2)) ** 3 / (3 * float(_STEP - _SIN_STEP))

ARC_PARTS = 4
"""Chords that stand for the girdle's arc over each half facet."""


class Corners(Struct, frozen=True, kw_only=True):
    """Where the facets meet, on a stone of unit radius, crown height and pavilion depth.

    ``star_radius``/``star_height``: the corner shared by star, mains and upper halves (azimuth 22.5°).
    ``lower_radius``/``lower_height``: the corner shared by pavilion mains and lower halves.
    ``upper_slope``/``lower_slope``: fall of the halves per unit radius, along their own direction.
    """

    star_radius: Number
    star_height: Number
    upper_slope: Number
    lower_radius: float
    lower_height: float
    lower_slope: float


def corners(table_share: Number) -> Corners:
    """Corners of the unit brilliant for a table given as a share of the diameter (below 0.92)."""
    along = table_share + STAR_REACH * (_COS_STEP - table_share)
    star_radius = along / _COS_STEP
    star_height = (1 - along) / (1 - table_share)
    upper_slope = star_height / ((1 - star_radius) * _COS_HALF)
    lower_radius = 1 - LOWER_HALF_LENGTH
    lower_height = 1 - lower_radius * _COS_STEP
    lower_slope = lower_height / ((1 - lower_radius) * _COS_HALF)
    return Corners(
        star_radius=star_radius,
        star_height=star_height,
        upper_slope=upper_slope,
        lower_radius=lower_radius,
        lower_height=lower_height,
        lower_slope=lower_slope,
    )


def crown_share(table_share: Number) -> Number:
    """Crown volume over R²·h_c: prisms under table, star, main and half, less the scallop beyond the chord."""
    at = corners(table_share)
    table_edge = 0.5 * table_share * table_share * _COS_STEP * _SIN_STEP
    star = 0.5 * table_share * _SIN_STEP * (at.star_radius - table_share * _COS_STEP)
    main = 0.5 * _SIN_STEP * at.star_radius * (1 - table_share)
    half = 0.5 * (_SIN_STEP - _SIN_STEP * at.star_radius)
    scallop = _SEGMENT * at.upper_slope * (_COS_HALF - _SEGMENT_CENTRE)
    return _SECTORS * (
        table_edge
        + star * (2 + at.star_height) / 3
        + main * (1 + at.star_height) / 3
        + half * at.star_height / 3
        + scallop
    )


def pavilion_share() -> float:
    """Pavilion volume over R²·h_p."""
    at = corners(TABLE)
    main = 0.5 * _SIN_STEP * at.lower_radius
    half = 0.5 * _SIN_STEP * (1 - at.lower_radius)
    scallop = _SEGMENT * at.lower_slope * (_COS_HALF - _SEGMENT_CENTRE)
    return _SECTORS * (main * (1 + at.lower_height) / 3 + half * at.lower_height / 3 + scallop)


@figure(
    "stone.volume",
    "Volume of the facet solid",
    "mm³",
    "(D/2)²·(h_c·k_c + h_p·k_p + π·g)",
    GEOMETRY,
    places=1,
    diameter_mm="D",
    crown_height_mm="h_c",
    crown_share="k_c",
    pavilion_depth_mm="h_p",
    pavilion_share="k_p",
    girdle_mm="g",
)
def volume_mm3(
    diameter_mm: Number,
    crown_height_mm: Number,
    crown_share: Number,
    pavilion_depth_mm: Number,
    pavilion_share: Number,
    girdle_mm: Number,
) -> Number:
    """Volume in mm³ from the shares that the facet layout gives (:func:`crown_share`, :func:`pavilion_share`)."""
    return (diameter_mm / 2) ** 2 * (
        crown_height_mm * crown_share + pavilion_depth_mm * pavilion_share + np.pi * girdle_mm
    )


def pavilion_profile(stone: Stone) -> tuple[Number, Number]:
    """The pavilion's widest outline: radius and depth of the corner between girdle edge and culet, in mm."""
    at = corners(TABLE)
    return at.lower_radius * stone.diameter / 2, at.lower_height * stone.pavilion_depth_mm


def pavilion_slope(stone: Stone) -> Number:
    """Radius lost per mm of depth just under the girdle (cotangent of the steepest outline)."""
    radius, depth = pavilion_profile(stone)
    return (stone.diameter / 2 - radius) / depth


def solid(radius_mm: float, heights: Heights) -> FacetSolid:
    """The 57 facets and the girdle of one stone, loops counter-clockwise seen from outside."""
    crown, girdle, pavilion = heights.crown, heights.girdle, heights.pavilion
    at = corners(heights.table)
    mains = np.arange(8) * np.pi / 4
    betweens = mains + _STEP
    arcs = np.arange(_SECTORS * ARC_PARTS) * _STEP / ARC_PARTS
    upper, lower = _girdle_edges(arcs, crown, girdle, pavilion, at)
    rings = [
        _ring(mains, heights.table * radius_mm, crown + girdle),
        _ring(betweens, float(at.star_radius) * radius_mm, float(at.star_height) * crown + girdle),
        _ring(arcs, radius_mm, upper),
        _ring(arcs, radius_mm, lower),
        _ring(betweens, at.lower_radius * radius_mm, -at.lower_height * pavilion),
        np.array([[0.0, 0.0, -pavilion]]),
    ]
    return FacetSolid(np.vstack(rings), _facets(), _edges())


class Brilliant(Struct, frozen=True):
    """The one body of a round brilliant."""

    radius_mm: float
    heights: Heights

    @property
    def volume(self) -> float:
        """Volume in mm³."""
        at = self.heights
        return float(
            volume_mm3(2 * self.radius_mm, at.crown, crown_share(at.table), at.pavilion, pavilion_share(), at.girdle)
        )

    def solid(self) -> FacetSolid:
        """Its facets."""
        return solid(self.radius_mm, self.heights)


def bodies(outline: Outline, heights: Heights) -> tuple[Body, ...]:
    """The one body of a round brilliant."""
    return (Brilliant(float(np.ptp(outline.points[:, 0])) / 2, heights),)


def enter_volume(ledger: Ledger, stone: Stone) -> Number:
    """Volume in mm³ by closed form."""
    return ledger.enter(
        volume_mm3,
        stone.diameter,
        stone.crown_height_mm,
        crown_share(stone.table_share),
        stone.pavilion_depth_mm,
        pavilion_share(),
        stone.girdle_mm,
    )


def outline(girth: Girth) -> Outline:
    """A circle."""
    return superellipse(girth, 2.0)


def _ring(azimuths: NDArray[np.float64], radius: float, height: float | NDArray[np.float64]) -> NDArray[np.float64]:
    return np.column_stack(
        [radius * np.cos(azimuths), radius * np.sin(azimuths), np.broadcast_to(height, azimuths.shape)]
    )


def _girdle_edges(
    arcs: NDArray[np.float64], crown: float, girdle: float, pavilion: float, at: Corners
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    off = np.cos(np.mod(arcs, _STEP) - _STEP / 2)
    upper = girdle + float(at.upper_slope) * crown * (_COS_HALF - off)
    lower = -at.lower_slope * pavilion * (_COS_HALF - off)
    crossed = upper < lower
    knife = (upper + lower) / 2
    return np.where(crossed, knife, upper), np.where(crossed, knife, lower)


@cache
def _edges() -> NDArray[np.intp]:
    return edges_of(loop for _, loop in _facets())


@cache
def _facets() -> tuple[tuple[str, tuple[int, ...]], ...]:
    per, count = ARC_PARTS, _SECTORS * ARC_PARTS
    table, star, top, bottom, low, culet = 0, 8, 16, 16 + count, 16 + 2 * count, 24 + 2 * count
    facets_made: list[tuple[str, tuple[int, ...]]] = [("table", tuple(range(8)))]
    for k in range(8):
        after, start = (k + 1) % 8, 2 * per * k
        before = (k - 1) % 8
        arc = [(start + i) % count for i in range(2 * per + 1)]
        first, second = arc[: per + 1], arc[per:]
        facets_made.append(("star", (table + k, star + k, table + after)))
        facets_made.append(("crown main", (table + k, star + before, top + start, star + k)))
        facets_made.append(("pavilion main", (culet, low + k, bottom + start, low + before)))
        for part in (first, second):
            facets_made.append(("upper half", (star + k, *(top + i for i in part))))
            facets_made.append(("lower half", (low + k, *(bottom + i for i in reversed(part)))))
    for i in range(count):
        j = (i + 1) % count
        facets_made.append(("girdle", (top + i, bottom + i, bottom + j, top + j)))
    return tuple(facets_made)


CUT = Cut(
    key="round",
    label="Round brilliant",
    table=TABLE,
    crown=TYPICAL_CROWN,
    girdle=GIRDLE,
    pavilion=TYPICAL_PAVILION,
    outline=outline,
    bodies=bodies,
    weight_formula=by_diameter,
    weight_factor=constant(0.0061),
    spread=SPREAD,
    is_round=True,
    enter_volume=enter_volume,
    pavilion_slope=pavilion_slope,
    smooth=True,
)
