"""A line above a table: only rows that hold its words are shown."""

from __future__ import annotations

from PySide6.QtCore import QTimer, Signal
from PySide6.QtWidgets import QTableWidget, QWidget

from yarvel.desk.widgets.words import LineField

_TYPING_MS = 120


class RowFilter(LineField):
    """Hides the rows of its tables in which not every word stands. Of a long one (``rest``) not every row is there:
    whoever fills it hears of the words (``asked``), once somebody has rested from typing."""

    asked = Signal()

    def __init__(self, parent: QWidget, *tables: QTableWidget, rest: bool = False) -> None:
        super().__init__(parent)
        self.setPlaceholderText("rows that hold …")
        self.setAccessibleName("Words that the rows hold")
        self.setClearButtonEnabled(True)
        self._tables = tables
        self._soon, self._typing = QTimer(self), QTimer(self)
        for timer, act in ((self._soon, self._hide), (self._typing, self.asked.emit)):
            timer.setSingleShot(True)
            timer.timeout.connect(act)
        for table in tables:
            model = table.model()
            for changed in (model.dataChanged, model.rowsInserted):
                changed.connect(lambda *_what: self._soon.start(0) if self.words else None)
        self.textChanged.connect(lambda _text: self._hide())
        if rest:
            self.textChanged.connect(lambda _text: self._typing.start(_TYPING_MS))

    @property
    def words(self) -> tuple[str, ...]:
        """What is looked for, in small letters."""
        return tuple(self.text().casefold().split())

    def _hide(self) -> None:
        for table in self._tables:
            columns = range(table.columnCount())
            for row in range(table.rowCount()):
                items = [table.item(row, column) for column in columns]
                text = " ".join("" if item is None else item.text() for item in items).casefold()
                table.setRowHidden(row, not all(word in text for word in self.words))
