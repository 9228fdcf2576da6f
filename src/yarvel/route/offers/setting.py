"""The seat and the stone: levelled, scribed, cut, tried; the stone in, level, held by the school."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace

from yarvel.heads import notches, paired_corner, seats
from yarvel.heads.vees import FOLD
from yarvel.metals import bending
from yarvel.operations.stone_state import ABSENT, CENTRE, LONG
from yarvel.planning.compatibility import goes_uncut
from yarvel.planning.compute import species_of
from yarvel.planning.job import NEW_CLAWS, RE_TIP
from yarvel.planning.work_methods import BUD, PLIERS_PUSHER, TIPS_AFTER
from yarvel.route.offer import LEAST_MM, SEAT, SET, Offers
from yarvel.route.setting_words import (
    closing_method_of,
    closing_text,
    first_cut_text,
    folding_text,
    leaning_text,
    rim_text,
    scribe_text,
    seat_text,
    tips_text,
)

READY = (
    "pickle-head-to-shank",
    "saw-claws-collet",
    "narrow-claws-collet",
    "pickle-hanging-ring",
    "look-three-ways-head",
    "look-three-ways-hanging",
    "pickle-back-seam",
    "pickle-tips",
    "pickle-new-claws",
)


def offer(offers: Offers) -> None:
    """Every head's seat and closing; nothing of it where the stone stays in."""
    job = offers.plan.job
    if job.stone.state != ABSENT and not offers.heats:
        return
    count, clawed = len(offers.plan.shape.places), bool(offers.plan.shape.places)
    grip = (offers.grip,)
    again = offers.head_there and (job.stone.state != ABSENT or bool(job.way) or job.head.notched)
    if again:
        _seat_again(offers, grip, count)
    else:
        _seat(offers, grip, count)
    stone = species_of(job, offers.plan.rules).label.lower()
    if not again or job.stone.state == ABSENT:  # Vs that a stone came out of stand open
        _lean_vs_out(offers)
    if not again or _renewed(offers):
        offers.add(
            "clean-up",
            "seat",
            grip,
            "Bur and file marks out.",
            "no burr where the stone will lie",
            stage=SEAT,
            after=("cut-seat-stone", "skim-gallery-head", "bevel-overhang-vs"),
        )
    offers.add(
        "seat-stone",
        "stone",
        grip,
        f"Set the {stone} into its seat.",
        f"{offers.words.down}, {offers.words.level}",
        stage=SET,
        after=("clean-up-seat", "offer-stone-stone", "lean-out-vs"),
    )
    if clawed:
        _claws(offers, grip, count)
    else:
        _rim(offers, grip)


def _vs(offers: Offers) -> int:
    """How many Vs close over a corner or a point."""
    return 0 if offers.plan.shape.vees is None else len(offers.plan.shape.vees.places)


def _lean_vs_out(offers: Offers) -> None:
    """How a stone comes in between Vs."""
    if not _vs(offers):
        return
    offers.add(
        "lean-out",
        "vs",
        offers.claws,
        f"Lean {'the V' if _vs(offers) == 1 else 'the Vs'} out, little by little, until the stone goes in.",
        "it goes in without force, no corner on metal",
        stage=SET,
        after=("clean-up-seat", "offer-stone-stone"),
    )


def _seat_again(offers: Offers, grip: tuple[str, ...], count: int) -> None:
    """A seat that is there: looked at; cut anew only where the claws are new. A mount that came notched is levelled
    first: nothing is cut into it that would say where level is."""
    notched = offers.plan.job.head.notched and not offers.plan.job.way
    if notched:
        offers.add(
            "clamp-level",
            "head",
            grip,
            "Clamp the mount level by its ring; straighten its claws.",
            "level from the front and the side, claws upright",
            stage=SEAT,
            after=READY,
        )
    offers.add(
        "offer-stone",
        "stone",
        grip,
        "The notches are cut already, no bur: look into every one, then offer the stone."
        if notched
        else "Look at every seat, then offer the stone.",
        "it sinks level into its notches" if notched else "it sinks level into the old seats",
        stage=SEAT,
        after=(*READY, "clamp-level-head"),
    )
    if _renewed(offers):
        offers.add(
            "cut-seat",
            "stone",
            grip,
            "New metal: its seats to the height of the old ones. Old seats are touched up only where the stone rocks.",
            f"the stone sits level, no light under the {offers.words.edge}",
            stage=SEAT,
            count=max(count, 1),
            after=("offer-stone-stone",),
        )


