"""Reports over the whole workshop: what is late or at risk, why heads come back, times against standard."""

from __future__ import annotations

from bisect import bisect_right
from collections import Counter
from collections.abc import Iterable, Mapping
from datetime import date, timedelta
from itertools import accumulate
from typing import Any, Protocol

from msgspec import Struct

from yarvel.day.axis import Hours
from yarvel.heads.wear import SOUND
from yarvel.planning.job import HeadJob
from yarvel.planning.repair import CAUSES
from yarvel.workshop.dockets.claw_chart import finding_key
from yarvel.workshop.dockets.records import HANDED_OVER

LATE, AT_RISK, IN_TIME, NO_DATE = "late", "at risk", "in time", "no date"


class Promised(Protocol):
    """A docket as far as reports go."""

    @property
    def id(self) -> int: ...
    @property
    def number(self) -> str: ...
    @property
    def customer(self) -> str: ...
    @property
    def item(self) -> str: ...
    @property
    def promised_on(self) -> date | None: ...
    @property
    def state(self) -> str: ...


class HasWork(Protocol):
    """Work still to do: of which docket, by whom, promised when, and how many minutes."""

    @property
    def docket_id(self) -> int: ...
    @property
    def person(self) -> str: ...
    @property
    def promised(self) -> str: ...
    @property
    def left(self) -> float: ...


class Due(Struct, frozen=True):
    """One open docket: its promise, the standard minutes still to do, and how it stands; ``wait`` are the working days
    that the tasks before it take up too."""

    docket: Promised
    minutes_left: float
    standing: str
    days_left: int | None


def due(
    dockets: Iterable[Promised],
    work: Iterable[HasWork],
    today: date,
    open_hours: Hours,
    shares: Mapping[str, float] | None = None,
) -> list[Due]:
    """All open dockets, what is late first, then what is at risk, then by promise.

    A docket is at risk where the busiest of its people cannot get to the end of it in time: the standard minutes of all
    that this person has promised no later, over those of an open day, as many as there are until then; ``shares``: what
    part of these, by name, somebody is here who does not keep the workshop's hours.
    """
    by_docket: dict[int, list[HasWork]] = {}
    by_person: dict[str, list[HasWork]] = {}
    for open_work in work:
        by_docket.setdefault(open_work.docket_id, []).append(open_work)
        by_person.setdefault(open_work.person, []).append(open_work)
    queues = {person: _Queue(work_of_person) for person, work_of_person in by_person.items()}
    minutes = open_hours.minutes / max(sum(bool(blocks) for blocks in open_hours.week), 1)
    dues = []
    for docket in dockets:
        if docket.state == HANDED_OVER:
            continue
        mine = by_docket.get(docket.id, [])
        left = sum(open_work.left for open_work in mine)
        a_day = {open_work.person: minutes * (shares or {}).get(open_work.person, 1.0) for open_work in mine}
        dues.append(Due(docket, left, *_standing(docket, a_day, queues, today, open_hours)))
    order = (LATE, AT_RISK, IN_TIME, NO_DATE)
    return sorted(
        dues, key=lambda one: (order.index(one.standing), one.docket.promised_on or date.max, one.docket.number)
    )


class _Queue:
    """What one person has promised, summed up once: how much by any date is looked up."""

    def __init__(self, work: list[HasWork]) -> None:
        ordered = sorted(
            work, key=lambda one: one.promised
        )  # what has no date comes first: it may be asked for any day
        self._dates = [open_work.promised for open_work in ordered]
        self._sums = list(accumulate((open_work.left for open_work in ordered), initial=0.0))

    def until(self, promised: str) -> float:
        """Minutes promised by then."""
        return self._sums[bisect_right(self._dates, promised)]


def _standing(
    docket: Promised, minutes: Mapping[str, float], queues: dict[str, _Queue], today: date, open_hours: Hours
) -> tuple[str, int | None]:
    promised = docket.promised_on
    if promised is None:
        return NO_DATE, None
    days = open_hours.open_days(today, promised)
    if promised < today:
        return LATE, days
    by = promised.isoformat()
    held_up = any(queues[person].until(by) > days * a_day for person, a_day in minutes.items())
    return (AT_RISK if held_up else IN_TIME), days


NOT_JUDGED = "not-judged"

CAUSE_LABELS: dict[str, str] = {NOT_JUDGED: "not judged", **CAUSES}
"""Causes of returns by key: what each is called."""


class Cause(Struct, frozen=True):
    """How often heads of a style came in for one cause, and which findings their claws had; cause and findings by
    key, the dockets by id."""

    cause: str
    style: str
    heads: int
    claws: tuple[tuple[str, int], ...]
    dockets: tuple[int, ...] = ()


class ChartedJob(Protocol):
    """A docket with a claw chart."""

    @property
    def id(self) -> int: ...
    @property
    def claw_chart(self) -> dict[str, Any]: ...
    @property
    def job_document(self) -> dict[str, Any]: ...


def causes(dockets: Iterable[ChartedJob]) -> list[Cause]:
    """Returns by cause and head style, most frequent first; only dockets with a claw chart count."""
    heads: dict[tuple[str, str], list[int]] = {}
    claws: dict[tuple[str, str], Counter[str]] = {}
    for docket in dockets:
        rows = docket.claw_chart.get("claws")
        if not isinstance(rows, list):
            continue
        head = docket.job_document.get("head") or {}
        key = str(docket.claw_chart.get("cause", NOT_JUDGED)), str(head.get("style", HeadJob.style))
        heads.setdefault(key, []).append(docket.id)
        finding_keys = [key for row in rows if isinstance(row, dict) for key in _findings(row)]
        claws.setdefault(key, Counter()).update(finding for finding in finding_keys if finding != SOUND)
    return [
        Cause(*key, len(ids), tuple(claws[key].most_common()), tuple(ids))
        for key, ids in sorted(heads.items(), key=lambda pair: (-len(pair[1]), pair[0]))
    ]


def _findings(row: dict[str, Any]) -> list[str]:
    """All that a chart's row says was found on a claw."""
    others = row.get("also")
    return [
        finding_key(row.get("finding")),
        *(finding_key(finding) for finding in (others if isinstance(others, list) else [])),
    ]


class Week(Struct, frozen=True):
    """The hours of work that are promised for one week (``start``, a Monday), what is late counted to the first; the
    dockets that these are, by id."""

    start: date
    hours: float
    dockets: tuple[int, ...] = ()


def promised_by_week(dues: Iterable[Due], today: date, most: int = 8) -> list[Week]:
    """Standard hours still to do by the week of the promise, from this week on, ``most`` weeks at most."""
    this = today - timedelta(days=today.weekday())
    hours: dict[date, float] = {}
    whose: dict[date, list[int]] = {}
    for due_docket in dues:
        promised = due_docket.docket.promised_on
        if promised is not None:
            week = max(promised - timedelta(days=promised.weekday()), this)
            hours[week] = hours.get(week, 0.0) + due_docket.minutes_left / 60
            whose.setdefault(week, []).append(due_docket.docket.id)
    last = max(hours, default=this)
    weeks = min((last - this).days // 7 + 1, most)
    return [
        Week(start, hours.get(start, 0.0), tuple(whose.get(start, ())))
        for start in (this + timedelta(weeks=count) for count in range(weeks))
    ]
