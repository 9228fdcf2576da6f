"""Acts on tasks and the fine book: done at once where the store answers, else in their order when it does again."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace
from PySide6.QtCore import QObject, QTimer, Signal

from yarvel.clock import here, now
from yarvel.desk.background.runner import Runner
from yarvel.figures.errors import StoreGoneError, YarvelError
from yarvel.workshop.acts import IN_WINDOW, UNSAVED, WAITS, Act, Deed, Reversal, do
from yarvel.workshop.storage.authors import NOBODY, Author
from yarvel.workshop.storage.identity import new_id
from yarvel.workshop.storage.rights import NotSignedInError
from yarvel.workshop.waiting import Refusal, WaitingActs

if TYPE_CHECKING:
    from yarvel.workshop.store import Store

RETRY_MS = 2000

Then = Callable[[str], None]
"""Gets "" where the act was done, else what became of it in a line."""


class Undoable(Struct, frozen=True):
    """A deed that was done, by which ``act``, and what takes it back; ``gesture`` numbers the movement of the hand that
    it came from: several tasks that are moved at once are one."""

    deed: Deed
    reversal: Reversal
    gesture: int = 0
    act: str = ""


class ActKeeper(QObject):
    """One act after another, each in the name of whoever did it; what waits is on this machine's disk."""

    told = Signal(str)

    done = Signal(object)
    """The deed that was tried at the store, done or refused: what shows it is asked for again."""
    refused = Signal(object)

    undoable = Signal(object)
    """What somebody did here and now that can be taken back: an ``Undoable``."""

    def __init__(self, runner: Runner, parent: QObject | None = None, waiting: WaitingActs | None = None) -> None:
        super().__init__(parent)
        self._runner = runner
        self._store: Store | None = None
        self._on_disk = waiting
        self._queue: list[tuple[Act, Then | None]] = []
        self._busy = False
        self._waits = WAITS
        self._gesture = 0
        self._gestures: dict[str, int] = {}
        self._rests = QTimer(self)
        self._rests.setSingleShot(True)
        self.author: Callable[[], Author] = lambda: NOBODY
        self.shut: Callable[[], str] = lambda: ""
        """Why nothing is taken now; "" where it is."""
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self.try_again)

    def begin(self, store: Store) -> None:
        """The store is open: do what windows that are gone have left, and whatever is asked from now on."""
        self._store = store
        if self._on_disk is not None:
            left = self._on_disk.taken_over()
            self._queue[:0] = [(act, None) for act in left]
            if self._write_down():  # else it stays where it lies, and is known by its name when it comes again
                self._on_disk.forget()
        self.try_again()

    def go_on_with(self, store: Store, waiting: WaitingActs) -> None:
        """Another store, with another place for what waits (OSError: it still waits where it did)."""
        waiting.replace(act for act, _ in self._queue)
        old, self._on_disk, self._store = self._on_disk, waiting, store
        if old is not None:
            old.replace(())
            old.close()

    def act(self, deed: Deed, then: Then, follows: str = "") -> None:
        """Do something now; ``then`` is told what became of it at the first attempt. ``follows``: the act that it takes
        back or does again."""
        shut = self.shut()
        if shut:
            then(shut)
            return
        if not self._rests.isActive():  # until the window comes to itself again it is one gesture
            self._gesture += 1
            self._rests.start(0)
        act = Act(deed, now(), self.author(), new_id(), follows)
        self._gestures[act.id] = self._gesture
        self._queue.append((act, then))
        self._write_down()
        if self._store is not None and not self._timer.isActive():
            self.try_again()
        else:
            self._put_off(f"{deed.NAME}: {self._waits} until the store answers")

    @property
    def waiting(self) -> bool:
        """Whether anything is not done yet."""
        return bool(self._queue)

    def signed(self, author: Author) -> None:
        """Somebody has signed in: what they did earlier and could not be stored is tried again."""
        self._queue = [
            (replace(act, author=author) if act.author == author else act, then) for act, then in self._queue
        ]
        self.try_again()

    def try_again(self) -> None:
        """Do the first one now."""
        store = self._store
        if store is None or self._busy or not self._queue:
            return
        self._busy = True
        act = self._queue[0][0]

        def work() -> Reversal | YarvelError | None:
            try:
                return do(store, act)
            except YarvelError as error:
                return error

        self._runner.run(work, self._on_tried)

    def _on_tried(self, result: Reversal | YarvelError | None) -> None:
        self._busy = False
        error = result if isinstance(result, YarvelError) else None
        act, then = self._queue[0]
        if isinstance(error, StoreGoneError) or (isinstance(error, NotSignedInError) and act.author.signed):
            self._put_off(f"{act.name}: {self._waits} until it can be stored ({error})")
            self._timer.start(RETRY_MS)
            return
        self._queue.pop(0)
        gesture = self._gestures.pop(act.id, 0)
        self._write_down()
        if then is not None:
            if isinstance(result, Reversal):
                self.undoable.emit(Undoable(act.deed, result, gesture, act.id))
            then("" if error is None else str(error))
        elif error is not None:
            self._refuse(act, error)
        self.done.emit(act.deed)
        self.try_again()

    def _refuse(self, act: Act, error: YarvelError) -> None:
        """Whoever did it does not wait for the answer any more: kept to be read, and told when they are here."""
        text = f"{act.name} at {here(act.at):%H:%M} was not done: {error}"
        if self._on_disk is not None:
            with suppress(OSError):
                text = f"{text} (kept in {self._on_disk.put_aside(act, str(error))})"
        self.refused.emit(Refusal(text, act.author))

    def _put_off(self, text: str) -> None:
        """Everybody who asked knows by now that it waits."""
        for place, (act, then) in enumerate(self._queue):
            if then is not None:
                self._queue[place] = act, None
                then(text)

    def _write_down(self) -> bool:
        """Only what is not done waits on disk from now on; returns whether all of it does."""
        if self._on_disk is None:
            return True
        try:
            self._on_disk.replace(act for act, _ in self._queue)
        except OSError as error:
            self._waits = IN_WINDOW
            self.told.emit(UNSAVED.format(why=error.strerror or error))
            return False
        self._waits = WAITS
        return True

    def close(self) -> None:
        """The window closes; what waits is done at the next start."""
        self._timer.stop()
        if self._on_disk is not None:
            self._on_disk.close()
