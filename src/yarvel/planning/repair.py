"""Repairs: what the claws found call for together, and why it came to that."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable

from msgspec import Struct

from yarvel.figures.rules import HouseRules
from yarvel.heads import notches, style
from yarvel.heads.wear import (
    BENT,
    CRACKED,
    LIFTED,
    LOOSE,
    MISSING,
    NEIGHBOUR,
    NEW_CLAW,
    RE_TIP,
    THIN_SIDE,
    WORK,
    WORN_TIP,
    ClawFound,
    ClawVerdict,
    judge_claw,
)
from yarvel.planning.compute import species_of
from yarvel.planning.plan import Plan

MEND, REPLACE = "mend", "replace-head"

VERDICTS: dict[str, str] = {MEND: "mend", REPLACE: "replace the head"}
"""What may become of a head: a key that stays, and what it is called."""
TOO_SMALL, NEIGHBOUR_BAND, WORN, KNOCKED, NOTHING = "head-too-small", "neighbour-band", "worn", "knocked", "nothing"

CAUSES: dict[str, str] = {
    TOO_SMALL: "head too small for its stone",
    NEIGHBOUR_BAND: "a band worn beside it",
    WORN: "worn tips",
    KNOCKED: "knocked",
    NOTHING: "nothing found",
}
"""Why it came to that: a key that stays, and what it is called."""


class Repair(Struct, frozen=True):
    """The judgement on a worn head: each claw's verdict, the head's, its root cause, and what has to come out before
    any heat."""

    claws: tuple[ClawVerdict, ...]
    verdict: str
    reason: str
    cause: str
    before_heat: str


def judge_head(plan: Plan, found: tuple[ClawFound, ...], rules: HouseRules) -> Repair:
    """Judge a head by what was found on its claws, in the order of the plan's claws (ValueError for another count)."""
    if len(found) != len(plan.shape.places):
        raise ValueError(f"{len(found)} claws found, {len(plan.shape.places)} planned")
    width = claw_width_mm(plan)
    claws = tuple(judge_claw(claw, width, rules) for claw in found)
    work = Counter(verdict.work for verdict in claws)
    heavy = work[RE_TIP] + work[NEW_CLAW]
    small = plan[notches.notch_ratio] > rules.notch_stop
    cause = _cause(found, small, plan.job.fit is not None and plan.job.fit.beside_mm is not None)
    if small:
        verdict, reason = (
            REPLACE,
            f"the stone takes {plan[notches.notch_ratio]:.2f} of the claw: mended, it fails again",
        )
    elif heavy * 2 > len(claws):
        verdict, reason = REPLACE, f"{heavy} of {len(claws)} claws need metal: a new head costs little more and lasts"
    else:
        verdict, reason = MEND, f"{heavy} of {len(claws)} claws need metal" if heavy else "the metal is sound"
    return Repair(claws, verdict, reason, cause, before_heat(plan))


def claw_width_mm(plan: Plan) -> float:
    """Width of a claw, mm: of its wire, or of the wall that it is cut from."""
    return plan[style.HEAD_WALL] if plan.claw_mm is None else plan.claw_mm


def decides(findings: Iterable[str], width_mm: float, rules: HouseRules) -> ClawFound:
    """Of several things found on one claw, ``width_mm`` mm wide, the one that asks for most work first; the first of
    equals, sound where nothing was found."""
    order = tuple(WORK)
    heaviest = sorted(findings, key=lambda key: -order.index(judge_claw(ClawFound(key), width_mm, rules).work))
    return ClawFound().having(heaviest)


def _cause(found: tuple[ClawFound, ...], small: bool, beside: bool) -> str:
    """The root, looked for in the trade's order: a band worn ``beside`` it before a small head, that before wear, wear
    before a knock. A missing claw next to worn ones with a band beside is the band's doing. Common practice."""
    findings = Counter(key for claw in found for key in claw.findings)
    worn = findings[WORN_TIP] + findings[THIN_SIDE]
    if findings[NEIGHBOUR] or (beside and worn):
        return NEIGHBOUR_BAND
    if small or findings[THIN_SIDE] * 2 >= len(found):
        return TOO_SMALL
    knocked = findings[BENT] + findings[CRACKED] + findings[MISSING] + findings[LIFTED] + findings[LOOSE]
    if findings[WORN_TIP] >= max(knocked, 1):
        return WORN
    return KNOCKED if knocked else NOTHING


def before_heat(plan: Plan) -> str:
    """Which stones come out before a torch is lit, and why."""
    species = species_of(plan.job, plan.rules)
    small = plan.job.shank is not None and plan.job.shank.shoulder is not None
    stones = f"the {species.label.lower()}" + (", the small rounds of the shoulders" if small else "")
    never = " It bears none." if species.heat == "never" else " Its treatment is rarely known: treat it as sensitive."
    return f"Before heat, out come: {stones}.{never}"
