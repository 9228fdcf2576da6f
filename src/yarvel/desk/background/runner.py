"""Work off the GUI thread: one worker for what is written, one for what is only read; results come back on the GUI
thread. Nothing that hangs keeps the window from closing."""

from __future__ import annotations

import queue
import threading
from collections.abc import Callable
from contextlib import suppress
from functools import partial
from typing import TypeVar

from msgspec import Struct
from PySide6.QtCore import QObject, Signal, Slot

from yarvel.figures.errors import YarvelError

CLOSING_S = 6.0
"""How long closing waits for work in hand; what it was is on disk."""


T = TypeVar("T")


class _Done(Struct, frozen=True):
    """What became of a piece of work: what is to be called with its result, or its error."""

    then: Callable[[], None]
    error: BaseException | None
    failed: Callable[[YarvelError], None] | None


def _nothing() -> None:
    """What comes of work that failed."""


class Runner(QObject):
    """Runs one piece of work after another on a single thread."""

    unexpected = Signal(object)
    _finished = Signal(object)

    def __init__(self, parent: QObject | None = None, name: str = "store") -> None:
        super().__init__(parent)
        self._name = name
        self._work: queue.SimpleQueue[Callable[[], object] | None] = queue.SimpleQueue()
        self._thread: threading.Thread | None = None
        self._ended = False
        self._finished.connect(self._on_finished)

    def run(
        self,
        work: Callable[[], T],
        then: Callable[[T], None],
        failed: Callable[[YarvelError], None] | None = None,
    ) -> None:
        """Run ``work`` in the background; ``then`` gets its result, ``failed`` a Yarvel error, on the GUI thread. An
        error that nobody foresaw goes out as ``unexpected``.
        After ``finish`` nothing is run and nothing handed back: the window is gone."""
        if not self._ended:
            self._put(lambda: self._hand_back(work, then, failed))

    def _hand_back(
        self, work: Callable[[], T], then: Callable[[T], None], failed: Callable[[YarvelError], None] | None
    ) -> None:
        try:
            done = _Done(partial(then, work()), None, failed)
        except Exception as error:
            done = _Done(_nothing, error, failed)
        if not self._ended:
            with suppress(RuntimeError):  # the window is gone meanwhile
                self._finished.emit(done)

    def _put(self, work: Callable[[], object] | None) -> None:
        if self._thread is None:
            # A daemon: a server that never answers must not keep the program from ending.
            self._thread = threading.Thread(target=self._go_on, daemon=True, name=self._name)
            self._thread.start()
        self._work.put(work)

    def _go_on(self) -> None:
        while (work := self._work.get()) is not None:
            work()

    @Slot(object)
    def _on_finished(self, done: _Done) -> None:
        if self._ended:
            return
        if done.error is None:
            done.then()
        elif isinstance(done.error, YarvelError) and done.failed is not None:
            done.failed(done.error)
        else:
            self.unexpected.emit(done.error)

    def finish(self, last: Callable[[], object] | None = None, patience_s: float = CLOSING_S) -> bool:
        """Wait for all work in hand, then for ``last``; for closing down. Returns whether all of it was done in time:
        what hangs is left behind."""
        self._ended = True
        if self._thread is None and last is None:
            return True
        if last is not None:
            self._put(last)
        self._put(None)
        assert self._thread is not None
        self._thread.join(patience_s)
        return not self._thread.is_alive()
