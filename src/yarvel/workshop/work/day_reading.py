"""From what the store says to a shop that can be planned, and from a plan back to what the board shows."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date, datetime, timedelta
from statistics import median
from typing import Any

from msgspec import Struct, field
from msgspec.structs import replace

from yarvel.clock import local
from yarvel.day.axis import LONGEST_PIECE, Axis
from yarvel.day.outwork import Outwork
from yarvel.day.shop import (
    ROOM_FOR_ALL,
    Assignment,
    Hands,
    Order,
    Schedule,
    Shop,
    Step,
    ends,
    is_moved,
    late_days,
    pieces,
)
from yarvel.day.timeline import Timeline
from yarvel.day.together import Beside, as_shown, together
from yarvel.workshop.dockets.records import IMPORTANCE
from yarvel.workshop.people.person import Person
from yarvel.workshop.storage.identity import new_id
from yarvel.workshop.storage.task_states import STARTED
from yarvel.workshop.work.errands import PACK_MINUTES, away_minutes, errand_of
from yarvel.workshop.work.kept_plan import BY_ACT, BY_TIME
from yarvel.workshop.work.snapshot import Brief, Out, Past, Snapshot
from yarvel.workshop.work.standards import base_of, label_of, may_be_given_out, skill_of
from yarvel.workshop.work.tasks import Task, Wanted

USUAL_MINUTES = 180.0
"""What a docket counts that nobody has measured yet, where no other tells more (from memory)."""
_PER_DOCKET = 100
_MOST_DAYS = 400

_LEAST_SHARE = 0.1
"""Of a week, that days are laid out for: who is here less has work left over sooner."""
FROZEN_MINUTES = 120
"""What begins within two hours stays as it is: it lies on somebody's bench."""


class PlannedTask(Struct, frozen=True, kw_only=True):
    """A task as it is planned: the stored one, or (``task`` None) one of a docket that has none yet."""

    key: int
    docket: Brief
    operation: str
    minutes: float
    wait: float = 0.0
    station: str = ""
    task: Task | None = None
    guessed: bool = False


class DayReading(Struct, frozen=True, kw_only=True):
    """A shop with what its numbers stand for; ``shown`` the plan shown before, as far as it still stands for
    something; ``refused`` pins that two tasks want at once, in words; ``spreads`` where enough tasks were timed;
    ``past`` what was done today: whose, from which slot to which; ``out`` what is out of the house; ``left_out`` how
    many open dockets are not planned; ``beside`` tasks that are done together with others; ``outwork`` what could be
    given to an outworker, where somebody can pack it; ``standing`` the kept plan as a document, ``after`` the count of
    the last thing that was done."""

    shop: Shop
    now: int
    people: tuple[Person | None, ...]
    jobs: Mapping[int, PlannedTask]
    shown: Schedule
    refused: tuple[str, ...]
    spreads: Mapping[int, float] = field(default_factory=dict)
    past: tuple[tuple[int, int, int, Past], ...] = ()
    out: tuple[Out, ...] = ()
    left_out: int = 0
    beside: Mapping[int, Beside] = field(default_factory=dict)
    outwork: Outwork | None = None
    standing: Mapping[str, Any] = field(default_factory=dict)
    after: int = 0

    @property
    def by_time(self) -> bool:
        """Whether nothing has been done since the plan that stands was kept: only time has passed."""
        return bool(self.standing.get("root")) and self.standing.get("after") == self.after

    def hands_of(self, task: int, place: Assignment) -> int:
        """In whose hands a task lies, also where a stand-in holds its place among those that are done together."""
        return self.beside[task].person if task in self.beside else place.person


def _leads(job: PlannedTask | None) -> tuple[bool, bool, bool, int]:
    """Of those that are done together one leads: what is in hand, else pinned, else given to somebody, else the
    first."""
    task = None if job is None else job.task
    if task is None:
        return True, True, True, 0
    return task.state != STARTED, task.pinned_at is None, not task.person, task.id


