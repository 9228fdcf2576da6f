"""The calls: one module a judgement, one line here. All that were examined appear, worst first."""

from __future__ import annotations

from yarvel.planning.calls import (
    annealing,
    band_over_seat,
    band_thinned,
    bending,
    bur_angle,
    burs,
    claw_loss,
    claw_wire,
    cleavage,
    collet,
    crowding,
    culet,
    gallery,
    head_size,
    heat,
    notch,
    proportions,
    ring_hidden,
    roundness,
    softness,
    solder,
    sprung,
    top_heavy,
    trim_base,
    wall,
    weights,
    wheels,
    wide_band,
)
from yarvel.planning.calls.call import LEVELS, Call, Situation

JUDGEMENTS = (
    notch, head_size, culet, wall, collet, gallery, ring_hidden, claw_wire, crowding, claw_loss, band_thinned,
    band_over_seat, sprung, weights, proportions, roundness, burs, bur_angle, bending, annealing, solder, heat,
    softness, cleavage, wheels, wide_band, top_heavy, trim_base,
)


def examine_all(situation: Situation) -> tuple[Call, ...]:
    """Every call that applies to the situation, worst level first, otherwise in working order."""
    found = [call for judgement in JUDGEMENTS for call in judgement.examine(situation)]
    return tuple(sorted(found, key=lambda call: LEVELS.index(call.level)))
