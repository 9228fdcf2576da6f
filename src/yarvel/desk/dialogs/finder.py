"""Find a docket in a few keystrokes: number, customer, item or state, as you type."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QDialog, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from yarvel.desk.theme import BODY_PX
from yarvel.desk.widgets.manners import open_at
from yarvel.desk.widgets.words import Line, Words
from yarvel.drawing.painters.qt import font
from yarvel.workshop.dockets import Docket

Ask = Callable[[str, Callable[[list[Docket]], None]], None]


class Finder(QDialog):
    """Returns the id of the docket chosen, or None."""

    def __init__(self, ask: Ask, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._ask = ask
        self.docket_id: int | None = None
        self.setWindowTitle("Find a docket")
        open_at(self, 860, 480)
        self.words = Line(self)
        self.words.setPlaceholderText("number, customer, stone, metal, person, date …")
        self.words.setAccessibleName("Words to find")
        self.rows = QListWidget(self)
        self.rows.setAccessibleName("Dockets found")
        self.rows.setFont(font(BODY_PX))
        self.rows.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.rows.setTextElideMode(Qt.TextElideMode.ElideRight)
        self._empty = Words(self)
        self._empty.setWordWrap(True)
        self._empty.setProperty("quiet", True)
        column = QVBoxLayout(self)
        for widget in (self.words, self.rows, self._empty):
            column.addWidget(widget)
        self.words.textChanged.connect(self._on_words)
        self.rows.itemActivated.connect(self._on_activated)
        self._on_words("")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Up and down move through what was found while typing; Enter opens."""
        if event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up) and self.rows.count():
            step = 1 if event.key() == Qt.Key.Key_Down else -1
            self.rows.setCurrentRow(max(0, min(self.rows.currentRow() + step, self.rows.count() - 1)))
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.rows.currentItem() is not None:
            self._on_activated(self.rows.currentItem())
        else:
            super().keyPressEvent(event)

    def _on_words(self, words: str) -> None:
        self._ask(words, lambda found: self._show(words, found))

    def _show(self, words: str, found: list[Docket]) -> None:
        if words != self.words.text():
            return
        self.rows.clear()
        for docket in found:
            item = QListWidgetItem(row_text(docket))
            item.setData(Qt.ItemDataRole.UserRole, docket.id)
            self.rows.addItem(item)
        if found:
            self.rows.setCurrentRow(0)
        self._empty.setText(
            ""
            if found
            else "No docket holds these words: take some away. Those put aside are found by the word “aside”."
            if words
            else "No dockets yet. Close this and press Ctrl+N to take one in."
        )

    def _on_activated(self, item: QListWidgetItem) -> None:
        self.docket_id = item.data(Qt.ItemDataRole.UserRole)
        self.accept()


def row_text(docket: Docket) -> str:
    """One docket in one row."""
    promised = f"for {docket.promised_on:%d %b %Y}" if docket.promised_on else "no date"
    named = " · ".join(word for word in (docket.customer, docket.item) if word) or "not named yet"
    return f"{docket.number}   {named}   –  {docket.standing}, {promised}"
