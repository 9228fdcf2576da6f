"""Tasks in the store: who has what, started and stopped, done, handed on. Nothing is ever removed."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from datetime import datetime
from typing import TYPE_CHECKING, Any

from sqlalchemy import ColumnElement, String, cast, func, or_, select
from sqlalchemy.orm import InstrumentedAttribute, Session

from yarvel.clock import here
from yarvel.figures.errors import StoreError
from yarvel.workshop.dockets.accepting import check_text, check_value
from yarvel.workshop.storage.rights import CHANGE_RULES, GIVE_OUT, WORK
from yarvel.workshop.storage.schema import ChangeRow, DocketRow, PersonRow, TaskRow, TaskTimeRow
from yarvel.workshop.storage.settings import PACE, entries, keep_entry
from yarvel.workshop.storage.task_clocks import stop_clock
from yarvel.workshop.storage.task_states import DONE, OPEN, STARTED
from yarvel.workshop.work.counting import Clocked, clocked
from yarvel.workshop.work.errands import errand_of, stands_for
from yarvel.workshop.work.minutes_store import MinutesStore
from yarvel.workshop.work.standards import LEAST_PACE, MOST_PACE, STANDARDS, Standard, label_of, with_pace
from yarvel.workshop.work.task_standing import put_back, standings
from yarvel.workshop.work.task_sums import loads
from yarvel.workshop.work.tasks import Load, Standing, Task, Wanted

if TYPE_CHECKING:
    from yarvel.workshop.storage.connection import Connected


TASK_COLUMNS: dict[str, InstrumentedAttribute[Any]] = {
    "docket": DocketRow.number,
    "operation": TaskRow.operation,
    "person": PersonRow.name,
    "state": TaskRow.state,
    "standard": TaskRow.standard_minutes,
    "promised": DocketRow.promised_on,
    "note": TaskRow.note,
}
"""What open tasks can be asked for in the order of."""


def _names(word: str) -> ColumnElement[bool]:
    """Whether a task names a word."""
    texts = (DocketRow.number, PersonRow.name, TaskRow.state, TaskRow.note, cast(DocketRow.promised_on, String))
    parts = [key for key, standard in STANDARDS.items() if word in standard.label.casefold()]
    named = [func.coalesce(text, "").icontains(word, autoescape=True) for text in texts]
    return or_(*named, *(TaskRow.operation.startswith(part, autoescape=True) for part in parts))


class TaskStore:
    """The tasks of an open store. Every method is one transaction."""

    def __init__(self, store: Connected) -> None:
        self._store = store

    @property
    def minutes(self) -> MinutesStore:
        """What tasks really took."""
        return MinutesStore(self._store)

    # --- tasks ---------------------------------------------------------------------------------------------------

    def tasks(
        self,
        docket_id: int | None = None,
        person_id: int | None = None,
        with_done: bool = True,
        among: Collection[int] | None = None,
    ) -> list[Task]:
        """Tasks of a docket (or ``among`` several), or of a person, or all; in the order of the work, what is promised
        first before."""
        wanted: list[ColumnElement[bool]] = [] if with_done else [TaskRow.state != DONE]
        wanted += [] if docket_id is None else [TaskRow.docket_id == docket_id]
        wanted += [] if person_id is None else [TaskRow.person_id == person_id]
        wanted += [] if among is None else [TaskRow.docket_id.in_(among)]
        return self._tasks(wanted)

    def page(
        self,
        person_id: int | None = None,
        offset: int = 0,
        limit: int = 200,
        order: tuple[str, bool] | None = None,
        words: Collection[str] = (),
    ) -> list[Task]:
        """Open tasks of all, of a person, or (0) of nobody yet; so many from ``offset`` on, in the same order, or in
        that of one of :data:`TASK_COLUMNS`, falling or not. Only those that name every one of the ``words``: docket,
        part of the work, person, state, promise or note."""
        wanted: list[ColumnElement[bool]] = [TaskRow.state != DONE]
        if person_id is not None:
            wanted.append(TaskRow.person_id == person_id if person_id else TaskRow.person_id.is_(None))
        wanted += [_names(word) for word in words]
        return self._tasks(wanted, offset, limit, order)

    def _tasks(
        self,
        wanted: list[ColumnElement[bool]],
        offset: int = 0,
        limit: int | None = None,
        order: tuple[str, bool] | None = None,
    ) -> list[Task]:
        query = (
            select(TaskRow, DocketRow.number, DocketRow.promised_on, PersonRow.name)
            .join(DocketRow, DocketRow.id == TaskRow.docket_id)
            .outerjoin(PersonRow, PersonRow.id == TaskRow.person_id)
            .where(TaskRow.dropped_at.is_(None))
        )
        if order is not None:
            column = TASK_COLUMNS[order[0]]
            query = query.order_by(column.is_(None), column.desc() if order[1] else column)
        query = query.order_by(DocketRow.promised_on.is_(None), DocketRow.promised_on, DocketRow.id, TaskRow.position)
        query = query.where(*wanted).offset(offset).limit(limit)
        with self._store.transaction() as session:
            rows = session.execute(query).all()
            times = clocked(session, [row[0].id for row in rows], self._store.now())
            return [
                _task(row, number, promised, name, times.get(row.id, Clocked())) for row, number, promised, name in rows
            ]

    def plan_tasks(self, docket_id: int, operations: Sequence[tuple[str, float] | Wanted]) -> list[Task]:
        """Make a docket's tasks these, with their standard minutes, waits and stations, in this order. Tasks begun or
        done stay; open ones that are wanted no more are dropped (and kept). What an outworker has stays there."""
        whole = [Wanted(*operation) for operation in operations]
        check_value("tasks", [list(wanted_task) for wanted_task in whole])
        with self._store.transaction() as session:
            self._store.guard(session, GIVE_OUT)
            now = self._store.now()
            rows_by_operation = {
                row.operation: row
                for row in session.scalars(
                    select(TaskRow).where(TaskRow.docket_id == docket_id, TaskRow.dropped_at.is_(None))
                )
            }
            there = {part: name for name in rows_by_operation for part in stands_for(name)}
            wanted = list(
                dict.fromkeys(there.get(wanted_task.operation, wanted_task.operation) for wanted_task in whole)
            )
            places = _with_errands(wanted, rows_by_operation)
            for one in whole:
                name, row = one.operation, rows_by_operation.get(one.operation)
                if name in there:
                    rows_by_operation[there[name]].position = places[there[name]]
                    continue
                if row is None:
                    row = TaskRow(docket_id=docket_id, operation=name, state=OPEN, note="")
                    row.standard_minutes = one.minutes
                    session.add(row)
                row.position, row.wait_minutes, row.station = places[name], one.wait, one.station
                row.standard_minutes = one.minutes if row.state == OPEN else row.standard_minutes
            for name, row in rows_by_operation.items():
                if name not in wanted and name in places:
                    row.position = places[name]
                elif name not in wanted and row.state == OPEN:
                    row.dropped_at = now
            self._tell(session, docket_id, "tasks", None, ", ".join(map(label_of, wanted)))
        return self.tasks(docket_id)

    def give(self, task_id: int, person_id: int | None, note: str = "", at: datetime | None = None) -> Task:
        """Hand a task to the next pair of hands, or to nobody; a clock that runs is stopped (``at``: when; now)."""
        check_text("note", note)
        with self._store.transaction() as session:
            self._store.guard(session, WORK)
            row = _row(session, task_id)
            before, after = _name(session, row.person_id), _name(session, person_id)
            _check_not_since(session, row, at)
            stop_clock(session, row, at or self._store.now())
            row.person_id = person_id
            row.state = OPEN if row.state == STARTED else row.state
            row.note = note or row.note
            self._tell(
                session, row.docket_id, label_of(row.operation), before, f"{after}{f' – {note}' if note else ''}", at
            )
        return self._one(task_id)

    def start(self, task_id: int, person_id: int, at: datetime | None = None) -> Task:
        """Start the clock (``at``: when; now). A person has one task in hand: whatever else runs for them is stopped.

        Raises
        ------
        StoreError : it is done already, or somebody else has it in hand.
        """
        with self._store.transaction() as session:
            self._store.guard(session, WORK)
            row, now = _row(session, task_id), at or self._store.now()
            if row.state == DONE:
                raise StoreError(f"{label_of(row.operation)}: is done: a task that is still open")
            if row.state == STARTED and row.person_id != person_id:
                raise StoreError(
                    f"{label_of(row.operation)}: {_name(session, row.person_id)} has it in hand: stop it there first"
                )
            for other in session.scalars(
                select(TaskRow).where(TaskRow.person_id == person_id, TaskRow.state == STARTED, TaskRow.id != task_id)
            ):
                stop_clock(session, other, now)
                other.state = OPEN
            if row.state != STARTED:
                session.add(TaskTimeRow(task_id=task_id, person_id=person_id, started_at=now))
                self._tell(
                    session, row.docket_id, label_of(row.operation), None, f"started by {_name(session, person_id)}", at
                )
            row.state, row.person_id = STARTED, person_id
        return self._one(task_id)

    def stop(self, task_id: int, done: bool = False, note: str = "", at: datetime | None = None) -> Task:
        """Stop the clock (``at``: when; now); ``done`` finishes the task.

        Raises
        ------
        StoreError : it was started again since ``at``.
        """
        check_text("note", note)
        with self._store.transaction() as session:
            self._store.guard(session, WORK)
            row = _row(session, task_id)
            _check_not_since(session, row, at)
            stop_clock(session, row, at or self._store.now())
            wanted = DONE if done or row.state == DONE else OPEN
            if (row.state, row.note) != (wanted, note or row.note) or at is None:
                self._tell(session, row.docket_id, label_of(row.operation), None, "done" if done else "stopped", at)
            row.state, row.note = wanted, note or row.note
        return self._one(task_id)

    def drop(self, task_id: int, note: str = "", at: datetime | None = None) -> None:
        """A task is wanted no more: off the board, and kept."""
        check_text("note", note)
        with self._store.transaction() as session:
            self._store.guard(session, WORK)
            row = session.get(TaskRow, task_id)
            if row is None:
                raise StoreError(f"task {task_id}: not in this store: a task of a docket")
            if row.dropped_at is not None:
                return
            stop_clock(session, row, at or self._store.now())
            row.state = OPEN if row.state == STARTED else row.state
            row.note, row.dropped_at = note or row.note, at or self._store.now()
            self._tell(
                session, row.docket_id, label_of(row.operation), None, f"not wanted{f' – {note}' if note else ''}", at
            )

    def tick(self, task_id: int, line: str, ticked: bool) -> Task:
        """Tick off one line of a task's step, or take the tick back."""
        check_text("line", line)
        with self._store.transaction() as session:
            self._store.guard(session, WORK)
            row = _row(session, task_id)
            others = [tick_kept for tick_kept in row.ticks if tick_kept != line]
            row.ticks = [*others, line] if ticked else others
        return self._one(task_id)

    def standings(self, task_ids: Iterable[int]) -> list[Standing]:
        """How these tasks stand, to be put back so."""
        with self._store.transaction() as session:
            return standings(session, task_ids)

    def in_hand(self, person_id: int) -> list[int]:
        """Ids of the tasks that somebody has in hand."""
        with self._store.transaction() as session:
            query = select(TaskRow.id).where(TaskRow.person_id == person_id, TaskRow.state == STARTED)
            return list(session.scalars(query))

    def of_docket(self, docket_id: int) -> list[int]:
        """Ids of all tasks that a docket has or had."""
        with self._store.transaction() as session:
            return list(session.scalars(select(TaskRow.id).where(TaskRow.docket_id == docket_id)))

    def put_back(self, to: Iterable[Standing], seen: Iterable[Standing], why: str, at: datetime | None = None) -> None:
        """Have tasks stand as they did (``why``: what is taken back or done again); StoreError where somebody has
        changed one since it was ``seen``."""
        to, seen = list(to), list(seen)
        with self._store.transaction() as session:
            self._store.guard(session, WORK)
            before = standings(session, [standing.task_id for standing in to])
            put_back(session, to, seen)
            session.flush()
            if standings(session, [standing.task_id for standing in to]) != before:
                for docket_id in session.scalars(
                    select(TaskRow.docket_id).where(TaskRow.id.in_([standing.task_id for standing in to])).distinct()
                ):
                    self._tell(session, docket_id, "tasks", None, why, at)

    def loads(self) -> list[Load]:
        """What everybody has on the bench."""
        with self._store.transaction() as session:
            return loads(session, self._store.now())

    # --- standards -----------------------------------------------------------------------------------------------

    def standards(self) -> dict[str, Standard]:
        """All parts of the work, with the workshop's own pace."""
        with self._store.transaction() as session:
            return with_pace(entries(session, PACE))

    def keep_pace(self, key: str, pace: float) -> None:
        """Change the workshop's pace over a part of the work, in per cent (StoreError where that cannot be)."""
        if key not in STANDARDS or not LEAST_PACE <= pace <= MOST_PACE:
            raise StoreError(
                f"{label_of(key)}: {pace:g} % is not accepted: a part of the work, and {LEAST_PACE:g} to {MOST_PACE:g} "
                "per cent"
            )
        with self._store.transaction() as session:
            self._store.guard(session, CHANGE_RULES)
            keep_entry(session, PACE, key, pace)

    def _one(self, task_id: int) -> Task:
        return self._tasks([TaskRow.id == task_id])[0]

    def _tell(
        self, session: Session, docket_id: int, field: str, before: Any, after: Any, at: datetime | None = None
    ) -> None:
        session.add(
            ChangeRow(
                docket_id=docket_id,
                at=at or self._store.now(),
                by=self._store.by,
                field=field,
                before=before,
                after=after,
            )
        )


