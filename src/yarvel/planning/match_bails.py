"""Bought bails against a pendant's ring and chain: all of a drawer at once, by a plan's own functions."""

from __future__ import annotations

import math

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from yarvel.figures.figure import format_number
from yarvel.figures.rules import HouseRules
from yarvel.planning.checking import check
from yarvel.planning.job import BailJob, FitJob, Job
from yarvel.planning.match import FITS, SMALL, TIGHT, Column
from yarvel.shanks import pendant

WIDER = "wider ring"
_NONE_HELD = 50.0
_COST = {FITS: 0.0, TIGHT: 10.0, WIDER: 20.0, SMALL: 1000.0}

_A_MM_WIDE = 1.0
"""Of two that fit, the one that is less wide: our own choice."""


class Bails(Struct, frozen=True):
    """Bails, one a row: ``opening`` for the chain and ``through`` the ring in mm, ``mass`` in g, ``held`` how many
    there are; NaN where it is not known."""

    codes: tuple[str, ...]
    opening: Column
    through: Column
    mass: Column
    held: Column

    def __len__(self) -> int:
        return len(self.codes)


class BailMatches(Struct, frozen=True):
    """Every bail against one pendant, in order: ``chain_room`` round the chain's end and ``ring_room`` beside the part
    that goes through the ring, mm, NaN where one of the two is not known; ``ring_mm`` the inside that the ring is to
    have for it; ``verdict`` one word each; ``cost`` the lower the better."""

    chain_room: Column
    ring_room: Column
    ring_mm: Column
    verdict: NDArray[np.str_]
    cost: Column


def takes_bail(job: Job) -> bool:
    """Whether a bail can hook into what the job hangs by: a ring that is not hidden behind the stone."""
    return job.shank is None and job.fit is not None and job.fit.method == pendant.METHOD and not job.hangs_hidden


def match_bails(job: Job, rules: HouseRules, bails: Bails) -> BailMatches:
    """Judge every bail for the pendant of a job.

    Raises
    ------
    JobError : the job is impossible.
    """
    check(job, rules)
    ring = (job.fit or FitJob()).bail or BailJob()
    chain = np.nan if ring.chain_end_mm is None else ring.chain_end_mm
    least = rules.chain_room_mm
    chain_room = np.asarray(pendant.chain_room_mm(bails.opening, chain), dtype=float)
    ring_room = np.asarray(pendant.hook_room_mm(ring.inside_mm, bails.through), dtype=float)
    short = np.round(ring_room, 6) < least
    verdict = np.select(
        [np.round(chain_room, 6) < 0, short, np.round(chain_room, 6) < least], [SMALL, WIDER, TIGHT], FITS
    )
    cost = np.array([_COST[str(word)] for word in verdict], dtype=float)
    cost += _A_MM_WIDE * np.maximum(np.nan_to_num(chain_room) - least, 0.0)
    cost[bails.held == 0] += _NONE_HELD
    wider = np.array([pendant.ring_for_mm(float(through), least) for through in np.nan_to_num(bails.through)])
    return BailMatches(chain_room, ring_room, np.where(short, wider, ring.inside_mm), verdict, cost)


def why_bail(matches: BailMatches, row: int, rules: HouseRules) -> str:
    """In one sentence, what speaks for or against a bail."""
    room, verdict = float(matches.chain_room[row]), matches.verdict[row]
    room_text = format_number(abs(room), 2)
    if verdict == SMALL:
        return f"the chain's end is {room_text} mm thicker than it is open: forced, it opens"
    if verdict == WIDER:
        return f"binds in the ring: one of {matches.ring_mm[row]:.1f} mm inside for it"
    if verdict == TIGHT:
        return f"{room_text} mm round the chain's end, under {rules.chain_room_mm:.2f}: it catches"
    unknown = [
        *(("how thick the chain's end is",) if math.isnan(room) else ()),
        *(("what goes through the ring",) if math.isnan(matches.ring_room[row]) else ()),
    ]
    if unknown:
        return f"nobody has said {' and '.join(unknown)}"
    return f"{room_text} mm round the chain's end, {matches.ring_room[row]:.2f} in the ring"
