"""How tasks stand, to be put back as they were: what undo on the board is made of."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from yarvel.figures.errors import StoreError
from yarvel.workshop.storage.schema import TaskRow, TaskTimeRow
from yarvel.workshop.storage.task_clocks import stop_clock
from yarvel.workshop.storage.task_states import OPEN, STARTED
from yarvel.workshop.work.tasks import Standing


def standings(session: Session, task_ids: Iterable[int]) -> list[Standing]:
    """How these tasks stand now."""
    wanted = sorted(set(task_ids))
    clocks = {}
    times = select(TaskTimeRow).where(TaskTimeRow.task_id.in_(wanted)).order_by(TaskTimeRow.started_at, TaskTimeRow.id)
    for time in session.scalars(times):
        if time.stopped_at == time.started_at:
            continue  # counts nothing: taken back
        clocks[time.task_id] = time
    rows = session.scalars(select(TaskRow).where(TaskRow.id.in_(wanted)).order_by(TaskRow.id))
    return [_standing(row, clocks.get(row.id)) for row in rows]


def put_back(session: Session, to: Iterable[Standing], seen: Iterable[Standing]) -> None:
    """Have tasks stand as ``to`` says; done already, nothing changes.

    Clocks are never forgotten: one that was started since counts nothing, one that was stopped since runs on.

    Raises
    ------
    StoreError : somebody has changed one of them since it was ``seen``.
    """
    left = {standing.task_id: standing for standing in seen}
    wanted = {standing.task_id: standing for standing in to}
    now = {standing.task_id: standing for standing in standings(session, wanted)}
    for task_id, target in wanted.items():
        row = session.get(TaskRow, task_id)
        here = now.get(task_id)
        if row is None or here is None:
            raise StoreError(f"task {task_id}: not in this store: a task of a docket")
        if here == target:
            continue
        if here != left.get(task_id):
            raise StoreError(f"{row.operation}: somebody has changed it since: look at it again, and do it anew")
        row.position, row.state, row.person_id = target.position, target.state, target.person_id
        row.standard_minutes, row.note, row.ticks = target.minutes, target.note, list(target.ticks)
        row.dropped_at, row.pinned_at = _moment(target.dropped_at), _moment(target.pinned_at)
        row.corrected_minutes, row.corrected_at = target.corrected_minutes, _moment(target.corrected_at)
        _set_clocks(session, target)


def leave_or_return(session: Session, docket_id: int, now: datetime, leaves: bool) -> None:
    """A docket is put aside, and its open tasks leave the board with it; or it is back, and so are those that left."""
    tasks = select(TaskRow).where(TaskRow.docket_id == docket_id)
    if leaves:
        for row in session.scalars(tasks.where(TaskRow.dropped_at.is_(None))):
            stop_clock(session, row, now)
            row.state = OPEN if row.state == STARTED else row.state
            row.dropped_at = now
        return
    gone = list(session.scalars(tasks.where(TaskRow.dropped_at.is_not(None))))
    last = max((row.dropped_at for row in gone if row.dropped_at is not None), default=None)
    for row in gone:
        if row.dropped_at == last:
            row.dropped_at = None


def _set_clocks(session: Session, target: Standing) -> None:
    """The clock that ran last is as it was; those started since count nothing."""
    kept = _moment(target.started_at)
    for time in session.scalars(select(TaskTimeRow).where(TaskTimeRow.task_id == target.task_id)):
        if kept is None or time.started_at > kept:
            time.stopped_at = time.started_at
        elif time.started_at == kept:
            time.stopped_at = _moment(target.stopped_at)


def _standing(row: TaskRow, clock: TaskTimeRow | None) -> Standing:
    return Standing(
        task_id=row.id,
        position=row.position,
        state=row.state,
        person_id=row.person_id,
        minutes=row.standard_minutes,
        note=row.note,
        ticks=tuple(row.ticks),
        dropped_at=_text(row.dropped_at),
        started_at=None if clock is None else _text(clock.started_at),
        stopped_at=None if clock is None else _text(clock.stopped_at),
        pinned_at=_text(row.pinned_at),
        corrected_minutes=row.corrected_minutes,
        corrected_at=_text(row.corrected_at),
    )


def _text(moment: datetime | None) -> str | None:
    return None if moment is None else moment.isoformat()


def _moment(text: str | None) -> datetime | None:
    return None if text is None else datetime.fromisoformat(text)
