"""The plan of the day in the store: opening hours, absences, stations, what is pinned, and the plan that was shown."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from datetime import date, datetime, timedelta
from typing import Any

from sqlalchemy import case, func, select
from sqlalchemy.orm import Session

from yarvel.clock import kept, local
from yarvel.figures.errors import StoreError
from yarvel.workshop.dockets.records import HANDED_OVER, ON_HOLD, READY
from yarvel.workshop.people.people_store import PeopleStore
from yarvel.workshop.storage.rights import GIVE_OUT, WORK
from yarvel.workshop.storage.schema import ActRow, ChangeRow, DocketRow, TaskRow, TaskTimeRow
from yarvel.workshop.storage.settings import ERRANDS, TOGETHER, alone, entries, keep_entry
from yarvel.workshop.storage.task_clocks import stop_clock
from yarvel.workshop.storage.task_states import DONE, OPEN, STARTED
from yarvel.workshop.work.day_reading import docket_of_bare
from yarvel.workshop.work.errand_store import ErrandStore, out_now
from yarvel.workshop.work.errands import errands_from
from yarvel.workshop.work.hours_rows import absences_in, check_works_here, hours_in, name_of, own_weeks_in, stations_in
from yarvel.workshop.work.hours_store import HoursStore
from yarvel.workshop.work.kept_plan import KEEP_PLAN, KeptPlan, plan_that_stands
from yarvel.workshop.work.sharing import SHARED_HEAT, alloy_of, why_not_one_alloy
from yarvel.workshop.work.snapshot import Brief, Past, Snapshot, brief_of
from yarvel.workshop.work.standards import base_of, label_of, learnt
from yarvel.workshop.work.task_store import TaskStore
from yarvel.workshop.work.task_sums import times_lately

_NEWEST = 3000
"""Of how many of the newest tasks their spread is learnt, and among how many times today's are looked for."""
_NOT_PLANNED = (READY, HANDED_OVER, ON_HOLD)
"""States in which no hand is wanted."""


