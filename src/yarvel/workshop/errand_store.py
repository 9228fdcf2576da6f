"""What is sent out of the house, in the store: on which days it is fetched, what goes, and what is out now."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from sqlalchemy import select
from sqlalchemy.orm import Session

from yarvel.figures.errors import StoreError
from yarvel.workshop.accepting import check_text
from yarvel.workshop.day.snapshot import Out, hours_from, local
from yarvel.workshop.errands import (
    PACK_MINUTES,
    PREFIX,
    USUAL,
    Errand,
    away_minutes,
    check_errand,
    days_away,
    errand_of,
    errands_from,
)
from yarvel.workshop.kept_settings import ERRANDS, HOURS, setting
from yarvel.workshop.schema import ChangeRow, DocketRow, SettingRow, TaskRow, TaskTimeRow
from yarvel.workshop.standards import label_of
from yarvel.workshop.tasks import DONE, OPEN
from yarvel.workshop.who_may import GIVE_OUT, WORK

if TYPE_CHECKING:
    from yarvel.workshop.store import Store


class ErrandStore:
    """The ways out of the house. Every method is one transaction."""

    def __init__(self, store: Store) -> None:
        self._store = store

    def all(self) -> dict[str, Errand]:
        """What is sent out, by key: when it is fetched, and when it is back."""
        with self._store.transaction() as session:
            return errands_from(setting(session, ERRANDS))

    def keep(self, errand: Errand) -> None:
        """Change when something is fetched and how long it is out (StoreError for one that is none)."""
        check_errand(errand)
        with self._store.transaction() as session:
            self._store.guard(session, GIVE_OUT)
            value = {**setting(session, ERRANDS), errand.key: errand.document()}
            session.merge(SettingRow(name=ERRANDS, value=value))

    def send(self, task_id: int, operation: str, note: str = "", at: datetime | None = None) -> None:
        """After this task its docket is sent out: a task more, by its key; still to go there, nothing changes
        (StoreError for what is not sent, or a task that is not there)."""
        check_text("note", note)
        with self._store.transaction() as session:
            self._store.guard(session, WORK)
            row, errands = session.get(TaskRow, task_id), errands_from(setting(session, ERRANDS))
            going = errands.get(errand_of(operation))
            if row is None or row.dropped_at is not None:
                raise StoreError(f"task {task_id}: not in this store: a task of a docket")
            if going is None:
                places = ", ".join(one.label for one in errands.values())
                raise StoreError(f"{operation}: nothing is sent there: to {places}")
            mine = select(TaskRow).where(TaskRow.docket_id == row.docket_id, TaskRow.dropped_at.is_(None))
            held = list(session.scalars(mine))
            there = [one for one in held if errand_of(one.operation) == going.key]
            if any(one.state != DONE for one in there):
                return
            operation = f"{going.operation}-{len(there) + 1}" if there else going.operation
            for one in held:
                one.position += one.position > row.position
            made = TaskRow(docket_id=row.docket_id, operation=operation, state=OPEN, position=row.position + 1)
            opens = hours_from(setting(session, HOURS)).opens
            made.standard_minutes, made.wait_minutes = PACK_MINUTES, away_minutes(going, opens)
            made.station, made.note = going.operation, note
            session.add(made)
            told = ChangeRow(docket_id=row.docket_id, at=at or self._store.now(), by=self._store.by)
            told.field, told.before, told.after = label_of(operation), None, f"after: {label_of(row.operation)}"
            session.add(told)

    def out_of(self, docket_id: int) -> Out | None:
        """Where out of the house a docket is; None where it is here."""
        with self._store.transaction() as session:
            row = session.get(DocketRow, docket_id)
            found = [] if row is None else out_now(session, {docket_id: row.number}, local(self._store.now()))
        return found[0] if found else None


def out_now(session: Session, numbers: Mapping[int, str], now: datetime) -> list[Out]:
    """Of these dockets (their numbers by id), what was fetched and is not back yet: nothing of it was begun since."""
    query = (
        select(TaskRow.docket_id, TaskRow.operation, TaskRow.wait_minutes, TaskTimeRow.stopped_at)
        .join(TaskTimeRow, TaskTimeRow.task_id == TaskRow.id)
        .where(TaskRow.docket_id.in_(numbers), TaskTimeRow.stopped_at.is_not(None), TaskRow.dropped_at.is_(None))
        .where(TaskRow.state == DONE, TaskRow.operation.startswith(PREFIX))
        .order_by(TaskTimeRow.stopped_at)
    )
    begun = select(TaskRow.docket_id, TaskTimeRow.started_at).join(TaskTimeRow, TaskTimeRow.task_id == TaskRow.id)
    last: dict[int, datetime] = {}
    for docket_id, started in session.execute(begun.where(TaskRow.docket_id.in_(numbers))):
        last[docket_id] = max(last.get(docket_id, started), started)
    labels, hours = {one.key: one.label for one in USUAL}, hours_from(setting(session, HOURS))
    found: dict[int, Out] = {}
    for docket_id, operation, wait, stopped in session.execute(query):
        if stopped is None:
            continue
        over = local(stopped) + timedelta(minutes=wait)
        if over > now and last[docket_id] < stopped:
            where = labels.get(errand_of(operation), label_of(operation))
            back = local(stopped).date() + timedelta(days=days_away(wait))
            back = next((day for day in (back + timedelta(days=more) for more in range(60)) if hours.of(day)), back)
            found[docket_id] = Out(docket_id, numbers[docket_id], where, back)
    return sorted(found.values(), key=lambda one: (one.back, one.number))
