"""Answers Ctrl+F: what was found is opened where it is kept."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QWidget

from yarvel.desk.actions import ACTIONS, ActionInfo
from yarvel.desk.session.session import Session
from yarvel.desk.storing.docket_store import DocketStore
from yarvel.workshop.dockets.records import Docket
from yarvel.workshop.drawer.stock import StockItem
from yarvel.workshop.everywhere import Hits, everywhere
from yarvel.workshop.people.customers import KnownCustomer

if TYPE_CHECKING:
    from yarvel.desk.finder.dialog import Found
    from yarvel.desk.finder.found_picture import Picture
    from yarvel.workshop.store import Store


class Finding:
    """One dialog over everything; ``show_customer``, ``show_stock`` and ``run`` open what is no docket."""

    def __init__(
        self,
        window: QWidget,
        session: Session,
        dockets: DocketStore,
        colours: Callable[[], dict[str, str]],
        show_customer: Callable[[str], None],
        show_stock: Callable[[StockItem], None],
        run: Callable[[str], None],
    ) -> None:
        self._window, self._session, self._dockets, self._colours = window, session, dockets, colours
        self._show_customer, self._show_stock, self._run = show_customer, show_stock, run

    def open(self) -> None:
        """Ask, and open what was chosen."""
        from yarvel.desk.finder.dialog import Finder

        look = self._dockets.gateway.look

        def ask(words: str, then: Callable[[Hits], None]) -> None:
            look(lambda store: everywhere(store, words), then)

        commands = [action for action in ACTIONS if action.name != "find"]
        finder = Finder(ask, self._draw, commands, self._colours(), self._window)
        if not finder.exec():
            return
        chosen_hit = finder.found
        if isinstance(chosen_hit, Docket):
            self._dockets.open(chosen_hit.id)
        elif isinstance(chosen_hit, KnownCustomer):
            self._show_customer(chosen_hit.name)
        elif isinstance(chosen_hit, StockItem):
            self._show_stock(chosen_hit)
        elif isinstance(chosen_hit, ActionInfo):
            self._run(chosen_hit.name)

    def _draw(self, found: Found, then: Callable[[Picture], None]) -> None:
        rules = self._session.rules

        def work(store: Store) -> Picture:
            from yarvel.desk.finder.found_picture import Picture, of_docket, of_stock

            if isinstance(found, Docket):
                return of_docket(store, found, rules)
            return of_stock(found, rules) if isinstance(found, StockItem) else Picture()

        self._dockets.gateway.look(work, then)