def _seat_cut(offers: Offers, grip: tuple[str, ...]) -> dict[str, Any]:
    """What the seat takes: of a new head all that is more than it is left with, for wire may be a little less than the
    body that it is closed to; of one that is there as much as the body loses."""
    if not offers.volumes:
        return {}
    if not offers.head_there:
        return {"leaves": {offers.head_parts: offers.volumes["head"]}}
    return {"off": {grip[0]: max(offers.volumes["raw"] - offers.volumes["head"], 0.0)}}


def _renewed(offers: Offers) -> bool:
    """Whether some of an old head's claws are new, or their tips."""
    return offers.plan.job.way in (RE_TIP, NEW_CLAWS)


def _seat(offers: Offers, grip: tuple[str, ...], count: int) -> None:
    tops = "tops" if count else "rim"
    narrow = "" if count else " Narrow-lipped end up: it is the seat."
    if _vs(offers):
        offers.add(
            "offer-stone",
            "vs",
            grip,
            "Stone face down in the head: mark what of the V stands over the table, and trim it."
            if _vs(offers) == 1
            else "Stone face down between the Vs: mark what of each stands over the table, and trim it.",
            "every V reaches over its corner and no farther",
            stage=SEAT,
            after=READY,
            count=_vs(offers),
        )
    offers.add(
        "level-tops",
        "head",
        grip,
        f"Level the {tops}.{narrow}",
        "a plate laid on touches all round",
        stage=SEAT,
        after=(*READY, "offer-stone-vs"),
        leaves={offers.head_parts: offers.volumes["raw"]} if offers.volumes and not offers.head_there else {},
    )
    offers.add(
        "scribe-girdle",
        "head",
        grip,
        scribe_text(offers.plan),
        "one line all round, inside and outside",
        stage=SEAT,
        after=READY,
        figures=(seats.line_from_top_mm, seats.line_from_foot_mm),
    )
    _cut(offers, grip, count)


def _cut(offers: Offers, grip: tuple[str, ...], count: int) -> None:
    """Guide, corners, seat; only tried where the head comes with it."""
    plan, cut = offers.plan, "claw" if count else "wall"
    if plan.job.head.seat_cut or goes_uncut(plan.job.head):
        _uncut(offers, grip)
        return
    if notches.first_cut_mm in plan.figures and plan[notches.SEAT_DEPTH] > 0:
        offers.add(
            "guide-cut",
            "head",
            grip,
            first_cut_text(plan),
            f"the line stands in every {cut}",
            stage=SEAT,
            count=max(count, 1),
            figures=(notches.first_cut_mm,),
        )
    _corners(offers, grip, count)
    figure_keys = (notches.SEAT_DEPTH, notches.REMAINING, seats.seat_opening_mm)
    if all(key in plan.figures and plan[key] > LEAST_MM for key in figure_keys):
        offers.add(
            "cut-seat",
            "stone",
            grip,
            seat_text(plan),
            f"the stone sits level, no light under the {offers.words.edge}",
            stage=SEAT,
            count=max(count, 1),
            **_seat_cut(offers, grip),
            figures=(notches.SEAT_DEPTH, notches.REMAINING, seats.seat_opening_mm, seats.push_to_claw_mm),
        )
        offers.add(
            "offer-stone",
            "seat",
            grip,
            "Offer the stone.",
            f"level, no light under the {offers.words.edge}",
            stage=SEAT,
            after=("cut-seat-stone",),
        )
        passes = max(len(plan.bur_steps_mm), 2)
        offers.by_turns(("cut-seat-stone", "offer-stone-seat"), "the stone sits level", passes)
    if paired_corner.gallery_skim_mm in plan.figures and plan[paired_corner.gallery_skim_mm] > 0.005:
        offers.add(
            "skim-gallery",
            "head",
            grip,
            "Skim the gallery behind each corner by {head.gallery_skim}.",
            "the corners hang in the air",
            stage=SEAT,
            after=("cut-seat-stone",),
        )