class DayStore(HoursStore):
    """What the plan of the day is made of. Every method is one transaction."""

    @property
    def errands(self) -> ErrandStore:
        """What is sent out of the house."""
        return ErrandStore(self._store)

    # --- pins ------------------------------------------------------------------------------------------------------

    def pin(
        self,
        task_id: int,
        person_id: int | None,
        begins: str | None,
        at: datetime | None = None,
        seen: Sequence[str | None] | None = None,
    ) -> None:
        """Set a task to somebody, and to begin then (ISO text, UTC); None frees it of that. A clock that runs for
        somebody else is stopped (``at``: when; now). ``seen``: who had it by name, and when it was to begin.

        Raises
        ------
        StoreError : there is no such task, it is done, or somebody else has set it otherwise since it was seen.
        """
        with self._store.transaction() as session:
            self._store.guard(session, WORK)
            row = session.get(TaskRow, task_id, with_for_update=True)
            if row is None or row.dropped_at is not None:
                raise StoreError(f"task {task_id}: not in this store: a task of a docket")
            if row.state == DONE:
                raise StoreError(f"{label_of(row.operation)}: is done: a task that is still open")
            if person_id is not None:
                check_works_here(session, person_id)
            if seen is not None:
                _check_as_seen(session, row, seen, self._store.by)
            if row.person_id != person_id:
                stop_clock(session, row, at or self._store.now())
                row.state = OPEN if row.state == STARTED else row.state
            row.person_id = person_id
            row.pinned_at = None if begins is None else datetime.fromisoformat(begins)
            who = "nobody" if person_id is None else name_of(session, person_id)
            when = "" if row.pinned_at is None else f", from {local(row.pinned_at):%d %b %H:%M}"
            change_row = ChangeRow(docket_id=row.docket_id, at=at or self._store.now(), by=self._store.by)
            change_row.field, change_row.before, change_row.after = label_of(row.operation), None, f"set to {who}{when}"
            session.add(change_row)

    def join(self, task_ids: Collection[int], apart: bool, at: datetime | None = None) -> None:
        """These tasks of several dockets are done together, in one heat or casting; ``apart``: each by itself again.
        Told in the history of every docket; done already, nothing changes.

        Raises
        ------
        StoreError : fewer than two, one that is done or not there, two of one docket, or not the same work.
        """
        wanted, when = sorted(set(task_ids)), at or self._store.now()
        with self._store.transaction() as session:
            self._store.guard(session, GIVE_OUT)
            rows = list(session.scalars(select(TaskRow).where(TaskRow.id.in_(wanted), TaskRow.dropped_at.is_(None))))
            alone(session, TOGETHER)
            groups = together_in(session)
            if (tuple(wanted) in groups) != apart:
                return
            if not apart:
                _check_alike(wanted, rows)
                _check_one_alloy(session, rows)
                _check_free(session, wanted, groups)
            for task_id in wanted:
                keep_entry(session, TOGETHER, str(task_id), None if apart else session.info["act"])
            numbers = {row.docket_id: _number(session, row.docket_id) for row in rows}
            for row in rows:
                others = ", ".join(number for docket, number in numbers.items() if docket != row.docket_id)
                change_row = ChangeRow(
                    docket_id=row.docket_id, at=when, by=self._store.by, field=label_of(row.operation)
                )
                change_row.before, change_row.after = None, "by itself again" if apart else f"together with {others}"
                session.add(change_row)

    # --- the plan shown ----------------------------------------------------------------------------------------------

    @property
    def kept(self) -> KeptPlan:
        """The plan that stands."""
        return KeptPlan(self._store)

    def ready(self) -> dict[int, date]:
        """By docket, the day on which the plan that was shown has it done; those that it does not know are left out."""
        with self._store.transaction() as session:
            shown = _shown(session)
            stored_ones = [key for key in shown if key > 0]
            query = select(TaskRow.id, TaskRow.docket_id).where(TaskRow.id.in_(stored_ones))
            of: dict[int, int] = {row.id: row.docket_id for row in session.execute(query)}
        ready_days: dict[int, date] = {}
        for key, pieces in shown.items():
            docket = of.get(key) if key > 0 else docket_of_bare(key)
            if docket is not None and pieces:
                day = datetime.fromisoformat(str(pieces[-1][1])).date()
                ready_days[docket] = max(ready_days.get(docket, day), day)
        return ready_days

    def begins(self, task_id: int) -> datetime | None:
        """When a task begins by the plan that was shown (local); None where that does not know it."""
        with self._store.transaction() as session:
            pieces = _shown(session).get(task_id)
        return datetime.fromisoformat(str(pieces[0][1])) if pieces else None

    def bare_minutes(self) -> dict[int, float]:
        """By docket whose work nobody has given out, the minutes that the plan that was shown takes it to be."""
        with self._store.transaction() as session:
            minutes_shown = plan_that_stands(session).get("minutes")
        return (
            {int(key): float(minutes) for key, minutes in minutes_shown.items()}
            if isinstance(minutes_shown, dict)
            else {}
        )

    # --- everything at once ----------------------------------------------------------------------------------------

    def snapshot(self, today: date | None = None, also: int = 0) -> Snapshot:
        """Everything that a plan is made of, as it is now; ``today`` instead of the clock's day, for a made-up one. Of
        more than ``MOST_PLANNED`` open dockets, those in hand or pinned (and ``also``), then those promised first."""
        store = self._store
        with store.transaction() as session:
            planned, left_out = _planned(session, also)
        people, tasks = PeopleStore(store).all(), TaskStore(store).tasks(with_done=False, among=planned)
        timed: dict[str, list[tuple[float, float]]] = {}
        for operation, times in times_lately(store, _NEWEST).items():
            timed.setdefault(base_of(operation), []).extend(times)
        known = {part: learnt(times) for part, times in timed.items()}
        spreads = {
            part: learnt_pace.spread
            for part, learnt_pace in known.items()
            if learnt_pace is not None and learnt_pace.spread > 0
        }
        with store.transaction() as session:
            rows = session.execute(
                select(*(getattr(DocketRow, name) for name in _BRIEF)).where(DocketRow.id.in_(planned))
            ).all()
            briefs = {row.id: brief_of(row) for row in rows}
            having = select(TaskRow.docket_id).where(TaskRow.docket_id.in_(briefs), TaskRow.dropped_at.is_(None))
            dockets_with_tasks = set(session.scalars(having.distinct()))
            now = local(store.now())
            if today is not None:
                now = datetime.combine(today, now.time())
            return Snapshot(
                now=now,
                people=tuple(people),
                tasks=tuple(task for task in tasks if task.docket_id in briefs),
                dockets=tuple(briefs.values()),
                bare=frozenset(briefs.keys() - dockets_with_tasks),
                free_from=_free_from(session, briefs),
                hours=hours_in(session),
                stations=stations_in(session),
                absences=tuple(absences_in(session)),
                shown=plan_that_stands(session),
                after=_last_act(session),
                spreads=spreads,
                past=tuple(_past(session, now)),
                own_weeks=own_weeks_in(session),
                errands=errands_from(entries(session, ERRANDS)),
                out=tuple(out_now(session, {brief.id: brief.number for brief in briefs.values()}, now)),
                together=together_in(session),
                left_out=left_out,
            )


