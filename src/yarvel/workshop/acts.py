"""Acts that record when they happened: on tasks and in the fine book. Each can be done again without happening twice,
so that one whose answer was lost, or that waited for a server, is simply done again."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import TYPE_CHECKING, Any

from yarvel.figures.errors import StoreError

if TYPE_CHECKING:
    from yarvel.workshop.store import Store

START, STOP, GIVE, TICK, WEIGH = "start a task", "stop a task", "hand a task on", "tick a line", "weigh metal"
WAITS = "waits on this machine"
"""What somebody is told whose act is not done yet."""


@dataclass(frozen=True)
class Act:
    """One act: what, with which words and numbers, when (UTC), and who did it by the window's account."""

    name: str
    arguments: Mapping[str, Any]
    at: datetime
    by: str = ""


def _start(store: Store, task: int, person: int, at: datetime) -> object:
    return store.tasks.start(task, person, at)


def _stop(store: Store, task: int, done: bool, note: str, at: datetime) -> object:
    return store.tasks.stop(task, done, note, at)


def _give(store: Store, task: int, person: int | None, note: str, at: datetime) -> object:
    return store.tasks.give(task, person, note, at)


def _tick(store: Store, task: int, line: str, ticked: bool, at: datetime) -> object:
    return store.tasks.tick(task, line, ticked)


def _weigh(
    store: Store, kind: str, alloy: str, mass: float, person: int | None, docket: str, note: str, at: datetime
) -> object:
    return store.fine.add(kind, alloy, mass, person, docket, note, at)


_DOERS: dict[str, Callable[..., object]] = {START: _start, STOP: _stop, GIVE: _give, TICK: _tick, WEIGH: _weigh}


def do(store: Store, act: Act) -> object:
    """Do an act; doing it again changes nothing more.

    Raises
    ------
    StoreError : there is no such act, or it cannot be done any more.
    """
    doer = _DOERS.get(act.name)
    if doer is None:
        raise StoreError(f"{act.name}: is no act: one of {', '.join(_DOERS)}")
    now = store.by
    if act.by and act.by != now:  # it waited, and somebody else is here by now: the history names both
        store.by = f"{act.by}, stored by {now}" if now else act.by
    try:
        return doer(store, **act.arguments, at=act.at)
    finally:
        store.by = now
