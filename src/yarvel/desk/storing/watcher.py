"""Tells the window that the store has changed, whoever changed it."""

from __future__ import annotations

import threading
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

if TYPE_CHECKING:
    from yarvel.workshop.storage.location import Location


class Watcher(QObject):
    """Watches one store on a thread of its own; ``changed`` comes on the GUI thread."""

    changed = Signal()

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._stop = threading.Event()
        self._thread: threading.Thread | None = None

    def begin(self, place: Location) -> None:
        """Start to watch."""
        from yarvel.workshop.storage.watching import watch

        self._thread = threading.Thread(
            target=watch, args=(place, self._stop, self.changed.emit), daemon=True, name="watcher"
        )
        self._thread.start()

    def finish(self) -> None:
        """Stop to watch."""
        self._stop.set()
        if self._thread is not None:
            self._thread.join(timeout=2)
