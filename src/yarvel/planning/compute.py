"""From readings to all figures: the one run that serves a plan, its tolerance, and whole arrays of stones."""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from msgspec.structs import replace

from yarvel.figures.figure import CHOSEN, Ledger, Number, published
from yarvel.figures.rules import HouseRules
from yarvel.heads import applied_collet, basket, claws, heights, notches, seats, tapered_collet, tube
from yarvel.heads.shape import HeadShape
from yarvel.heads.style import Head, HeadChoice, Made, StoneFacts, TubeInHand, height_mm
from yarvel.heads.styles import STYLES, head_fields
from yarvel.metals import bending
from yarvel.metals.alloys import alloy_of, shank_mass_g
from yarvel.planning import sampling
from yarvel.planning.compatibility import goes_uncut, legs_of
from yarvel.planning.job import ALONG_BAND, LOWEST, BailJob, FitJob, HeadJob, Job, ShankJob, usual_claws_of
from yarvel.planning.work_methods import OPEN_RING
from yarvel.shanks import blanks, fitting, inset, let_in, pendant, resizing, shoulders, sizes, slot, split_shoulder
from yarvel.shanks.band import Band, BandStation
from yarvel.shanks.basket_point import METHOD as BASKET_POINT
from yarvel.shanks.fitting import BEARER, MADE, FitChoice, FitRequest, Fitted
from yarvel.shanks.methods import METHODS, PENDANT
from yarvel.stones import stone as stones
from yarvel.stones.cut import Girth, enter_volume, outline_of, pavilion_slope, turned_outline
from yarvel.stones.cuts import CUTS
from yarvel.stones.outline import Outline
from yarvel.stones.species import Species, species_named
from yarvel.stones.stone import Readings
from yarvel.stones.weight import depth_by_weight_mm, weight_model_ct


class Computation(Struct, frozen=True, kw_only=True):
    """A finished run: the ledger with every figure, and the parts it was made from."""

    ledger: Ledger
    facts: StoneFacts
    choice: HeadChoice
    band: Band | None
    fitted: Fitted
    bur_steps_mm: tuple[float, ...]
    shape: HeadShape


def species_of(job: Job, rules: HouseRules) -> Species:
    """The species that the job names, as this workshop knows it."""
    return species_named(job.stone.species, rules)


def band_of(shank: ShankJob) -> Band:
    """The plain band that a job's shank describes."""
    inside = sizes.inside_diameter_mm(shank.size.system, shank.size.value)
    band = Band(
        inside_diameter_mm=inside,
        width_mm=_given(shank.head_width_mm, shank.width_mm),
        thickness_mm=_given(shank.head_thickness_mm, shank.thickness_mm),
        profile=shank.profile if shank.head_profile is None else shank.head_profile,
        back_width_mm=shank.width_mm,
        back_thickness_mm=shank.thickness_mm,
        back_profile=shank.profile,
        between=tuple(
            BandStation(station.turn_deg, station.width_mm, station.thickness_mm, station.profile)
            for station in shank.stations or ()
        ),
    )
    if shank.resized_from is None or shank.resize_by != resizing.STRETCH:
        return band
    return resizing.stretched(band, sizes.inside_diameter_mm(shank.resized_from.system, shank.resized_from.value))


def choice_of(job: Job, rules: HouseRules) -> HeadChoice:
    """What the head style is asked for."""
    head, made_collet = job.head, job.head.made
    read = {*STYLES[head.style].FIELDS, *_OF_EVERY_STYLE}
    return HeadChoice(
        claws=usual_claws_of(job),
        made=None
        if made_collet is None
        else Made(made_collet.foot_mm, made_collet.top_mm, made_collet.height_mm, made_collet.wall_mm),
        tube=None if head.tube is None else TubeInHand(**vars(head.tube)),
        legs=legs_of(job),
        seated=head.seat_cut,
        soft=alloy_of(head.metal, rules).soft,
        own={field.name: getattr(head, field.name) for field in STYLES[head.style].OWN},
        **{name: getattr(head if name in read else _USUAL, name) for name in _AS_GIVEN},
    )


_ASKED_FOR = ("claws", "made", "tube", "own", "legs", "soft", "seated")

_AS_GIVEN = tuple(name for name in HeadChoice.__struct_fields__ if name not in _ASKED_FOR)
"""What a choice takes from the job as it stands there, where its style reads it; else as it usually is."""
_OF_EVERY_STYLE = tuple(name for name in _AS_GIVEN if name not in head_fields())
"""What every style reads."""
_USUAL = HeadJob()


