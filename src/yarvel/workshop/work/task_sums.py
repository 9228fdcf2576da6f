"""What the tasks come to, summed by the database: of two hundred thousand, only what is looked at is read."""

from __future__ import annotations

from datetime import date, datetime
from typing import TYPE_CHECKING

from msgspec import Struct
from sqlalchemy import ColumnElement, Float, Subquery, case, func, literal, select, type_coerce
from sqlalchemy.orm import Session

from yarvel.workshop.people.person import Person
from yarvel.workshop.storage.schema import DocketRow, PersonRow, TaskRow, TaskTimeRow
from yarvel.workshop.storage.task_states import DONE, STARTED
from yarvel.workshop.work.standards import label_of
from yarvel.workshop.work.tasks import Load, WorkLeft

if TYPE_CHECKING:
    from yarvel.workshop.storage.connection import Connected


class TaskOverview(Struct, frozen=True):
    """Open tasks: how many, how many of them past their docket's promise or nobody's; what everybody has."""

    open: int
    late: int
    nobodys: int
    loads: list[Load]


def overview(store: Connected, today: date) -> TaskOverview:
    """The board at a glance."""
    now = store.now()
    with store.transaction() as session:
        counts = select(
            func.count(),
            func.sum(case((DocketRow.promised_on < today, 1), else_=0)),
            func.sum(case((TaskRow.person_id.is_(None), 1), else_=0)),
        ).select_from(TaskRow)
        row = session.execute(counts.join(DocketRow, DocketRow.id == TaskRow.docket_id).where(*_open())).one()
        return TaskOverview(row[0] or 0, int(row[1] or 0), int(row[2] or 0), loads(session, now))


def loads(session: Session, now: datetime) -> list[Load]:
    """What everybody has on the bench."""
    taken = _taken(session, now)
    query = (
        select(TaskRow.person_id, func.count(), func.sum(_left(taken)))
        .outerjoin(taken, taken.c.task_id == TaskRow.id)
        .where(*_open(), TaskRow.person_id.is_not(None))
        .group_by(TaskRow.person_id)
    )
    load_by_person = {person: (count, minutes or 0.0) for person, count, minutes in session.execute(query)}
    in_hand = (
        select(TaskRow.person_id, DocketRow.number, TaskRow.operation)
        .join(DocketRow, DocketRow.id == TaskRow.docket_id)
        .where(TaskRow.state == STARTED, TaskRow.dropped_at.is_(None))
    )
    started = {person: f"{number} {label_of(operation)}" for person, number, operation in session.execute(in_hand)}
    people = session.scalars(select(PersonRow).where(PersonRow.left_at.is_(None)).order_by(PersonRow.name))
    return [
        Load(
            Person(row.id, row.name, row.role, tuple(row.skills), bool(row.pin_salt)),
            *load_by_person.get(row.id, (0, 0.0)),
            started.get(row.id, ""),
        )
        for row in people
    ]


def work_left(store: Connected) -> list[WorkLeft]:
    """Minutes still to do by docket and person; one row for all that somebody has of a docket."""
    with store.transaction() as session:
        taken = _taken(session, store.now())
        query = (
            select(TaskRow.docket_id, func.coalesce(PersonRow.name, ""), DocketRow.promised_on, func.sum(_left(taken)))
            .join(DocketRow, DocketRow.id == TaskRow.docket_id)
            .outerjoin(PersonRow, PersonRow.id == TaskRow.person_id)
            .outerjoin(taken, taken.c.task_id == TaskRow.id)
            .where(*_open())
            .group_by(TaskRow.docket_id, PersonRow.name, DocketRow.promised_on)
        )
        return [
            WorkLeft(docket, person, "" if promised is None else promised.isoformat(), minutes or 0.0)
            for docket, person, promised, minutes in session.execute(query)
        ]


class Taken(Struct, frozen=True, kw_only=True):
    """A task that is done and was timed: its part of the work, who did most of it, the cut of its stone, minutes; of
    which docket."""

    operation: str
    person: str
    cut: str
    standard: float
    taken: float
    docket_id: int = 0


