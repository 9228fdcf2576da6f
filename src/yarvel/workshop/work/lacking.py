"""What nobody who works here could do: told where hours and people are set, not when the work comes to it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING

from sqlalchemy import select

from yarvel.day.axis import Hours, Week
from yarvel.workshop.people.person import Person
from yarvel.workshop.storage.schema import DocketRow, TaskRow
from yarvel.workshop.storage.task_states import DONE
from yarvel.workshop.work.standards import SKILLS, skill_of

if TYPE_CHECKING:
    from yarvel.workshop.store import Store

_DAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")
_MOST_NAMED = 3


def lacking(store: Store) -> tuple[str, ...]:
    """Skills that open tasks wait for and nobody has, and weekdays on which nobody is here for one; a sentence each."""
    people, hours, own_weeks = store.people.all(), store.day.hours(), store.day.own_weeks()
    absent = [skill for skill in SKILLS if not any(skill in person.skills for person in people)]
    waiting: dict[str, list[str]] = {}
    is_open = TaskRow.state != DONE, TaskRow.dropped_at.is_(None)
    if absent:
        with store.transaction() as session:
            operations = session.scalars(select(TaskRow.operation).where(*is_open).distinct()).all()
            for skill in absent:
                wanted = TaskRow.operation.in_([key for key in operations if skill_of(key) == skill])
                query = select(DocketRow.number).join(TaskRow, TaskRow.docket_id == DocketRow.id).distinct()
                waiting[skill] = list(session.scalars(query.where(*is_open, wanted).order_by(DocketRow.number)))
    return lacking_of(people, hours, own_weeks, waiting)


def lacking_of(
    people: Sequence[Person], hours: Hours, own_weeks: Mapping[int, Week], waiting: Mapping[str, Sequence[str]]
) -> tuple[str, ...]:
    """The same of these people and hours; ``waiting``: dockets whose tasks wait for a skill that nobody has, by it."""
    told = []
    for skill in SKILLS:
        able = [person for person in people if skill in person.skills]
        numbers = waiting.get(skill, ())
        if not able and numbers:
            more = f" and {len(numbers) - _MOST_NAMED} more" if len(numbers) > _MOST_NAMED else ""
            told.append(f"Nobody has {skill}: {', '.join(numbers[:_MOST_NAMED])}{more} wait for it.")
        elif able:
            weeks = [own_weeks.get(person.id, hours.week) for person in able]
            days = [name for day, name in enumerate(_DAYS) if hours.week[day] and not any(week[day] for week in weeks)]
            told += [f"Nobody is here for {skill} on {', '.join(days)}."] if days else []
    return tuple(told)
