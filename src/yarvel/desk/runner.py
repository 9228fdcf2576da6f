"""Work off the GUI thread: one worker for the database, results handed back on the GUI thread."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, Signal, Slot

from yarvel.figures.errors import YarvelError

if TYPE_CHECKING:
    from concurrent.futures import Future, ThreadPoolExecutor


class Runner(QObject):
    """Runs one piece of work after another on a single thread."""

    _finished = Signal(object, object, object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._pool: ThreadPoolExecutor | None = None
        self._ended = False
        self._finished.connect(self._on_finished)

    def run(
        self, work: Callable[[], Any], then: Callable[[Any], None], failed: Callable[[YarvelError], None] | None = None
    ) -> None:
        """Run ``work`` in the background; ``then`` gets its result, ``failed`` a Yarvel error, on the GUI thread.
        After ``finish`` nothing is run and nothing handed back: the window is gone."""
        if self._ended:
            return
        future = self._worker().submit(work)
        future.add_done_callback(lambda done: self._hand_back(done, then, failed))

    def _worker(self) -> ThreadPoolExecutor:
        """The one worker, made when it is needed first."""
        if self._pool is None:
            from concurrent.futures import ThreadPoolExecutor

            self._pool = ThreadPoolExecutor(max_workers=1, thread_name_prefix="store")
        return self._pool

    def _hand_back(
        self, done: Future[Any], then: Callable[[Any], None], failed: Callable[[YarvelError], None] | None
    ) -> None:
        self._finished.emit(done, then, failed)

    @Slot(object, object, object)
    def _on_finished(
        self, done: Future[Any], then: Callable[[Any], None], failed: Callable[[YarvelError], None] | None
    ) -> None:
        if self._ended:
            return
        error = done.exception()
        if isinstance(error, YarvelError) and failed is not None:
            failed(error)
        elif error is not None:
            raise error
        else:
            then(done.result())

    def finish(self, last: Callable[[], Any] | None = None) -> Any:
        """Wait for all work in hand, then for ``last``; returns its result. For closing down."""
        self._ended = True
        result = self._worker().submit(last).result() if last is not None else None
        self._worker().shutdown(wait=True)
        return result
