"""Ways out of a repair: each is a route of its own, and its minutes, metal and cost are that route's."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace

from msgspec import Struct, structs

from yarvel.figures.rules import HouseRules
from yarvel.heads.places import numbers
from yarvel.heads.style import BOUGHT
from yarvel.heads.styles import STYLES
from yarvel.heads.wear import (
    BENT,
    FINDINGS,
    LEAVE,
    MISSING,
    NEW_CLAW,
    RE_TIP,
    SOUND,
    TIGHTEN,
    WORK,
    WORN_TIP,
    ClawFound,
    ClawVerdict,
)
from yarvel.metals.alloys import alloy_of
from yarvel.operations.operation import HEAT
from yarvel.operations.stone_state import ABSENT, HELD
from yarvel.planning import job as jobs
from yarvel.planning.job import FrozenObject, HeadJob, Job, RepairJob
from yarvel.planning.plan import Plan
from yarvel.planning.plan import plan as planned
from yarvel.planning.repair import CAUSES, REPLACE, VERDICTS, claw_width_mm, decides, judge_head
from yarvel.planning.weighing import weighed
from yarvel.route.balance import added_g
from yarvel.route.card import LABELS
from yarvel.route.running import Route, route_of

ADVICE = {
    jobs.TIGHTEN: "",
    jobs.RE_TIP: "tips of the same width as the others",
    jobs.NEW_CLAWS: "new claws match the old look: same width",
    "new-head-bought": "measured against the stone before the old one comes out",
    "new-head-made": "from this plan",
}
_RANK = {work: place for place, work in enumerate(WORK)}

_REACHES = {jobs.TIGHTEN: _RANK[TIGHTEN], jobs.RE_TIP: _RANK[RE_TIP]}
"""How much a way does at the most, where it does not do everything."""
_STANDS_FOR = {RE_TIP: WORN_TIP, NEW_CLAW: MISSING, TIGHTEN: BENT}
"""Where the measures of a sound looking claw ask for work, what that work is told by."""


class WayOut(Struct, frozen=True, kw_only=True):
    """One way to put a head right: what is done, in minutes, g of metal and money; ``heat`` where a torch is needed."""

    key: str
    minutes: float
    metal_g: float
    cost: float
    priced: bool
    heat: bool
    advice: str

    @property
    def name(self) -> str:
        """What it is called."""
        return LABELS[self.key]


def ways_out(plan: Plan, found: tuple[ClawFound, ...], rules: HouseRules) -> tuple[WayOut, ...]:
    """Every way that answers what was found on the claws, the advised ones first, the cheapest of them first."""
    repair = judge_head(plan, found, rules)
    work = Counter(verdict.work for verdict in repair.claws)
    keys = []
    if work[TIGHTEN] and not work[RE_TIP] + work[NEW_CLAW]:
        keys.append(jobs.TIGHTEN)
    if work[RE_TIP] and not work[NEW_CLAW]:
        keys.append(jobs.RE_TIP)
    if work[NEW_CLAW]:
        keys.append(jobs.NEW_CLAWS)
    if work[LEAVE] < len(repair.claws):
        keys += ["new-head-bought", "new-head-made"]
    heavy = weighed(plan) if keys else plan
    ways = [_way(heavy, found, repair.claws, key, rules) for key in keys]
    advised = repair.verdict == REPLACE
    return tuple(sorted(ways, key=lambda way: (way.key.startswith("new-head") != advised, way.cost)))


def _way(
    heavy: Plan, found: tuple[ClawFound, ...], verdicts: tuple[ClawVerdict, ...], key: str, rules: HouseRules
) -> WayOut:
    route = route_of_way(heavy, repaired(heavy, found, verdicts, key), rules)
    minutes = sum(step.operation.minutes for step in route.steps)
    metal, cost, priced = 0.0, minutes / 60 * rules.hour_rate, True
    for alloy_key, used in added_g(route).items():
        price = alloy_of(alloy_key, rules).price_per_g
        metal, cost = metal + used, cost + used * price
        priced = priced and (price > 0 or used == 0)
    heat = any(step.operation.kind.temper == HEAT for step in route.steps)
    return WayOut(key=key, minutes=minutes, metal_g=metal, cost=cost, priced=priced, heat=heat, advice=ADVICE[key])


def route_of_way(heavy: Plan, job: Job, rules: HouseRules) -> Route:
    """The route of a repair, with the volumes of the head as it was planned; of another head its own."""
    plan_made = planned(job, rules, samples=0)
    return route_of(
        structs.replace(plan_made, volumes=heavy.volumes) if job.head == heavy.job.head else weighed(plan_made)
    )


def repaired(
    plan: Plan, found: tuple[ClawFound, ...], verdicts: tuple[ClawVerdict, ...], way: str, metal: str | None = None
) -> Job:
    """The job as a repair: what was found by the claws' numbers, the way out, the stone held in it. Nobody makes a
    bought head by hand: a basket of as many claws stands for it."""
    claws = {
        str(number): claw.findings or (_STANDS_FOR[verdict.work],)
        for number, claw, verdict in zip(numbers(plan.shape.places), found, verdicts, strict=True)
        if verdict.work != LEAVE
    }
    state = HELD if plan.job.stone.state == ABSENT else plan.job.stone.state
    head = replace(plan.job.head, exists=False)
    if way == "new-head-made" and STYLES[head.style].COMES == BOUGHT:
        head = HeadJob(claws=head.claws, metal=head.metal, orientation=head.orientation, stone_axis=head.stone_axis)
    return replace(
        plan.job,
        stone=replace(plan.job.stone, state=state),
        head=head,
        shank=None if plan.job.shank is None else replace(plan.job.shank, stock=None),
        repair=RepairJob(FrozenObject(claws), way, metal),
    )


class ClawTold(Struct, frozen=True):
    """One claw of a repair: its number, its place among the plan's claws, what was found, what it calls for."""

    number: int
    place: int
    findings: tuple[str, ...]
    work: str


