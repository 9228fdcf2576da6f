"""Tubes and bought bezels against a round stone: all of a drawer at once, by the functions that make a plan of one."""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from yarvel.figures.figure import format_number
from yarvel.figures.rules import HouseRules
from yarvel.heads import notches, tube
from yarvel.heads.heights import clear_of_culet, raised
from yarvel.planning.checking import check
from yarvel.planning.compute import band_of, facts_of
from yarvel.planning.job import FitJob, Job
from yarvel.planning.match import FITS, LARGE, LOW, OTHER, SMALL, TIGHT, Column
from yarvel.shanks import blanks, inset

SHORT = "too short"
_NONE_HELD = 50.0
_COST = {FITS: 0.0, TIGHT: 10.0, SHORT: 100.0, LOW: 100.0, SMALL: 1000.0, LARGE: 1000.0, OTHER: 1e5}


class Tubes(Struct, frozen=True, kw_only=True):
    """Tubes, one a row: ``outside`` and ``wall`` in mm; ``height`` of a bezel that is cut already, NaN of a length of
    tube; ``length`` in mm of tube that there is, NaN where it is not counted; ``held`` how many bezels there are."""

    codes: tuple[str, ...]
    outside: Column
    wall: Column
    height: Column
    length: Column
    held: Column

    def __len__(self) -> int:
        return len(self.codes)


class TubeMatches(Struct, frozen=True, kw_only=True):
    """Every tube against one stone, in order: ``lip`` the wall in mm left outside the girdle, ``ledge`` that under it,
    ``spare`` mm of height or length more than is needed; ``verdict`` one word each; ``cost`` the lower the better;
    ``cut`` whether it is a bezel, of a height that it has."""

    lip: Column
    ledge: Column
    spare: Column
    verdict: NDArray[np.str_]
    cost: Column
    cut: NDArray[np.bool_]


def match_tubes(job: Job, rules: HouseRules, tubes: Tubes) -> TubeMatches:
    """Judge every tube for the stone of a job.

    Raises
    ------
    JobError : the job is impossible.
    """
    check(job, rules)
    facts = facts_of(job, rules)
    stone = facts.stone
    bore = np.asarray(tube.bore_mm(tubes.outside, tubes.wall), dtype=float)
    lip = np.asarray(tube.lip_left_mm(tubes.outside, stone.diameter), dtype=float)
    ledge = np.asarray(notches.wall_reach_mm(stone.diameter, bore), dtype=float)
    below = clear_of_culet(stone.pavilion_depth_mm, rules.culet_clearance_mm)
    under = np.maximum(below + _risen(job, tubes.outside), 2 * tubes.wall)
    whole = np.asarray(raised(under, stone.girdle_mm, rules.tube_rim_mm), dtype=float)
    needed = np.where(np.isnan(tubes.height), whole + rules.saw_allowance_mm, whole)
    there = np.where(np.isnan(tubes.height), tubes.length, tubes.height)
    spare = np.asarray(there - needed, dtype=float)
    wrong = ~np.isnan(spare) & (spare < -1e-9)
    verdict = np.select(
        [
            np.full(len(tubes), not facts.cut.is_round),
            lip < rules.tube_lip_least_mm,
            ledge < rules.tube_ledge_least_mm,
            wrong & ~np.isnan(tubes.height),
            wrong,
            lip > tube.STIFF * rules.tube_lip_mm,
        ],
        [OTHER, SMALL, LARGE, LOW, SHORT, TIGHT],
        FITS,
    )
    cost = np.array([_COST[str(word)] for word in verdict], dtype=float)
    cost += 10 * np.abs(lip - rules.tube_lip_mm) + 0.2 * np.where(np.isnan(tubes.height), 0.0, np.maximum(spare, 0.0))
    cost[tubes.held == 0] += _NONE_HELD
    return TubeMatches(lip=lip, ledge=ledge, spare=spare, verdict=verdict, cost=cost, cut=~np.isnan(tubes.height))


def _risen(job: Job, outside_mm: Column) -> Column:
    """How far in mm the finger rises into the foot of tubes that are let into the ring."""
    if job.shank is None or (job.fit or FitJob()).method != inset.METHOD:
        return np.zeros(len(outside_mm))
    return np.asarray(blanks.sagitta_mm(band_of(job.shank).inside_radius, outside_mm), dtype=float)


def why_tube(matches: TubeMatches, row: int, rules: HouseRules) -> str:
    """In one sentence, what speaks for or against a tube."""
    lip, ledge, spare = (format_number(float(column[row]), 2) for column in (matches.lip, matches.ledge, matches.spare))
    verdict = matches.verdict[row]
    if verdict == OTHER:
        return "a stone that is not round is set in a strip bent round it"
    if verdict == SMALL:
        return f"{lip} mm of wall round the stone, under {rules.tube_lip_least_mm:.2f}: the rim would tear"
    if verdict == LARGE:
        return f"{ledge} mm of ledge, under {rules.tube_ledge_least_mm:.2f}: the stone goes through"
    if verdict in (LOW, SHORT):
        short = "lower than the pavilion and its clearance need" if verdict == LOW else "shorter than is needed"
        return f"{abs(float(matches.spare[row])):.2f} mm {short}"
    thick = ", stiff to roll over: thin it first" if verdict == TIGHT else ""
    over = f"; {spare} mm higher than it needs to be" if matches.cut[row] and matches.spare[row] > 0.005 else ""
    return f"rim {lip} mm, ledge {ledge} mm{thick}{over}"