def fit_choice_of(job: Job) -> FitChoice:
    """What the fit method is asked for."""
    fit = job.fit or FitJob()
    return FitChoice(
        below_ring_mm=fit.below_ring_mm,
        hole=fit.hole,
        peg_mm=job.head.peg_mm,
        split_mm=fit.split_mm,
        open_ring=fit.ring == OPEN_RING,
        let_mm=fit.let_mm,
    )


def compute(
    job: Job, rules: HouseRules, readings: Readings, nominal_diameter_mm: float, made: HeadShape | None = None
) -> Computation:
    """Work out every figure of a job from its readings: numbers; or arrays of samples, with the form ``made`` of the
    head that the readings as they stand have asked for."""
    ledger = Ledger()
    facts = _stone(ledger, job, rules, readings, nominal_diameter_mm)
    choice = choice_of(job, rules)
    style = STYLES[choice.style]
    head: Head = style.begin(ledger, choice, facts, rules)
    band = None if job.shank is None else band_of(job.shank)
    request = _request(job, head, facts)
    fitted = _fitted(ledger, job, request, head, facts, band, rules)
    head.enter(ledger, fitted.height_mm, _free(job, head, fitted, band, rules), alloy_of(job.head.metal, rules))
    shape = style.shape(ledger, choice, facts, rules) if made is None else made
    if band is not None:
        _enter_fit(ledger, job, replace(request, shape=shape), fitted, head, facts, band, rules)
    if job.fit is not None and job.fit.method == PENDANT:
        bail = job.fit.bail or BailJob()
        sold = bail.bought
        bought = None if sold is None else pendant.BoughtBail(sold.opening_mm, sold.wire_mm, sold.mass_g)
        metal = alloy_of(job.head.metal, rules)
        pendant.enter(ledger, bail.inside_mm, bail.wire_mm, bail.chain_end_mm, metal, bought)
    if band is not None and job.shank is not None:
        _enter_shank(ledger, job.shank, head, fitted, band, rules)
    _enter_line(ledger)
    if not goes_uncut(job.head):
        ledger.enter(seats.seat_opening_mm, facts.stone.girdle_mm, rules.seat_room_mm)
    if not choice.seated and not facts.cut.domed:
        ledger.enter(
            seats.bur_gap_mm,
            ledger.value(notches.SEAT_DEPTH),
            rules.bur_angle_deg,
            ledger.value(stones.pavilion_angle_deg),
        )
    steps: tuple[float, ...] = ()
    if facts.cut.is_round:
        steps = seats.bur_steps_mm(nominal_diameter_mm, rules.custom.burs_mm or seats.BUR_SIZES_MM, rules.bur_slack_mm)
    if steps:
        ledger.enter(seats.push_to_claw_mm, facts.stone.diameter, steps[-1])
    return Computation(
        ledger=ledger, facts=facts, choice=choice, band=band, fitted=fitted, bur_steps_mm=steps, shape=shape
    )


def _enter_shank(ledger: Ledger, shank: ShankJob, head: Head, fitted: Fitted, band: Band, rules: HouseRules) -> None:
    """Small rounds beside the head, what the band's bends strain it by, and its mass."""
    if shank.shoulder is not None:
        asked, width = shank.shoulder, head.width_at(0.0, fitted.height_mm)
        shoulders.enter(ledger, shoulders.Shoulders(asked.count, asked.diameter_mm, asked.setting), band, width, rules)
    thick = max(band.thickness_mm, float(band.thickness_at(180.0)))
    ledger.enter(bending.band_strain, thick, band.inside_diameter_mm)
    if split_shoulder.spread_deg in ledger.entries:
        ledger.enter(
            bending.spread_strain,
            ledger.value(split_shoulder.branch_mm),
            ledger.value(split_shoulder.spread_deg),
            ledger.value(split_shoulder.branch_length_mm),
        )
    whole = blanks.full_length_mm(band.inside_diameter_mm, band.mean_thickness)
    length = ledger.value(blanks.blank_length_mm) if blanks.blank_length_mm in ledger.entries else whole
    ledger.enter(shank_mass_g, band.section_mm2, length, alloy_of(shank.metal, rules).density)


