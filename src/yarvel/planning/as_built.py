"""What the readings leave open once the head is made: the stone's figures in a head that is held at its nominal.

A head is made once, to the figures of the plan. Those figures keep the ± that the readings leave, since they are what
to make it by; what judges the stone in the made head (its clearance, its notch, what remains) is that of any stone that
the readings allow in this one head, whatever height or opening that stone alone would have asked for.
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from yarvel.figures.figure import FigureKey, Number
from yarvel.figures.rules import HouseRules
from yarvel.heads import heights, notches
from yarvel.heads.seats import bur_gap_mm
from yarvel.planning.compute import Computation
from yarvel.shanks import fitting
from yarvel.stones.stone import pavilion_angle_deg

_UNDER = (fitting.CULET_CLEARANCE, heights.culet_above_finger_mm, heights.culet_above_foot_mm)
_OVER = (heights.table_above_finger_mm, heights.table_above_foot_mm)


def as_built(made: Computation, stones: Computation, rules: HouseRules) -> dict[FigureKey, Number]:
    """Samples, by key, of the figures that judge the stone in the made head: ``made`` the nominal run, ``stones`` the
    run over samples of the readings; heights in mm."""
    built_figures: dict[FigureKey, Number] = {}
    plain, any_stone, entries = made.facts.stone, stones.facts.stone, made.ledger.entries

    def kept(key: FigureKey) -> float:
        return float(made.ledger.value(key))

    deeper = any_stone.pavilion_depth_mm - plain.pavilion_depth_mm
    higher = any_stone.girdle_mm + any_stone.crown_height_mm - plain.girdle_mm - plain.crown_height_mm
    for keys, change in ((_UNDER, -deeper), (_OVER, higher)):
        built_figures.update({key: kept(key) + change for key in keys if key in entries})
    if notches.SEAT_DEPTH in entries:
        wider = (any_stone.diameter - plain.diameter) / 2
        depth = kept(notches.SEAT_DEPTH) + wider
        built_figures[notches.SEAT_DEPTH] = depth
        if notches.REMAINING in entries:
            built_figures[notches.REMAINING] = kept(notches.REMAINING) - wider
        if notches.notch_ratio in entries and kept(notches.notch_ratio):
            metal = kept(notches.SEAT_DEPTH) / kept(notches.notch_ratio)
            built_figures[notches.notch_ratio] = depth / metal
        if bur_gap_mm in entries:
            angle = stones.ledger.value(pavilion_angle_deg)
            built_figures[bur_gap_mm] = bur_gap_mm(depth, rules.bur_angle_deg, angle)
    return built_figures


def half_widths(made: Computation, samples: Mapping[FigureKey, Number], count: int) -> dict[FigureKey, float]:
    """By key, in the figure's own unit, the distance from the plan's own value within which 95 % of the samples lie."""
    open_ones = {key: value for key, value in samples.items() if np.ndim(value)}
    if not open_ones:
        return {}
    rows = np.stack([np.broadcast_to(value, (count,)) for value in open_ones.values()])
    values = np.array([float(made.ledger.value(key)) for key in open_ones])
    place = min(int(np.ceil(0.95 * count)), count) - 1
    off: NDArray[np.float64] = np.partition(np.abs(rows - values[:, None]), place, axis=1)
    return dict(zip(open_ones, off[:, place].tolist(), strict=True))
