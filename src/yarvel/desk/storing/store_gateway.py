"""The door to the store: opened in the background, asked from the GUI thread, shut while nobody is signed in who should
be. What nobody foresaw is written down and told."""

from __future__ import annotations

import threading
import time
import traceback
from collections.abc import Callable
from contextlib import suppress
from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING, TypeVar

from PySide6.QtCore import QObject, QTimer, Signal

from yarvel.clock import local, now
from yarvel.desk.background.runner import Runner
from yarvel.figures.errors import StoreError, StoreGoneError, StoreMovedError, YarvelError
from yarvel.workshop.storage.authors import NOBODY, Author
from yarvel.workshop.storage.on_disk import flush_file
from yarvel.workshop.storage.places import log_file

if TYPE_CHECKING:
    from yarvel.workshop.store import Store

T = TypeVar("T")

_AGAIN_MS = 3000
_LARGE_COPY_AFTER_S = 15.0
SHUT = "Nobody is signed in: sign in first; nothing is taken until then."

OpenStore = Callable[[], "Store"]
"""Opens the store; called on the worker, so that its imports do not delay the window."""


class StoreGateway(QObject):
    """One store. Errors become a banner's text; the work on the screen goes on."""

    told = Signal(str)
    opened = Signal()
    moved = Signal(bool)

    def __init__(self, runner: Runner, open_store: OpenStore, author: Author = NOBODY, locked: bool = False) -> None:
        super().__init__()
        self._runner, self._reading = runner, Runner(self, "reading")
        self._open_store = open_store
        self.store: Store | None = None
        self._reader: Store | None = None
        self.author = author
        self.locked = locked
        self._queued: list[Callable[[], object]] = []
        self._moved = False
        self._logged: set[str] = set()
        for worker in (self._runner, self._reading):
            worker.unexpected.connect(self.tell_unexpected)

    def begin(self, prepare: Callable[[Store], T], then: Callable[[T], None]) -> None:
        """Open the store in the background; what was asked meanwhile is asked then."""

        def work() -> T:
            store = self._open_store()
            answer = prepare(store)
            self.store = store
            return answer

        def done(found: T) -> None:
            store = self.store
            assert store is not None
            if store.strange_pages is not None:
                self.told.emit(
                    f"Pages of another store lay beside this one; they are kept as {store.strange_pages.name}."
                )
            then(found)
            queued, self._queued = self._queued, []
            for ask in queued:
                ask()
            self.opened.emit()

        def failed(error: YarvelError) -> None:
            if isinstance(error, StoreGoneError):
                self.told.emit(f"The store does not answer; what you do waits on this machine. ({error})")
                QTimer.singleShot(_AGAIN_MS, lambda: self.begin(prepare, then))
            else:
                self.told.emit(str(error))

        self._runner.run(work, done, failed)

    def ask(self, question: Callable[[Store], T], then: Callable[[T], None], locked_too: bool = False) -> bool:
        """Have the store do something, or say something that is quick, in the background; what fails is told in a line.
        Nothing is asked while the door is locked, but by whoever unlocks it (``locked_too``): False then."""
        if self.locked and not locked_too:
            self.told.emit(SHUT)
            return False
        store = self.store
        if store is None:
            self._queued.append(lambda: self.ask(question, then, locked_too))
            return True
        self._runner.run(lambda: question(store), then, self._on_failed)
        return True

    def look(self, question: Callable[[Store], T], then: Callable[[T], None]) -> bool:
        """Ask for what is only read and may take long: on a connection of its own, so that storing goes on. Nothing is
        asked while the door is locked: False then."""
        if self.locked:
            self.told.emit(SHUT)
            return False
        store = self.store
        if store is None:
            self._queued.append(lambda: self.look(question, then))
            return True

        def work() -> T:
            if self._reader is None:
                self._reader = store.reader()
            return question(self._reader)

        self._reading.run(work, then, self._on_failed)
        return True

    def follow(self, question: Callable[[Store], T], then: Callable[[T], None]) -> None:
        """Ask what others have changed; a store that does not answer now is asked at the next change."""
        store = self.store
        if store is not None:
            self._runner.run(lambda: question(store), then, lambda _error: self.look_where())

    def _on_failed(self, error: YarvelError) -> None:
        if isinstance(error, StoreMovedError):
            self.look_where()  # which has its own notice
        else:
            self.told.emit(str(error))

    def look_where(self) -> None:
        """Look whether the file that was opened is still where it was; ``moved`` tells when that changes."""
        moved = self.store is not None and self.store.moved
        if moved != self._moved:
            self._moved = moved
            self.moved.emit(moved)

    @property
    def is_moved(self) -> bool:
        """Whether the file that was opened is elsewhere by now."""
        return self._moved

    def change_store(self, store: Store) -> None:
        """Go on with another open store, which holds all that this one held."""
        old, self.store, self._reader = self.store, store, None
        if old is not None:
            store.be(old.author)
            old.close()
        self.look_where()

    def unlock(self, author: Author) -> None:
        """Somebody signed in, or nobody needs to."""
        self.author, self.locked = author, False
        if self.store is not None and not author.signed:  # who signed in is who the store knows already
            self.store.be(author)

    def lock(self) -> None:
        """Nothing is taken any more until somebody signs in."""
        self.author, self.locked = NOBODY, True

    def copy_for_today(self) -> None:
        """The day's copy, in a thread of its own."""
        store = self.store
        if store is not None:
            arguments = (store, local(store.now()).date(), self.told.emit)
            threading.Thread(target=_copy, args=arguments, daemon=True, name="day's copy").start()

    def finish(self, last: Callable[[], object]) -> None:
        """Have the last things stored, then close; what hangs is left behind."""
        reader = self._reader

        def close() -> None:
            last()
            for store in (reader, self.store):
                if store is not None:
                    store.close()

        self._reading.finish(patience_s=1.0)
        self._runner.finish(close)

    def tell_unexpected(self, error: BaseException) -> None:
        """Written down whole each time, told once a kind."""
        place = write_down(error)
        frames = traceback.extract_tb(error.__traceback__)
        kind = f"{type(error).__name__} {frames[-1].filename}:{frames[-1].lineno}" if frames else type(error).__name__
        if kind not in self._logged:
            self._logged.add(kind)
            where = f"; it is written down in {place}" if place is not None else ""
            self.told.emit(
                f"Something went wrong that nobody foresaw ({type(error).__name__}){where}. What you typed is kept."
            )


