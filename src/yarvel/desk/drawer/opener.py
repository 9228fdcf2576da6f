"""Opens the drawer; its window is loaded when it is asked for first."""

from __future__ import annotations

from typing import TYPE_CHECKING

from yarvel.desk.session.session import Session
from yarvel.desk.storing.docket_store import DocketStore
from yarvel.workshop.drawer.stock import StockItem

if TYPE_CHECKING:
    from yarvel.desk.drawer.window import DrawerWindow


class DrawerOpener:
    """One drawer window, made once and brought to the front after that."""

    def __init__(self, session: Session, dockets: DocketStore) -> None:
        self._session, self._dockets = session, dockets
        self.window: DrawerWindow | None = None

    def open(self) -> None:
        """Show the drawer."""
        from yarvel.desk.drawer.window import DrawerWindow

        if self.window is None:
            self.window = DrawerWindow(self._session, self._dockets)
        elif self.window.isVisible():
            self.window.raise_()
        else:
            self.window.look_again()
        self.window.show()
        self.window.activateWindow()

    def show(self, item: StockItem) -> None:
        """Show it with one thing in front."""
        self.open()
        window = self.window
        if window is None:
            return
        window.ranked.setChecked(False)
        window.kind.setCurrentIndex(window.kind.findData(item.kind))
        window.words.setText(item.code)
        for line in (window.low, window.high):
            line.clear()
        window.refresh()

    def close(self) -> None:
        """Close with the bench."""
        if self.window is not None:
            self.window.close()
            self.window.deleteLater()
            self.window = None
