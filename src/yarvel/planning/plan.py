"""The plan: every figure with its tolerance, the joints in order, the calls."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

import numpy as np
from msgspec import Struct, field
from msgspec.structs import replace

from yarvel.figures.figure import Entry, Figure, FigureKey
from yarvel.figures.rules import HouseRules
from yarvel.heads import claws, paired_corner
from yarvel.heads.shape import HeadShape
from yarvel.heads.style import APPLIED, METAL_VOLUME, StoneFacts
from yarvel.heads.styles import STYLES
from yarvel.metals import alloys
from yarvel.metals import joints as joining
from yarvel.metals.alloys import GRADES, alloy_of
from yarvel.metals.joints import Joint
from yarvel.planning import sampling
from yarvel.planning.as_built import as_built, half_widths
from yarvel.planning.checking import check
from yarvel.planning.compute import Computation, compute, fit_choice_of, species_of
from yarvel.planning.diagnostics import examine_all, worst_first
from yarvel.planning.diagnostics.accepting import with_accepted
from yarvel.planning.diagnostics.diagnostic import Diagnostic, Situation
from yarvel.planning.diagnostics.made_already import for_made
from yarvel.planning.job import FitJob, Job, JointsJob
from yarvel.planning.work_methods import WELD
from yarvel.shanks import pendant, shoulders
from yarvel.shanks.band import Band
from yarvel.shanks.joinery import Joinery
from yarvel.shanks.methods import METHODS, PENDANT
from yarvel.stones.stone import Stone, plain

FORMAT = "yarvel-plan/1"
HEAD_MASS, SHANK_MASS, HEAD_VOLUME = alloys.head_mass_g, alloys.shank_mass_g, METAL_VOLUME

_BY_BODY = (HEAD_MASS, SHANK_MASS, HEAD_VOLUME)
"""Figures that are those of the closed bodies; what formulas make of them only says how far they are open."""


class Plan(Struct, frozen=True, kw_only=True):
    """The answer to a job. ``figures`` by key; the head's form, the stone, the band and how they are cut to each other
    for whoever draws them; ``conditions`` the heights from foot to seat, in mm, that the fit had to choose from."""

    job: Job
    figures: dict[FigureKey, Figure]
    claw_azimuths_deg: tuple[float, ...]
    bur_steps_mm: tuple[float, ...]
    joints: tuple[Joint, ...]
    diagnostics: tuple[Diagnostic, ...]
    facts: StoneFacts
    shape: HeadShape
    band: Band | None
    rules: HouseRules
    joinery: Joinery | None = None
    conditions: Mapping[str, float] = field(default_factory=dict)

    open_shares: Mapping[FigureKey, float] = field(default_factory=dict)
    """Half-width of the interval of what the bodies will tell, as a share, by key."""
    volumes: Mapping[str, float] = field(default_factory=dict)
    """Volumes in mm³ of the bodies' parts, by name; empty until the bodies are known."""

    @property
    def claw_mm(self) -> float | None:
        """Width of a claw's wire in mm; None where the head has claws of another kind, or none."""
        return self[claws.CLAW] if claws.CLAW in self.figures else None

    @property
    def paired(self) -> bool:
        """Whether claws stand in pairs at the stone's corners."""
        return paired_corner.PAIRS in self.figures

    @property
    def stone(self) -> Stone:
        """The stone, in plain numbers."""
        return self.facts.stone

    def judged(
        self, figures: Iterable[Figure], calls: Iterable[Diagnostic], volumes: Mapping[str, float] | None = None
    ) -> Plan:
        """The same plan with figures, calls and volumes that were found later, from its bodies."""
        codes = {call.code for call in calls}
        kept = [call for call in self.diagnostics if call.code not in codes]
        return replace(
            self,
            figures={**self.figures, **{FigureKey(figure.key): figure for figure in figures}},
            diagnostics=worst_first(
                with_accepted(for_made([*kept, *calls], self.job), self.job.accepted or (), self.figures)
            ),
            volumes=self.volumes if volumes is None else volumes,
        )

    def __getitem__(self, key: FigureKey) -> float:
        """Value of a figure; KeyError where this plan has none of that name."""
        return self.figures[key].value


