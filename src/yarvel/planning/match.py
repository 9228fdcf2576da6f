"""Bought heads against a stone: all heads of a stock at once, by the same functions that make a plan of one."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from yarvel.figures.errors import JobError, Problem
from yarvel.figures.figure import Ledger
from yarvel.figures.rules import HouseRules
from yarvel.heads import bought, claws, notches
from yarvel.planning import sampling
from yarvel.planning.checking import check
from yarvel.planning.compute import band_of
from yarvel.planning.job import FitJob, Job
from yarvel.planning.trimming import MadeHeads, Under, clearance, foot_is_sound, most_trim
from yarvel.stones import stone as stones
from yarvel.stones.cuts import CUTS

Column = NDArray[np.float64]
FITS, SMALL, LARGE, LOW, CUT, TIGHT = "fits", "too small", "too large", "too low", "foot cut away", "tight"
_SAMPLES = 400


@dataclass(frozen=True)
class Stock:
    """Bought heads, one a row: ``codes`` and columns of the same length, lengths in mm."""

    codes: tuple[str, ...]
    made_for: Column
    claw: Column
    claws: Column
    opening: Column
    height: Column

    def __len__(self) -> int:
        return len(self.codes)


@dataclass(frozen=True)
class Matches:
    """Every head of a stock against one stone, in the stock's order.

    ``notch_ratio`` what the stone takes of the claw; ``culet_clearance`` room under the culet in mm; ``trim`` what
    could come off the base in mm; ``covered`` how much of the stone's face the tips hide,
        as a share; ``verdict`` one word a head; ``cost`` the lower the better, for ranking.
    """

    notch_ratio: Column
    culet_clearance: Column
    trim: Column
    covered: Column
    verdict: NDArray[np.str_]
    cost: Column

    def best(self, count: int) -> list[int]:
        """Row numbers of the best heads, best first; equals stay in the stock's order."""
        rows: list[int] = np.argsort(self.cost, kind="stable")[:count].tolist()
        return rows


def worth_a_look(job: Job) -> bool:
    """Whether bought heads can be judged for this job's stone: they are made for round ones."""
    return bought.suits(CUTS[job.stone.cut])


def match(job: Job, rules: HouseRules, stock: Stock) -> Matches:
    """Judge every head of a stock for the stone (and shank) of a job.

    Raises
    ------
    JobError : the job is impossible.
    """
    check(job, rules)
    if not worth_a_look(job):
        raise JobError(
            [
                Problem(
                    "stone.cut",
                    f"bought heads are made for round stones, not for a {job.stone.cut}",
                    "round or round-cabochon",
                )
            ]
        )
    mean = job.stone.across_mm
    stone = stones.measure(Ledger(), sampling.nominal(job.stone), CUTS[job.stone.cut].domed)
    diameter, pavilion = float(stone.diameter), float(stone.pavilion_depth_mm)
    ratio = np.asarray(notches.notch_ratio(diameter, stock.opening, stock.claw), dtype=float)
    band = None if job.shank is None else band_of(job.shank)
    method = None if band is None else (job.fit or FitJob()).method
    under = Under(mean, pavilion, _left_open(job, rules, pavilion), band, method, rules)
    heads = MadeHeads(stock.height, stock.opening, stock.claw, _reach(stock.claws, job.head.orientation))
    clear = np.asarray(clearance(heads, under, stock.height), dtype=float)
    trim = most_trim(heads, under)
    spare = clear - under.wanted_mm
    sound = foot_is_sound(heads, under, stock.height)
    held = np.asarray(clear - under.least_mm)
    verdict = np.select(
        [ratio > rules.notch_stop, ratio < rules.notch_least, held < -1e-9, ~sound, ratio > rules.notch_caution],
        [SMALL, LARGE, LOW, CUT, TIGHT],
        FITS,
    )
    trim = np.where(verdict == FITS, trim, 0.0)
    wrong = np.select([verdict == FITS, verdict == TIGHT, np.isin(verdict, (LOW, CUT))], [0.0, 10.0, 100.0], 1000.0)
    off = np.abs(np.asarray(notches.claw_reach_mm(diameter, stock.opening)) - rules.notch_target * stock.claw)
    cost = wrong + np.abs(ratio - rules.notch_target) * 10 + off + np.maximum(spare, 0) * 0.2
    cover = np.asarray(
        claws.tip_cover_mm(
            stock.claw, rules.tip_cover_share, rules.tip_to_table_share, float(stone.table_share), diameter
        )
    )
    covered = stock.claws * stock.claw * cover / (np.pi / 4 * diameter**2)
    return Matches(ratio, clear, trim, covered, verdict, cost)


def _left_open(job: Job, rules: HouseRules, pavilion: float) -> float:
    """How far in mm the readings leave the pavilion's depth open, with 95 % of what they may hide."""
    readings = sampling.sampled(job.stone, rules, _SAMPLES)
    samples = stones.measure(Ledger(), readings, CUTS[job.stone.cut].domed).pavilion_depth_mm
    return float(np.quantile(np.abs(np.asarray(samples) - pavilion), 0.95))


def _reach(counts: Column, orientation: str) -> Column:
    """Largest |cos azimuth| of each head's claws."""
    known = {
        count: float(np.max(np.abs(np.cos(np.radians(claws.azimuths_deg(count, orientation))))))
        for count in range(claws.LEAST_CLAWS, claws.MOST_CLAWS + 1)
    }
    table = np.array([known[count] for count in sorted(known)])
    return np.asarray(table[counts.astype(int) - claws.LEAST_CLAWS], dtype=float)


def why(matches: Matches, row: int, rules: HouseRules) -> str:
    """In one sentence, what speaks for or against a head."""
    ratio, verdict = matches.notch_ratio[row], matches.verdict[row]
    if verdict == SMALL:
        return f"notch {ratio:.2f} of the claw, over {rules.notch_stop:.2f}: it would be overcut"
    if verdict == LARGE:
        return f"notch {ratio:.2f} of the claw, under {rules.notch_least:.2f}: it would not hold"
    if verdict == LOW:
        return (
            f"the culet has {matches.culet_clearance[row]:.2f} mm below it, too little for what the readings leave "
            "open: the head is too low"
        )
    if verdict == TIGHT:
        return f"notch {ratio:.2f} of the claw, over {rules.notch_caution:.2f}: it holds, but leaves little behind"
    if verdict == CUT:
        return "the curve under it takes too much of its base ring: it needs a flat, or a smaller foot"
    if matches.trim[row] > 0:
        return f"notch {ratio:.2f} of the claw; {matches.trim[row]:.2f} mm taller than it needs to be"
    return f"notch {ratio:.2f} of the claw"
