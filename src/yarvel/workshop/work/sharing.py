"""Whether tasks of several dockets can be done at once, in one heat or casting, and why not."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import TYPE_CHECKING, Any

from yarvel.metals.alloys import ALLOYS
from yarvel.workshop.storage.task_states import DONE, STARTED
from yarvel.workshop.work.standards import base_of, label_of

if TYPE_CHECKING:
    from yarvel.workshop.work.day_reading import DayPlan

SHARED_HEAT = ("solder", "out-caster")
"""Parts of the work by which dockets share a heat."""
REACH_DAYS = 1
"""Open days that the first of what is done together waits for the last at the most: over a night (a rule of the
house)."""


def alloy_of(document: Mapping[str, Any]) -> str:
    """What a job's head is made of; "" where it has none."""
    head = document.get("head")
    return str(head.get("metal") or "") if isinstance(head, Mapping) else ""


def why_not_one_alloy(alloys: Mapping[str, str]) -> str:
    """Why these dockets (by number, with the alloy of each) cannot share a heat; "" where they can."""
    of_alloy: dict[str, str] = {}
    for number, alloy in sorted(alloys.items()):
        if alloy:
            of_alloy.setdefault(alloy, number)
    if len(of_alloy) < 2:
        return ""
    labels = {alloy: ALLOYS[alloy].label if alloy in ALLOYS else alloy for alloy in of_alloy}
    told = ", ".join(f"{number} of {labels[alloy]}" for alloy, number in of_alloy.items())
    return f"{told}: one alloy in a heat or a casting"


def why_not_together(plan: DayPlan, keys: Sequence[int]) -> str:
    """Why tasks of a plan, by key, cannot be done together; "" where they can. One alone is no reason."""
    jobs = [plan.reading.jobs[key] for key in keys]
    if len(jobs) < 2:
        return ""
    parts = sorted({label_of(job.operation).casefold() for job in jobs})
    if len({base_of(job.operation) for job in jobs}) > 1:
        return f"{' and '.join(parts)} are not the same work"
    if len({job.docket.id for job in jobs}) < len(jobs):
        return "two of them are of one docket"
    for job in jobs:
        if job.task is None:
            return f"{job.docket.number} has no tasks yet"
        if job.task.state in (STARTED, DONE):
            return f"{job.docket.number} is in hand already"
    if base_of(jobs[0].operation) in SHARED_HEAT:
        alloys = why_not_one_alloy({job.docket.number: job.docket.alloy for job in jobs})
        if alloys:
            return alloys
    first, sooner = min((bar.begins, bar.job.docket.number) for bar in plan.bars if bar.job.key in keys)
    last, later = max((_ready(plan, job.key, job.docket.id), job.docket.number) for job in jobs)
    if plan.reading.shop.axis.hours.open_days(first.date(), last.date()) > REACH_DAYS:
        return f"{sooner} comes on {first:%a %-d %b}, {later} is not ready for it before {last:%a %-d %b}"
    return ""


def _ready(plan: DayPlan, key: int, docket_id: int) -> datetime:
    """When what comes before a task in its docket is over by the plan, and waited for."""
    axis = plan.reading.shop.axis
    ready = plan.reading.now
    for order in plan.reading.shop.orders:
        if order.key == docket_id:
            ready = order.release
            for step in order.steps:
                if step.task == key:
                    break
                ready = int(axis.after(step.wait)[plan.plan[step.key].start + step.slots])
    return axis.moment_of(min(ready, axis.size - 1))
