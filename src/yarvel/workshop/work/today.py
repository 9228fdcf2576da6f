"""What a morning asks, from the plan that stands: who is late and to be called, what each begins with, what leaves the
house and by when it is packed, who comes for what, what waits for an answer."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date

from msgspec import Struct
from sqlalchemy import select

from yarvel.clock import local
from yarvel.workshop.dockets.records import ON_HOLD, READY, Docket
from yarvel.workshop.dockets.rows import docket_of
from yarvel.workshop.storage.connection import Connected
from yarvel.workshop.storage.schema import DocketRow
from yarvel.workshop.work.day_reading import DayPlan, Outcome
from yarvel.workshop.work.errands import errand_of
from yarvel.workshop.work.standards import label_of
from yarvel.workshop.work.tasks import Task

_FIRST = 4
"""Tasks a person's strip has at the most."""


class Entry(Struct, frozen=True, kw_only=True):
    """One line: when, of which docket, what, and who or how to reach them."""

    docket_id: int
    number: str
    when: str
    what: str
    who: str = ""


class Strip(Struct, frozen=True):
    """What somebody begins with, first things first."""

    name: str
    entries: tuple[Entry, ...]


class Today(Struct, frozen=True, kw_only=True):
    """The day in one look."""

    day: date
    late: tuple[Entry, ...]
    strips: tuple[Strip, ...]
    leaves: tuple[Entry, ...]
    returns: tuple[Entry, ...]
    fetched: tuple[Entry, ...]
    waits: tuple[Entry, ...]


def ready_and_waiting(store: Connected) -> tuple[list[Docket], list[Docket]]:
    """Dockets that are ready to be fetched, and those on hold: they wait for somebody's answer."""
    query = select(DocketRow).where(DocketRow.state.in_((READY, ON_HOLD)), DocketRow.withdrawn == "")
    with store.transaction() as session:
        dockets = [docket_of(row) for row in session.scalars(query.order_by(DocketRow.id))]
    return [one for one in dockets if one.state == READY], [one for one in dockets if one.state == ON_HOLD]


def today_of(
    plan: DayPlan, ready: Sequence[Docket], on_hold: Sequence[Docket], contacts: Mapping[str, str], day: date
) -> Today:
    """The day of a plan; ``ready`` and ``on_hold`` dockets that stand so, ``contacts`` by customer's name."""
    strips = []
    for place, person in enumerate(plan.reading.people):
        if person is None:  # hands that are still to be found
            continue
        mine = [bar for bar in plan.bars_of(place) if bar.begins.date() == day and bar.piece == 0]
        entries = tuple(
            Entry(
                docket_id=bar.job.docket.id,
                number=bar.job.docket.number,
                when="in hand" if bar.running else f"{bar.begins:%-H:%M}",
                what=" · ".join(filter(None, (label_of(bar.job.operation), bar.job.docket.item))),
                who=bar.job.docket.stone,
            )
            for bar in mine[:_FIRST]
        )
        strips.append(Strip(person.name, entries))
    return Today(
        day=day,
        late=tuple(_late(outcome, contacts) for outcome in plan.late),
        strips=tuple(strips),
        leaves=tuple(
            Entry(
                docket_id=bar.job.docket.id,
                number=bar.job.docket.number,
                when=f"packed by {bar.ends:%-H:%M}",
                what=label_of(bar.job.operation),
                who=plan.reading.shop.hands[bar.hands].name,
            )
            for bar in plan.bars
            if errand_of(bar.job.operation) and bar.begins.date() == day
        ),
        returns=tuple(
            Entry(docket_id=out.docket_id, number=out.number, when="today", what=f"back from {out.where}")
            for out in plan.reading.out
            if out.back == day
        ),
        fetched=tuple(_fetched(docket, contacts, day) for docket in sorted(ready, key=_promised)),
        waits=(
            *(_still(task) for task in left_running(plan, day)),
            *(
                Entry(
                    docket_id=docket.id,
                    number=docket.number,
                    when="" if docket.promised_on is None else f"promised {docket.promised_on:%a %-d %b}",
                    what=docket.item,
                    who=_reached(docket.customer, contacts),
                )
                for docket in sorted(on_hold, key=_promised)
            ),
        ),
    )


def left_running(plan: DayPlan, day: date) -> list[Task]:
    """What is in hand by a clock that was started before this day, the first first: whoever has it is asked."""
    tasks = [job.task for job in plan.reading.jobs.values() if job.task is not None]
    running = [(task.started_at, task) for task in tasks if task.started_at is not None]
    return [task for started, task in sorted(running, key=lambda pair: pair[0]) if local(started).date() < day]


def _still(task: Task) -> Entry:
    since = "" if task.started_at is None else f"since {local(task.started_at):%a %-H:%M}"
    return Entry(
        docket_id=task.docket_id,
        number=task.docket_number,
        when=since,
        what=f"{task.label}: still at it? {task.running:.0f} minutes count",
        who=task.person,
    )


def _late(outcome: Outcome, contacts: Mapping[str, str]) -> Entry:
    docket = outcome.docket
    promised = "" if docket.promised is None else f"promised {docket.promised:%a %-d %b}, "
    return Entry(
        docket_id=docket.id,
        number=docket.number,
        when=f"{promised}ready {outcome.ready:%a %-d %b}",
        what=docket.item,
        who=_reached(docket.customer, contacts),
    )


def _fetched(docket: Docket, contacts: Mapping[str, str], day: date) -> Entry:
    promised = docket.promised_on
    when = "" if promised is None else "today" if promised == day else f"promised {promised:%a %-d %b}"
    return Entry(
        docket_id=docket.id,
        number=docket.number,
        when=when,
        what=docket.item,
        who=_reached(docket.customer, contacts),
    )


def _promised(docket: Docket) -> tuple[date, str]:
    return docket.promised_on or date.max, docket.number


def _reached(customer: str, contacts: Mapping[str, str]) -> str:
    contact = contacts.get(customer, "")
    return f"{customer}, {contact}" if customer and contact else customer or contact