def read(snapshot: Snapshot) -> DayReading:
    """The shop of a snapshot, its time beginning with today."""
    jobs = _jobs(snapshot)
    axis = _axis(snapshot, jobs)
    now = axis.slot_at(snapshot.now)
    people, hands = _hands(snapshot, axis, now, jobs)
    place_of = {person.id: place for place, person in enumerate(people) if person is not None}
    by_skill = {skill_of(job.operation): _able(hands, skill_of(job.operation)) for job in jobs.values()}
    names = {person.name: person.id for person in snapshot.people}
    shut = {
        errand.operation: axis.shut(errand.days, errand.by)
        for errand in snapshot.errands.values()
        if any(job.station == errand.operation for job in jobs.values())
    }
    steps_made = _Steps(axis, now, hands, by_skill, shut)
    orders = []
    groups = [sorted(group, key=lambda task: _leads(jobs.get(task))) for group in snapshot.together]
    led = {task for group in groups for task in group[1:]}
    mine = _by_docket(jobs)
    for brief in snapshot.dockets:
        steps: list[Step] = []
        for job in mine.get(brief.id, ()):
            holder = None if job.task is None else place_of.get(names.get(job.task.person, 0))
            at_work = not any(step.running for step in steps)  # of two who hold one piece, one is at it
            steps += steps_made.of(job, holder, at_work) if job.key not in led else steps_made.free(job)
        free = snapshot.free_from.get(brief.id)
        orders.append(
            Order(
                key=brief.id,
                number=brief.number,
                steps=tuple(steps),
                due=None if brief.promised is None else axis.due_of(brief.promised, snapshot.hours),
                weight=IMPORTANCE.get(brief.importance, 1.0),
                release=now if free is None else max(now, axis.slot_at(free)),
            )
        )
    # what is in hand does not wait
    orders = [order if not _under_way(order) else replace(order, release=now) for order in orders]
    shop = Shop(axis, tuple(hands), tuple(orders), {**snapshot.stations, **dict.fromkeys(shut, ROOM_FOR_ALL)}, shut)
    shop, beside, apart = together(shop, groups, shown_from(snapshot.shown, shop, place_of))
    for group in apart:
        numbers = ", ".join(jobs[task].docket.number for task in group)
        steps_made.refused.append(f"{numbers}: nobody can do this of all of them at once: each by itself")
    return DayReading(
        shop=shop,
        now=now,
        people=tuple(people),
        jobs=jobs,
        shown=as_shown(shown_from(snapshot.shown, shop, place_of), beside),
        refused=tuple(steps_made.refused),
        spreads=_spreads(snapshot, jobs),
        past=_past(snapshot, axis, place_of),
        out=snapshot.out,
        left_out=snapshot.left_out,
        beside=beside,
        outwork=_outwork(snapshot, axis, hands, jobs),
        standing=snapshot.shown,
        after=snapshot.after,
    )


def _spreads(snapshot: Snapshot, jobs: Mapping[int, PlannedTask]) -> dict[int, float]:
    """How far apart the minutes of each task usually lie, where enough of its kind were recorded."""
    parts = ((key, base_of(job.operation)) for key, job in jobs.items())
    return {key: snapshot.spreads[part] for key, part in parts if part in snapshot.spreads}


def _past(snapshot: Snapshot, axis: Axis, place_of: Mapping[int, int]) -> tuple[tuple[int, int, int, Past], ...]:
    """What was done today by who is here: whose, from which slot to which."""
    return tuple(
        (place_of[past_task.person_id], begin, max(axis.slot_at(past_task.ends), begin + 1), past_task)
        for past_task in snapshot.past
        if past_task.person_id in place_of and (begin := axis.slot_at(past_task.begins)) < axis.size
    )


def _by_docket(jobs: Mapping[int, PlannedTask]) -> dict[int, list[PlannedTask]]:
    """Each docket's work in its order, what is in hand first: whoever began it did so whatever stands before it."""
    jobs_by_docket: dict[int, list[PlannedTask]] = {}
    for job in jobs.values():
        jobs_by_docket.setdefault(job.docket.id, []).append(job)
    for docket_jobs in jobs_by_docket.values():
        docket_jobs.sort(key=lambda job: job.task is None or job.task.state != STARTED)
    return jobs_by_docket


def _under_way(order: Order) -> bool:
    return bool(order.steps) and order.steps[0].running


def _jobs(snapshot: Snapshot) -> dict[int, PlannedTask]:
    """What is to be done, docket by docket in its order."""
    briefs = {brief.id: brief for brief in snapshot.dockets}
    jobs_by_task: dict[int, PlannedTask] = {}
    for task in sorted(snapshot.tasks, key=lambda one: (one.docket_id, one.position)):
        if task.docket_id not in briefs:
            continue
        left = max(task.left, 5.0 if task.state == STARTED else 0.0)
        wait, station = _sent_out(task.operation, snapshot) or (task.wait, task.station)
        jobs_by_task[task.id] = PlannedTask(
            key=task.id,
            docket=briefs[task.docket_id],
            operation=task.operation,
            minutes=left,
            wait=wait,
            station=station,
            task=task,
        )
    totals: dict[int, float] = {}
    for job in jobs_by_task.values():
        totals[job.docket.id] = totals.get(job.docket.id, 0.0) + job.minutes
    usual = median(totals.values()) if totals else USUAL_MINUTES
    for docket_id in sorted(snapshot.bare):
        brief = briefs[docket_id]
        counted = snapshot.counted.get(docket_id)
        wanted: Sequence[Wanted] = counted or (Wanted("head", brief.estimated or usual),)
        for place, wanted_task in enumerate(wanted):
            key = -(docket_id * _PER_DOCKET + place)
            jobs_by_task[key] = PlannedTask(
                key=key,
                docket=brief,
                operation=wanted_task.operation,
                minutes=wanted_task.minutes,
                wait=wanted_task.wait,
                station=wanted_task.station,
                guessed=counted is None,
            )
    return jobs_by_task


