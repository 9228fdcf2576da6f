"""Opens the board, the fine book and the reports, and makes a docket's steps its tasks."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QWidget

from yarvel.desk.docket_desk import DocketDesk
from yarvel.desk.session import Session

if TYPE_CHECKING:
    from yarvel.desk.board.window import BoardWindow
    from yarvel.desk.fine.window import FineBookWindow
    from yarvel.desk.reports.window import ReportsWindow


class BoardDesk(QObject):
    """Answers the actions about tasks."""

    told = Signal(str)

    def __init__(
        self, window: QWidget, session: Session, dockets: DocketDesk, colours: Callable[[], dict[str, str]], today: date
    ) -> None:
        super().__init__(window)
        self._session, self._dockets, self._today = session, dockets, today
        self._colours = colours
        self.window: BoardWindow | None = None
        self.fine: FineBookWindow | None = None
        self.reports: ReportsWindow | None = None

    def open(self) -> None:
        """Show the board."""
        if self.window is None:
            from yarvel.desk.board.window import BoardWindow

            self.window = BoardWindow(
                self._dockets.ask,
                self._dockets.door.look,
                self._dockets.acts.act,
                lambda: self._session.rules,
                self._today,
            )
            self.window.docket_wanted.connect(self._dockets.open)
            self.window.told.connect(self.told)
        self.window.reload()
        self.window.show()

    def plan_tasks(self) -> None:
        """The steps of the docket in hand become its tasks; its price is worked out with them."""
        self._work_out(with_tasks=True)

    def work_out_price(self) -> None:
        """The price of the docket in hand from standard minutes and metal, kept on it; no tasks are made."""
        self._work_out(with_tasks=False)

    def _work_out(self, with_tasks: bool) -> None:
        session = self._session
        docket, plan = session.docket, session.plan
        if docket is None:
            self.told.emit("There is no docket in hand: take one in first.")
            return
        if with_tasks and plan is None:
            self.told.emit("There is no work to give out yet: measure the stone first, then its steps become tasks.")
            return
        rate = session.rules.hour_rate

        def work(store: Any) -> tuple[Any, str]:
            from yarvel.workshop.estimate import estimate, tasks_of

            wanted = tasks_of(plan, docket, store.tasks.operations())
            if with_tasks:
                store.tasks.plan_tasks(docket.id, wanted)
            return estimate(plan, wanted, rate), f"{len(wanted)} tasks for {docket.number}. " if with_tasks else ""

        def done(found: tuple[Any, str]) -> None:
            from yarvel.workshop.estimate import price_text

            price, text = found
            if session.docket is None or session.docket.id != docket.id:
                return
            session.set_column("estimate", price.kept(self._today))
            self.told.emit(f"{text}By standard {price_text(session.docket)}")
            if self.window is not None:
                self.window.reload()

        self._dockets.ask(work, done)

    def open_fine_book(self) -> None:
        """Show the fine book, ready to issue what the docket in hand takes."""
        from yarvel.desk.fine.window import FineBookWindow

        if self.fine is None:
            self.fine = FineBookWindow(
                self._dockets.door.look, self._dockets.acts.act, self._session.rules, self._today
            )
        self.fine.reload()
        self.fine.show()
        plan, docket = self._session.plan, self._session.docket
        if plan is not None and docket is not None:
            from yarvel.planning.material import material

            issued = material(plan).issued
            if issued:
                alloy, mass = max(issued.items(), key=lambda pair: pair[1])
                self.fine.suggest(alloy, mass, docket.number)

    def open_reports(self) -> None:
        """Show the reports."""
        if self.reports is None:
            from yarvel.desk.reports.window import ReportsWindow

            self.reports = ReportsWindow(
                self._dockets.ask, self._dockets.door.look, lambda: self._session.rules, self._colours(), self._today
            )
            self.reports.docket_wanted.connect(self._dockets.open)
            self.reports.told.connect(self.told)
        self.reports.reload()
        self.reports.show()

    def look_again(self) -> None:
        """The store has changed: what is open shows it."""
        for window in (self.window, self.fine, self.reports):
            if window is not None and window.isVisible():
                window.reload()

    def close(self) -> None:
        """The bench window closes, and these with it."""
        if self.reports is not None:
            self.reports.close()
        if self.fine is not None:
            self.fine.close()
        if self.window is not None:
            self.window.close()
