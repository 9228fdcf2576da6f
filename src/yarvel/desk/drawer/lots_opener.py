"""Opens what a docket's work takes of metal: worked out and asked for in the background."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Qt, Signal
from PySide6.QtWidgets import QWidget

from yarvel.desk.session.session import Session
from yarvel.desk.storing.docket_store import DocketStore
from yarvel.workshop.acts import Deed

if TYPE_CHECKING:
    from yarvel.desk.drawer.metal_lots import Held, MetalLotsDialog
    from yarvel.workshop.drawer.lots import Need
    from yarvel.workshop.drawer.stock import StockItem
    from yarvel.workshop.store import Store

DoAll = Callable[[list[Deed], Callable[[str], None]], None]


class LotsOpener(QObject):
    """One dialog of the docket in hand."""

    told = Signal(str)

    def __init__(self, window: QWidget, session: Session, dockets: DocketStore, do_all: DoAll) -> None:
        super().__init__(window)
        self._window, self._session, self._dockets, self._do_all = window, session, dockets, do_all
        self.dialog: MetalLotsDialog | None = None

    def open(self) -> None:
        """Work out what is cut and what comes back, see which lots there are, and show it."""
        plan, docket, rules = self._session.plan, self._session.docket, self._session.rules
        if plan is None or docket is None:
            self.told.emit("What the work takes is known once a docket has its stone and its head.")
            return

        def work(store: Store) -> tuple[tuple[Need, ...], list[StockItem], Held]:
            from yarvel.desk.drawer.metal_lots import Held
            from yarvel.operations.lot import poured_together
            from yarvel.planning.weighing import weighed
            from yarvel.route.balance import given_back, taken
            from yarvel.workshop.drawer.lots import back_as_lots, needs_of
            from yarvel.workshop.drawer.stock import LOT
            from yarvel.workshop.work.docket_work import work_of

            route = work_of(weighed(plan), docket, rules).route
            lots = [item for item in store.drawer.items() if item.kind == LOT]
            owners = store.drawer.owners_of(docket.id)
            backs = back_as_lots(poured_together(given_back(route)), docket.number, owners)
            known = {lot.code for lot in lots}
            needs = needs_of(poured_together(taken(route)))
            return needs, [b for b in backs if b.code not in known], Held(lots, store.people.all())

        def show(found: tuple[tuple[Need, ...], list[StockItem], Held]) -> None:
            from yarvel.desk.drawer.metal_lots import MetalLotsDialog

            if self.dialog is not None:
                self.dialog.close()
            self.dialog = MetalLotsDialog(docket, *found, rules, self._do_all, self._window)
            self.dialog.be(self._dockets.gateway.author.name)
            self.dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
            self.dialog.destroyed.connect(self._on_gone)
            self.dialog.bar_taken.connect(self._on_bar)
            self.dialog.show()

        self._dockets.ask(work, show)

    def _on_bar(self, across_mm: float, down_mm: float, length_mm: float) -> None:
        sizes = {"across_mm": round(across_mm, 2), "down_mm": round(down_mm, 2), "length_mm": length_mm}
        self._session.patch({"shank": {"stock": sizes}}, "Stock in hand")

    def _on_gone(self) -> None:
        self.dialog = None