def _sent_out(operation: str, snapshot: Snapshot) -> tuple[float, str] | None:
    """Minutes until what is sent out is back, and the place that is open when it is fetched; None for other work."""
    errand = snapshot.errands.get(errand_of(operation))
    if errand is None:
        return None
    return away_minutes(errand, snapshot.hours.opens), errand.operation


def _outwork(snapshot: Snapshot, axis: Axis, hands: Sequence[Hands], jobs: Mapping[int, PlannedTask]) -> Outwork | None:
    """What could be given to an outworker: work at the bench that nobody has in hand."""
    errand = next((errand for errand in snapshot.errands.values() if errand.does_it), None)
    packs = () if errand is None else _able(hands, skill_of(errand.operation))
    tasks = tuple(
        (job.key, skill_of(job.operation))
        for job in jobs.values()
        if may_be_given_out(job.operation) and not job.guessed and (job.task is None or job.task.state != STARTED)
    )
    if errand is None or not packs or not tasks:
        return None
    wait, slots = away_minutes(errand, snapshot.hours.opens), axis.slots(PACK_MINUTES)
    return Outwork(
        tasks=tasks,
        station=errand.operation,
        shut=axis.shut(errand.days, errand.by),
        wait=wait,
        people=packs,
        slots=slots,
    )


def docket_of_bare(key: int) -> int:
    """The docket of a task that nobody has made yet, by the key that it is planned under."""
    return -key // _PER_DOCKET


def _axis(snapshot: Snapshot, jobs: Mapping[int, PlannedTask]) -> Axis:
    """Days enough for everything, twice over."""
    first = snapshot.now.date()
    minutes = sum(job.minutes + job.wait / 8 for job in jobs.values())
    day = max(sum(end - begin for begin, end in blocks) for blocks in snapshot.hours.week) or 1
    least = min((max(snapshot.hours.share(week), _LEAST_SHARE) for week in snapshot.own_weeks.values()), default=1.0)
    days = 15 + int(3 * minutes / max(len(snapshot.people), 1) / day / least)
    last = max((brief.promised for brief in snapshot.dockets if brief.promised is not None), default=first)
    away = max((absence.ends.date() for absence in snapshot.absences), default=first)
    hours = snapshot.hours.with_weeks(snapshot.own_weeks.values())
    return Axis(hours, first, min(max(days, (max(last, away) - first).days + 5), _MOST_DAYS))


def _hands(
    snapshot: Snapshot, axis: Axis, now: int, jobs: Mapping[int, PlannedTask]
) -> tuple[list[Person | None], list[Hands]]:
    """Everybody who has skills or something to do; for a skill that nobody has, hands that are still to be found."""
    busy = {job.task.person for job in jobs.values() if job.task is not None}
    own = snapshot.own_weeks
    people: list[Person | None] = []
    hands: list[Hands] = []
    for person in snapshot.people:
        if person.skills or person.name in busy:
            away = [(0, now)]
            if person.id in own or axis.hours != snapshot.hours:  # others are here while the house is open
                away += axis.outside(own.get(person.id, snapshot.hours.week))
            for absence in snapshot.absences:
                if absence.person_id == person.id:
                    away.append((axis.slot_at(absence.begins), axis.slot_at(absence.ends)))
            spans = tuple((begin, end) for begin, end in away if end > begin)
            people.append(person)
            hands.append(Hands(person.id, person.name, frozenset(person.skills), spans))
    skills = frozenset().union(*(hand.skills for hand in hands)) if hands else frozenset()
    for skill in sorted({skill_of(job.operation) for job in jobs.values()} - skills):
        people.append(None)
        hands.append(Hands(-len(hands) - 1, f"nobody for {skill or 'this'}", frozenset({skill}), ((0, now),)))
    return people, hands


