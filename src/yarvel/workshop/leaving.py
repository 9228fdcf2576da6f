"""What would stay open behind a piece that leaves: its tasks, and metal that was issued for it and is not back."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

from yarvel.workshop.metal.fine_book import Balance, balances
from yarvel.workshop.people.person import Person
from yarvel.workshop.work.tasks import Task

if TYPE_CHECKING:
    from yarvel.workshop.store import Store

NOTHING_G = 0.005
"""Metal out below this is not metal out."""


class LeftOpen(Struct, frozen=True):
    """Open tasks of a docket, metal out by alloy, and who works here to hand things on to."""

    tasks: tuple[Task, ...]
    metal: tuple[Balance, ...]
    people: tuple[Person, ...]


def left_open(store: Store, docket_id: int) -> LeftOpen:
    """What is open of a docket now, checks aside."""
    entries = store.fine.of_docket(docket_id)
    metal = [balance for balance in balances(entries, "docket") if balance.open > NOTHING_G]
    tasks = store.tasks.tasks(docket_id, with_done=False)
    return LeftOpen(tuple(tasks), tuple(metal), tuple(store.people.all()))
