"""A table to read: rows are chosen, nothing is typed."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication, QKeySequence, QShortcut
from PySide6.QtWidgets import QAbstractItemView, QTableWidget, QWidget

from yarvel.desk.widgets.kept_widths import keep_widths, kept_widths


def plain_table(parent: QWidget, heads: Sequence[str], name: str) -> QTableWidget:
    """An empty table with these heads; ``name`` is what a screen reader calls it."""
    table = QTableWidget(0, len(heads), parent)
    table.setAccessibleName(name)
    table.setHorizontalHeaderLabels(list(heads))
    table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
    table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
    table.setTabKeyNavigation(False)  # Tab goes on to the next field, arrows from row to row
    table.verticalHeader().hide()
    table.horizontalHeader().setStretchLastSection(True)
    if kept_widths(table, name):
        table.setProperty(WIDTHS_KEPT, True)
    table.horizontalHeader().sectionResized.connect(lambda *_sizes: _on_resized(table, name))
    copying = QShortcut(QKeySequence.StandardKey.Copy, table, lambda: _copy(table))
    copying.setContext(Qt.ShortcutContext.WidgetShortcut)
    return table


def _on_resized(table: QTableWidget, name: str) -> None:
    """Widths that a hand has drawn are kept, also for the next start."""
    if QGuiApplication.mouseButtons() & Qt.MouseButton.LeftButton:
        table.setProperty(WIDTHS_KEPT, True)
        keep_widths(table, name)


WIDTHS_KEPT = "widths_kept"
"""Property of a table whose columns somebody has made as wide as they like."""


def _copy(table: QTableWidget) -> None:
    """The rows that are chosen, as lines with tabs, under their heads."""
    rows = sorted({index.row() for index in table.selectedIndexes()})
    if not rows:
        return
    columns = range(table.columnCount())
    heads = [table.horizontalHeaderItem(column) for column in columns]
    lines = ["\t".join("" if head is None else head.text() for head in heads)]
    for row in rows:
        items = [table.item(row, column) for column in columns]
        lines.append("\t".join("" if item is None else item.text() for item in items))
    QGuiApplication.clipboard().setText("\n".join(lines))
