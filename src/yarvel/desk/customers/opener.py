"""Opens the window of customers, with whoever brought the docket in hand in front."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtGui import QUndoStack

from yarvel.desk.session.session import Session
from yarvel.desk.storing.docket_store import DocketStore

if TYPE_CHECKING:
    from yarvel.desk.customers.window import CustomersWindow


class CustomersOpener:
    """One window, made once and brought to the front after that."""

    def __init__(
        self, session: Session, dockets: DocketStore, undo_stack: QUndoStack, show_docket: Callable[[int], None]
    ) -> None:
        self._session, self._dockets, self._undo_stack = session, dockets, undo_stack
        self._show_docket = show_docket
        self.window: CustomersWindow | None = None

    def open(self) -> None:
        """Show it; the customer of the docket in hand is chosen."""
        docket = self._session.docket
        self.show("" if docket is None else docket.customer)

    def show(self, name: str) -> None:
        """Show it with somebody in front."""
        from yarvel.desk.customers.window import CustomersWindow

        if self.window is None:
            session, dockets = self._session, self._dockets
            self.window = CustomersWindow(dockets.ask, dockets.acts.act, lambda: session.rules, self._undo_stack)
            self.window.docket_wanted.connect(self._show_docket)
        self.window.show_customer(name)
        self.window.show()
        self.window.raise_()
        self.window.activateWindow()
        self.window.words.setFocus()

    def look_again(self) -> None:
        """The store has changed: what is shown is asked for again."""
        if self.window is not None and self.window.isVisible():
            self.window.reload()

    def close(self) -> None:
        """Close with the bench."""
        if self.window is not None:
            self.window.close()
            self.window.deleteLater()
            self.window = None