class RepairTold(Struct, frozen=True):
    """A repair in short: the way out with verdict and cause, and its claws by number."""

    verdict: str
    claws: tuple[ClawTold, ...]


def repair_told(plan: Plan) -> RepairTold | None:
    """What a repair is told by; None where it is none."""
    repair = plan.job.repair
    if repair is None or not plan.job.way or not plan.shape.places:
        return None
    at = numbers(plan.shape.places)
    findings_by_claw = {number: repair.claws.get(str(number), (SOUND,)) for number in at}
    width = claw_width_mm(plan)
    decisions = tuple(decides(findings_by_claw[number], width, plan.rules) for number in at)
    judged = judge_head(plan, decisions, plan.rules)
    claws = [
        ClawTold(number, place, findings_by_claw[number], verdict.work)
        for place, (number, verdict) in enumerate(zip(at, judged.claws, strict=True))
    ]
    text = (
        f"Repair: {LABELS[plan.job.way]}. {VERDICTS[judged.verdict].capitalize()}: {judged.reason}. Cause: "
        f"{CAUSES[judged.cause]}."
    )
    left = [claw for claw in claws if _RANK[claw.work] > _REACHES.get(plan.job.way, _RANK[NEW_CLAW])]
    if left:
        text += (
            " Not answered by this way: "
            + ", ".join(f"claw {decision.number} ({WORK[decision.work]})" for decision in left)
            + "."
        )
    return RepairTold(text, tuple(sorted(claws, key=lambda claw: claw.number)))


def repair_lines(plan: Plan) -> tuple[str, ...]:
    """A repair in words: the way out, the verdict and its cause, then what was found claw by claw; () where it is
    none."""
    repair_note = repair_told(plan)
    if repair_note is None:
        return ()
    return repair_note.verdict, *(
        f"Claw {claw.number}: {', '.join(FINDINGS[finding] for finding in claw.findings)} – {WORK[claw.work]}."
        for claw in repair_note.claws
        if claw.work != LEAVE
    )
