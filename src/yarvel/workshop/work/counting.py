"""Which minutes of a clock count: a foreman's reckoning. A clock that was left running counts only while whoever it
runs for was here: within their hours as they were on that day, absences taken out, whenever those were entered.
Nothing is written for anybody: the clock stays as it was pressed, and an act says what it really was.

A task's minutes are what an act corrected them to, and what counts after that."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from datetime import date, datetime, time, timedelta
from functools import cached_property
from typing import TypeVar

from msgspec import Struct
from sqlalchemy import select
from sqlalchemy.orm import Session

from yarvel.clock import local
from yarvel.day.axis import Block, Hours, Week
from yarvel.day.documents import week_from
from yarvel.workshop.storage.schema import TaskRow, TaskTimeRow
from yarvel.workshop.storage.settings import FORMER_HOURS, entries
from yarvel.workshop.work.hours_rows import HOUSE, absences_in, hours_in, own_weeks_in

Span = tuple[datetime, datetime]
T = TypeVar("T", int, datetime)


class Former(Struct, frozen=True):
    """Hours that held until (before) a day; of a person, ``week`` None: whenever the house was open."""

    until: date
    week: Week | None


class Presence(Struct, frozen=True, kw_only=True, dict=True):
    """Who was here when, as far as the house knows: ``own_weeks`` and ``absences`` by person, ``former`` hours by whose
    they were, the oldest first. Moments are local, without a zone."""

    hours: Hours
    own_weeks: Mapping[int, Week]
    absences: Mapping[int, Sequence[Span]]
    former: Mapping[str, Sequence[Former]]

    @cached_property
    def _ahead(self) -> dict[date, timedelta | None]:
        return {}

    @cached_property
    def _known(self) -> dict[tuple[int, date], tuple[Span, ...]]:
        return {}

    def minutes(self, person_id: int, begins: datetime, ends: datetime) -> float:
        """Minutes between two moments (UTC, as clocks are kept) that somebody was here."""
        begins, ends = self._local(begins), self._local(ends)
        total, day = timedelta(), begins.date()
        while day <= ends.date():
            for begin, end in self._of(person_id, day):
                total += max(min(end, ends) - max(begin, begins), timedelta())
            day += timedelta(days=1)
        return total.total_seconds() / 60

    def _local(self, at: datetime) -> datetime:
        """The same as ``clock.local``, for many moments: on most days the zone does not change."""
        day = at.date()
        if day not in self._ahead:
            midnight = datetime.combine(day, time())
            ahead, later = (local(moment) - moment for moment in (midnight, midnight + timedelta(days=1)))
            self._ahead[day] = ahead if ahead == later else None
        offset = self._ahead[day]
        return local(at) if offset is None else at + offset

    def _of(self, person_id: int, day: date) -> tuple[Span, ...]:
        """From when to when somebody was here on a day."""
        found = self._known.get((person_id, day))
        if found is None:
            midnight = datetime.combine(day, time())
            blocks = [
                (midnight + timedelta(minutes=begin), midnight + timedelta(minutes=end))
                for begin, end in self._blocks(person_id, day)
            ]
            for away in self.absences.get(person_id, ()):
                blocks = [left for block in blocks for left in _without(block, away)]
            found = self._known[person_id, day] = tuple(blocks)
        return found

    def _blocks(self, person_id: int, day: date) -> Sequence[Block]:
        """Blocks of somebody's day: the house's, or their own without its breaks; none on a holiday."""
        if day in self.hours.holidays:
            return ()
        house = (_former(self.former.get(HOUSE, ()), day) or Former(day, self.hours.week)).week or self.hours.week
        then = _former(self.former.get(str(person_id), ()), day)
        own = self.own_weeks.get(person_id) if then is None else then.week
        open_blocks = house[day.weekday()]
        if own is None:
            return open_blocks
        breaks = [(one[1], after[0]) for one, after in zip(open_blocks, open_blocks[1:], strict=False)]
        blocks = list(own[day.weekday()])
        for pause in breaks:
            blocks = [left for block in blocks for left in _without(block, pause)]
        return blocks


def presence(session: Session) -> Presence:
    """Who is and was here when, as the store knows it."""
    absences: dict[int, list[Span]] = {}
    for absence in absences_in(session):
        absences.setdefault(absence.person_id, []).append((absence.begins, absence.ends))
    return Presence(
        hours=hours_in(session),
        own_weeks=own_weeks_in(session),
        absences=absences,
        former={
            whose: tuple(
                Former(date.fromisoformat(until), None if week is None else week_from(week)) for until, week in held
            )
            for whose, held in entries(session, FORMER_HOURS).items()
        },
    )


class Clocked(Struct, frozen=True, kw_only=True):
    """What a task took: minutes that count of clocks that have stopped (and what an act corrected), of the one that
    runs, and since when that runs (UTC); ``by_clock`` its own minutes, whether they count or not, as far as no act has
    corrected them."""

    stopped: float = 0.0
    running: float = 0.0
    since: datetime | None = None
    by_clock: float = 0.0

    @property
    def minutes(self) -> float:
        """All that counts."""
        return self.stopped + self.running


TIMES = select(TaskTimeRow.task_id, TaskTimeRow.person_id, TaskTimeRow.started_at, TaskTimeRow.stopped_at)
Time = tuple[int, int, datetime, datetime | None]


class ClockTime(Struct, frozen=True, kw_only=True):
    """One time that a clock ran (UTC; ``ends`` None: it runs), with its own minutes and those of them that count."""

    task_id: int
    person_id: int
    begins: datetime
    ends: datetime | None
    minutes: float
    counted: float


def clock_times(
    session: Session, times: Iterable[Time], corrected: Mapping[int, datetime], now: datetime
) -> list[ClockTime]:
    """What these times come to; of a task that was ``corrected``, only what was clocked after that."""
    here, told = presence(session), []
    for task_id, person_id, started, stopped in times:
        ends = stopped or max(now, started)
        begins = max(started, corrected.get(task_id, started))
        told.append(
            ClockTime(
                task_id=task_id,
                person_id=person_id,
                begins=started,
                ends=stopped,
                minutes=(ends - started).total_seconds() / 60,
                counted=here.minutes(person_id, begins, ends) if ends > begins else 0.0,
            )
        )
    return told


def clocked(
    session: Session, task_ids: Collection[int], now: datetime, since: datetime | None = None
) -> dict[int, Clocked]:
    """What each of these tasks took up to now; those that nobody ever began are left out. ``since``: only of clocks
    that began then or later."""
    if not task_ids:
        return {}
    query = TIMES.where(TaskTimeRow.task_id.in_(task_ids))
    if since is not None:
        query = query.where(TaskTimeRow.started_at >= since)
    corrections = select(TaskRow.id, TaskRow.corrected_minutes, TaskRow.corrected_at).where(
        TaskRow.id.in_(task_ids), TaskRow.corrected_at.is_not(None)
    )
    moments: dict[int, datetime] = {}
    minutes: dict[int, float] = {}
    running: dict[int, ClockTime] = {}
    for task_id, corrected, at in session.execute(corrections):
        if corrected is not None and at is not None and (since is None or at >= since):
            moments[task_id], minutes[task_id] = at, corrected
    for one in clock_times(session, session.execute(query), moments, now):
        minutes.setdefault(one.task_id, 0.0)
        if one.ends is None:
            running[one.task_id] = one
        else:
            minutes[one.task_id] += one.counted
    told = {task_id: Clocked(stopped=stopped) for task_id, stopped in minutes.items()}
    for task_id, one in running.items():
        by_clock = max((now - max(one.begins, moments.get(task_id, one.begins))).total_seconds() / 60, 0.0)
        stopped = minutes[task_id]
        told[task_id] = Clocked(stopped=stopped, running=one.counted, since=one.begins, by_clock=by_clock)
    return told


def _former(held: Sequence[Former], day: date) -> Former | None:
    """The hours that held on a day, where they are not today's."""
    for former in held:
        if day < former.until:
            return former
    return None


def _without(block: tuple[T, T], away: tuple[T, T]) -> list[tuple[T, T]]:
    """What of a block is left beside a time away."""
    (begin, end), (gone, back) = block, away
    if back <= begin or gone >= end:
        return [block]
    return [(a, b) for a, b in ((begin, gone), (back, end)) if a < b]