def _able(hands: Sequence[Hands], skill: str) -> tuple[int, ...]:
    return tuple(place for place, hand in enumerate(hands) if skill in hand.skills)


class _Steps:
    """Tasks in pieces; pins that cannot both be kept are told and dropped."""

    def __init__(
        self,
        axis: Axis,
        now: int,
        hands: Sequence[Hands],
        able: Mapping[str, tuple[int, ...]],
        shut: Mapping[str, tuple[tuple[int, int], ...]],
    ) -> None:
        self._axis, self._now, self._able, self._shut = axis, now, able, shut
        self._lines = [Timeline(axis, hand.away) for hand in hands]
        self.refused: list[str] = []

    def of(self, job: PlannedTask, holder: int | None, at_work: bool = True) -> list[Step]:
        """The pieces of one task, its holder and its pin; ``at_work``: the piece can be in somebody's hand."""
        axis, task = self._axis, job.task
        slots = axis.slots(job.minutes) if job.minutes > 0 else 1
        people = (holder,) if holder is not None else self._able[skill_of(job.operation)]
        running = at_work and task is not None and task.state == STARTED and holder is not None
        lengths, start = pieces(slots), None
        if running and self._now < axis.size:
            first = min(slots, int(axis.left_in_block[self._now]), LONGEST_PIECE)
            lengths, start = [first, *(pieces(slots - first) if slots > first else [])], self._now
        elif task is not None and task.pinned_at is not None and holder is not None:
            wanted = axis.slot_at(local(task.pinned_at))
            start = wanted if wanted >= self._now else None
        if start is not None and not running and self._is_shut(job.station, start, lengths[0]):
            self.refused.append(f"{job.docket.number} {label_of(job.operation)}: pinned to when nobody fetches it")
            start = None
        if start is not None and holder is not None:
            line = self._lines[holder]
            at = line.next(start, lengths[0])
            if running and at != start:
                running, start = False, None  # not at work now: it goes on when they are
            elif at != start and at - start > 1:
                self.refused.append(f"{job.docket.number} {job.operation}: pinned where something else is")
                start = None
            else:
                start = at
                line.take(at, at + lengths[0])
        return [
            Step(
                task=job.key,
                piece=place,
                slots=length,
                people=people,
                station=job.station,
                wait=job.wait if place + 1 == len(lengths) else 0.0,
                person=holder,
                start=start if place == 0 else None,
                running=running and place == 0,
            )
            for place, length in enumerate(lengths)
        ]

    def free(self, job: PlannedTask) -> list[Step]:
        """The pieces of a task that goes by another's hands and pin."""
        lengths = pieces(self._axis.slots(job.minutes) if job.minutes > 0 else 1)
        people, last = self._able[skill_of(job.operation)], len(lengths) - 1
        return [
            Step(
                task=job.key,
                piece=place,
                slots=slots,
                people=people,
                station=job.station,
                wait=job.wait if place == last else 0.0,
            )
            for place, slots in enumerate(lengths)
        ]

    def _is_shut(self, station: str, start: int, slots: int) -> bool:
        return any(begin < start + slots and start < end for begin, end in self._shut.get(station, ()))


# --- the plan shown --------------------------------------------------------------------------------------------------


def shown_document(reading: DayReading, plan: Schedule, made_at: datetime, cause: str = "") -> dict[str, Any]:
    """A plan as it is kept: of each task, who and when, piece by piece; of each docket without tasks, its minutes. Its
    ``id``; the plan that it ``replaces``, by which ``cause`` (as in ``kept_plan``); the act ``after`` which it stands;
    its ``root``, the plan that this act was the cause of (time alone makes no other), and the root ``before``."""
    axis = reading.shop.axis
    shown_by_task: dict[str, list[list[Any]]] = {}
    for (task, piece), place in sorted(plan.items()):
        begin = axis.moment_of(place.start).isoformat(timespec="minutes")
        bucket = shown_by_task.setdefault(str(task), [])
        if len(bucket) == piece:
            bucket.append([reading.shop.hands[reading.hands_of(task, place)].key, begin])
    bare: dict[str, float] = {}
    for _, job in sorted(reading.jobs.items()):
        if job.task is None:
            bare[str(job.docket.id)] = round(bare.get(str(job.docket.id), 0.0) + job.minutes, 1)
    before, name, by_time = reading.standing, new_id(), reading.by_time
    return {
        "id": name,
        "replaces": before.get("id", ""),
        "cause": cause or (BY_TIME if by_time else BY_ACT),
        "after": reading.after,
        "root": before["root"] if by_time else name,
        "before": before.get("before", "") if by_time else before.get("root", ""),
        "on": made_at.date().isoformat(),
        "tasks": shown_by_task,
        "minutes": bare,
    }


