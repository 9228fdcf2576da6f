"""A long table holds only the rows that somebody has scrolled to; the next ones are asked for when they come near."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence

from PySide6.QtCore import QObject, Qt
from PySide6.QtWidgets import QTableWidget, QTableWidgetItem

from yarvel.desk.widgets.plain_table import WIDTHS_KEPT
from yarvel.desk.widgets.row_order import RowOrder

PAGE = 100
"""Rows asked for at a time: several screens full."""
_MOST_AGAIN = 2000
WIDEST_PX = 300

_RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter

_AMOUNT = re.compile(r"[-−]?[\d,]+(\.\d+)?( ?%| \w{1,4})?")
"""A number, a share or an amount of money: it stands to the right, and its head with it."""

Row = tuple[str, ...]
Sorted = tuple[str, bool]

Fetch = Callable[[int, int, Callable[[Sequence[Row]], None]], None]
"""Gets the first row wanted, how many, and what takes them when they are there."""


class RowsOnDemand(QObject):
    """Fills one table page by page. Where a head is pressed, ``again`` is called, and whoever fetches asks for rows in
    that ``order``; ``columns`` is what that is called head by head, "" where there is none."""

    def __init__(
        self,
        table: QTableWidget,
        fetch: Fetch,
        again: Callable[[], None] | None = None,
        columns: Sequence[str] = (),
    ) -> None:
        super().__init__(table)
        self._table, self._fetch, self._columns = table, fetch, columns
        self._order = RowOrder.of(table)
        if self._order is not None:
            self._order.paged = True
            if again is not None:
                self._order.changed.connect(again)
        self.total = 0
        self._asked = False
        self._turn = 0
        table.setAutoScroll(False)
        table.horizontalHeader().setResizeContentsPrecision(0)  # widths by what is seen, not by every row
        table.verticalScrollBar().valueChanged.connect(self._on_scrolled)

    @property
    def wanted(self) -> int:
        """How many rows to begin with: a page, or what somebody has scrolled to, so that they find themselves there."""
        return min(max(PAGE, self._table.rowCount()), _MOST_AGAIN)

    @property
    def order(self) -> Sorted | None:
        """By which column the rows are wanted, and whether falling; None as they come."""
        order_shown = self._order
        name = (
            ""
            if order_shown is None or not 0 <= order_shown.column < len(self._columns)
            else self._columns[order_shown.column]
        )
        return None if order_shown is None or not name else (name, order_shown.falling)

    def show_first(self, rows: Sequence[Row], total: int) -> None:
        """Begin anew with these rows of so many (at the most); whoever had scrolled on finds the rows there again."""
        self._turn += 1
        self._asked = False
        seen = self._table.verticalScrollBar().value()
        self.total = total
        self._table.clearSelection()  # another row may stand in its place: whoever knows which it was chooses it again
        fill_rows(self._table, 0, rows)
        fit_columns(self._table)
        self._table.verticalScrollBar().setValue(seen)

    def _on_scrolled(self, value: int) -> None:
        rows_shown = self._table.rowCount()
        if self._asked or rows_shown >= self.total or value < self._table.verticalScrollBar().maximum() - PAGE // 4:
            return
        self._asked = True
        turn = self._turn

        def take(rows: Sequence[Row]) -> None:
            if turn == self._turn:
                self._asked = False
                self._append(rows)
                if len(rows) < PAGE:
                    self.total = self._table.rowCount()

        self._fetch(rows_shown, PAGE, take)

    def _append(self, rows: Sequence[Row]) -> None:
        fill_rows(self._table, self._table.rowCount(), rows)


def fit_columns(table: QTableWidget) -> None:
    """Columns as wide as what is seen in them, but none that pushes the others out: long texts are elided."""
    if table.property(WIDTHS_KEPT):
        return
    table.resizeColumnsToContents()
    for column in range(table.columnCount()):
        table.setColumnWidth(column, min(table.columnWidth(column), WIDEST_PX))
    header = table.horizontalHeader()
    if header.stretchLastSection():  # a width that was set holds until the last column is asked to stretch again
        header.setStretchLastSection(False)
        header.setStretchLastSection(True)


def fill_rows(table: QTableWidget, first: int, rows: Sequence[Row]) -> None:
    """Rows as texts from ``first`` on, and none behind them; numbers to the right."""
    amounts: set[int] = set()
    table.setUpdatesEnabled(False)
    table.setRowCount(first + len(rows))
    for row, texts in enumerate(rows, start=first):
        for column, text in enumerate(texts):
            item = table.item(row, column)
            if item is not None:
                if item.text() != text:  # a line more at the top moves all texts, but no cell is made anew
                    item.setText(text)
                continue
            item = QTableWidgetItem(text)
            if column > 0 and _AMOUNT.fullmatch(text):
                item.setTextAlignment(_RIGHT)
                if column not in amounts:
                    amounts.add(column)
                    head = table.horizontalHeaderItem(column)
                    if head is not None:
                        head.setTextAlignment(_RIGHT)
            table.setItem(row, column, item)
    table.setUpdatesEnabled(True)
