"""Repairs: what the claws found call for together, why it came to that, and the ways out with time and cost."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

from yarvel.figures.rules import HouseRules
from yarvel.heads.wear import (
    BENT,
    CRACKED,
    LEAVE,
    MISSING,
    NEIGHBOUR,
    NEW_CLAW,
    RE_TIP,
    THIN_SIDE,
    TIGHTEN,
    WORN_TIP,
    ClawFound,
    ClawVerdict,
    judge_claw,
)
from yarvel.metals.alloys import alloy_of
from yarvel.planning.compute import species_of
from yarvel.planning.plan import Plan
from yarvel.planning.weighing import weighed

MEND, REPLACE = "mend", "replace the head"
TOO_SMALL, NEIGHBOUR_BAND, WORN, KNOCKED, NOTHING = (
    "head too small for its stone",
    "a band worn beside it",
    "worn tips",
    "knocked",
    "nothing found",
)


@dataclass(frozen=True)
class WayOut:
    """One way to put a head right: what is done, in minutes, g of metal and money; ``heat`` where a torch is needed."""

    name: str
    minutes: float
    metal_g: float
    cost: float
    priced: bool
    heat: bool
    advice: str


@dataclass(frozen=True)
class Repair:
    """The judgement on a worn head: each claw's verdict, the head's, its root cause, the ways out with the advised one
    first, and what has to come out before any heat."""

    claws: tuple[ClawVerdict, ...]
    verdict: str
    reason: str
    cause: str
    ways: tuple[WayOut, ...]
    before_heat: str


def judge_head(plan: Plan, found: tuple[ClawFound, ...], rules: HouseRules) -> Repair:
    """Judge a head by what was found on its claws, in the order of the plan's claws (ValueError for another count)."""
    if len(found) != len(plan.shape.places):
        raise ValueError(f"{len(found)} claws found, {len(plan.shape.places)} planned")
    width = claw_width_mm(plan)
    claws = tuple(judge_claw(claw, width, rules) for claw in found)
    work = Counter(verdict.work for verdict in claws)
    heavy = work[RE_TIP] + work[NEW_CLAW]
    small = plan["seat.notch_ratio"] > rules.notch_stop
    cause = _cause(found, small)
    if small:
        verdict, reason = REPLACE, f"the stone takes {plan['seat.notch_ratio']:.2f} of the claw: mended, it fails again"
    elif heavy * 2 > len(claws):
        verdict, reason = REPLACE, f"{heavy} of {len(claws)} claws need metal: a new head costs little more and lasts"
    else:
        verdict, reason = MEND, f"{heavy} of {len(claws)} claws need metal" if heavy else "the metal is sound"
    ways = _ways(plan, work, rules)
    ordered = sorted(ways, key=lambda way: (_advised(way, verdict) is False, way.cost))
    return Repair(claws, verdict, reason, cause, tuple(ordered), before_heat(plan))


def claw_width_mm(plan: Plan) -> float:
    """Width of a claw, mm: of its wire, or of the wall that it is cut from."""
    return plan["head.claw"] if "head.claw" in plan.figures else plan["head.wall"]


def _cause(found: tuple[ClawFound, ...], small: bool) -> str:
    """The root: a small head before a neighbour, a neighbour before wear, wear before a knock."""
    findings = Counter(claw.finding for claw in found)
    if small or findings[THIN_SIDE] * 2 >= len(found):
        return TOO_SMALL
    if findings[NEIGHBOUR]:
        return NEIGHBOUR_BAND
    knocked = findings[BENT] + findings[CRACKED] + findings[MISSING]
    if findings[WORN_TIP] >= max(knocked, 1):
        return WORN
    return KNOCKED if knocked else NOTHING


def _ways(plan: Plan, work: Counter[str], rules: HouseRules) -> list[WayOut]:
    """Every way that answers what was found."""
    plan = weighed(plan)
    count = len(plan.shape.places)
    claw_mass = plan["head.mass"] / max(count, 1) if count else 0.0
    found = []
    if work[TIGHTEN] and not work[RE_TIP] + work[NEW_CLAW]:
        found.append(_way(plan, "Tighten", work[TIGHTEN] * rules.minutes_tighten, 0.0, False, "", rules))
    if work[RE_TIP] and not work[NEW_CLAW]:
        minutes = work[RE_TIP] * rules.minutes_retip + work[TIGHTEN] * rules.minutes_tighten
        found.append(
            _way(
                plan,
                "Re-tip",
                minutes,
                work[RE_TIP] * claw_mass * 0.15,
                True,
                "tips of the same width as the others",
                rules,
            )
        )
    if work[NEW_CLAW]:
        minutes = (
            work[NEW_CLAW] * rules.minutes_new_claw
            + work[RE_TIP] * rules.minutes_retip
            + work[TIGHTEN] * rules.minutes_tighten
        )
        found.append(
            _way(
                plan,
                "New claws",
                minutes,
                work[NEW_CLAW] * claw_mass,
                True,
                "new claws match the old look: same width",
                rules,
            )
        )
    if work[LEAVE] < count:
        found.append(
            _way(
                plan,
                "New head from the drawer",
                rules.minutes_bought_head,
                plan["head.mass"],
                True,
                "measured against the stone before the old one comes out",
                rules,
            )
        )
        found.append(
            _way(plan, "New head by hand", rules.minutes_own_head, plan["head.mass"], True, "from this plan", rules)
        )
    return found


def _way(plan: Plan, name: str, minutes: float, metal: float, heat: bool, advice: str, rules: HouseRules) -> WayOut:
    price = alloy_of(plan.job.head.metal, rules).price_per_g
    return WayOut(
        name, minutes, metal, minutes / 60 * rules.hour_rate + metal * price, price > 0 or metal == 0, heat, advice
    )


def _advised(way: WayOut, verdict: str) -> bool:
    return way.name.startswith("New head") == (verdict == REPLACE)


def before_heat(plan: Plan) -> str:
    """Which stones come out before a torch is lit, and why."""
    species = species_of(plan.job)
    small = plan.job.shank is not None and plan.job.shank.shoulder is not None
    stones = f"the {species.label.lower()}" + (", the small rounds of the shoulders" if small else "")
    never = " It bears none." if species.heat == "never" else " Its treatment is rarely known: treat it as sensitive."
    return f"Before heat, out come: {stones}.{never}"
