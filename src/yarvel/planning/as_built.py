"""What the readings leave open once the head is made: the stone's figures in a head that is held at its nominal.

A head is made once, to the figures of the plan. Those figures keep the ± that the readings leave, since they are what
to make it by; what judges the stone in the made head (its clearance, its notch, what remains) is that of any stone that
the readings allow in this one head, whatever height or opening that stone alone would have asked for.
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from yarvel.figures.figure import Number
from yarvel.figures.rules import HouseRules
from yarvel.heads.seats import bur_gap_mm
from yarvel.planning.compute import Worked

_UNDER = ("seat.culet_clearance", "seat.culet_above_finger", "seat.culet_above_foot")
_OVER = ("seat.table_above_finger", "seat.table_above_foot")


def as_built(made: Worked, stones: Worked, rules: HouseRules) -> dict[str, Number]:
    """Samples, by key, of the figures that judge the stone in the made head: ``made`` the nominal run, ``stones`` the
    run over samples of the readings; heights in mm."""
    found: dict[str, Number] = {}
    plain, any_stone, entries = made.facts.stone, stones.facts.stone, made.ledger.entries

    def kept(key: str) -> float:
        return float(made.ledger.value(key))

    deeper = any_stone.pavilion_depth_mm - plain.pavilion_depth_mm
    higher = any_stone.girdle_mm + any_stone.crown_height_mm - plain.girdle_mm - plain.crown_height_mm
    for keys, change in ((_UNDER, -deeper), (_OVER, higher)):
        found.update({key: kept(key) + change for key in keys if key in entries})
    if "seat.depth" in entries:
        wider = (any_stone.diameter - plain.diameter) / 2
        depth = kept("seat.depth") + wider
        found["seat.depth"] = depth
        if "seat.remaining" in entries:
            found["seat.remaining"] = kept("seat.remaining") - wider
        if "seat.notch_ratio" in entries and kept("seat.notch_ratio"):
            metal = kept("seat.depth") / kept("seat.notch_ratio")
            found["seat.notch_ratio"] = depth / metal
        if "seat.bur_gap" in entries:
            angle = stones.ledger.value("stone.pavilion_angle")
            found["seat.bur_gap"] = bur_gap_mm(depth, rules.bur_angle_deg, angle)
    return found


def half_widths(made: Worked, samples: Mapping[str, Number], count: int) -> dict[str, float]:
    """By key, the distance from the plan's own value within which 95 % of the samples lie."""
    open_ones = {key: value for key, value in samples.items() if np.ndim(value)}
    if not open_ones:
        return {}
    rows = np.stack([np.broadcast_to(value, (count,)) for value in open_ones.values()])
    values = np.array([float(made.ledger.value(key)) for key in open_ones])
    place = min(int(np.ceil(0.95 * count)), count) - 1
    off: NDArray[np.float64] = np.partition(np.abs(rows - values[:, None]), place, axis=1)
    return dict(zip(open_ones, off[:, place].tolist(), strict=True))
