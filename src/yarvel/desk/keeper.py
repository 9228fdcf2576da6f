"""Keeping: whatever is on the screen is in the store a moment later. There is no Save."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject, QTimer, Signal

from yarvel.desk.runner import Runner
from yarvel.figures.errors import YarvelError
from yarvel.workshop.dockets import Docket, DocketEdit

DELAY_MS = 200
RETRY_MS = 2000

Write = Callable[[int, DocketEdit], Docket]


class Keeper(QObject):
    """Gathers edits of one docket for a moment and writes them; what cannot be written is tried again."""

    kept = Signal(object)
    failing = Signal(str)

    def __init__(self, runner: Runner, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._runner = runner
        self._write: Write | None = None
        self._pending: dict[int, DocketEdit] = {}
        self._writing: dict[int, DocketEdit] = {}
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._on_due)

    def begin(self, write: Write) -> None:
        """The store is open: write what has gathered, and from now on."""
        self._write = write
        if self._pending:
            self._timer.start(0)

    def keep(self, docket_id: int, edit: DocketEdit) -> None:
        """Take an edit to be written soon."""
        held = self._pending.get(docket_id)
        self._pending[docket_id] = edit if held is None else held.then(edit)
        if not self._timer.isActive():
            self._timer.start(DELAY_MS)

    @property
    def waiting(self) -> bool:
        """Whether anything is not in the store yet."""
        return bool(self._pending or self._writing)

    def take_all(self) -> dict[int, DocketEdit]:
        """Everything that is not yet known to be in the store, to be written on closing."""
        self._timer.stop()
        taken = dict(self._writing)
        for docket_id, edit in self._pending.items():
            taken[docket_id] = taken[docket_id].then(edit) if docket_id in taken else edit
        self._pending, self._writing = {}, {}
        return taken

    def _on_due(self) -> None:
        write = self._write
        if write is None or self._writing:
            if write is not None and self._pending:
                self._timer.start(DELAY_MS)
            return
        self._writing, self._pending = self._pending, {}
        edits = dict(self._writing)

        def work() -> list[Docket]:
            return [write(docket_id, edit) for docket_id, edit in edits.items()]

        self._runner.run(work, self._on_written, self._on_failed)

    def _on_written(self, dockets: list[Docket]) -> None:
        self._writing = {}
        for docket in dockets:
            self.kept.emit(docket)

    def _on_failed(self, error: YarvelError) -> None:
        for docket_id, edit in self._writing.items():
            later = self._pending.get(docket_id)
            self._pending[docket_id] = edit if later is None else edit.then(later)
        self._writing = {}
        self.failing.emit(str(error))
        self._timer.start(RETRY_MS)