def plan(job: Job, rules: HouseRules, samples: int = sampling.SAMPLES) -> Plan:
    """Work out a job: figures, tolerance from ``samples`` runs (0: none), joints, calls.

    Raises
    ------
    JobError : the job is impossible.
    """
    check(job, rules)
    mean = job.stone.across_mm
    worked = compute(job, rules, sampling.nominal(job.stone), mean)
    widths = spread(job, rules, worked, samples) if samples else {}
    figures = {key: finished(entry, widths.get(key, 0.0)) for key, entry in worked.ledger.entries.items()}
    shares = {key: _share(figures.pop(key)) for key in _BY_BODY if key in figures}
    return replace(_answer(job, rules, worked, figures), open_shares=shares)


def _share(figure: Figure) -> float:
    return figure.plus_minus / abs(figure.value) if figure.value else 0.0


def spread(job: Job, rules: HouseRules, made: Computation, samples: int = sampling.SAMPLES) -> dict[FigureKey, float]:
    """Half-width of the 95 % interval, in its own unit, of every figure that the readings leave open, by key: of a
    figure to make the head by, over what other stones would ask for; of one that judges the stone, with the head as it
    is made."""
    worked = compute(job, rules, sampling.sampled(job.stone, rules, samples), job.stone.across_mm, made.shape)
    asked = {key: entry.value for key, entry in worked.ledger.entries.items() if key in made.ledger.entries}
    return half_widths(made, {**asked, **as_built(made, worked, rules)}, samples)


def finished(entry: Entry, plus_minus: float) -> Figure:
    """A line of a ledger as a figure."""
    return Figure(entry.spec, float(entry.value), plus_minus, entry.marks, entry.arguments)


def _answer(job: Job, rules: HouseRules, worked: Computation, figures: dict[FigureKey, Figure]) -> Plan:
    style = STYLES[job.head.style]
    alloy = alloy_of(job.head.metal, rules)
    seams = style.seams(worked.choice, worked.facts, alloy)
    method, joinery, small = None, None, None
    values = {key: figure.value for key, figure in figures.items()}
    if job.shank is not None and worked.band is not None:
        method = (job.fit or FitJob()).method
        seams = seams + METHODS[method].seams(alloy, alloy_of(job.shank.metal, rules), values)
        if job.shank.shoulder is not None:
            given = job.shank.shoulder
            small = shoulders.Shoulders(given.count, given.diameter_mm, given.setting)
            seams = seams + shoulders.seams(small, alloy_of(job.shank.metal, rules), values)
        joinery = METHODS[method].joinery(values, worked.band, fit_choice_of(job), worked.shape)
        if small is not None:
            joinery = replace(joinery, small=shoulders.small_rounds(small, values, worked.band))
    elif job.fit is not None and job.fit.method == PENDANT:
        method = PENDANT
        sold = None if job.fit.bail is None else job.fit.bail.bought
        seams = seams + pendant.seams(alloy, values, pendant.PINCHED if sold is None else sold.joint)
    asked = job.joints or JointsJob()
    grades = dict(asked.grades or {})
    if job.setting is not None and job.setting.tack == WELD:
        grades.setdefault("head-to-shank", joining.WELDED)
    if style.COMES == APPLIED:  # hard for the collet, so that the claws that come after may be medium
        grades.setdefault("head-to-shank", GRADES[0])
    joints = joining.in_order(seams, asked.school, asked.order or (), rules.heat_reach_mm, rules.solder_step_c, grades)
    shape = worked.shape
    conditions = {name: float(np.mean(height)) for name, height in worked.fitted.conditions.items()}
    situation = Situation(
        job=job,
        rules=rules,
        figures=figures,
        joints=joints,
        bur_steps_mm=worked.bur_steps_mm,
        band=worked.band,
        species=species_of(job, rules),
        alloy=alloy,
        facts=worked.facts,
        shape=shape,
        method=method,
        joinery=joinery,
        conditions=conditions,
    )
    azimuths = tuple(place.azimuth_deg for place in shape.places)
    return Plan(
        job=job,
        figures=figures,
        claw_azimuths_deg=azimuths,
        bur_steps_mm=worked.bur_steps_mm,
        joints=joints,
        diagnostics=worst_first(with_accepted(for_made(examine_all(situation), job), job.accepted or (), figures)),
        facts=replace(worked.facts, stone=plain(worked.facts.stone)),
        shape=shape,
        band=worked.band,
        rules=rules,
        joinery=joinery,
        conditions=conditions,
    )
