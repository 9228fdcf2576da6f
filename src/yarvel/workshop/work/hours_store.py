"""When the workshop is open, who is there when, and how many can work at a station, in the store: a row for each
weekday, closed day, person, absence and station."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from typing import TYPE_CHECKING, Any

from msgspec import UNSET, UnsetType
from sqlalchemy.orm import Session

from yarvel.clock import local
from yarvel.day.axis import Hours, Week
from yarvel.day.documents import week_document
from yarvel.figures.errors import StoreError
from yarvel.workshop.dockets.accepting import check_text, check_value
from yarvel.workshop.storage.rights import GIVE_OUT
from yarvel.workshop.storage.settings import (
    ABSENCES,
    FORMER_HOURS,
    HOLIDAYS,
    HOURS,
    OWN_HOURS,
    STATIONS,
    alone,
    entries,
    entry_to_change,
    keep_entry,
)
from yarvel.workshop.work.errand_store import keep_errand
from yarvel.workshop.work.errands import Errand, check_errand
from yarvel.workshop.work.hours_rows import (
    HOUSE,
    USUAL,
    WEEKDAYS,
    absences_in,
    check_works_here,
    day_kept,
    hours_in,
    name_of,
    own_weeks_in,
    stations_in,
)
from yarvel.workshop.work.snapshot import USUAL_STATIONS, Absence

if TYPE_CHECKING:
    from yarvel.workshop.storage.connection import Connected


class HoursStore:
    """Hours, absences and stations of an open store. Every method is one transaction; of two who change the same from
    one sight of it (``seen``) the second is refused with who was faster."""

    def __init__(self, store: Connected) -> None:
        self._store = store

    def hours(self) -> Hours:
        """When the workshop is open."""
        with self._store.transaction() as session:
            return hours_in(session)

    def keep_hours(self, hours: Hours, seen: Hours | None = None) -> None:
        """Change the opening hours, weekday by weekday and closed day by closed day, of what is otherwise than it was
        ``seen`` (None: than it is kept).

        Raises
        ------
        StoreError : no day has any, a block is none, or somebody else changed the same weekday.
        """
        self.keep_house(hours, {}, [], seen_hours=seen)

    def keep_house(
        self,
        hours: Hours,
        stations: Mapping[str, int],
        errands: list[Errand],
        seen_hours: Hours | None = None,
        seen_stations: Mapping[str, int] | None = None,
        seen_errands: Mapping[str, Errand] | None = None,
    ) -> None:
        """Hours, stations and ways out at once: all of them, or none where one is refused."""
        check_week(hours.week)
        check_value(HOLIDAYS, sorted(day.isoformat() for day in hours.holidays))
        for name, room in stations.items():
            _check_station(name, room)
        for errand in errands:
            check_errand(errand)
        with self._store.transaction() as session:
            self._store.guard(session, GIVE_OUT)
            self._keep_hours(session, hours, seen_hours)
            for name, room in stations.items():
                _keep_station(session, name, room, None if seen_stations is None else seen_stations.get(name))
            for errand in errands:
                keep_errand(session, errand, None if seen_errands is None else seen_errands.get(errand.key))

    def _keep_hours(self, session: Session, hours: Hours, seen: Hours | None) -> None:
        before = hours_in(session)
        seen = seen or before
        changed = False
        for key, blocks, then in zip(WEEKDAYS, hours.week, seen.week, strict=True):
            if blocks != then:
                changed |= keep_entry(
                    session, HOURS, key, day_kept(blocks), day_kept(then), f"hours of {key.capitalize()}", USUAL[key]
                )
        for day in sorted(hours.holidays ^ seen.holidays):
            keep_entry(session, HOLIDAYS, day.isoformat(), True if day in hours.holidays else None)
        check_week(hours_in(session).week)  # two who each shut a day may have shut them all
        if changed:
            self._keep_former(session, HOUSE, week_document(before.week))

    def own_weeks(self) -> dict[int, Week]:
        """By person, the hours of those who do not keep the workshop's."""
        with self._store.transaction() as session:
            return own_weeks_in(session)

    def keep_own_week(self, person_id: int, week: Week | None, seen: Week | UnsetType | None = UNSET) -> None:
        """Somebody is here at these hours of the week, also before the house opens, after it closes and on days when it
        is shut; not on holidays, nor in its breaks. None: whenever it is open.

        Raises
        ------
        StoreError : no day has any, a block is none, nobody is that, or they were changed since they were ``seen``.
        """
        if week is not None:
            check_week(week)
        with self._store.transaction() as session:
            self._store.guard(session, GIVE_OUT)
            key, name = str(person_id), name_of(session, person_id)
            before = entry_to_change(session, OWN_HOURS, key)
            seen_week = UNSET if seen is UNSET else _week(seen)
            if keep_entry(session, OWN_HOURS, key, _week(week), seen_week, f"hours of {name}"):
                self._keep_former(session, key, before)

    def stations(self) -> dict[str, int]:
        """How many can work at each station at once; those that are not named have room for everybody."""
        with self._store.transaction() as session:
            return stations_in(session)

    def keep_station(self, name: str, room: int, seen: int | None = None) -> None:
        """Change how many can work at a station (StoreError for one that is none, no room, or one that was changed
        since it was ``seen``)."""
        _check_station(name, room)
        with self._store.transaction() as session:
            self._store.guard(session, GIVE_OUT)
            _keep_station(session, name, room, seen)

    def absences(self) -> list[Absence]:
        """Everybody's absences that stand, the first first."""
        with self._store.transaction() as session:
            return absences_in(session)

    def add_absence(self, person_id: int, begins: datetime, ends: datetime, why: str = "") -> Absence:
        """Somebody is not there from then to then (local times); StoreError where that is no time, or nobody."""
        check_text("why", why, 500)
        if ends <= begins:
            raise StoreError(
                f"absence: from {begins:%d %b %H:%M} to {ends:%d %b %H:%M} is no time: an end after its begin"
            )
        with self._store.transaction() as session:
            self._store.guard(session, GIVE_OUT)
            check_works_here(session, person_id)
            alone(session, ABSENCES)
            number = max((int(key) for key in entries(session, ABSENCES)), default=0) + 1
            absence = Absence(id=number, person_id=person_id, begins=begins, ends=ends, why=why)
            keep_entry(session, ABSENCES, str(number), absence.document())
            return absence

    def withdraw_absence(self, absence_id: int, withdrawn: bool = True) -> None:
        """Somebody is there after all, or is not again; it is kept."""
        with self._store.transaction() as session:
            self._store.guard(session, GIVE_OUT)
            held = entry_to_change(session, ABSENCES, str(absence_id))
            if held is None:
                raise StoreError(f"absence {absence_id}: not in this store: one that was entered")
            keep_entry(session, ABSENCES, str(absence_id), {**held, "withdrawn": withdrawn})

    def _keep_former(self, session: Session, whose: str, week: list[list[list[int]]] | None) -> None:
        """Hours that held until today: the minutes of clocks before that are counted by them. What is changed twice in
        a day held for neither."""
        held: list[Any] = list(entry_to_change(session, FORMER_HOURS, whose) or ())
        today = local(self._store.now()).date().isoformat()
        if not held or held[-1][0] != today:
            keep_entry(session, FORMER_HOURS, whose, [*held, [today, week]])


def check_week(week: Week) -> None:
    """StoreError for hours that are none."""
    for day in week:
        last = 0
        for begin, end in day:
            if not (last <= begin < end <= 24 * 60) or begin % 5 or end % 5:
                raise StoreError(
                    "hours: a block begins before the last one ends, or not on five minutes: blocks of a day one after "
                    "the other, such as 8:00–10:00, 10:15–12:15"
                )
            last = end
    if len(week) != 7 or not any(week):
        raise StoreError("hours: open on no day: at least one block on a weekday")


def _check_station(name: str, room: int) -> None:
    if name not in USUAL_STATIONS or not 1 <= room <= 50:
        raise StoreError(
            f"{name}: room for {room} is not accepted: one of {', '.join(USUAL_STATIONS)}, and 1 to 50 at once"
        )


def _keep_station(session: Session, name: str, room: int, seen: int | None) -> None:
    if room != seen:
        keep_entry(
            session, STATIONS, name, room, UNSET if seen is None else seen, f"at once, {name}", USUAL_STATIONS[name]
        )


def _week(week: Week | UnsetType | None) -> list[list[list[int]]] | None:
    return None if week is None or week is UNSET else week_document(week)
