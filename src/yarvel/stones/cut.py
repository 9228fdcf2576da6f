"""What a cut is: its outline, its facets, its typical proportions and its weight formula."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import lru_cache
from typing import Any

import numpy as np
from msgspec import Struct, field

from yarvel.figures.figure import GEOMETRY, FigureFunction, Ledger, Number, figure
from yarvel.stones.facets import Body, FacetSolid, Heights
from yarvel.stones.outline import Outline
from yarvel.stones.stone import Stone


class Girth(Struct, frozen=True):
    """What fixes an outline, mm: ``corner_mm`` is the length of the cut at a corner, ``narrow_mm`` a taper's small
    end."""

    length_mm: float
    width_mm: float
    corner_mm: float = 0.0
    narrow_mm: float = 0.0


class Cut(Struct, frozen=True, eq=False, kw_only=True):
    """One cut. Shares are of the width; ``spread`` holds the half-widths within which unmeasured shares are assumed.

    ``outline`` makes the outline; ``bodies`` the convex bodies (one; two for a heart); ``weight_factor`` the factor of
    the weight formula by length over width. ``measures`` are the job's fields beside length and width; ``aspect`` the
    least and most length over width; ``square`` where both are meant to be equal. ``formula_holds``: where in length
    over width the weight formula can be believed; beyond, it is known to part from the body, and the body counts.
    ``smooth``: nothing of the outline is a corner or a point; ``blunt``: its corners are rounded off; ``claws`` how
    many it usually has: its points and what holds it between them.
    """

    key: str
    label: str
    table: float
    crown: float
    girdle: float
    pavilion: float
    outline: Callable[[Girth], Outline]
    bodies: Callable[[Outline, Heights], tuple[Body, ...]]
    weight_formula: FigureFunction[Any]
    weight_factor: Callable[[Number], Number]
    spread: Mapping[str, float] = field(
        default_factory=lambda: {"table": 0.05, "crown": 0.04, "girdle": 0.015, "pavilion": 0.04}
    )
    is_round: bool = False
    domed: bool = False
    square: bool = False
    measures: tuple[str, ...] = ()
    corner: float = 0.0
    narrow: float = 0.0
    smooth: bool = False
    blunt: bool = False
    claws: int = 4
    aspect: tuple[float, float] = (0.98, 6.0)
    formula_holds: tuple[float, float] = (0.0, 99.0)
    enter_volume: Callable[[Ledger, Stone], Number] | None = None
    pavilion_slope: Callable[[Stone], Number] | None = None

    @property
    def fields(self) -> tuple[str, ...]:
        """The job's fields of a stone that fix this cut's outline."""
        return ("diameters_mm",) if self.is_round else ("length_mm", "width_mm", *self.measures)

    @property
    def pointed(self) -> bool:
        """Whether the outline has sharp corners, on a stone of usual proportions."""
        return bool(self.outline(Girth(1.5, 1.0, self.corner, self.narrow)).corners) and not self.cornered

    @property
    def takes_pairs(self) -> bool:
        """Whether pairs of claws can stand at its corners: cut or rounded ones."""
        return self.cornered or self.blunt

    @property
    def cornered(self) -> bool:
        """Whether the corners are cut."""
        return "corner_mm" in self.measures


def girth_of(stone: Stone) -> Girth:
    """What fixes the outline of a stone of plain numbers."""
    return Girth(
        *(round(float(value), 6) for value in (stone.length_mm, stone.width_mm, stone.corner_mm, stone.narrow_mm))
    )


def heights_of(stone: Stone) -> Heights:
    """Heights of a stone of plain numbers."""
    return Heights(
        float(stone.crown_height_mm), float(stone.girdle_mm), float(stone.pavilion_depth_mm), float(stone.table_share)
    )


@lru_cache(maxsize=64)
def outline_of(cut: Cut, girth: Girth) -> Outline:
    """The outline of a stone of this cut, kept while it is looked at from all sides."""
    return cut.outline(girth)


def solids_of(cut: Cut, stone: Stone, along_band: bool = False) -> tuple[FacetSolid, ...]:
    """The facets of a stone of plain numbers, turned so that its length runs along the band (x) where asked."""
    facet_solids = tuple(body.solid() for body in cut.bodies(outline_of(cut, girth_of(stone)), heights_of(stone)))
    if not along_band:
        return facet_solids
    turned = [solid.points[:, [1, 0, 2]] * (1, -1, 1) for solid in facet_solids]
    return tuple(
        FacetSolid(points, solid.facets, solid.edges) for points, solid in zip(turned, facet_solids, strict=True)
    )


@lru_cache(maxsize=64)
def turned_outline(cut: Cut, girth: Girth, angle_deg: float) -> Outline:
    """The outline of a stone of this cut, turned about the culet."""
    return outline_of(cut, girth).turned(angle_deg)


@figure(
    "stone.volume",
    "Volume of the facet solid",
    "mm³",
    "L·W·(h_c·k_c + h_p·k_p + g·k_g)",
    GEOMETRY,
    places=1,
    length_mm="L",
    width_mm="W",
    crown_height_mm="h_c",
    crown_share="k_c",
    pavilion_depth_mm="h_p",
    pavilion_share="k_p",
    girdle_mm="g",
    area_share="k_g",
)
def volume_mm3(
    length_mm: Number,
    width_mm: Number,
    crown_height_mm: Number,
    crown_share: Number,
    pavilion_depth_mm: Number,
    pavilion_share: Number,
    girdle_mm: Number,
    area_share: Number,
) -> Number:
    """Volume in mm³ from the shares of the cut's bodies (:func:`shares`)."""
    return (
        length_mm
        * width_mm
        * (crown_height_mm * crown_share + pavilion_depth_mm * pavilion_share + girdle_mm * area_share)
    )