def _with_errands(wanted: Sequence[str], held: Mapping[str, TaskRow]) -> dict[str, int]:
    """Places of the tasks that are wanted, and of those that send a piece out, which no plan knows: each after what it
    came after."""
    order, last = list(wanted), ""
    for row in sorted(held.values(), key=lambda one: (one.position, one.id)):
        if row.operation in wanted:
            last = row.operation
        elif errand_of(row.operation) and not stands_for(row.operation):
            order.insert(order.index(last) + 1 if last else 0, row.operation)
            last = row.operation
    return {name: place for place, name in enumerate(order)}


def _row(session: Session, task_id: int) -> TaskRow:
    row = session.get(TaskRow, task_id)
    if row is None or row.dropped_at is not None:
        raise StoreError(f"task {task_id}: not in this store: a task of a docket")
    return row


def _name(session: Session, person_id: int | None) -> str:
    row = None if person_id is None else session.get(PersonRow, person_id)
    return "nobody" if row is None else row.name


def _check_not_since(session: Session, row: TaskRow, at: datetime | None) -> None:
    """Refuse what is done late (it waited) to a task that somebody started after it."""
    if (
        at is not None
        and session.scalars(
            select(TaskTimeRow.id).where(
                TaskTimeRow.task_id == row.id, TaskTimeRow.stopped_at.is_(None), TaskTimeRow.started_at > at
            )
        ).first()
    ):
        raise StoreError(
            f"{label_of(row.operation)}: was started again after {here(at):%H:%M}: stop it anew if it should rest"
        )


def _task(row: TaskRow, number: str, promised: Any, person: str | None, time: Clocked) -> Task:
    return Task(
        id=row.id,
        docket_id=row.docket_id,
        docket_number=number,
        position=row.position,
        operation=row.operation,
        state=row.state,
        person=person or "",
        standard=row.standard_minutes,
        taken=time.stopped,
        running=time.running,
        by_clock=time.by_clock,
        started_at=time.since,
        note=row.note,
        promised="" if promised is None else promised.isoformat(),
        ticks=tuple(row.ticks),
        wait=row.wait_minutes,
        station=row.station,
        pinned_at=row.pinned_at,
    )
