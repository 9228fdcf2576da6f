"""Tasks as the rest of the program sees them: frozen records, no ORM."""

from __future__ import annotations

from datetime import datetime
from typing import Any, NamedTuple

from msgspec import Struct

from yarvel.workshop.people.person import Person
from yarvel.workshop.storage.task_states import DONE
from yarvel.workshop.work.standards import label_of


class Task(Struct, frozen=True, kw_only=True):
    """One task of a docket: ``standard`` and ``taken`` in minutes; ``person`` who has it, "" while nobody has; what the
    step says and what was noted. ``taken`` by clocks that have stopped and ``running`` by the one that runs since
    ``started_at`` (UTC), as those minutes count; ``by_clock`` what the running one itself says. ``wait`` minutes
    without hands after it, ``station`` where most of it is done, ``pinned_at`` when it was set to begin (UTC)."""

    id: int
    docket_id: int
    docket_number: str
    position: int
    operation: str
    state: str
    person: str
    standard: float
    taken: float
    started_at: datetime | None
    note: str
    promised: str = ""
    ticks: tuple[str, ...] = ()
    wait: float = 0.0
    station: str = ""
    pinned_at: datetime | None = None
    running: float = 0.0
    by_clock: float = 0.0

    @property
    def label(self) -> str:
        """What its part of the work is called."""
        return label_of(self.operation)

    @property
    def left(self) -> float:
        """Standard minutes still to do, by what is recorded."""
        return 0.0 if self.state == DONE else max(self.standard - self.taken - self.running, 0.0)

    @property
    def minutes(self) -> float:
        """Minutes taken, those of a task in hand included."""
        return self.taken + self.running


class Wanted(NamedTuple):
    """A task that a docket is to have: its part of the work, standard minutes, minutes without hands after it, and the
    station where most of it is done."""

    operation: str
    minutes: float
    wait: float = 0.0
    station: str = ""


class WorkLeft(Struct, frozen=True):
    """What somebody ("" for nobody yet) has still to do of a docket: minutes ``left``, and its promise."""

    docket_id: int
    person: str
    promised: str
    left: float


class Load(Struct, frozen=True):
    """What a person has on the bench: open tasks and their standard minutes, and what is in hand."""

    person: Person
    tasks: int
    minutes: float
    in_hand: str


class Standing(Struct, frozen=True, kw_only=True):
    """How one task stands: everything of it that an act may change, and its last clock; times as ISO text (UTC)."""

    task_id: int
    position: int
    state: str
    person_id: int | None
    minutes: float
    note: str
    ticks: tuple[str, ...]
    dropped_at: str | None
    started_at: str | None
    stopped_at: str | None
    pinned_at: str | None = None
    corrected_minutes: float | None = None
    corrected_at: str | None = None


def standing_from(held: dict[str, Any] | Standing) -> Standing:
    """One as written down (TypeError where it is none)."""
    return held if isinstance(held, Standing) else Standing(**{**held, "ticks": tuple(held["ticks"])})