MOST_PLANNED = 300
"""Open dockets that are planned at the most: what is promised for months ahead moves nothing today."""


def _planned(session: Session, also: int) -> tuple[list[int], int]:
    """The dockets that are planned, by id, and how many open ones are left out."""
    wanted = DocketRow.state.not_in(_NOT_PLANNED), DocketRow.withdrawn == ""
    has_tasks = select(TaskRow.docket_id).where(
        TaskRow.dropped_at.is_(None),
        (TaskRow.state == STARTED) | (TaskRow.pinned_at.is_not(None) & (TaskRow.state == OPEN)),
    )
    order = (
        case((DocketRow.id.in_(has_tasks) | (DocketRow.id == also), 0), else_=1),
        case((DocketRow.importance == "urgent", 0), else_=1),
        DocketRow.promised_on.is_(None),
        DocketRow.promised_on,
        DocketRow.id,
    )
    docket_ids = list(session.scalars(select(DocketRow.id).where(*wanted).order_by(*order).limit(MOST_PLANNED)))
    if len(docket_ids) < MOST_PLANNED:
        return sorted(docket_ids), 0
    count = session.scalar(select(func.count()).select_from(DocketRow).where(*wanted)) or 0
    return sorted(docket_ids), count - len(docket_ids)


_BRIEF = (
    "id",
    "number",
    "customer",
    "item",
    "promised_on",
    "importance",
    "state",
    "version",
    "job_document",
    "estimate",
)


def _shown(session: Session) -> dict[int, list[list[Any]]]:
    """Of each task of the plan that was shown, its pieces: whose, and when it begins."""
    tasks = plan_that_stands(session).get("tasks")
    return {int(key): pieces for key, pieces in tasks.items()} if isinstance(tasks, dict) else {}


def _last_act(session: Session) -> int:
    """The count of the last thing that was done, the keeping of plans left out."""
    query = select(ActRow.seq).where(ActRow.deed != KEEP_PLAN).order_by(ActRow.seq.desc()).limit(1)
    return session.scalars(query).first() or 0


def _check_as_seen(session: Session, row: TaskRow, seen: Sequence[str | None], mine: str) -> None:
    """Two who pin one task at once: the second is told where it is by now. Nobody clashes with themselves."""
    holder = "" if row.person_id is None else name_of(session, row.person_id)
    pinned = None if row.pinned_at is None else row.pinned_at.isoformat()
    of_task = ChangeRow.docket_id == row.docket_id, ChangeRow.field == label_of(row.operation)
    last = session.scalars(select(ChangeRow.by).where(*of_task).order_by(ChangeRow.id.desc()).limit(1)).first()
    if (holder, pinned) == tuple(seen) or last == mine:
        return
    when = "" if row.pinned_at is None else f", from {local(row.pinned_at):%d %b %H:%M}"
    raise StoreError(
        f"{label_of(row.operation)}: set to {holder or 'nobody'}{when} meanwhile, by {last or 'somebody else'}: look "
        "again, then move it"
    )


def _free_from(session: Session, briefs: dict[int, Brief]) -> dict[int, datetime]:
    """Until when dockets wait without hands after what was done last (local times)."""
    query = (
        select(TaskRow.docket_id, TaskRow.wait_minutes, TaskTimeRow.stopped_at)
        .join(TaskTimeRow, TaskTimeRow.task_id == TaskRow.id)
        .where(TaskRow.state == DONE, TaskRow.wait_minutes > 0, TaskRow.docket_id.in_(briefs))
        .where(TaskTimeRow.stopped_at.is_not(None))
    )
    free_moments: dict[int, datetime] = {}
    for docket_id, wait, stopped in session.execute(query):
        if stopped is None:
            continue
        over = local(stopped) + timedelta(minutes=wait)
        free_moments[docket_id] = max(free_moments.get(docket_id, over), over)
    return free_moments


