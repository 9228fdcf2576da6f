"""Acts that record when they happened: on tasks and in the fine book. Each can be done again without happening twice,
so that one whose answer was lost, or that waited for a server, is simply done again."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from datetime import datetime
from typing import TYPE_CHECKING, Any, ClassVar

from yarvel.figures.errors import StoreError
from yarvel.workshop.authors import NOBODY, Author, author_from

if TYPE_CHECKING:
    from yarvel.workshop.store import Store

WAITS = "waits on this machine"
"""What somebody is told whose act is not done yet."""


@dataclass(frozen=True)
class StartTask:
    """Somebody takes a task in hand."""

    KEY: ClassVar = "start-task"
    NAME: ClassVar = "start a task"
    task_id: int
    person_id: int

    def do(self, store: Store, at: datetime) -> object:
        """Do it (StoreError where it cannot be)."""
        return store.tasks.start(self.task_id, self.person_id, at)


@dataclass(frozen=True)
class StopTask:
    """Somebody lays a task down, finished or not."""

    KEY: ClassVar = "stop-task"
    NAME: ClassVar = "stop a task"
    task_id: int
    done: bool = False
    note: str = ""

    def do(self, store: Store, at: datetime) -> object:
        """Do it (StoreError where it cannot be)."""
        return store.tasks.stop(self.task_id, self.done, self.note, at)


@dataclass(frozen=True)
class GiveTask:
    """A task goes to somebody else, or to nobody."""

    KEY: ClassVar = "give-task"
    NAME: ClassVar = "hand a task on"
    task_id: int
    person_id: int | None
    note: str = ""

    def do(self, store: Store, at: datetime) -> object:
        """Do it (StoreError where it cannot be)."""
        return store.tasks.give(self.task_id, self.person_id, self.note, at)


@dataclass(frozen=True)
class TickLine:
    """A line of a task's step is ticked off, or not any more."""

    KEY: ClassVar = "tick-line"
    NAME: ClassVar = "tick a line"
    task_id: int
    line: str
    ticked: bool

    def do(self, store: Store, _at: datetime) -> object:
        """Do it (StoreError where it cannot be)."""
        return store.tasks.tick(self.task_id, self.line, self.ticked)


@dataclass(frozen=True)
class WeighMetal:
    """A line of the fine book."""

    KEY: ClassVar = "weigh-metal"
    NAME: ClassVar = "weigh metal"
    kind: str
    alloy: str
    mass_g: float
    person_id: int | None = None
    docket_number: str = ""
    note: str = ""

    def do(self, store: Store, at: datetime) -> object:
        """Do it (StoreError where it cannot be)."""
        return store.fine.add(self.kind, self.alloy, self.mass_g, self.person_id, self.docket_number, self.note, at)


Deed = StartTask | StopTask | GiveTask | TickLine | WeighMetal
DEEDS: dict[str, type[Deed]] = {deed.KEY: deed for deed in (StartTask, StopTask, GiveTask, TickLine, WeighMetal)}
_FORMER = {"task": "task_id", "person": "person_id", "mass": "mass_g", "docket": "docket_number"}
"""How arguments were called in what waited up to Yarvel 0.1."""


@dataclass(frozen=True)
class Act:
    """One act: what, when (UTC), and who did it."""

    deed: Deed
    at: datetime
    author: Author = NOBODY

    @property
    def name(self) -> str:
        """What it is, in words."""
        return self.deed.NAME

    def document(self) -> dict[str, Any]:
        """As it is written down while it waits."""
        return {
            "deed": self.deed.KEY,
            "at": self.at.isoformat(),
            "author": self.author.document(),
            **asdict(self.deed),
        }


def act_from(held: Mapping[str, Any]) -> Act:
    """An act as written down, by this Yarvel or an earlier one.

    Raises
    ------
    StoreError : it is no act, or not whole.
    """
    former = {deed.NAME: key for key, deed in DEEDS.items()}
    key = str(held.get("deed", former.get(str(held.get("name", "")), held.get("name", ""))))
    deed = DEEDS.get(key)
    if deed is None:
        raise StoreError(f"{key}: is no act: one of {', '.join(DEEDS)}")
    said = held.get("arguments", held)
    try:
        fields = {_FORMER.get(name, name): value for name, value in said.items()}
        for name in ("deed", "at", "author"):
            fields.pop(name, None)
        author = author_from(held["author"]) if "author" in held else Author(str(held.get("by", "")))
        return Act(deed(**fields), datetime.fromisoformat(held["at"]), author)
    except (TypeError, ValueError, KeyError, AttributeError) as error:
        raise StoreError(f"{key}: is not whole ({error}): an act as Yarvel writes it down") from error


def do(store: Store, act: Act) -> object:
    """Do an act in its author's name and by its author's rights; doing it again changes nothing more.

    Raises
    ------
    StoreError : it cannot be done any more, or its author may not.
    """
    return act.deed.do(store.acting(act.author), act.at)
