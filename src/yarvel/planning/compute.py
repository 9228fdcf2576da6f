"""From readings to all figures: the one run that serves a plan, its tolerance, and whole arrays of stones."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from yarvel.figures.figure import CHOSEN, Ledger, Number, published
from yarvel.figures.rules import HouseRules
from yarvel.heads import heights, seats
from yarvel.heads.style import Head, HeadChoice, StoneFacts
from yarvel.heads.styles import STYLES
from yarvel.metals.alloys import ALLOYS, shank_mass_g
from yarvel.planning.job import LOWEST, FitJob, HeadJob, Job, ShankJob
from yarvel.shanks import sizes
from yarvel.shanks.blanks import Band
from yarvel.shanks.fitting import FitRequest, Fitted
from yarvel.shanks.methods import METHODS
from yarvel.stones import stone as stones
from yarvel.stones.cuts import CUTS
from yarvel.stones.species import ALIASES, SPECIES, Species
from yarvel.stones.stone import Readings
from yarvel.stones.weight import weight_formula_ct, weight_model_ct


@dataclass(frozen=True)
class Worked:
    """A finished run: the ledger with every figure, and the parts it was made from."""

    ledger: Ledger
    facts: StoneFacts
    choice: HeadChoice
    band: Band | None
    fitted: Fitted
    bur_steps_mm: tuple[float, ...]


def species_of(job: Job) -> Species:
    """The species that the job names, aliases resolved."""
    return SPECIES[ALIASES.get(job.stone.species, job.stone.species)]


def band_of(shank: ShankJob) -> Band:
    """The plain band that a job's shank describes."""
    inside = sizes.inside_diameter_mm(shank.size.system, shank.size.value)
    return Band(inside, shank.width_mm, shank.thickness_mm, shank.profile)


def choice_of(head: HeadJob) -> HeadChoice:
    """What the head style is asked for."""
    return HeadChoice(head.style, head.claws, head.orientation, head.claw_mm, head.notch_ratio, head.splay_deg,
                      head.ring_mm, head.ring_drop_mm, head.wall_mm, head.seated, head.height_mm, head.cut,
                      head.included_angle_deg, head.made_for_mm, head.opening_mm, head.peg_mm, head.trim_mm)


def compute(job: Job, rules: HouseRules, readings: Readings, nominal_diameter: float) -> Worked:
    """Work out every figure of a job from its readings (numbers, or arrays of samples)."""
    ledger = Ledger()
    facts = _stone(ledger, job, readings, nominal_diameter)
    choice = choice_of(job.head)
    style = STYLES[choice.style]
    head: Head = style.begin(ledger, choice, facts, rules)
    band = None if job.shank is None else band_of(job.shank)
    fitted = _fit(ledger, job, head, facts, band, rules)
    head.enter(ledger, fitted.height, ALLOYS[job.head.metal])
    if band is not None and job.shank is not None:
        ledger.enter(shank_mass_g, band.section_mm2, ledger.value("shank.blank_length"),
                     ALLOYS[job.shank.metal].density)
    ledger.enter(seats.seat_opening_mm, facts.stone.girdle, rules.seat_room_mm)
    if not choice.seated:
        ledger.enter(seats.bur_gap_mm, ledger.value("seat.depth"), rules.bur_angle_deg,
                     ledger.value("stone.pavilion_angle"))
    steps = seats.bur_steps_mm(nominal_diameter, slack=rules.bur_slack_mm)
    if steps:
        ledger.enter(seats.push_to_claw_mm, facts.stone.diameter, steps[-1])
    return Worked(ledger, facts, choice, band, fitted, steps)


def _stone(ledger: Ledger, job: Job, readings: Readings, nominal_diameter: float) -> StoneFacts:
    cut: Any = CUTS[job.stone.cut]
    stone = stones.measure(ledger, readings)
    gravity = species_of(job).gravity
    volume = ledger.enter(cut.volume_mm3, stone.diameter, stone.crown_height, cut.crown_share(stone.table),
                          stone.pavilion_depth, cut.pavilion_share(), stone.girdle)
    ledger.enter(weight_formula_ct, stone.diameter, stone.depth, gravity)
    ledger.enter(weight_model_ct, volume, gravity)
    return StoneFacts(stone, cut.pavilion_run(stone), ledger.value("stone.crown_angle"), nominal_diameter)


def _fit(ledger: Ledger, job: Job, head: Head, facts: StoneFacts, band: Band | None, rules: HouseRules) -> Fitted:
    fit = job.fit or FitJob()
    height = None if fit.height == LOWEST else float(fit.height)
    pavilion = facts.stone.pavilion_depth
    request = FitRequest(pavilion, head.gallery_height, head.least_height, height, head.fixed_height)

    if band is None:
        free: Number = head.fixed_height if head.fixed_height is not None else np.maximum(
            heights.clear_of_culet(pavilion, rules.culet_clearance_mm), head.gallery_height)
        ledger.enter(heights.table_above_foot_mm, free, facts.stone.girdle, facts.stone.crown_height)
        ledger.enter(heights.culet_above_foot_mm, free, pavilion)
        if head.ring_drop is not None:
            ledger.enter(heights.ring_above_foot_mm, free, head.ring_drop)
        return Fitted(free, head.width_at(free, free))

    # the width at the foot depends on the height through the splay, so a fit asks at the foot of each height tried
    def at_foot(depth: Number) -> Number:
        return head.width_at(depth, depth)

    method: Any = METHODS[fit.method]
    fitted: Fitted = method.fit(request, at_foot, band, rules)

    def width_at(depth: Number) -> Number:
        return head.width_at(depth, fitted.height)

    ledger.given("shank.inside_diameter", "Inside diameter", "mm", band.inside_diameter,
                 _size_origin(job.shank), formula="by finger size")
    ledger.enter(sizes.inside_circumference_mm, band.inside_diameter)
    ledger.given("shank.width", "Band width", "mm", band.width, CHOSEN)
    ledger.given("shank.thickness", "Band thickness", "mm", band.thickness, CHOSEN)
    method.enter(ledger, request, fitted, width_at, band, rules)
    plane = ledger.value("seat.plane_above_finger")
    ledger.enter(heights.table_above_finger_mm, plane, facts.stone.girdle, facts.stone.crown_height)
    ledger.enter(heights.culet_above_finger_mm, plane, pavilion)
    if head.ring_drop is not None:
        ledger.enter(heights.ring_above_finger_mm, plane, head.ring_drop)
    return fitted


def _size_origin(shank: ShankJob | None) -> str:
    return published("ISO 8653") if shank is None else sizes.SYSTEMS[shank.size.system].origin
