"""What is sent out of the house, in the store: on which days it is fetched, what goes, and what is out now."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from msgspec import UNSET
from sqlalchemy import select
from sqlalchemy.orm import Session

from yarvel.clock import local
from yarvel.figures.errors import StoreError
from yarvel.workshop.dockets.accepting import check_text
from yarvel.workshop.storage.rights import GIVE_OUT, WORK
from yarvel.workshop.storage.schema import ChangeRow, DocketRow, TaskRow, TaskTimeRow
from yarvel.workshop.storage.settings import ERRANDS, entries, keep_entry
from yarvel.workshop.storage.task_clocks import stop_clock
from yarvel.workshop.storage.task_states import DONE, OPEN
from yarvel.workshop.work.errands import (
    PACK_MINUTES,
    PREFIX,
    USUAL,
    Errand,
    away_minutes,
    check_errand,
    days_away,
    errand_of,
    errands_from,
    in_place_of,
    stands_for,
)
from yarvel.workshop.work.hours_rows import hours_in
from yarvel.workshop.work.snapshot import Out
from yarvel.workshop.work.standards import label_of, may_be_given_out

if TYPE_CHECKING:
    from yarvel.workshop.storage.connection import Connected


class ErrandStore:
    """The ways out of the house. Every method is one transaction."""

    def __init__(self, store: Connected) -> None:
        self._store = store

    def all(self) -> dict[str, Errand]:
        """What is sent out, by key: when it is fetched, and when it is back."""
        with self._store.transaction() as session:
            return errands_from(entries(session, ERRANDS))

    def keep(self, errand: Errand, seen: Errand | None = None) -> None:
        """Change when something is fetched and how long it is out (StoreError for one that is none, or that was changed
        since it was ``seen``)."""
        check_errand(errand)
        with self._store.transaction() as session:
            self._store.guard(session, GIVE_OUT)
            keep_errand(session, errand, seen)

    def send(
        self, task_id: int, operation: str, note: str = "", at: datetime | None = None, more: Collection[int] = ()
    ) -> None:
        """After this task its docket is sent out: a task more, by its key; still to go there, nothing changes. To
        somebody who does it there, it takes the place of this task, and of ``more`` of the docket's that go with it.

        Raises
        ------
        StoreError : what is not sent; a task that is not there; one that is done, or that no outworker does.
        """
        check_text("note", note)
        with self._store.transaction() as session:
            self._store.guard(session, WORK)
            row, errands = session.get(TaskRow, task_id), errands_from(entries(session, ERRANDS))
            going = errands.get(errand_of(operation))
            if going is not None and going.does_it and row is not None and _is_there(session, row):
                return
            if row is None or row.dropped_at is not None:
                raise StoreError(f"task {task_id}: not in this store: a task of a docket")
            if going is None:
                places = ", ".join(errand.label for errand in errands.values())
                raise StoreError(f"{operation}: nothing is sent there: to {places}")
            opens, when = hours_in(session).opens, at or self._store.now()
            if going.does_it:
                rows = [row, *(other for task_id in more if (other := session.get(TaskRow, task_id)) is not None)]
                self._instead(session, rows, going, opens, when, note)
                return
            mine = select(TaskRow).where(TaskRow.docket_id == row.docket_id, TaskRow.dropped_at.is_(None))
            rows_here = list(session.scalars(mine))
            there = [row_here for row_here in rows_here if errand_of(row_here.operation) == going.key]
            if any(row_here.state != DONE for row_here in there):
                return
            operation = f"{going.operation}-{len(there) + 1}" if there else going.operation
            for one in rows_here:
                one.position += one.position > row.position
            session.add(_packed(row, operation, row.position + 1, going, opens, note))
            self._tell(session, row.docket_id, label_of(operation), None, f"after: {label_of(row.operation)}", when)

    def do_here(self, task_id: int, at: datetime | None = None) -> None:
        """What an outworker was to do is done here after all, by the tasks whose place it took; done already, nothing
        changes.

        Raises
        ------
        StoreError : it has gone, or no outworker was to do it.
        """
        with self._store.transaction() as session:
            self._store.guard(session, WORK)
            row, when = session.get(TaskRow, task_id), at or self._store.now()
            parts = () if row is None else stands_for(row.operation)
            if row is None or not parts:
                raise StoreError(f"task {task_id}: is done here: a task that an outworker is to do")
            if row.dropped_at is not None:
                return
            if row.state == DONE:
                raise StoreError(f"{label_of(row.operation)}: has gone: one that is still here")
            stop_clock(session, row, when)
            row.state, row.dropped_at = OPEN, when
            rows_here = list(session.scalars(select(TaskRow).where(TaskRow.docket_id == row.docket_id)))
            for row_here in rows_here:
                row_here.position += (row_here.position > row.position) * (len(parts) - 1)
            for place, part in enumerate(parts):
                mine = [
                    row_here for row_here in rows_here if row_here.operation == part and row_here.dropped_at is not None
                ]
                back = max(mine, key=lambda one: (one.dropped_at or when, one.id), default=None)
                if back is not None:
                    back.dropped_at, back.position = None, row.position + place
                self._tell(session, row.docket_id, label_of(part), "by an outworker", "here", when)

    def _instead(
        self, session: Session, rows: list[TaskRow], going: Errand, opens: int, when: datetime, note: str
    ) -> None:
        """Tasks leave the board, and one that sends them there takes their place."""
        rows.sort(key=lambda row: (row.position, row.id))
        for row in rows:
            label, other = label_of(row.operation), row.docket_id != rows[0].docket_id
            if row.state == DONE or row.dropped_at is not None or other or not may_be_given_out(row.operation):
                raise StoreError(f"{label}: no {going.label} does that: a task of the bench that is still open")
            stop_clock(session, row, when)
            row.state, row.dropped_at, row.pinned_at = OPEN, when, None
            self._tell(
                session, row.docket_id, label, "here", f"by an {going.label}{f' – {note}' if note else ''}", when
            )
        operation = in_place_of(going, (row.operation for row in rows))
        session.add(_packed(rows[0], operation, rows[0].position, going, opens, note))

    def _tell(
        self, session: Session, docket_id: int, field: str, before: str | None, after: str, when: datetime
    ) -> None:
        change_row = ChangeRow(docket_id=docket_id, at=when, by=self._store.by)
        change_row.field, change_row.before, change_row.after = field, before, after
        session.add(change_row)

    def out_of(self, docket_id: int) -> Out | None:
        """Where out of the house a docket is; None where it is here."""
        with self._store.transaction() as session:
            row = session.get(DocketRow, docket_id)
            outs = [] if row is None else out_now(session, {docket_id: row.number}, local(self._store.now()))
        return outs[0] if outs else None


def keep_errand(session: Session, errand: Errand, seen: Errand | None) -> None:
    """Keep a way out within a transaction; as it was ``seen``, nothing changes."""
    if errand == seen:
        return
    usual = errands_from({})[errand.key].document()
    then = UNSET if seen is None else seen.document()
    keep_entry(session, ERRANDS, errand.key, errand.document(), then, f"to the {errand.label}", usual)


def _packed(row: TaskRow, operation: str, position: int, going: Errand, opens: int, note: str) -> TaskRow:
    """A task that sends a docket out, beside one of the docket's others."""
    task_row = TaskRow(docket_id=row.docket_id, operation=operation, state=OPEN, position=position)
    task_row.standard_minutes, task_row.wait_minutes = PACK_MINUTES, away_minutes(going, opens)
    task_row.station, task_row.note = going.operation, note
    return task_row


def _is_there(session: Session, row: TaskRow) -> bool:
    """Whether a task has gone, or is still to go, to where it is done."""
    query = select(TaskRow.operation).where(TaskRow.docket_id == row.docket_id, TaskRow.dropped_at.is_(None))
    return any(row.operation in stands_for(operation) for operation in session.scalars(query))


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
    labels, hours = {errand.key: errand.label for errand in USUAL}, hours_in(session)
    outs_by_docket: dict[int, Out] = {}
    for docket_id, operation, wait, stopped in session.execute(query):
        if stopped is None:
            continue
        over = local(stopped) + timedelta(minutes=wait)
        if over > now and last[docket_id] < stopped:
            where = labels.get(errand_of(operation), label_of(operation))
            back = local(stopped).date() + timedelta(days=days_away(wait))
            back = next((day for day in (back + timedelta(days=more) for more in range(60)) if hours.of(day)), back)
            outs_by_docket[docket_id] = Out(docket_id, numbers[docket_id], where, back)
    return sorted(outs_by_docket.values(), key=lambda one: (one.back, one.number))