def _uncut(offers: Offers, grip: tuple[str, ...]) -> None:
    """Nothing is cut: the seat comes with the head, or claws are curved over a dome."""
    head, text, look = offers.plan.job.head, "The seat is cut already: try the stone in it.", "level and without force"
    off: dict[str, Any] = {}
    if head.notched:
        text = "The notches are cut already: try the stone in them, no bur."
    if goes_uncut(head):
        text = (
            "No notch: the curved claws hold the dome. Try the stone on its bed, dress what keeps it from lying down."
        )
        look += ", every claw along the dome"
        off = _seat_cut(offers, grip)
    offers.add("cut-seat", "stone", grip, text, look, stage=SEAT, **off)


def _corners(offers: Offers, grip: tuple[str, ...], count: int) -> None:
    """Relief and keel of every V."""
    plan = offers.plan
    bud = plan.job.setting is not None and plan.job.setting.corner == BUD
    if plan.shape.vees is not None:
        offers.add(
            "relieve-corner",
            "head",
            grip,
            "Set a bud bur into the corner at the girdle's line and draw it out along the line to {head.relief_hole}; "
            "a drill or a ball bur runs in."
            if bud
            else "Drill the relief hole of {head.relief_hole} where the stone's corner will lie.",
            "{head.left_behind_relief} left outside it; the corner is free",
            stage=SEAT,
            count=len(plan.shape.vees.places),
        )
        offers.add(
            "clear-keel",
            "head",
            grip,
            "Channel from the corner towards the culet, {head.keel_cut} below the girdle; {head.left_behind_relief} "
            "stays.",
            stage=SEAT,
            count=len(plan.shape.vees.places),
        )
        folded = plan.job.head.school == FOLD
        offers.add(
            "bevel-overhang",
            "vs",
            grip,
            "Undercut each V at the girdle to half and leave it whole: it is folded over the point in one piece."
            if folded
            else "Saw each V's corner down to the girdle: two tabs, each folded over its own side; they bear "
            "{head.tab_strength} of what the whole V does.",
            "the undercut is even on both legs" if folded else "the saw cut ends above the relief hole",
            stage=SEAT,
            count=len(plan.shape.vees.places),
            after=("cut-seat-stone",),
        )


def _claws(offers: Offers, grip: tuple[str, ...], count: int) -> None:
    plan, claws = offers.plan, offers.claws
    strains = [plan[key] for key in (bending.bend_strain, bending.notch_strain) if key in plan.figures]
    trimmed = plan.job.setting is not None and plan.job.setting.tips == TIPS_AFTER
    if trimmed:
        stone = offers.stones[CENTRE]
        offers.stones[CENTRE] = replace(stone, tips=replace(stone.tips, length=LONG))
    if not set(grip) & offers.heated and not offers.head_there:
        offers.add("anneal", "claws-before-setting", claws, "Anneal the claws.", stage=SEAT)
    if not trimmed and (not offers.head_there or _renewed(offers)):
        offers.add("thin-tips", "claws", claws, tips_text(plan), stage=SEAT, count=count, after=("cut-seat-stone",))
    offers.add(
        "lean-claws",
        "claws",
        claws,
        leaning_text(plan),
        f"eye level, front and side: {offers.words.level}, {offers.words.down}",
        stage=SET,
        count=count,
    )
    offers.add(
        "level-stone",
        "stone",
        grip,
        "One side low: ease the claw on the low side, tighten the one across, then look again; touch the high seat up "
        "between rounds rather than forcing the stone down.",
        f"{offers.words.level} from the front and the side",
        stage=SET,
    )
    points = _vs(offers)
    look = (
        f"straight down: the stone has not crept to one side; no light between claw and {offers.words.side}; it does "
        "not tick under the nail"
    )
    strain = min(strains, default=0.0)
    if points:
        offers.add("fold-vs", "claws", claws, folding_text(plan), look, stage=SET, count=points, strain=strain)
    if count > points:
        offers.add(
            "close-claws",
            "claws",
            claws,
            closing_text(plan),
            look,
            stage=SET,
            count=count - points,
            strain=0.0 if points else strain,  # others than those that are folded: not bent before
            after=("fold-vs-claws",),
        )
    _tips(offers, claws, count, trimmed)