def enter_volume(ledger: Ledger, cut: Cut, stone: Stone, girth: Girth) -> Number:
    """Enter the volume in mm³ of a stone; ``girth`` is the one its bodies are made on, also for samples."""
    if cut.enter_volume is not None:
        return cut.enter_volume(ledger, stone)
    part = shares(cut, girth)
    return ledger.enter(
        volume_mm3,
        stone.length_mm,
        stone.width_mm,
        stone.crown_height_mm,
        part.crown(stone.table_share),
        stone.pavilion_depth_mm,
        part.pavilion,
        stone.girdle_mm,
        part.area,
    )


def typical_slope(cut: Cut, girth: Girth) -> float:
    """The same on a stone of typical depth."""
    return shares(cut, girth).slope / cut.pavilion


def pavilion_slope(cut: Cut, stone: Stone, girth: Girth) -> Number:
    """Way in per mm of depth just under the girdle (cotangent of the steepest facet there)."""
    if cut.pavilion_slope is not None:
        return cut.pavilion_slope(stone)
    if cut.domed:
        return np.minimum(shares(cut, girth).slope, stone.width_mm / 2 / np.maximum(stone.pavilion_depth_mm, 1e-3))
    return shares(cut, girth).slope * stone.width_mm / stone.pavilion_depth_mm


class Shares(Struct, frozen=True):
    """Volumes over length × width × height: of the crown at three tables, of the pavilion, and the outline's area over
    length × width; ``slope`` is the width lost per unit of depth under the girdle over width/depth, least all round.
    """

    crowns: tuple[float, float, float]
    pavilion: float
    area: float
    slope: float

    def crown(self, table_share: Number) -> Number:
        """Crown share for a table share, or samples of it (a parabola through three tables: areas grow squared)."""
        a, b, c = _TABLES
        weights = (
            (table_share - b) * (table_share - c) / (a - b) / (a - c),
            (table_share - a) * (table_share - c) / (b - a) / (b - c),
            (table_share - a) * (table_share - b) / (c - a) / (c - b),
        )
        return sum((weight * crown for weight, crown in zip(weights, self.crowns, strict=True)), 0.0 * table_share)


_TABLES = (0.35, 0.6, 0.85)

_FLAT_RUN = 40.0
"""Under a flat base nothing is lost at all; drawings and seats take this many times the depth instead."""


@lru_cache(maxsize=64)
def shares(cut: Cut, girth: Girth) -> Shares:
    """The shares of a cut on this outline, from its bodies at heights of a third of the width."""
    outline = cut.outline(girth)
    box, unit, thin = girth.length_mm * girth.width_mm, 0.3 * girth.width_mm, 1e-3 * girth.width_mm

    def volume(crown: float, pavilion: float, table: float) -> float:
        return sum(body.volume for body in cut.bodies(outline, Heights(crown, thin, pavilion, table))) / (box * unit)

    area = outline.area / box
    edge = area * thin / unit
    if cut.domed:
        dome = volume(unit, 0.0, 0.0) - edge
        return Shares((dome, dome, dome), volume(0.0, unit, 0.0) - edge, area, _FLAT_RUN)
    at_tables = [volume(unit, unit, table) for table in _TABLES]
    pavilion = volume(unit, 2 * unit, _TABLES[1]) - at_tables[1]
    crowns = tuple(whole - pavilion - edge for whole in at_tables)
    return Shares((crowns[0], crowns[1], crowns[2]), pavilion, area, _least_run(cut, outline, girth))


def _least_run(cut: Cut, outline: Outline, girth: Girth) -> float:
    """Least way in per mm of depth of the facets just under the girdle, times depth over width."""
    deep = 0.5 * girth.width_mm
    runs = []
    for body in cut.bodies(outline, Heights(deep, 1e-3 * girth.width_mm, deep, 0.6)):
        for a, b, c, d, _ in getattr(body, "planes", ()):
            level = float(np.hypot(a, b))
            if c < 0 and level > 0 and d <= float(outline.support(float(np.degrees(np.arctan2(b, a))))) * level * 1.001:
                runs.append(abs(c) / level)
    return min(runs) * deep / girth.width_mm if runs else _FLAT_RUN
