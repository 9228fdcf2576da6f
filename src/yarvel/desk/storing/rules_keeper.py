"""House rules with the burs and the plate of the house's own drawer: on the screen at once, in the store behind it."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from yarvel.desk.session.session import Session
from yarvel.desk.storing.asking import Ask
from yarvel.figures.errors import StoreError
from yarvel.figures.rules import HouseRules, with_drawer
from yarvel.workshop.drawer.stock import StockItem, bur_sizes, plate_holes

if TYPE_CHECKING:
    from yarvel.workshop.store import Store


class RulesKeeper(QObject):
    """Keeps the session's rules as the house has them."""

    told = Signal(str)
    kept = Signal()

    def __init__(self, session: Session, ask: Ask) -> None:
        super().__init__()
        self._session, self._ask = session, ask
        self._mark: object = None

    def load(self, store: Store) -> HouseRules:
        """The house's rules as the store has them; not on the GUI thread."""
        self._mark = store.drawer.mark()
        from yarvel.workshop.drawer.drawer_store import rules_of

        return rules_of(store)

    def changed(self, store: Store) -> HouseRules | None:
        """The rules where somebody changed them or the drawer since, else None; not on the GUI thread."""
        return None if store.drawer.mark() == self._mark else self.load(store)

    def keep_rules(self, rules: HouseRules) -> None:
        """Change the house rules; what the store says counts."""
        seen = self._session.rules
        self._session.set_rules(_with_drawer(rules, seen))

        def work(store: Store) -> tuple[HouseRules, str]:
            try:
                return store.house.keep(rules, seen), ""
            except StoreError as error:
                return store.house.rules(), str(error)

        def done(kept: tuple[HouseRules, str]) -> None:
            self._session.set_rules(_with_drawer(kept[0], self._session.rules))
            if kept[1]:
                self.told.emit(kept[1])
            else:
                self.kept.emit()

        self._ask(work, done)

    def change_drawer(self, change: Callable[[Store], None], then: Callable[[list[StockItem]], None]) -> None:
        """Change the drawer; ``then`` gets what it holds afterwards. Burs in it count for every seat from now on."""

        def work(store: Store) -> list[StockItem]:
            change(store)
            self._mark = store.drawer.mark()
            stock_items: list[StockItem] = store.drawer.items()
            return stock_items

        def done(held: list[StockItem]) -> None:
            self._session.set_rules(with_drawer(self._session.rules, bur_sizes(held), plate_holes(held)))
            then(held)

        self._ask(work, done)


def _with_drawer(rules: HouseRules, held: HouseRules) -> HouseRules:
    """Rules with the burs and the plate of the drawer, which are not kept among them."""
    return with_drawer(rules, held.custom.burs_mm, held.custom.plate_mm)
