"""Opens the board, the fine book and the reports, and makes a docket's steps its tasks."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QUndoStack
from PySide6.QtWidgets import QWidget

from yarvel import clock
from yarvel.desk.session.session import Session
from yarvel.desk.session.taken_back import UndoStep, remember
from yarvel.desk.storing.act_keeper import Undoable
from yarvel.desk.storing.docket_store import DocketStore
from yarvel.planning.documents import Document
from yarvel.workshop.acts import WAITS, Deed, PlanTasks, TakeStock
from yarvel.workshop.dockets.records import Docket
from yarvel.workshop.storage.rights import NotAllowedError

if TYPE_CHECKING:
    from yarvel.desk.board.window import BoardWindow
    from yarvel.desk.fine.window import FineBookWindow
    from yarvel.desk.reports.window import ReportsWindow
    from yarvel.workshop.leaving import LeftOpen
    from yarvel.workshop.money.estimate import Estimate
    from yarvel.workshop.store import Store
    from yarvel.workshop.work.proposing import Proposal
    from yarvel.workshop.work.tasks import Wanted


class TaskWindows(QObject):
    """Answers the actions about tasks."""

    told = Signal(str)
    docket_wanted = Signal(int)
    help_wanted = Signal()
    customer_wanted = Signal(str)

    def __init__(
        self,
        window: QWidget,
        session: Session,
        dockets: DocketStore,
        colours: Callable[[], dict[str, str]],
    ) -> None:
        super().__init__(window)
        self._session, self._dockets = session, dockets
        self._colours = colours
        self.window: BoardWindow | None = None
        self.fine: FineBookWindow | None = None
        self.reports: ReportsWindow | None = None
        self.undo_stack = QUndoStack(self)
        self._taking_back: list[Deed] = []
        dockets.acts.undoable.connect(self._on_undoable)

    def _on_undoable(self, done: Undoable) -> None:
        """What was done on the board can be taken back there; making tasks where it was asked for, too."""

        if any(done.deed is deed for deed in self._taking_back):  # undo itself
            self._taking_back = [deed for deed in self._taking_back if deed is not done.deed]
            return

        day = {} if self.window is None else self.window.day.stands.document

        def again(deed: Deed, day: Document) -> None:
            self._taking_back.append(deed)
            self._dockets.acts.act(deed, lambda text: self._on_taken_back(text, day), done.act)

        back, forth = done.reversal.back, done.reversal.again
        step = UndoStep(done.deed.NAME, lambda: again(back, day), lambda: again(forth, {}), done.gesture)
        here = (self._session.undo_stack,) if isinstance(done.deed, PlanTasks | TakeStock) else ()
        remember(step, self.undo_stack, *here)

    def _on_taken_back(self, text: str, day: Document) -> None:
        """The day that stood before the act stands again, where nothing else has happened since."""
        if text:
            self.told.emit(text)
        if text or not day:
            self.look_again()
            return

        def bring_back(store: Store) -> None:
            with suppress(NotAllowedError):
                store.day.kept.bring_back(day)

        self._dockets.ask(bring_back, lambda _done: self.look_again())

    def open(self) -> None:
        """Show the board."""
        if self.window is None:
            from yarvel.desk.board.window import BoardWindow

            self.window = BoardWindow(
                self._dockets.ask,
                self._dockets.gateway.look,
                self._dockets.acts.act,
                lambda: self._session.rules,
                self._colours(),
                self.undo_stack,
            )
            self.window.docket_wanted.connect(self.docket_wanted)
            self.window.told.connect(self.told)
            self.window.help_wanted.connect(self.help_wanted)
            self.destroyed.connect(self.window.deleteLater)
        self.window.reload()
        docket = self._session.docket
        if docket is not None and not self.window.isVisible():
            self.window.day.come_for(docket.number)
        _to_front(self.window)

    def scanned(self, number: str) -> bool:
        """A label was scanned: the board takes it where it is in front. Whether it did."""
        return self.window is not None and self.window.isActiveWindow() and self.window.scanned(number)

    def propose_date(self) -> None:
        """A day on which the docket in hand can be ready, by the plan of the day; it becomes its promise where it has
        none."""
        docket, plan, session, today = self._session.docket, self._session.plan, self._session, clock.today()
        if docket is None:
            self.told.emit("There is no docket in hand: take one in first.")
            return
        rules = session.rules

        def work(store: Store) -> Proposal | None:
            from yarvel.workshop.money.estimate import tasks_of
            from yarvel.workshop.work.proposing import propose

            wanted = () if plan is None else tuple(tasks_of(plan, docket, rules, store.tasks.standards()))
            return propose(store.day.snapshot(today, docket.id), docket.id, docket.promised_on, wanted)

        def show(found: Proposal | None) -> None:
            if found is None:
                self.told.emit("No day can be proposed: nobody is here who could do its work, or it is too far ahead.")
                return
            if session.docket is not None and session.docket.id == docket.id and session.docket.promised_on is None:
                session.set_column("promised_on", found.best)
            self.told.emit(f"{docket.number}: {found.text()}")

        self._dockets.gateway.look(work, show)

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
        rules = session.rules

        def work(store: Store) -> tuple[Estimate, list[Wanted]]:
            from yarvel.workshop.money.estimate import estimate, tasks_of

            wanted = tasks_of(plan, docket, rules, store.tasks.standards())
            return estimate(plan, docket, wanted, rules), wanted

        def done(found: tuple[Estimate, list[Wanted]]) -> None:
            price, wanted = found
            if with_tasks:
                message = f"{len(wanted)} tasks for {docket.number}; Undo takes them back. "
                deed = PlanTasks(docket.id, tuple(wanted))
                self._dockets.acts.act(deed, lambda text: self._on_planned(docket, price, text or message, not text))
            else:
                self._on_planned(docket, price, "", True)

        self._dockets.ask(work, done)

    def _on_planned(self, docket: Docket, price: Estimate, text: str, done: bool) -> None:
        from yarvel.workshop.money.estimate import price_text

        session = self._session
        if done and session.docket is not None and session.docket.id == docket.id:
            session.set_column("estimate", price.kept(clock.today()))
            text = f"{text}By standard {price_text(session.docket, session.rules)}"
        self.told.emit(text)
        if self.window is not None:
            self.window.reload()

    def look_left_open(self, show: Callable[[LeftOpen], None]) -> None:
        """What would stay open behind the docket in hand if it left now."""
        docket = self._session.docket
        if docket is None:
            return

        def work(store: Store) -> LeftOpen:
            from yarvel.workshop.leaving import left_open

            return left_open(store, docket.id)

        self._dockets.ask(work, show)

    def do_all(self, deeds: list[Deed], then: Callable[[str], None]) -> None:
        """One after the other; ``then`` gets "", or why one was refused (those before it stand, and can be undone)."""
        if not deeds:
            then("")
            self.look_again()
            return

        def go_on(text: str) -> None:
            if text and WAITS not in text:
                then(text)
            else:
                self.do_all(deeds[1:], then)

        self._dockets.acts.act(deeds[0], go_on)

    def open_fine_book(self) -> None:
        """Show the fine book, ready to issue what the docket in hand takes."""
        from yarvel.desk.fine.window import FineBookWindow

        if self.fine is None:
            self.fine = FineBookWindow(
                self._dockets.ask,
                self._dockets.gateway.look,
                self._dockets.acts.act,
                self._session.rules,
                self._colours(),
            )
            self.fine.docket_wanted.connect(self._open_numbered)
            self.destroyed.connect(self.fine.deleteLater)
        self.fine.reload(self._session.rules)
        _to_front(self.fine)
        plan, docket = self._session.plan, self._session.docket
        if plan is not None and docket is not None:
            fine, rules = self.fine, self._session.rules

            def weigh(_store: Store) -> dict[str, float]:
                from yarvel.planning.weighing import weighed
                from yarvel.route.balance import balances
                from yarvel.workshop.work.docket_work import work_of

                balance_rows = balances(work_of(weighed(plan), docket, rules).route)
                return {key: balance.issue_g for key, balance in balance_rows.items() if balance.issue_g > 0}

            def suggest(issued: dict[str, float]) -> None:
                if issued:
                    alloy, mass = max(issued.items(), key=lambda pair: pair[1])
                    fine.suggest(alloy, mass, docket.number)

            self._dockets.ask(weigh, suggest)

    def _open_numbered(self, number: str) -> None:
        def found(docket: Docket | None) -> None:
            if docket is not None:
                self.docket_wanted.emit(docket.id)

        self._dockets.gateway.look(lambda store: store.numbered(number), found)

    def open_reports(self) -> None:
        """Show the reports."""
        if self.reports is None:
            from yarvel.desk.reports.window import ReportsWindow

            self.reports = ReportsWindow(
                self._dockets.ask, self._dockets.gateway.look, lambda: self._session.rules, self._colours()
            )
            self.reports.docket_wanted.connect(self.docket_wanted)
            self.reports.customer_wanted.connect(self.customer_wanted)
            self.reports.told.connect(self.told)
            self.destroyed.connect(self.reports.deleteLater)
        self.reports.reload()
        _to_front(self.reports)

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


def _to_front(window: QWidget) -> None:
    """Shown, above the others, with the keys."""
    window.show()
    window.raise_()
    window.activateWindow()
    window.setFocus()
