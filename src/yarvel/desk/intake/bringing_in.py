"""Bringing in an archive: read beside the store's worker, what is here already asked about, all of it taken
in or none."""

from __future__ import annotations

import threading
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Qt, Signal
from PySide6.QtWidgets import QMessageBox, QProgressDialog, QWidget

from yarvel.desk.session.session import Session
from yarvel.desk.storing.docket_store import DocketStore
from yarvel.figures.errors import YarvelError
from yarvel.workshop.dockets.records import Docket
from yarvel.workshop.storage.rights import BRING_IN

if TYPE_CHECKING:
    from yarvel.workshop.dockets.archive_store import Brought
    from yarvel.workshop.store import Store

_SHOWN_NUMBERS = 6


class BringingIn(QObject):
    """One archive on its way in, with progress and a way back."""

    told = Signal(str)
    ended = Signal()
    _counted = Signal(int, int)

    def __init__(self, path: Path, window: QWidget, dockets: DocketStore, session: Session) -> None:
        super().__init__(window)
        self._path, self._window, self._dockets, self._session = path, window, dockets, session
        self._cancel = threading.Event()
        self.progress = QProgressDialog("Reading the archive…", "Cancel", 0, 0, window)
        self.progress.setWindowTitle("Bring in an archive")
        self.progress.setWindowModality(Qt.WindowModality.WindowModal)
        self.progress.setMinimumDuration(300)
        self.progress.setAutoClose(False)
        self.progress.setAutoReset(False)
        self.progress.canceled.connect(self._cancel.set)
        self.question: QMessageBox | None = None
        self._counted.connect(self._on_counted)

    def begin(self) -> None:
        """Read it, and see what of it is here already."""
        rules = self._session.rules

        def work(store: Store) -> tuple[list[Brought], dict[int, str], str]:
            from yarvel.exchange.archive import read_archive

            try:
                brought = read_archive(self._path, rules, self._counted.emit, self._cancel)
                return brought, store.archives.here_already([item.docket for item in brought]), ""
            except YarvelError as error:
                return [], {}, str(error)

        self._dockets.gateway.look(work, self._on_read)

    def _on_read(self, found: tuple[list[Brought], dict[int, str], str]) -> None:
        brought, here, wrong = found
        if wrong or self._cancel.is_set():
            self._end(wrong or "Nothing was brought in.")
        elif here:
            self._ask(brought, here)
        else:
            self._take(brought)

    def _ask(self, brought: list[Brought], here: dict[int, str]) -> None:
        self.progress.reset()
        numbers = ", ".join(list(here.values())[:_SHOWN_NUMBERS]) + (" …" if len(here) > _SHOWN_NUMBERS else "")
        question = QMessageBox(self._window)
        question.setWindowTitle("Bring in an archive")
        question.setTextFormat(Qt.TextFormat.PlainText)
        question.setText(f"Of {len(brought)} dockets {len(here)} are here already: {numbers}.")
        leave = question.addButton("Leave those out", QMessageBox.ButtonRole.AcceptRole)
        again = question.addButton("Bring them in once more", QMessageBox.ButtonRole.ActionRole)
        question.addButton("Bring in nothing", QMessageBox.ButtonRole.RejectRole)
        question.setDefaultButton(leave)
        self.question = question

        def answered() -> None:
            pressed = question.clickedButton()
            if pressed is leave:
                self._take([item for place, item in enumerate(brought) if place not in here])
            elif pressed is again:
                self._take(brought)
            else:
                self._end("Nothing was brought in.")

        question.finished.connect(lambda _result: answered())
        question.open()

    def _take(self, brought: Sequence[Brought]) -> None:
        self.progress.setLabelText("Taking the dockets in…")
        self.progress.setRange(0, max(len(brought), 1))
        total = len(brought)

        from yarvel.workshop.dockets.finding import dockets_of

        def work(store: Store) -> list[Docket]:
            return store.archives.bring_in(brought, lambda count: self._counted.emit(count, total), self._cancel)

        content = {"archive": str(self._path), "dockets": [one.docket.number for one in brought]}
        pressed = self._dockets.presses.once(BRING_IN, content, work, lambda store, act: dockets_of(store, act))

        def tried(store: Store) -> tuple[list[Docket], str]:
            try:
                return pressed(store), ""
            except YarvelError as error:
                return [], str(error)

        self._dockets.ask(tried, self._on_taken)

    def _on_counted(self, count: int, total: int) -> None:
        if self.progress.maximum() != total:
            self.progress.setMaximum(total)
        self.progress.setValue(count)

    def _on_taken(self, found: tuple[list[Docket], str]) -> None:
        taken, wrong = found
        if taken:
            self._dockets.new_docket.open(taken[-1])
        numbers = ", ".join(docket.number for docket in taken[:_SHOWN_NUMBERS])
        more = f" and {len(taken) - _SHOWN_NUMBERS} more" if len(taken) > _SHOWN_NUMBERS else ""
        self._end(wrong or f"Brought in: {numbers or 'nothing'}{more}.")

    def _end(self, text: str) -> None:
        self.progress.reset()
        self.progress.deleteLater()
        self.told.emit(text)
        self.ended.emit()
