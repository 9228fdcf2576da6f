"""Dockets that somebody typed at this machine and could not take in: somebody who may does so, as they were typed."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PySide6.QtCore import QObject, Qt, Signal
from PySide6.QtWidgets import QDialog, QHBoxLayout, QListWidget, QListWidgetItem, QPushButton, QVBoxLayout, QWidget

from yarvel.clock import local, now
from yarvel.desk.storing.docket_store import DocketStore, drafts_at
from yarvel.desk.widgets.manners import open_at
from yarvel.desk.widgets.words import Words
from yarvel.figures.errors import StoreError, StoreGoneError
from yarvel.planning.documents import Document
from yarvel.planning.job import merge_patch
from yarvel.workshop.dockets.records import Docket
from yarvel.workshop.storage.rights import TAKE_IN
from yarvel.workshop.waiting import Draft
from yarvel.workshop.work.snapshot import stone_words

if TYPE_CHECKING:
    from yarvel.workshop.store import Store

_EMPTY = "Nothing that was typed at this machine waits for somebody who may take it in."


class Drafts(QObject):
    """Says that there are some to whoever may take them in, and shows them."""

    told = Signal(str)

    def __init__(self, dockets: DocketStore, window: QWidget) -> None:
        super().__init__(window)
        self._dockets, self._window = dockets, window
        self.dialog: DraftsDialog | None = None

    def look(self) -> None:
        """Tell whoever is here now of what they may take in."""
        drafts = drafts_at(self._dockets)
        author = self._dockets.gateway.author
        if not drafts or self._dockets.gateway.locked or not self._dockets.ready:
            return

        def work(store: Store) -> list[Draft]:
            return [] if store.acting(author).refusal(TAKE_IN) else untaken(store, drafts)

        def done(waiting: list[Draft]) -> None:
            if waiting:
                names = ", ".join(sorted({draft.edit.author.name or "somebody" for draft in waiting}))
                what = "A docket was" if len(waiting) == 1 else f"{len(waiting)} dockets were"
                self.told.emit(
                    f"{what} typed here by {names} and could not be taken in. Look under “Typed and not taken in”, "
                    "Ctrl+Alt+N."
                )

        self._dockets.ask(work, done)

    def show(self) -> None:
        """All that are not taken in yet."""
        self.dialog = DraftsDialog(self._dockets, self._window)
        self.dialog.open()


class DraftsDialog(QDialog):
    """One line each, and the one button; what was taken in is opened."""

    def __init__(self, dockets: DocketStore, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._dockets = dockets
        self._drafts: list[Draft] = []
        self.setWindowTitle("Typed and not taken in")
        open_at(self, 620, 360)
        self.list = QListWidget(self)
        self.list.setObjectName("drafts.list")
        self.list.setAccessibleName("Dockets that were typed and not taken in")
        self.list.setWordWrap(True)
        self.problem = Words(self)
        self.problem.setObjectName("drafts.problem")
        self.problem.setWordWrap(True)
        self.take = QPushButton("Take this one in", self)
        self.take.setObjectName("drafts.take")
        self.take.clicked.connect(lambda _checked=False: self._on_take())
        self.list.itemActivated.connect(lambda _item: self._on_take())
        leave = QPushButton("Leave them", self)
        leave.clicked.connect(self.reject)
        buttons = QHBoxLayout()
        buttons.addStretch(1)
        buttons.addWidget(leave)
        buttons.addWidget(self.take)
        column = QVBoxLayout(self)
        column.addWidget(self.list, 1)
        column.addWidget(self.problem)
        column.addLayout(buttons)
        self.reload()

    def reload(self) -> None:
        """Ask the store which are taken in by now."""
        self.take.setEnabled(False)
        drafts = drafts_at(self._dockets)
        self._dockets.ask(lambda store: untaken(store, drafts), self._show)

    def _show(self, drafts: list[Draft]) -> None:
        self._drafts = drafts
        self.list.clear()
        for draft in drafts:
            self.list.addItem(QListWidgetItem(draft_words(draft)))
        self.list.setCurrentRow(0)
        self.take.setEnabled(bool(drafts))
        if not drafts:
            self.problem.setText(_EMPTY)
        self.list.setFocus(Qt.FocusReason.OtherFocusReason)

    def _on_take(self) -> None:
        place = self.list.currentRow()
        if not 0 <= place < len(self._drafts):
            return
        draft, author = self._drafts[place], self._dockets.gateway.author
        edit = replace(draft.edit, author=author, pressed=now())
        self.take.setEnabled(False)
        self.problem.setText("Being taken in…")
        asked = self._dockets.ask(
            _refused_in_words(lambda store: store.acting(author).take_in(edit, draft.edit.author.name)),
            partial(self._on_answer, draft),
        )
        if not asked:
            self.problem.setText("The store is away: the draft stays here; try again.")
            self.take.setEnabled(True)

    def _on_answer(self, draft: Draft, answer: Docket | str) -> None:
        if isinstance(answer, str):
            self.problem.setText(answer)
            self.take.setEnabled(True)
            return
        self._dockets.told.emit(
            f"{answer.number}: taken in as {draft.edit.author.name or 'somebody'} had typed it. Look it through."
        )
        self._dockets.new_docket.open(answer)
        self.accept()


def draft_words(draft: Draft) -> str:
    """One of them in words: who, when, whose, what, and why it was not taken in."""
    fields = draft.edit.fields
    document: Document = {}
    for patch in draft.edit.job_patches:
        document = merge_patch(document, patch)
    when = "" if draft.edit.pressed is None else f", {local(draft.edit.pressed):%a %-d %b %H:%M}"
    parts = (str(fields.get("customer") or ""), str(fields.get("item") or ""), stone_words(document))
    what = " · ".join(part for part in parts if part) or "nothing but its number was asked for"
    return f"{draft.edit.author.name or 'Somebody'}{when}: {what}\n{draft.why}"


def untaken(store: Store, drafts: list[Draft]) -> list[Draft]:
    """Those that are no docket yet."""
    from yarvel.workshop.dockets.finding import known_acts

    known = known_acts(store, [draft.id for draft in drafts])
    return [draft for draft in drafts if draft.id not in known]


def _refused_in_words(work: Callable[[Store], Docket]) -> Callable[[Store], Docket | str]:
    def ask(store: Store) -> Docket | str:
        try:
            return work(store)
        except StoreGoneError as error:
            return f"The store does not answer: the draft stays here; try again. ({error})"
        except StoreError as error:
            return str(error)

    return ask
