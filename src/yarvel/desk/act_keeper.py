"""Acts on tasks and the fine book: done at once where the store answers, else in their order when it does again."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime
from typing import Any

from PySide6.QtCore import QObject, QTimer, Signal

from yarvel.desk.runner import Runner
from yarvel.figures.errors import StoreGoneError, YarvelError
from yarvel.workshop.acts import WAITS, Act, do
from yarvel.workshop.waiting import WaitingActs
from yarvel.workshop.who_may import NotSignedInError

RETRY_MS = 2000

Then = Callable[[str], None]
"""Gets "" where the act was done, else what became of it in a line."""


class ActKeeper(QObject):
    """One act after another; what waits is on this machine's disk."""

    told = Signal(str)
    done = Signal()

    def __init__(self, runner: Runner, parent: QObject | None = None, waiting: WaitingActs | None = None) -> None:
        super().__init__(parent)
        self._runner = runner
        self._store: Any = None
        self._on_disk = waiting
        self._queue: list[tuple[Act, Then | None]] = []
        self._busy = False
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.try_again)

    def begin(self, store: Any) -> None:
        """The store is open: do what windows that are gone have left, and whatever is asked from now on."""
        self._store = store
        if self._on_disk is not None:
            left = self._on_disk.taken_over()
            self._queue[:0] = [(act, None) for act in left]
            self._write_down()
            self._on_disk.forget()
        self.try_again()

    def act(self, name: str, arguments: dict[str, Any], then: Then) -> None:
        """Do something now; ``then`` is told what became of it at the first attempt."""
        by = "" if self._store is None else self._store.by
        self._queue.append((Act(name, arguments, datetime.now(UTC).replace(tzinfo=None), by), then))
        self._write_down()
        if self._store is not None and not self._timer.isActive():
            self.try_again()
        else:
            self._put_off(f"{name}: {WAITS} until the store answers")

    @property
    def waiting(self) -> bool:
        """Whether anything is not done yet."""
        return bool(self._queue)

    def try_again(self) -> None:
        """Do the first one now."""
        if self._store is None or self._busy or not self._queue:
            return
        self._busy = True
        store, act = self._store, self._queue[0][0]

        def work() -> YarvelError | None:
            try:
                do(store, act)
            except YarvelError as error:
                return error
            return None

        self._runner.run(work, self._on_tried)

    def _on_tried(self, error: YarvelError | None) -> None:
        self._busy = False
        if isinstance(error, StoreGoneError | NotSignedInError):
            self._put_off(f"{self._queue[0][0].name}: {WAITS} until it can be stored ({error})")
            self._timer.start(RETRY_MS)
            return
        act, then = self._queue.pop(0)
        self._write_down()
        if then is not None:
            then("" if error is None else str(error))
        elif error is not None:
            self.told.emit(f"{act.name} at {act.at:%H:%M} UTC was not done: {error}")
        self.done.emit()
        self.try_again()

    def _put_off(self, text: str) -> None:
        """Everybody who asked knows by now that it waits."""
        for place, (act, then) in enumerate(self._queue):
            if then is not None:
                self._queue[place] = act, None
                then(text)

    def _write_down(self) -> None:
        if self._on_disk is None:
            return
        try:
            self._on_disk.replace(act for act, _ in self._queue)
        except OSError as error:
            self.told.emit(f"{error.strerror or error}: a disk with room that can be written to")

    def close(self) -> None:
        """The window closes; what waits is done at the next start."""
        self._timer.stop()
        if self._on_disk is not None:
            self._on_disk.close()
