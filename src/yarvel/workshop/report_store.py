"""What reports ask of an open store, so that a hundred thousand dockets need not be read for the few that count."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import TYPE_CHECKING, Any

from yarvel.workshop.dockets import HANDED_OVER
from yarvel.workshop.standards import Standard, learned
from yarvel.workshop.tasks import FRONT_DESK, WorkLeft

if TYPE_CHECKING:
    from yarvel.workshop.store import Store


@dataclass(frozen=True)
class OpenDocket:
    """A docket that has not left, as far as reports go."""

    id: int
    number: str
    customer: str
    item: str
    promised_on: date | None
    state: str


@dataclass(frozen=True)
class ChartedDocket:
    """What was found on a head that came back, and the job that says which head it is."""

    claw_chart: dict[str, Any]
    job_document: dict[str, Any]


@dataclass(frozen=True)
class Reported:
    """Everything the reports are made from: open dockets, those with a claw chart, the work left, times over standard
    by operation and how many they rest on, the parts of the work, how many people work at a bench."""

    open: list[OpenDocket]
    charted: list[ChartedDocket]
    work: list[WorkLeft]
    ratios: dict[str, float]
    counts: dict[str, int]
    standards: dict[str, Standard]
    benches: int


def reported(store: Store) -> Reported:
    """Ask the store for all that the reports want."""
    from sqlalchemy import Text, cast, select

    from yarvel.workshop.schema import DocketRow
    from yarvel.workshop.task_sums import times_over_standard, work_left

    times = times_over_standard(store)
    found = {name: learned(taken) for name, taken in times.items()}
    ratios = {name: ratio for name, ratio in found.items() if ratio is not None}
    benches = sum(person.role != FRONT_DESK for person in store.people.all())
    row = DocketRow
    still_here = select(row.id, row.number, row.customer, row.item, row.promised_on, row.state)
    charts = select(row.claw_chart, row.job_document).where(cast(row.claw_chart, Text).not_in(("{}", "null")))
    charts = charts.where(row.withdrawn == "")
    with store.transaction() as session:
        here = [
            OpenDocket(*held)
            for held in session.execute(still_here.where(row.state != HANDED_OVER, row.withdrawn == ""))
        ]
        charted = [ChartedDocket(dict(chart), dict(job)) for chart, job in session.execute(charts)]
    counts = {name: len(times[name]) for name in ratios}
    return Reported(here, charted, work_left(store), ratios, counts, store.tasks.standards(), benches)
