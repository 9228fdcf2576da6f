"""Rows of a report as a table: of the words that somebody wants, in the order of the head that was pressed."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import QAbstractItemView, QTableWidget, QTableWidgetItem, QVBoxLayout, QWidget

from yarvel.desk.reports.report import ReportLine
from yarvel.desk.reports.rows import holding, in_order
from yarvel.desk.widgets.plain_table import plain_table
from yarvel.desk.widgets.row_order import RowOrder
from yarvel.desk.widgets.rows_on_demand import PAGE, RowsOnDemand, fit_columns
from yarvel.desk.widgets.words import Words

_NO_ROWS = "No row holds these words."


class SortedRows(QWidget):
    """A table of lines, and what stands there while it is ``empty``. A press on a head sorts by it, once more the other
    way round; ``shown`` are the rows as they stand; one column may be typed in (``edited``)."""

    opened = Signal(object)
    typed = Signal(object, str)

    def __init__(
        self, title: str, heads: Sequence[str], empty: str, parent: QWidget, edited: int | None = None
    ) -> None:
        super().__init__(parent)
        self.title, self.heads = title, tuple(heads)
        self.shown: tuple[ReportLine, ...] = ()
        self._lines: tuple[ReportLine, ...] = ()
        self._words = ""
        self._edited, self._said = edited, empty
        self._empty = Words(empty, self)
        self._empty.setProperty("quiet", True)
        self.table: QTableWidget = plain_table(self, heads, title)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self._empty)
        column.addWidget(self.table, 1)
        self.table.cellDoubleClicked.connect(self._on_pressed_twice)
        for keys in ("Return", "Enter"):
            opening = QShortcut(QKeySequence(keys), self.table, self._on_enter)
            opening.setContext(Qt.ShortcutContext.WidgetShortcut)
        self._rows: RowsOnDemand | None = None
        if edited is None:
            self._rows = RowsOnDemand(
                self.table, lambda first, count, then: then(self._texts(first, count)), self._show
            )
        else:
            order = RowOrder.of(self.table)
            if order is not None:  # a row's number is that of what is shown
                order.paged = True
                order.changed.connect(self._show)
            typing = QAbstractItemView.EditTrigger.DoubleClicked | QAbstractItemView.EditTrigger.EditKeyPressed
            self.table.setEditTriggers(typing)
            self.table.itemChanged.connect(lambda item: self.typed.emit(self.shown[item.row()], item.text()))

    def show_lines(self, lines: tuple[ReportLine, ...]) -> None:
        """Other rows."""
        self._lines = lines
        self._show()

    def show_words(self, words: str) -> None:
        """Only rows in which every word stands."""
        if words != self._words:
            self._words = words
            self._show()

    def texts(self) -> list[tuple[str, ...]]:
        """All rows as they stand, also those that nobody has scrolled to."""
        return [line.texts for line in self.shown]

    def _on_pressed_twice(self, row: int, column: int) -> None:
        if column != self._edited:  # there it is typed
            self.opened.emit(self.shown[row])

    def _on_enter(self) -> None:
        row = self.table.currentRow()
        if 0 <= row < len(self.shown):
            self.opened.emit(self.shown[row])

    def _show(self) -> None:
        lines = holding(self._lines, self._words)
        order = RowOrder.of(self.table)  # in the table stands a page of them only
        self.shown = lines if order is None or order.column < 0 else in_order(lines, order.column, order.falling)
        if self._rows is None:
            self._fill()
        else:
            self._rows.show_first(self._texts(0, PAGE), len(self.shown))
        self._empty.setText(_NO_ROWS if self._lines else self._said)
        self._empty.setVisible(not self.shown)

    def _texts(self, first: int, count: int) -> list[tuple[str, ...]]:
        return [line.texts for line in self.shown[first : first + count]]

    def _fill(self) -> None:
        self.table.blockSignals(True)
        self.table.setRowCount(len(self.shown))
        for row, line in enumerate(self.shown):
            for column, text in enumerate(line.texts):
                item = QTableWidgetItem(text)
                if column != self._edited:
                    item.setFlags(item.flags() & ~Qt.ItemFlag.ItemIsEditable)
                self.table.setItem(row, column, item)
        self.table.blockSignals(False)
        fit_columns(self.table)
