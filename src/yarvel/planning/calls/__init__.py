"""The calls: one module a judgement, one line here. All that were examined appear, worst first."""

from __future__ import annotations

from yarvel.planning.calls import (
    annealing,
    band_over_seat,
    band_thinned,
    bending,
    beside_head,
    branches,
    bur_angle,
    burs,
    chain,
    claw_loss,
    claw_wire,
    cleavage,
    closing_school,
    collet,
    corners,
    crowding,
    culet,
    cut_square,
    decided,
    density,
    dome,
    foot_cut,
    gallery,
    gap_wide,
    head_size,
    heat,
    heavy_v,
    legs,
    level,
    neighbour,
    notch,
    orientation,
    point,
    proportions,
    resized,
    ring_hidden,
    roundness,
    saddle,
    sawn_joint,
    shoulder,
    slotted,
    softness,
    solder,
    sprung,
    stock_short,
    strip_groove,
    top_heavy,
    trim_base,
    tube_wall,
    turning,
    wall,
    weights,
    wheels,
    wide_band,
    wider_band,
)
from yarvel.planning.calls.call import LEVELS, Call, Situation

JUDGEMENTS = (
    notch,
    head_size,
    culet,
    wall,
    tube_wall,
    collet,
    gallery,
    ring_hidden,
    claw_wire,
    crowding,
    claw_loss,
    turning,
    level,
    corners,
    heavy_v,
    dome,
    band_thinned,
    band_over_seat,
    beside_head,
    branches,
    gap_wide,
    foot_cut,
    legs,
    wider_band,
    point,
    saddle,
    sawn_joint,
    slotted,
    neighbour,
    chain,
    resized,
    shoulder,
    sprung,
    stock_short,
    strip_groove,
    cut_square,
    weights,
    proportions,
    roundness,
    orientation,
    burs,
    bur_angle,
    bending,
    annealing,
    solder,
    heat,
    softness,
    cleavage,
    closing_school,
    wheels,
    wide_band,
    top_heavy,
    trim_base,
    decided,
    density,
)


CODES: dict[str, str] = {
    code: judgement.__name__.rsplit(".", 1)[1] for judgement in JUDGEMENTS for code in judgement.CODES
}
"""Every code of a call that a plan itself can have, with the module that examines it."""


def examine_all(situation: Situation) -> tuple[Call, ...]:
    """Every call that applies to the situation, worst level first, otherwise in working order."""
    found = [call for judgement in JUDGEMENTS for call in judgement.examine(situation)]
    return worst_first(found)


def worst_first(calls: list[Call]) -> tuple[Call, ...]:
    """Calls by level, those that are accepted after the others of theirs, otherwise in the order given."""
    return tuple(sorted(calls, key=lambda call: (LEVELS.index(call.level), call.accepted_by != "")))
