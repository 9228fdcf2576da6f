"""What is sent out of the house: where to, on which days it is fetched until when, and when it is back."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from msgspec import Struct
from msgspec.structs import replace

from yarvel.figures.errors import StoreError

PREFIX = "out-"
"""Keys of tasks that send a piece out begin with it."""
PACK_MINUTES = 10.0
"""To pack a piece, weigh it and write it into the book of what is out (from memory)."""
MOST_BACK = 60
_AND = "+"


class Errand(Struct, frozen=True, kw_only=True):
    """One way out of the house: fetched on these weekdays (0: Monday) until ``by`` (minutes after midnight); back on
    the morning of the ``back``-th day after it went. ``does_it``: what is sent there is a task of the house, which is
    done there; else the piece goes there after a task, and nothing of the house's work is."""

    key: str
    label: str
    days: frozenset[int]
    by: int
    back: int
    does_it: bool = False

    @property
    def operation(self) -> str:
        """The key of its task; it is also where that task is done, for a plan: a place open on its days."""
        return f"{PREFIX}{self.key}"

    def document(self) -> dict[str, Any]:
        """As it is kept."""
        return {"days": sorted(self.days), "by": self.by, "back": self.back}


USUAL: tuple[Errand, ...] = (
    Errand(key="hallmark", label="assay office", days=frozenset({1, 3}), by=15 * 60, back=5),
    Errand(key="caster", label="caster", days=frozenset({0, 2}), by=12 * 60, back=3),
    Errand(key="plater", label="plater", days=frozenset({4}), by=12 * 60, back=4),
    Errand(key="cutter", label="stone cutter", days=frozenset({2}), by=15 * 60, back=7),
    Errand(key="outworker", label="outworker", days=frozenset(range(5)), by=16 * 60, back=2, does_it=True),
)
"""Where a trade workshop sends its pieces; days to be changed to those of the house (from memory)."""


def errand_of(operation: str) -> str:
    """Where a task sends its piece, by its key; "" for work that stays in the house."""
    if not operation.startswith(PREFIX):
        return ""
    named = operation.removeprefix(PREFIX)
    return next((errand.key for errand in USUAL if named == errand.key or named.startswith(f"{errand.key}-")), "")


def stands_for(operation: str) -> tuple[str, ...]:
    """Of a task that an outworker has, the parts of the house's work that are done there; none of any other."""
    for errand in USUAL:
        if errand.does_it and operation.startswith(f"{errand.operation}-"):
            return tuple(operation.removeprefix(f"{errand.operation}-").split(_AND))
    return ()


def in_place_of(errand: Errand, parts: Iterable[str]) -> str:
    """The key of the task that sends these parts of the work out together."""
    return f"{errand.operation}-{_AND.join(parts)}"


def away_minutes(errand: Errand, opens: int) -> float:
    """Minutes from when it is packed until it is back in the morning, where the house opens so many minutes after
    midnight: packed any time from then until noon and some hours, it is back at the opening."""
    return errand.back * 1440.0 - opens


def days_away(minutes: float) -> int:
    """The days that :func:`away_minutes` was made of."""
    return round(minutes / 1440)


def errands_from(held: Mapping[str, Any]) -> dict[str, Errand]:
    """All errands by key, as kept; the usual one where none is."""
    errands_by_key = {}
    for errand in USUAL:
        mine = held.get(errand.key)
        if isinstance(mine, Mapping):
            days = frozenset(int(day) for day in mine["days"])
            errand = replace(errand, days=days, by=int(mine["by"]), back=int(mine["back"]))
        errands_by_key[errand.key] = errand
    return errands_by_key


def check_errand(one: Errand) -> None:
    """StoreError for one that never goes, or never comes back."""
    if not one.days or not one.days <= set(range(7)) or not 0 < one.by <= 24 * 60 or not 1 <= one.back <= MOST_BACK:
        raise StoreError(
            f"{one.label}: fetched on no day, at no time of day, or not back within {MOST_BACK} days: at least one "
            f"weekday, a time of day, and 1 to {MOST_BACK} days"
        )