def _past(session: Session, now: datetime) -> list[Past]:
    """What was done since midnight, by clocks that have stopped."""
    midnight = kept(now.replace(hour=0, minute=0, second=0, microsecond=0))
    newest = select(TaskTimeRow.id).order_by(TaskTimeRow.id.desc()).limit(_NEWEST)
    query = (
        select(TaskTimeRow, TaskRow, DocketRow.number)
        .join(TaskRow, TaskRow.id == TaskTimeRow.task_id)
        .join(DocketRow, DocketRow.id == TaskRow.docket_id)
        .where(TaskTimeRow.id.in_(session.scalars(newest).all()))
        .where(TaskTimeRow.stopped_at >= midnight, TaskTimeRow.stopped_at > TaskTimeRow.started_at)
        .order_by(TaskTimeRow.started_at)
    )
    return [
        Past(
            person_id=time.person_id,
            docket_id=task.docket_id,
            number=number,
            operation=task.operation,
            begins=local(time.started_at),
            ends=local(time.stopped_at),
            done=task.state == DONE,
        )
        for time, task, number in session.execute(query)
        if time.stopped_at is not None
    ]


def together_in(session: Session) -> tuple[tuple[int, ...], ...]:
    """Tasks that are done together: those that one act joined."""
    groups: dict[str, list[int]] = {}
    for key, act in entries(session, TOGETHER).items():
        groups.setdefault(str(act), []).append(int(key))
    return tuple(sorted(tuple(sorted(group)) for group in groups.values() if len(group) > 1))


def _check_free(session: Session, wanted: Collection[int], groups: Collection[tuple[int, ...]]) -> None:
    """StoreError where one of these is done together with something that is not among them: whoever joined those would
    not know it."""
    for group in groups:
        others = set(group) - set(wanted)
        if others and len(others) < len(group):
            query = select(DocketRow.number).join(TaskRow, TaskRow.docket_id == DocketRow.id)
            still_open = TaskRow.id.in_(others), TaskRow.state != DONE, TaskRow.dropped_at.is_(None)
            numbers = ", ".join(session.scalars(query.where(*still_open).order_by(DocketRow.number)))
            if not numbers:
                continue
            raise StoreError(
                f"together: one of them is together with {numbers} by now: with all of those, or first each by itself "
                "again"
            )


def _check_alike(wanted: Collection[int], rows: Collection[TaskRow]) -> None:
    """StoreError where these tasks are not to be done together."""
    if len(wanted) < 2:
        raise StoreError("together: one task: two or more, each of another docket")
    if len(rows) != len(wanted):
        raise StoreError("together: one of them is not in this store: tasks of dockets")
    if any(row.state == DONE for row in rows):
        raise StoreError("together: one of them is done: tasks that are still open")
    if any(row.state == STARTED for row in rows):
        raise StoreError("together: one of them is begun: tasks that nobody has in hand")
    if len({row.docket_id for row in rows}) != len(rows):
        raise StoreError("together: two of them are of one docket: one task of each")
    if len({base_of(row.operation) for row in rows}) > 1:
        parts = ", ".join(sorted({label_of(row.operation) for row in rows}))
        raise StoreError(f"together: {parts}: is not the same work: the same part of the work of each")


def _check_one_alloy(session: Session, rows: Collection[TaskRow]) -> None:
    """What is heated or cast at once is of one alloy, as far as it is known: else one flows and the other does not
    (common practice)."""
    if base_of(next((row.operation for row in rows), "")) not in SHARED_HEAT:
        return
    query = select(DocketRow.number, DocketRow.job_document).where(DocketRow.id.in_({row.docket_id for row in rows}))
    why_not = why_not_one_alloy({number: alloy_of(document) for number, document in session.execute(query)})
    if why_not:
        raise StoreError(f"together: {why_not}")


def _number(session: Session, docket_id: int) -> str:
    row = session.get(DocketRow, docket_id)
    return "" if row is None else row.number