def _finish_vs(offers: Offers, claws: tuple[str, ...], points: int, home: tuple[str, ...]) -> None:
    """Vs are filed in pairs and cut bright; they are not cupped."""
    offers.add(
        "cut-bright",
        "vs",
        claws,
        "File along the V, then one stroke over its point, the safe edge to the stone; cut its edges bright. No cup "
        "bur on a V."
        if points == 1
        else "File across two Vs at a time, then one stroke over each point, the safe edge to the stone; cut their "
        "edges bright. No cup bur on a V.",
        "both legs of a V alike, no mark on the stone",
        stage=SET,
        count=points,
        after=home,
    )


def _tips(offers: Offers, claws: tuple[str, ...], count: int, trimmed: bool) -> None:
    """Tips at the end: rounded; or trimmed and cupped, where they were left long; burnished after pliers."""
    plan, home, points = offers.plan, ("close-claws-claws", "fold-vs-claws"), _vs(offers)
    if points:
        _finish_vs(offers, claws, points, home)
    if count == points:
        return
    if not trimmed:
        offers.add(
            "round-tips",
            "claws",
            claws,
            "Round the tips against a safe edge.",
            "a thread or stocking drawn over every tip does not catch",
            stage=SET,
            count=count - points,
            after=home,
        )
    else:
        offers.add(
            "trim-tips",
            "claws",
            claws,
            "Trim every tip to its length with a safe edge to the stone, thin its outside to half.",
            f"all tips of one length, each still covers the {offers.words.side}",
            stage=SET,
            count=count - points,
            after=home,
        )
        cup = 0.0 if plan.claw_mm is None else plan.claw_mm * _CUP
        size = f" of {cup:.1f} mm, a little over the claw's width" if cup else ""
        offers.add(
            "cup-tips",
            "claws",
            claws,
            f"Round and press every tip with a cup bur or beader{size}.",
            "a thread or stocking drawn over every tip does not catch",
            stage=SET,
            count=count - points,
            after=("trim-tips-claws",),
        )
    if closing_method_of(plan) == PLIERS_PUSHER:
        offers.add(
            "burnish",
            "claws",
            claws,
            f"Burnish every claw down to the {offers.words.side}, from the root to the tip.",
            "no light under any tip, no mark of the jaws",
            stage=SET,
            count=count,
            after=(*home, "round-tips-claws", "cup-tips-claws"),
        )


_CUP = 1.15
"""A cup bur or beader is this much wider than the claw; from memory."""


def _rim(offers: Offers, grip: tuple[str, ...]) -> None:
    offers.add(
        "level-stone",
        "stone",
        grip,
        "Level the stone before the first pressure: a tilted one breaks.",
        "dead level from the front and the side",
        stage=SET,
        after=("seat-stone-stone",),
    )
    offers.add(
        "press-bezel",
        "rim",
        grip,
        rim_text(offers.plan),
        "eye level after every round; the stone cannot turn",
        stage=SET,
    )
    offers.add(
        "burnish",
        "rim",
        grip,
        f"Work the rim down to the {offers.words.side} from the outside, then burnish it bright; where one side sits "
        "low, press the opposite side next.",
        "no light under the rim",
        stage=SET,
    )