def times_lately(store: Connected, most: int = 3000) -> dict[str, list[tuple[float, float]]]:
    """By operation, standard and taken minutes of those of the newest tasks that are done and were timed."""
    with store.transaction() as session:
        newest = session.scalar(select(func.max(TaskRow.id))) or 0
        done = select(TaskRow.id, TaskRow.operation, TaskRow.standard_minutes).where(TaskRow.id > newest - most)
        done = done.where(TaskRow.state == DONE, TaskRow.dropped_at.is_(None))
        tasks = session.execute(done).all()
        minutes = func.sum(_minutes(session, store.now()))
        query = select(TaskTimeRow.task_id, minutes).where(TaskTimeRow.task_id.in_([task for task, _, _ in tasks]))
        taken: dict[int, float] = {
            task: minutes or 0.0 for task, minutes in session.execute(query.group_by(TaskTimeRow.task_id))
        }
    minutes_by_operation: dict[str, list[tuple[float, float]]] = {}
    for task, operation, standard in tasks:
        if taken.get(task, 0.0) > 0:
            minutes_by_operation.setdefault(operation, []).append((standard, taken[task]))
    return minutes_by_operation


def taken_lately(store: Connected, most: int = 20_000, since: datetime | None = None) -> list[Taken]:
    """The newest tasks that are done and were timed (``since`` then), up to so many."""
    with store.transaction() as session:
        minutes = func.sum(_minutes(session, store.now()))
        cut = DocketRow.job_document["stone"]["cut"].as_string()
        done = select(TaskRow.id).where(TaskRow.state == DONE, TaskRow.dropped_at.is_(None))
        newest = done.order_by(TaskRow.id.desc()).limit(most).subquery()
        query = (
            select(TaskRow.operation, PersonRow.name, cut, TaskRow.standard_minutes, minutes, TaskRow.docket_id)
            .join(TaskTimeRow, TaskTimeRow.task_id == TaskRow.id)
            .join(DocketRow, DocketRow.id == TaskRow.docket_id)
            .outerjoin(PersonRow, PersonRow.id == TaskRow.person_id)
            .where(TaskRow.id.in_(select(newest.c.id)), *_later(since))
            .group_by(TaskRow.id, TaskRow.operation, PersonRow.name, cut, TaskRow.standard_minutes, TaskRow.docket_id)
        )
        return [
            Taken(
                operation=operation,
                person=person or "",
                cut=minutes_over or "",
                standard=standard,
                taken=taken,
                docket_id=docket_id,
            )
            for operation, person, minutes_over, standard, taken, docket_id in session.execute(query)
            if taken and taken > 0
        ]


def _later(since: datetime | None) -> tuple[ColumnElement[bool], ...]:
    """Only times that began since then."""
    return () if since is None else (TaskTimeRow.started_at >= since,)


def _open() -> tuple[ColumnElement[bool], ColumnElement[bool]]:
    return TaskRow.state != DONE, TaskRow.dropped_at.is_(None)


def _minutes(session: Session, now: datetime) -> ColumnElement[float]:
    """Minutes of one time; of a clock that runs, up to now."""
    end = func.coalesce(TaskTimeRow.stopped_at, literal(now))
    if session.get_bind().dialect.name == "postgresql":
        return type_coerce(func.extract("epoch", end - TaskTimeRow.started_at) / 60.0, Float)
    days: ColumnElement[float] = func.julianday(end) - func.julianday(TaskTimeRow.started_at)
    return days * 1440.0


def _taken(session: Session, now: datetime) -> Subquery:
    """Minutes taken of each open task that was ever begun."""
    return (
        select(TaskTimeRow.task_id, func.sum(_minutes(session, now)).label("minutes"))
        .join(TaskRow, TaskRow.id == TaskTimeRow.task_id)
        .where(*_open())
        .group_by(TaskTimeRow.task_id)
        .subquery()
    )


def _left(taken: Subquery) -> ColumnElement[float]:
    left = TaskRow.standard_minutes - func.coalesce(taken.c.minutes, 0.0)
    return case((left > 0, left), else_=0.0)
