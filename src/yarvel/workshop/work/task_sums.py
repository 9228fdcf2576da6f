"""What the tasks come to: summed by the database as far as nobody has begun them, and by what counts of their clocks
(``counting``) where somebody has; of two hundred thousand, only what is looked at is read."""

from __future__ import annotations

from datetime import date, datetime
from typing import TYPE_CHECKING

from msgspec import Struct
from sqlalchemy import ColumnElement, case, func, or_, select
from sqlalchemy.orm import Session

from yarvel.workshop.people.person import Person
from yarvel.workshop.storage.schema import DocketRow, PersonRow, TaskRow, TaskTimeRow
from yarvel.workshop.storage.task_states import DONE, STARTED
from yarvel.workshop.work.counting import clocked
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
    query = select(TaskRow.person_id, func.count(), func.sum(TaskRow.standard_minutes)).where(*_open())
    of_people = query.where(TaskRow.person_id.is_not(None)).group_by(TaskRow.person_id)
    load_by_person = {person: (count, minutes or 0.0) for person, count, minutes in session.execute(of_people)}
    for task, took in _begun(session, now):
        if task.person_id is not None:
            count, minutes = load_by_person[task.person_id]
            load_by_person[task.person_id] = count, max(minutes - min(took, task.standard_minutes), 0.0)
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
        query = (
            select(
                TaskRow.docket_id,
                func.coalesce(PersonRow.name, ""),
                DocketRow.promised_on,
                func.sum(TaskRow.standard_minutes),
            )
            .join(DocketRow, DocketRow.id == TaskRow.docket_id)
            .outerjoin(PersonRow, PersonRow.id == TaskRow.person_id)
            .where(*_open())
            .group_by(TaskRow.docket_id, PersonRow.name, DocketRow.promised_on)
        )
        names = {row.id: row.name for row in session.scalars(select(PersonRow))}
        took_by: dict[tuple[int, str], float] = {}
        for task, took in _begun(session, store.now()):
            key = task.docket_id, "" if task.person_id is None else names.get(task.person_id, "")
            took_by[key] = took_by.get(key, 0.0) + min(took, task.standard_minutes)
        return [
            WorkLeft(
                docket,
                person,
                "" if promised is None else promised.isoformat(),
                max((minutes or 0.0) - took_by.get((docket, person), 0.0), 0.0),
            )
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
        taken = clocked(session, [task for task, _, _ in tasks], store.now())
    minutes_by_operation: dict[str, list[tuple[float, float]]] = {}
    for task, operation, standard in tasks:
        if task in taken and taken[task].minutes > 0:
            minutes_by_operation.setdefault(operation, []).append((standard, taken[task].minutes))
    return minutes_by_operation


def taken_lately(store: Connected, most: int = 20_000, since: datetime | None = None) -> list[Taken]:
    """The newest tasks that are done and were timed (``since`` then), up to so many."""
    with store.transaction() as session:
        cut = DocketRow.job_document["stone"]["cut"].as_string()
        query = (
            select(TaskRow.id, TaskRow.operation, PersonRow.name, cut, TaskRow.standard_minutes, TaskRow.docket_id)
            .join(DocketRow, DocketRow.id == TaskRow.docket_id)
            .outerjoin(PersonRow, PersonRow.id == TaskRow.person_id)
            .where(TaskRow.state == DONE, TaskRow.dropped_at.is_(None))
            .order_by(TaskRow.id.desc())
            .limit(most)
        )
        if since is not None:
            begun = select(TaskTimeRow.task_id).where(TaskTimeRow.started_at >= since)
            query = query.where(or_(TaskRow.id.in_(begun), TaskRow.corrected_at >= since))
        tasks = session.execute(query).all()
        taken = clocked(session, [task[0] for task in tasks], store.now(), since)
        return [
            Taken(
                operation=operation,
                person=person or "",
                cut=cut_key or "",
                standard=standard,
                taken=taken[task_id].minutes,
                docket_id=docket_id,
            )
            for task_id, operation, person, cut_key, standard, docket_id in tasks
            if task_id in taken and taken[task_id].minutes > 0
        ]


def _open() -> tuple[ColumnElement[bool], ColumnElement[bool]]:
    return TaskRow.state != DONE, TaskRow.dropped_at.is_(None)


def _begun(session: Session, now: datetime) -> list[tuple[TaskRow, float]]:
    """Open tasks that somebody began, and the minutes that they took up to now."""
    timed = select(TaskTimeRow.task_id).where(TaskTimeRow.task_id == TaskRow.id).exists()
    rows = session.scalars(select(TaskRow).where(*_open(), or_(timed, TaskRow.corrected_at.is_not(None)))).all()
    taken = clocked(session, [row.id for row in rows], now)
    return [(row, taken[row.id].minutes) for row in rows if row.id in taken]
