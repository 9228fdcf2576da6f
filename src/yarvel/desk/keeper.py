"""Keeping: whatever is on the screen is on disk at once and in the store a moment later. There is no Save."""

from __future__ import annotations

from collections.abc import Callable, Collection

from PySide6.QtCore import QObject, QTimer, Signal

from yarvel.desk.runner import Runner
from yarvel.figures.errors import StoreGoneError, YarvelError
from yarvel.workshop.dockets import Docket, DocketEdit
from yarvel.workshop.merging import EditClashError, settled
from yarvel.workshop.waiting import WaitingEdits
from yarvel.workshop.who_may import NotSignedInError

DELAY_MS = 200
RETRY_MS = 2000

Write = Callable[[int, DocketEdit], Docket]
_Outcome = Docket | YarvelError
_WAITS = (StoreGoneError, NotSignedInError)
"""What may be otherwise later: the edit waits."""


class Keeper(QObject):
    """Gathers edits of one docket for a moment and writes them. What the store cannot take now waits on disk and is
    tried again; what clashes with somebody else's change waits for an answer; what is refused is told and let go."""

    kept = Signal(object)
    failing = Signal(str)
    unsigned = Signal(str)
    clashed = Signal(object)
    refused = Signal(int, str)

    def __init__(self, runner: Runner, parent: QObject | None = None, waiting: WaitingEdits | None = None) -> None:
        super().__init__(parent)
        self._runner = runner
        self._write: Write | None = None
        self._on_disk = waiting
        self._pending: dict[int, DocketEdit] = {}
        self._writing: dict[int, DocketEdit] = {}
        self._asking: dict[int, tuple[DocketEdit, EditClashError]] = {}
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._on_due)

    def begin(self, write: Write) -> None:
        """The store is open: write what has gathered, and from now on."""
        self._write = write
        if self._pending:
            self._timer.start(0)

    def keep(self, docket_id: int, edit: DocketEdit) -> None:
        """Take an edit to be written soon; it is on disk when this returns."""
        self.note(docket_id, edit)
        held = self._pending.get(docket_id)
        self._pending[docket_id] = edit if held is None else held.then(edit)
        if not self._timer.isActive():
            self._timer.start(DELAY_MS)

    def note(self, docket_id: int, edit: DocketEdit) -> None:
        """Only write an edit down on this machine's disk."""
        if self._on_disk is not None:
            try:
                self._on_disk.add(docket_id, edit)
            except OSError as error:
                self.failing.emit(f"{error.strerror or error}: a disk with room that can be written to")

    @property
    def waiting(self) -> bool:
        """Whether anything is not in the store yet."""
        return bool(self._pending or self._writing or self._asking)

    def unwritten_fields(self, docket_id: int) -> dict[str, object]:
        """Columns of a docket that were changed here and are not in the store yet."""
        edits = [edit for edit in (self._writing.get(docket_id), self._pending.get(docket_id)) if edit is not None]
        return {name: value for edit in edits for name, value in edit.fields.items()}

    def settle(self, docket_id: int, keep_theirs: Collection[str]) -> None:
        """Somebody has said which of the clashing fields stay as stored: the rest is written."""
        if docket_id not in self._asking:
            return
        edit, error = self._asking.pop(docket_id)
        later = self._pending.pop(docket_id, None)
        self._pending[docket_id] = settled(error.docket, edit if later is None else edit.then(later), keep_theirs)
        self._timer.start(0)

    def take_all(self) -> dict[int, DocketEdit]:
        """Everything that is not yet known to be in the store, to be written on closing. What clashes stays on disk,
        and is asked about at the next start."""
        self._timer.stop()
        taken = dict(self._writing)
        for docket_id, edit in self._pending.items():
            if docket_id not in self._asking:
                taken[docket_id] = taken[docket_id].then(edit) if docket_id in taken else edit
        self._pending, self._writing = {}, {}
        return taken

    def _on_due(self) -> None:
        write = self._write
        if write is None or self._writing:
            if write is not None and self._pending:
                self._timer.start(DELAY_MS)
            return
        self._writing = {key: edit for key, edit in self._pending.items() if key not in self._asking}
        self._pending = {key: edit for key, edit in self._pending.items() if key in self._asking}
        edits = dict(self._writing)
        if not edits:
            return

        def work() -> list[tuple[int, _Outcome]]:
            return [(docket_id, _tried(write, docket_id, edit)) for docket_id, edit in edits.items()]

        self._runner.run(work, self._on_written)

    def _on_written(self, outcomes: list[tuple[int, _Outcome]]) -> None:
        written, self._writing = self._writing, {}
        for docket_id, outcome in outcomes:
            if isinstance(outcome, EditClashError):
                self._asking[docket_id] = written[docket_id], outcome
            elif isinstance(outcome, _WAITS):
                later = self._pending.get(docket_id)
                self._pending[docket_id] = written[docket_id] if later is None else written[docket_id].then(later)
        gone = [str(outcome) for _, outcome in outcomes if isinstance(outcome, StoreGoneError)]
        self._write_down()
        for docket_id, outcome in outcomes:
            if isinstance(outcome, Docket):
                self.kept.emit(outcome)
            elif isinstance(outcome, EditClashError):
                self.clashed.emit(outcome)
            elif isinstance(outcome, NotSignedInError):
                self.unsigned.emit(str(outcome))
            elif not isinstance(outcome, StoreGoneError):
                self.refused.emit(docket_id, self._put_aside(docket_id, written[docket_id], str(outcome)))
        if gone:
            self.failing.emit(gone[0])
            self._timer.start(RETRY_MS)

    def try_again(self) -> None:
        """Somebody has signed in, or something else is otherwise: what waits is tried now."""
        if self._pending:
            self._timer.start(0)

    def _put_aside(self, docket_id: int, edit: DocketEdit, why: str) -> str:
        """What is refused, and what was built on it, is kept for people to read; returns what to tell them."""
        later = self._pending.pop(docket_id, None)
        if self._on_disk is None:
            return why
        try:
            path = self._on_disk.put_aside(docket_id, edit if later is None else edit.then(later), why)
        except OSError:
            return why
        return f"{why} (what was refused is kept in {path})"

    def _write_down(self) -> None:
        """Only what is not stored waits on disk from now on."""
        if self._on_disk is None:
            return
        waiting = {docket_id: edit for docket_id, (edit, _) in self._asking.items()}
        for docket_id, edit in self._pending.items():
            waiting[docket_id] = waiting[docket_id].then(edit) if docket_id in waiting else edit
        try:
            self._on_disk.replace(waiting)
        except OSError as error:
            self.failing.emit(f"{error.strerror or error}: a disk with room that can be written to")


def _tried(write: Write, docket_id: int, edit: DocketEdit) -> _Outcome:
    try:
        return write(docket_id, edit)
    except YarvelError as error:
        return error