def write_down(error: BaseException) -> Path | None:
    """Add an error to the log; returns where, None where that cannot be."""
    try:
        path = log_file()
        path.parent.mkdir(parents=True, exist_ok=True)
        with path.open("a", encoding="utf-8") as file:
            file.write(f"{now():%Y-%m-%d %H:%M:%S} UTC\n{''.join(traceback.format_exception(error))}\n")
        flush_file(path)
        return path
    except (OSError, StoreError):
        return None


def _more(count: int) -> str:
    return f" and {count - 1} more" if count > 1 else ""


def _copy(store: Store, today: date, tell: Callable[[str], None]) -> None:
    """The day's copy of a file; of a large one once the first docket is surely in hand. Then it is seen whether
    everything stands as its acts made it."""
    from yarvel.workshop.replaying import replay
    from yarvel.workshop.storage.backup import LARGE_BYTES, nightly

    path = store.path
    try:
        if path is None:
            return
        if path.stat().st_size > LARGE_BYTES:
            time.sleep(_LARGE_COPY_AFTER_S)
        if nightly(path, today) is None:
            return
        reader = store.reader()
        try:
            wrong = [*reader.closings.verify(), *replay(reader)]
        finally:
            reader.let_go()
        if not wrong:
            return
        said = f"Not all stands as its acts made it: {wrong[0]}{_more(len(wrong))}: yarvel verify lists it."
    except (StoreError, OSError) as error:
        said = f"No copy was made today: {error}"
    with suppress(RuntimeError):  # the window is gone
        tell(said)