def _free(job: Job, head: Head, fitted: Fitted, band: Band | None, rules: HouseRules) -> Number:
    """Height in mm below the seat that stands above the band: all of a head that stands neither in a gap nor in a
    recess."""
    method, height = (job.fit or FitJob()).method, fitted.height_mm
    if band is not None and method == let_in.METHOD:
        return height - let_in.depth_mm(fit_choice_of(job), fitted.foot_width_mm, band, rules)
    if band is None or method != inset.METHOD:
        return height
    gap = head.width_at(height - band.thickness_mm, height)
    return inset.free_mm(height, fitted.foot_width_mm, gap, band)


def _enter_line(ledger: Ledger) -> None:
    """Where the girdle's line is scribed, from the levelled tops and from the foot."""
    entries = ledger.entries
    lean = next((ledger.value(key) for key in (basket.splay_deg, tapered_collet.half_angle_deg) if key in entries), 0.0)
    height = ledger.value(height_mm)
    long = next((ledger.value(key) for key in (claws.claw_length_mm, tube.tube_length_mm) if key in entries), None)
    if long is None and tapered_collet.collet_height_mm in entries:
        long = ledger.value(tapered_collet.collet_height_mm) / np.cos(np.radians(lean))
    if long is not None:  # applied claws end on their collet, not at the foot
        down = ledger.value(applied_collet.claw_down_mm) if applied_collet.claw_down_mm in entries else height
        ledger.enter(seats.line_from_top_mm, long, down, lean)
    ledger.enter(seats.line_from_foot_mm, height, lean)


def stone_outline(job: Job) -> tuple[Outline, Girth, bool]:
    """The outline of a job's stone in the head's frame, what fixes it, and whether its length runs along the band."""
    cut, stone = CUTS[job.stone.cut], job.stone
    width = stone.across_mm if cut.is_round else stone.width_mm or 0.0
    length = width if cut.is_round else stone.length_mm or 0.0
    girth = Girth(
        length, width, _given(stone.corner_mm, cut.corner * width), _given(stone.narrow_width_mm, cut.narrow * width)
    )
    along_band = not cut.is_round and job.head.stone_axis == ALONG_BAND
    return turned_outline(cut, girth, -90.0 if along_band else 0.0), girth, along_band


def _given(measured: float | None, usual: float) -> float:
    return usual if measured is None else measured


def facts_of(job: Job, rules: HouseRules) -> StoneFacts:
    """What a head needs to know of the job's stone, from its readings as they stand."""
    return _stone(Ledger(), job, rules, sampling.nominal(job.stone), job.stone.across_mm)


def _stone(ledger: Ledger, job: Job, rules: HouseRules, readings: Readings, nominal_diameter: float) -> StoneFacts:
    cut = CUTS[job.stone.cut]
    stone = stones.measure(ledger, readings, cut.domed, cut.square)
    outline, girth, along_band = stone_outline(job)
    gravity = species_of(job, rules).gravity * readings.gravity_share
    if cut.is_round:
        ledger.enter(stones.circumference_mm, stone.diameter)
    else:
        across, along = outline_of(cut, girth).perimeter_shares
        ledger.enter(stones.perimeter_mm, across, stone.width_mm, along, stone.length_mm)
    volume = enter_volume(ledger, cut, stone, girth)
    given = (
        stone.length_mm,
        stone.width_mm,
        stone.depth_mm,
        cut.weight_factor(stone.length_mm / stone.width_mm),
        gravity,
    )
    ledger.enter(cut.weight_formula, *given, *((stone.narrow_mm,) if cut.narrow else ()))
    model = ledger.enter(weight_model_ct, volume, gravity)
    if job.stone.declared_ct is not None and job.stone.depth_mm is None:
        ledger.enter(depth_by_weight_mm, stone.depth_mm, job.stone.declared_ct, model)
    return StoneFacts(
        stone=stone,
        cut=cut,
        outline=outline,
        along_band=along_band,
        run=pavilion_slope(cut, stone, girth),
        crown_angle_deg=ledger.value(stones.crown_angle_deg),
        nominal_diameter_mm=nominal_diameter,
        open=readings.beside,
    )


def _request(job: Job, head: Head, facts: StoneFacts) -> FitRequest:
    fit = job.fit or FitJob()
    height = None if fit.height == LOWEST else float(fit.height)
    return FitRequest(
        pavilion_mm=facts.stone.pavilion_depth_mm,
        gallery_height_mm=head.gallery_height,
        least_height_mm=head.least_height,
        plane_above_finger_mm=height,
        fixed_height_mm=head.fixed_height,
        choice=fit_choice_of(job),
        foot_circle=head.foot_circle,
        claws=head.claw_count,
        across_share=facts.outline.size[1] / facts.outline.size[0],
        sawn_least_mm=head.sawn_least,
        floor_mm=head.floor_mm,
        fixed_by=BEARER if fit.method == BASKET_POINT else MADE,
    )


