"""Bought heads against a stone: all heads of a stock at once, by the same functions that make a plan of one."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from yarvel.figures.errors import JobError, Problem
from yarvel.figures.rules import HouseRules
from yarvel.heads import basket, bought, claws, notches
from yarvel.planning import sampling
from yarvel.planning.checking import check
from yarvel.planning.compute import band_of, compute
from yarvel.planning.job import FitJob, Job
from yarvel.shanks import inset, on_flat
from yarvel.stones.cuts import CUTS

Column = NDArray[np.float64]
FITS, SMALL, LARGE, LOW = "fits", "too small", "too large", "too low"
_TOO_TALL_MM = 0.1


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
    stone = compute(job, rules, sampling.nominal(job.stone), mean).facts.stone
    diameter, pavilion = float(stone.diameter), float(stone.pavilion_depth)
    ratio = np.asarray(notches.notch_ratio(diameter, stock.opening, stock.claw), dtype=float)
    clearance = _clearance(job, rules, stock, diameter, pavilion)
    spare = clearance - rules.culet_clearance_mm
    verdict = np.select([ratio > rules.notch_stop, ratio < rules.notch_least, spare < -1e-9], [SMALL, LARGE, LOW], FITS)
    trim = np.where(spare >= _TOO_TALL_MM, spare, 0.0)
    wrong = np.select([verdict == FITS, verdict == LOW], [0.0, 100.0], 1000.0)
    off = np.abs(np.asarray(notches.claw_reach_mm(diameter, stock.opening)) - rules.notch_target * stock.claw)
    cost = wrong + np.abs(ratio - rules.notch_target) * 10 + off + np.maximum(spare, 0) * 0.2
    cover = np.asarray(
        claws.tip_cover_mm(stock.claw, rules.tip_cover_share, rules.tip_to_table_share, float(stone.table), diameter)
    )
    covered = stock.claws * stock.claw * cover / (np.pi / 4 * diameter**2)
    return Matches(ratio, clearance, trim, covered, verdict, cost)


def _clearance(job: Job, rules: HouseRules, stock: Stock, diameter: float, pavilion: float) -> Column:
    """Room under the culet of each head in the job's shank, or above its own foot where there is none."""
    height = stock.height
    if job.shank is None or (job.fit or FitJob()).method == on_flat.METHOD:
        return np.asarray(on_flat.culet_clearance_mm(height, pavilion), dtype=float)
    radius = stock.opening / 2 + stock.claw / 2
    splay = basket.splay_deg(rules.splay_deg, rules.foot_share, radius, height)
    reach = _reach(stock.claws, job.head.orientation)
    seat = notches.claw_reach_mm(diameter, stock.opening)
    width = basket.width_mm(diameter / 2 * reach, reach, stock.claw, seat, height, splay)
    sagitta = inset.finger_sagitta_mm(band_of(job.shank).inside_radius, width)
    plane = inset.plane_above_finger_mm(height, sagitta)
    return np.asarray(inset.culet_clearance_mm(plane, pavilion), dtype=float)


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
            f"the culet has {matches.culet_clearance[row]:.2f} mm below it, under "
            f"{rules.culet_clearance_mm:.2f} mm: the head is too low"
        )
    if matches.trim[row] > 0:
        return f"notch {ratio:.2f} of the claw; {matches.trim[row]:.2f} mm taller than it needs to be"
    return f"notch {ratio:.2f} of the claw"
