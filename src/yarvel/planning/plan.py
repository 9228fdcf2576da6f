"""The plan: every figure with its tolerance, the joints in order, the calls."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from yarvel.figures.figure import Entry, Figure
from yarvel.figures.rules import HouseRules
from yarvel.heads.shape import HeadShape
from yarvel.heads.styles import STYLES
from yarvel.metals import joints as joining
from yarvel.metals.alloys import ALLOYS
from yarvel.metals.joints import Joint
from yarvel.planning import sampling
from yarvel.planning.calls import examine_all
from yarvel.planning.calls.call import Call, Situation
from yarvel.planning.compute import Worked, compute, species_of
from yarvel.planning.job import FitJob, Job, check
from yarvel.shanks.blanks import Band
from yarvel.shanks.methods import METHODS
from yarvel.stones.stone import Stone, plain

FORMAT = "yarvel-plan/1"


@dataclass(frozen=True)
class Plan:
    """The answer to a job. ``figures`` by key; the head's form, the stone and the band for whoever draws them."""

    job: Job
    figures: dict[str, Figure]
    claw_azimuths_deg: tuple[float, ...]
    bur_steps_mm: tuple[float, ...]
    joints: tuple[Joint, ...]
    calls: tuple[Call, ...]
    stone: Stone
    shape: HeadShape
    band: Band | None

    def __getitem__(self, key: str) -> float:
        """Value of a figure; KeyError where this plan has none of that name."""
        return self.figures[key].value


def plan(job: Job, rules: HouseRules, samples: int = sampling.SAMPLES) -> Plan:
    """Work out a job: figures, tolerance from ``samples`` runs (0: none), joints, calls.

    Raises
    ------
    JobError : the job is impossible.
    """
    check(job, rules)
    diameters = job.stone.diameters_mm
    mean = sum(diameters) / len(diameters)
    worked = compute(job, rules, sampling.nominal(job.stone), mean)
    widths = spread(job, rules, mean, samples) if samples else {}
    figures = {key: _finished(entry, widths.get(key, 0.0)) for key, entry in worked.ledger.entries.items()}
    return _answer(job, rules, worked, figures)


def spread(job: Job, rules: HouseRules, mean: float, samples: int = sampling.SAMPLES) -> dict[str, float]:
    """Half-width of the 95 % interval of every figure that the readings leave open, by key."""
    worked = compute(job, rules, sampling.sampled(job.stone, rules, samples), mean)
    open_ones = {key: entry.value for key, entry in worked.ledger.entries.items() if np.ndim(entry.value)}
    if not open_ones:
        return {}
    rows = np.sort(np.stack([np.broadcast_to(value, (samples,)) for value in open_ones.values()]), axis=1)
    low, high = int(0.025 * (samples - 1)), int(np.ceil(0.975 * (samples - 1)))
    halves = (rows[:, high] - rows[:, low]) / 2
    return dict(zip(open_ones, halves.tolist(), strict=True))


def _finished(entry: Entry, plus_minus: float) -> Figure:
    return Figure(entry.spec, float(entry.value), plus_minus, entry.marks, entry.arguments)


def _answer(job: Job, rules: HouseRules, worked: Worked, figures: dict[str, Figure]) -> Plan:
    style = STYLES[job.head.style]
    alloy = ALLOYS[job.head.metal]
    seams = style.seams(worked.choice, alloy)
    method = None
    if job.shank is not None:
        method = (job.fit or FitJob()).method
        seams = seams + METHODS[method].seams(alloy, ALLOYS[job.shank.metal])
    joints = joining.in_order(seams)
    shape = style.shape(worked.ledger, worked.choice, worked.facts, rules)
    situation = Situation(job, rules, figures, joints, worked.bur_steps_mm, worked.band, species_of(job), alloy,
                          worked.facts.nominal_diameter, method)
    azimuths = shape.claws.azimuths_deg if shape.claws is not None else ()
    return Plan(job, figures, azimuths, worked.bur_steps_mm, joints, examine_all(situation),
                plain(worked.facts.stone), shape, worked.band)