def shown_from(held: Mapping[str, Any], shop: Shop, place_of: Mapping[int, int]) -> Schedule:
    """The kept plan in this shop's numbers; what stood for something that is gone is left out."""
    tasks = held.get("tasks")
    if not isinstance(tasks, Mapping):
        return {}
    by_hand = {hands.key: place for place, hands in enumerate(shop.hands)}
    schedule: Schedule = {}
    for _, step in shop.steps():
        kept = tasks.get(str(step.task))
        if isinstance(kept, list) and step.piece < len(kept):
            who, begin = kept[step.piece]
            person = place_of.get(int(who), by_hand.get(int(who)))
            if person is not None:
                schedule[step.key] = Assignment(person, shop.axis.slot_at(datetime.fromisoformat(str(begin))))
    return schedule


def frozen_until(reading: DayReading) -> int:
    """The slot before which what begins stays where it is."""
    axis = reading.shop.axis
    return axis.slot_at(axis.moment_of(reading.now) + timedelta(minutes=FROZEN_MINUTES))


# --- what the board shows --------------------------------------------------------------------------------------------


class TaskBlock(Struct, frozen=True, kw_only=True):
    """One piece of a task on the board: whose, from when to when (local), which job; ``pinned`` and ``running`` as they
    are, ``moved`` where the plan before had it elsewhere; ``beside`` which of how many it is that are done together."""

    hands: int
    begins: datetime
    ends: datetime
    job: PlannedTask
    piece: int
    pinned: bool
    running: bool
    moved: bool
    beside: tuple[int, int] = (0, 1)


class Outcome(Struct, frozen=True, kw_only=True):
    """How a docket comes out by the plan: the day it is ready, how many open days late, of which so many were ``past``
    before the days laid out, and the chance that its promise is kept (None while that is not known)."""

    docket: Brief
    ready: date
    late: int
    minutes: float
    chance: float | None = None
    past: int = 0


class DayPlan(Struct, frozen=True):
    """A plan as it is shown: bars in the order of time, and how each docket comes out, the latest first."""

    reading: DayReading
    plan: Schedule
    bars: tuple[TaskBlock, ...]
    outcomes: tuple[Outcome, ...]
    moved: int

    @property
    def late(self) -> tuple[Outcome, ...]:
        """Those that cannot keep their promise by this plan."""
        return tuple(outcome for outcome in self.outcomes if outcome.late > 0)

    def bars_of(self, hands: int) -> list[TaskBlock]:
        """What somebody does, in order."""
        return [bar for bar in self.bars if bar.hands == hands]


def day_plan(reading: DayReading, plan: Schedule, chances: Mapping[int, float] | None = None) -> DayPlan:
    """A plan told in local time."""
    shop, axis = reading.shop, reading.shop.axis
    bars = []
    for _, step in shop.steps():
        place = plan[step.key]
        before = reading.shown.get(step.key)
        job, group = reading.jobs[step.task], reading.beside.get(step.task)
        bars.append(
            TaskBlock(
                hands=reading.hands_of(step.task, place),
                begins=axis.moment_of(place.start),
                ends=axis.end_of(place.start + step.slots),
                job=job,
                piece=step.piece,
                pinned=job.task is not None and job.task.pinned_at is not None and step.start is not None,
                running=step.running,
                moved=before is not None and is_moved(before, place),
                beside=(0, 1) if group is None else group.share(step.task),
            )
        )
    finished, mine = ends(shop, plan), _by_docket(reading.jobs)
    outcomes = []
    for order in shop.orders:
        if not order.steps:
            continue
        brief = reading.jobs[order.steps[0].task].docket
        end = finished[order.key]
        past = 0 if order.due is None or brief.promised is None else axis.passed_since(brief.promised)
        late = 0 if order.due is None else past + late_days(axis, end, order.due)
        minutes = sum(job.minutes for job in mine.get(order.key, ()))
        chance = None if chances is None or brief.promised is None else chances.get(order.key)
        outcomes.append(
            Outcome(docket=brief, ready=axis.day_of(end - 1), late=late, minutes=minutes, chance=chance, past=past)
        )
    return DayPlan(
        reading,
        plan,
        tuple(sorted(bars, key=lambda bar: (bar.begins, bar.hands))),
        tuple(sorted(outcomes, key=lambda one: (-one.late, one.docket.promised or date.max, one.docket.id))),
        len({bar.job.key for bar in bars if bar.moved}),
    )
