"""Everything that a plan of the day is made of, as the store has it at one moment. Times are local, without a zone."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date, datetime
from typing import Any

from msgspec import Struct, field

from yarvel.day.axis import Hours, Week
from yarvel.figures.custom import PREFIX
from yarvel.stones.cuts import CUTS
from yarvel.stones.species import SPECIES
from yarvel.workshop.people.person import Person
from yarvel.workshop.work.errands import Errand, errands_from
from yarvel.workshop.work.sharing import alloy_of
from yarvel.workshop.work.tasks import Task, Wanted

USUAL_STATIONS: dict[str, int] = {"torch": 2, "polishing": 2, "motor": 4, "laser": 1, "mill": 1, "draw-bench": 1}
"""How many can work at each at once (common practice in a small workshop, to be changed); benches are plenty."""


class Absence(Struct, frozen=True, kw_only=True):
    """Somebody is not there from then to then."""

    id: int
    person_id: int
    begins: datetime
    ends: datetime
    why: str = ""
    withdrawn: bool = False

    def document(self) -> dict[str, Any]:
        """As it is kept."""
        return {
            "person_id": self.person_id,
            "begins": self.begins.isoformat(timespec="minutes"),
            "ends": self.ends.isoformat(timespec="minutes"),
            "why": self.why,
            "withdrawn": self.withdrawn,
        }

    @classmethod
    def of(cls, key: int, held: Mapping[str, Any]) -> Absence:
        """One as it is kept."""
        begins, ends = (datetime.fromisoformat(str(held[name])) for name in ("begins", "ends"))
        return cls(
            id=key,
            person_id=int(held["person_id"]),
            begins=begins,
            ends=ends,
            why=str(held.get("why", "")),
            withdrawn=bool(held.get("withdrawn")),
        )


class Brief(Struct, frozen=True, kw_only=True):
    """What of a docket stands on the board."""

    id: int
    number: str
    customer: str
    item: str
    promised: date | None
    importance: str
    state: str
    version: int
    stone: str
    estimated: float
    alloy: str = ""

    @property
    def title(self) -> str:
        """Number and item."""
        return f"{self.number} · {self.item}" if self.item else self.number


def brief_of(row: Any) -> Brief:
    """From a row with the docket's columns."""
    estimated = (row.estimate or {}).get("minutes")
    return Brief(
        id=row.id,
        number=row.number,
        customer=row.customer,
        item=row.item,
        promised=row.promised_on,
        importance=row.importance,
        state=row.state,
        version=row.version,
        stone=stone_words(row.job_document or {}),
        estimated=float(estimated) if isinstance(estimated, int | float) else 0.0,
        alloy=alloy_of(row.job_document or {}),
    )


def stone_words(document: Mapping[str, Any]) -> str:
    """A job's stone in two words; "" where none was measured."""
    stone = document.get("stone")
    if not isinstance(stone, Mapping):
        return ""
    key, cut = str(stone.get("species", "")), CUTS.get(str(stone.get("cut", "")))
    own = key.removeprefix(PREFIX).replace("-", " ") if key.startswith(PREFIX) else ""
    species = SPECIES[key].label.casefold() if key in SPECIES else own
    words = [species, cut.label.casefold() if cut else ""]
    return ", ".join(word for word in words if word)


class Past(Struct, frozen=True, kw_only=True):
    """What somebody did today, from when to when; ``done`` whether that finished it."""

    person_id: int
    docket_id: int
    number: str
    operation: str
    begins: datetime
    ends: datetime
    done: bool


class Out(Struct, frozen=True):
    """A docket that is out of the house: where, and on which day it is back."""

    docket_id: int
    number: str
    where: str
    back: date


class Snapshot(Struct, frozen=True, kw_only=True):
    """``tasks`` those open of ``dockets``; ``bare`` dockets (by id) that have no tasks yet; ``free_from`` until when
    dockets wait without hands; ``shown`` the plan that people have seen, by task: person and begin of each piece.
    ``counted``: for bare dockets, the tasks that their plan has. ``spreads``: of the logarithm of minutes taken, by
    part of the work, where enough were recorded. ``past``: what was done today. ``own_weeks``: by person, the hours of
    those who do not keep the workshop's. ``after``: the count of the last act. ``errands``: what is sent out when;
    ``out``: what is out of the house now."""

    now: datetime
    people: tuple[Person, ...]
    tasks: tuple[Task, ...]
    dockets: tuple[Brief, ...]
    bare: frozenset[int]
    free_from: Mapping[int, datetime]
    hours: Hours
    stations: Mapping[str, int]
    absences: tuple[Absence, ...]
    shown: Mapping[str, Any]
    after: int = 0
    counted: Mapping[int, tuple[Wanted, ...]] = field(default_factory=dict)
    spreads: Mapping[str, float] = field(default_factory=dict)
    past: tuple[Past, ...] = ()
    own_weeks: Mapping[int, Week] = field(default_factory=dict)
    errands: Mapping[str, Errand] = field(default_factory=lambda: errands_from({}))
    out: tuple[Out, ...] = ()

    together: tuple[tuple[int, ...], ...] = ()
    """Tasks that are done together, group by group."""
    left_out: int = 0
    """How many open dockets are not planned, for there are too many."""
