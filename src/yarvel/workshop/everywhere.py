"""Finding in all that a workshop keeps: dockets, customers, what lies in the drawer."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec import Struct

from yarvel.metals.alloys import ALLOYS
from yarvel.workshop.dockets.records import Docket
from yarvel.workshop.drawer.stock import KINDS, StockItem
from yarvel.workshop.people.customers import KnownCustomer

if TYPE_CHECKING:
    from yarvel.workshop.store import Store

DOCKETS, CUSTOMERS, IN_DRAWER = 60, 8, 20
"""How many of each are listed at the most."""


class Hits(Struct, frozen=True):
    """What was found, each kind by itself, the newest first."""

    dockets: tuple[Docket, ...] = ()
    customers: tuple[KnownCustomer, ...] = ()
    stock: tuple[StockItem, ...] = ()

    def __bool__(self) -> bool:
        return bool(self.dockets or self.customers or self.stock)


def everywhere(store: Store, words: str) -> Hits:
    """All that holds every word; without any only the dockets that were changed last."""
    from yarvel.workshop.dockets.finding import clean  # with SQL: a window starts without it

    dockets = tuple(store.dockets(words, DOCKETS))
    wanted = [word for word in (clean(word) for word in words.split()) if word]
    if not wanted:
        return Hits(dockets)
    stock = [item for item in store.drawer.items() if _holds(item, wanted)]
    return Hits(dockets, tuple(store.customers.all(words, CUSTOMERS)), tuple(stock[:IN_DRAWER]))


def _holds(item: StockItem, words: list[str]) -> bool:
    text = f"{stock_text(item)} {item.metal}".casefold()
    return all(word in text for word in words)


def stock_text(item: StockItem) -> str:
    """A thing in the drawer in a line: what it is, its code, metal, measures, whose it is, what is noted of it."""
    kind = KINDS[item.kind]
    measures = []
    for measure in kind.measures:
        value = getattr(item, measure.name)
        if value is not None:
            measures.append(f"{measure.label.lower()} {value:g}")
    metal = ALLOYS[item.metal].label if item.metal in ALLOYS else item.metal
    said = (item.code, metal, item.cut, item.state, item.grade, *measures, item.owner, item.note)
    return " · ".join((kind.label, *(text for text in said if text)))
