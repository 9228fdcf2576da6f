"""What nobody who works here could do: told where hours and people are set, not when the work comes to it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING

from yarvel.day.axis import Hours, Week
from yarvel.workshop.people.person import Person
from yarvel.workshop.work.standards import SKILLS, skill_of

if TYPE_CHECKING:
    from yarvel.workshop.store import Store

_DAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")
_MOST_NAMED = 3


def lacking(store: Store) -> tuple[str, ...]:
    """Skills that open tasks wait for and nobody has, and weekdays on which nobody is here for one; a sentence each."""
    waiting: dict[str, list[str]] = {}
    for task in store.tasks.tasks(with_done=False):
        waiting.setdefault(skill_of(task.operation), []).append(task.docket_number)
    return lacking_of(store.people.all(), store.day.hours(), store.day.own_weeks(), waiting)


def lacking_of(
    people: Sequence[Person], hours: Hours, own_weeks: Mapping[int, Week], waiting: Mapping[str, Sequence[str]]
) -> tuple[str, ...]:
    """The same of these people and hours; ``waiting``: by skill, the dockets whose tasks wait for it."""
    told = []
    for skill in SKILLS:
        able = [person for person in people if skill in person.skills]
        if not able and waiting.get(skill):
            numbers = list(dict.fromkeys(waiting[skill]))
            more = f" and {len(numbers) - _MOST_NAMED} more" if len(numbers) > _MOST_NAMED else ""
            told.append(f"Nobody has {skill}: {', '.join(numbers[:_MOST_NAMED])}{more} wait for it.")
        elif able:
            weeks = [own_weeks.get(person.id, hours.week) for person in able]
            days = [name for day, name in enumerate(_DAYS) if hours.week[day] and not any(week[day] for week in weeks)]
            told += [f"Nobody is here for {skill} on {', '.join(days)}."] if days else []
    return tuple(told)