def _fitted(
    ledger: Ledger,
    job: Job,
    request: FitRequest,
    head: Head,
    facts: StoneFacts,
    band: Band | None,
    rules: HouseRules,
) -> Fitted:
    """The head's height; without a band, the figures of a head on its own foot."""
    pavilion = facts.stone.pavilion_depth_mm
    if band is None:
        free: Number = (
            head.fixed_height
            if head.fixed_height is not None
            else np.maximum(heights.clear_of_culet(pavilion, rules.culet_clearance_mm), head.gallery_height)
        )
        ledger.enter(heights.table_above_foot_mm, free, facts.stone.girdle_mm, facts.stone.crown_height_mm)
        ledger.enter(heights.culet_above_foot_mm, free, pavilion)
        drop = head.ring_drop(free)
        if drop is not None:
            ledger.enter(heights.ring_above_foot_mm, free, drop)
        return Fitted(free, head.width_at(free, free), {})

    # the width at the foot depends on the height through the splay, so a fit asks at the foot of each height tried
    def at_foot(depth_mm: Number) -> Number:
        return head.width_at(depth_mm, depth_mm)

    fitted: Fitted = METHODS[(job.fit or FitJob()).method].fit(request, at_foot, band, rules)
    return fitted


def _enter_fit(
    ledger: Ledger,
    job: Job,
    request: FitRequest,
    fitted: Fitted,
    head: Head,
    facts: StoneFacts,
    band: Band,
    rules: HouseRules,
) -> None:
    """Figures of the band, and of how it takes the head."""
    fit = job.fit or FitJob()

    def width_at(depth_mm: Number) -> Number:
        return head.width_at(depth_mm, fitted.height_mm)

    ledger.given(
        blanks.INSIDE_DIAMETER,
        "Inside diameter",
        "mm",
        band.inside_diameter_mm,
        _size_origin(job.shank),
        formula="by finger size",
    )
    ledger.enter(sizes.inside_circumference_mm, band.inside_diameter_mm)
    _enter_band(ledger, band)
    METHODS[fit.method].enter(ledger, request, fitted, width_at, band, rules)
    if np.any(request.floor_mm):
        ledger.enter(fitting.over_floor_mm, fitted.height_mm, request.floor_mm, request.pavilion_mm)
    if fit.slot is not None:
        ends = None if fit.slot.left_mm is None or fit.slot.right_mm is None else (fit.slot.left_mm, fit.slot.right_mm)
        slot.enter(ledger, fit.slot.inside_mm, fit.slot.outside_mm, ends, band.thickness_mm)
    if job.shank is not None and job.shank.resized_from is not None:
        old = sizes.inside_diameter_mm(job.shank.resized_from.system, job.shank.resized_from.value)
        before = job.shank.thickness_mm if job.shank.resize_by == resizing.STRETCH else None
        resizing.enter(ledger, old, band, fitted.foot_width_mm, alloy_of(job.shank.metal, rules), before)
    plane = ledger.value(fitting.PLANE_ABOVE_FINGER)
    ledger.enter(heights.table_above_finger_mm, plane, facts.stone.girdle_mm, facts.stone.crown_height_mm)
    ledger.enter(heights.culet_above_finger_mm, plane, facts.stone.pavilion_depth_mm)
    drop = head.ring_drop(fitted.height_mm)
    if drop is not None:
        ledger.enter(heights.ring_above_finger_mm, plane, drop)


def _enter_band(ledger: Ledger, band: Band) -> None:
    where = " at the head" if band.tapers else ""
    ledger.given(blanks.WIDTH, f"Band width{where}", "mm", band.width_mm, CHOSEN)
    ledger.given(blanks.THICKNESS, f"Band thickness{where}", "mm", band.thickness_mm, CHOSEN)
    if band.tapers:
        ledger.given(blanks.BACK_WIDTH, "Band width at the back", "mm", float(band.width_at(180.0)), CHOSEN)
        ledger.given(blanks.BACK_THICKNESS, "Band thickness at the back", "mm", float(band.thickness_at(180.0)), CHOSEN)


def _size_origin(shank: ShankJob | None) -> str:
    return published("ISO 8653") if shank is None else sizes.SYSTEMS[shank.size.system].origin
