"""The work of a docket: its plan's route; of one with a claw chart and a chosen way out, that repair's."""

from __future__ import annotations

from msgspec import Struct
from msgspec.structs import replace

from yarvel.figures.custom import PREFIX
from yarvel.figures.errors import JobError
from yarvel.figures.rules import HouseRules
from yarvel.metals.alloys import alloys_of
from yarvel.planning.diagnostics.diagnostic import Diagnostic
from yarvel.planning.job import WAYS, from_document, is_measured
from yarvel.planning.plan import Plan
from yarvel.planning.plan import plan as planned
from yarvel.planning.repair import judge_head
from yarvel.planning.weighing import weighed
from yarvel.route.card import CHECK, LABELS, Section, sections, tasks
from yarvel.route.checks import checks
from yarvel.route.diagnostics import all_diagnostics
from yarvel.route.running import Route, route_of
from yarvel.route.ways import repaired
from yarvel.workshop.dockets.claw_chart import found_on
from yarvel.workshop.dockets.records import Docket
from yarvel.workshop.work.standards import base_of

CHECK_CAUTION = "What fails goes back with a reason; nothing is handed over unchecked without a name and a reason."


class Work(Struct, frozen=True):
    """The plan that the work is told from (a repair's own) and its route."""

    plan: Plan
    route: Route


class TaskCard(Struct, frozen=True):
    """What a task says: lines with the marks that their ticks are kept as, and its caution."""

    name: str
    lines: tuple[tuple[str, str], ...]
    caution: str = ""


def way_of(docket: Docket) -> str:
    """The way out chosen on the claw chart, by its key; "" where none was. What was chosen under a name counts."""
    chosen = str(docket.claw_chart.get("chosen", ""))
    if chosen in WAYS:
        return chosen
    return FORMER_WAYS.get(chosen, "")


FORMER_WAYS: dict[str, str] = {
    "Tighten": "tighten",
    "Re-tip": "re-tip",
    "New claws": "new-claws",
    "New head from the drawer": "new-head-bought",
    "New head by hand": "new-head-made",
}
"""By what a way out was named in charts before it had a key. Never changed."""


def metal_as_tested(docket: Docket, rules: HouseRules) -> str | None:
    """The alloy that a docket's metal was tested to be, where its words name one; None where they do not."""
    words = " ".join(docket.metal.casefold().replace("-", " ").split())
    for alloy in alloys_of(rules).values():
        names = (alloy.key.removeprefix(PREFIX).replace("-", " "), " ".join(alloy.label.casefold().split()))
        if words and words.startswith(names):
            return alloy.key
    return None


def work_of(plan: Plan, docket: Docket, rules: HouseRules) -> Work:
    """The work of a docket from its plan."""
    way = way_of(docket)
    if not way or not plan.shape.places:
        return Work(plan, route_of(plan))
    claw_findings = found_on(docket, len(plan.shape.places))
    job = repaired(
        plan, claw_findings, judge_head(plan, claw_findings, rules).claws, way, metal_as_tested(docket, rules)
    )
    plan_made = planned(job, rules, samples=0)
    if job.head == plan.job.head:
        plan_made = replace(plan_made, volumes=plan.volumes)
    elif plan.volumes:
        plan_made = weighed(plan_made)
    return Work(plan_made, route_of(plan_made))


_WEIGHED = ("stock", "new-head-made", CHECK)
"""Parts of the work that say grams, which closed bodies tell: for these they are built, a second or so."""


def told_of(key: str, docket: Docket, rules: HouseRules) -> TaskCard | None:
    """What a task of this part of the work says; None where the docket cannot be planned or has none."""
    if not is_measured(docket.job_document.get("stone") or {}):
        return None
    try:
        plan = planned(from_document(docket.job_document), rules, samples=0)
        work = work_of(weighed(plan) if base_of(key) in _WEIGHED else plan, docket, rules)
    except JobError:
        return None
    if key == CHECK:
        return TaskCard(LABELS[CHECK], tuple((check.mark, check.text) for check in checks(work.plan)), CHECK_CAUTION)
    card_sections = sections(work.route, work.plan, once=False)
    section: Section | None = next((task for task in (*tasks(card_sections), *card_sections) if task.key == key), None)
    return (
        None
        if section is None
        else TaskCard(section.name, tuple((line.mark, line.text) for line in section.lines), section.caution)
    )


def work_calls(plan: Plan, docket: Docket | None, rules: HouseRules) -> list[Diagnostic]:
    """Everything that is to be said of a plan and of the work on it, worst first."""
    work = Work(plan, route_of(plan)) if docket is None else work_of(plan, docket, rules)
    return all_diagnostics(plan, work.route)
