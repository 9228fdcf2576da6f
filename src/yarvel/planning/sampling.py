"""Readings from a job: once as they stand, and as samples of what they may hide."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from yarvel.figures.figure import Number
from yarvel.figures.rules import HouseRules
from yarvel.planning.job import StoneJob
from yarvel.stones.cuts import CUTS
from yarvel.stones.species import species_named
from yarvel.stones.stone import Readings

SAMPLES = 2000

_SEED = 20310409
"""The same job always gives the same samples."""
TABLE_READING_SHARE = 0.01
"""A measured table is good to one per cent of the diameter either way; from memory."""


def nominal(stone: StoneJob) -> Readings:
    """The readings as given, typical values for what is missing."""
    cut = CUTS[stone.cut]
    width = stone.width_mm or 0.0
    return Readings(
        diameters_mm=stone.diameters_mm or () if cut.is_round else (),
        length_mm=stone.length_mm or 0.0,
        width_mm=width,
        depth_mm=stone.depth_mm,
        table_share=cut.table if stone.table_percent is None else stone.table_percent / 100,
        corner_mm=cut.corner * width if stone.corner_mm is None else stone.corner_mm,
        narrow_mm=cut.narrow * width if stone.narrow_width_mm is None else stone.narrow_width_mm,
        corner_measured=stone.corner_mm is not None,
        narrow_measured=stone.narrow_width_mm is not None,
        crown_height_mm=stone.crown_height_mm,
        girdle_mm=stone.girdle_mm,
        pavilion_depth_mm=stone.pavilion_depth_mm,
        typical_crown_share=cut.crown,
        typical_girdle_share=cut.girdle,
        typical_pavilion_share=cut.pavilion,
        table_measured=stone.table_percent is not None,
    )


def sampled(stone: StoneJob, rules: HouseRules, count: int = SAMPLES) -> Readings:
    """``count`` samples of the readings: each evenly spread within the gauge's resolution either way, what was
    not measured within the cut's usual spread. The same job always gives the same samples."""
    cut = CUTS[stone.cut]
    resolution = rules.gauge_resolution_mm if stone.resolution_mm is None else stone.resolution_mm
    base = nominal(stone)
    first = len(base.diameters_mm)
    columns = _columns(first + (10 if base.diameters_mm else 14), count)
    species = species_named(stone.species, rules)

    def read(value: Number, column: int) -> Number:
        return np.asarray(np.maximum(value + resolution * columns[column], 0.3 * value))

    def maybe(value: Number | None, column: int) -> Number | None:
        return None if value is None else read(value, column)

    def assume(value: Number, half_width: float, column: int) -> Number:
        return np.asarray(value + half_width * columns[column])

    table_width = cut.spread["table"] if stone.table_percent is None else TABLE_READING_SHARE
    return Readings(
        diameters_mm=tuple(value + resolution * columns[place] for place, value in enumerate(base.diameters_mm)),
        length_mm=read(base.length_mm, first + 8) if not base.diameters_mm else 0.0,
        width_mm=read(base.width_mm, first + 9) if not base.diameters_mm else 0.0,
        corner_mm=read(base.corner_mm, first + 10) if np.any(base.corner_mm) else 0.0,
        narrow_mm=read(base.narrow_mm, first + 11) if np.any(base.narrow_mm) else 0.0,
        depth_mm=maybe(base.depth_mm, first),
        table_share=np.minimum(assume(base.table_share, table_width, first + 1), 0.91),
        crown_height_mm=maybe(base.crown_height_mm, first + 2),
        girdle_mm=maybe(base.girdle_mm, first + 3),
        pavilion_depth_mm=maybe(base.pavilion_depth_mm, first + 4),
        typical_crown_share=assume(base.typical_crown_share, cut.spread["crown"], first + 5),
        typical_girdle_share=assume(base.typical_girdle_share, cut.spread["girdle"], first + 6),
        typical_pavilion_share=assume(base.typical_pavilion_share, cut.spread["pavilion"], first + 7),
        table_measured=base.table_measured,
        corner_measured=base.corner_measured,
        narrow_measured=base.narrow_measured,
        gravity_share=assume(1.0, species.gravity_share, first + (8 if base.diameters_mm else 12)),
        beside=columns[-1],
    )


@lru_cache(maxsize=32)
def _columns(width: int, count: int) -> NDArray[np.float64]:
    """Evenly spread samples of −1 … 1, shape (width, count): each column holds every one of ``count`` even steps once,
    in an order of its own (a Latin hypercube), so that sums and products of columns spread as chance would have them.
    """
    chance = np.random.default_rng(_SEED)
    even = (np.arange(count) + 0.5) / count * 2 - 1
    samples: NDArray[np.float64] = np.stack([chance.permutation(even) for _ in range(width)])
    samples.flags.writeable = False
    return samples
