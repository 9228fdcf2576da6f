"""Hours, stations and absences as they are kept: a row for each weekday, closed day, person, station and absence."""

from __future__ import annotations

from datetime import date

from sqlalchemy.orm import Session

from yarvel.day.axis import USUAL_WEEK, Block, Hours, Week
from yarvel.day.documents import week_from
from yarvel.figures.errors import StoreError
from yarvel.workshop.storage.schema import PersonRow
from yarvel.workshop.storage.settings import ABSENCES, HOLIDAYS, HOURS, OWN_HOURS, STATIONS, entries
from yarvel.workshop.work.snapshot import USUAL_STATIONS, Absence

HOUSE = "house"
"""Whose former hours are the workshop's, among those of people by number."""
WEEKDAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
"""Keys under which a weekday's blocks are kept."""


def day_kept(blocks: tuple[Block, ...]) -> list[list[int]]:
    """A day's blocks as they are kept."""
    return [list(block) for block in blocks]


USUAL = {key: day_kept(blocks) for key, blocks in zip(WEEKDAYS, USUAL_WEEK, strict=True)}
"""What counts for a weekday of which nothing is kept."""


def hours_in(session: Session) -> Hours:
    """When the workshop is open, as kept; the usual hours of a weekday where none are."""
    days = entries(session, HOURS)
    week = tuple(week_from([days.get(key, USUAL[key])])[0] for key in WEEKDAYS)
    return Hours(week, frozenset(date.fromisoformat(day) for day in entries(session, HOLIDAYS)))


def own_weeks_in(session: Session) -> dict[int, Week]:
    """By person, the hours of those who do not keep the workshop's."""
    return {int(key): week_from(week) for key, week in entries(session, OWN_HOURS).items()}


def stations_in(session: Session) -> dict[str, int]:
    """How many can work at each station at once."""
    return {**USUAL_STATIONS, **{name: int(room) for name, room in entries(session, STATIONS).items()}}


def absences_in(session: Session) -> list[Absence]:
    """Everybody's absences that stand, the first first."""
    absences = [Absence.of(int(key), held) for key, held in entries(session, ABSENCES).items()]
    return sorted((absence for absence in absences if not absence.withdrawn), key=lambda one: (one.begins, one.id))


def check_works_here(session: Session, person_id: int) -> None:
    """StoreError for somebody who does not work here, or not any more."""
    person = session.get(PersonRow, person_id)
    if person is None or person.left_at is not None:
        who = (
            f"person {person_id}: not in this store"
            if person is None
            else f"{person.name}: does not work here any more"
        )
        raise StoreError(f"{who}: somebody who works here")


def name_of(session: Session, person_id: int) -> str:
    """Somebody's name; StoreError for nobody."""
    row = session.get(PersonRow, person_id)
    if row is None:
        raise StoreError(f"person {person_id}: not in this store: somebody who works here")
    return row.name
