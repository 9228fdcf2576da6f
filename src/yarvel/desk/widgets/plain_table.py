"""Tables to read, all of one look: rows are chosen, sorted by a press on a head, copied; nothing is typed."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import QItemSelectionModel, Qt
from PySide6.QtGui import QGuiApplication, QKeySequence, QShortcut
from PySide6.QtWidgets import QAbstractItemView, QHeaderView, QTableView, QTableWidget, QWidget

from yarvel.desk.widgets.kept_widths import keep_widths, kept_widths
from yarvel.desk.widgets.row_order import RowOrder

ROW_PX = 28


def plain_table(parent: QWidget, heads: Sequence[str], name: str) -> QTableWidget:
    """An empty table with these heads; ``name`` is what a screen reader calls it."""
    table = QTableWidget(0, len(heads), parent)
    table.setAccessibleName(name)
    table.setHorizontalHeaderLabels(list(heads))
    table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
    dress(table)
    RowOrder(table)
    keep_its_widths(table, name)
    return table


def dress(view: QTableView) -> None:
    """What every table looks like, and how rows are chosen and copied."""
    view.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
    view.setTabKeyNavigation(False)  # Tab goes on to the next field, arrows from row to row
    view.setAlternatingRowColors(True)
    view.setShowGrid(False)
    view.setTextElideMode(Qt.TextElideMode.ElideRight)
    view.verticalHeader().hide()
    view.verticalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
    view.verticalHeader().setDefaultSectionSize(ROW_PX)
    header = view.horizontalHeader()
    header.setStretchLastSection(True)
    header.setHighlightSections(False)
    header.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
    copying = QShortcut(QKeySequence.StandardKey.Copy, view, lambda: _copy(view))
    copying.setContext(Qt.ShortcutContext.WidgetShortcut)


def choose_row(view: QTableView, row: int) -> None:
    """Choose one row, whatever keys are held."""
    how = QItemSelectionModel.SelectionFlag.ClearAndSelect | QItemSelectionModel.SelectionFlag.Rows
    view.selectionModel().setCurrentIndex(view.model().index(row, 0), how)


def open_by(table: QTableWidget, column: int, opened: Callable[[str], None]) -> None:
    """A double press on a row opens what a column of it names, where that says something."""

    def open_row(row: int, _column: int) -> None:
        item = table.item(row, column)
        if item is not None and item.text():
            opened(item.text())

    table.cellDoubleClicked.connect(open_row)


def keep_its_widths(view: QTableView, name: str) -> None:
    """Widths that a hand has drawn are kept, also for the next start."""
    if kept_widths(view, name):
        view.setProperty(WIDTHS_KEPT, True)
    view.horizontalHeader().sectionResized.connect(lambda *_sizes: _on_resized(view, name))


def _on_resized(view: QTableView, name: str) -> None:
    if QGuiApplication.mouseButtons() & Qt.MouseButton.LeftButton:
        view.setProperty(WIDTHS_KEPT, True)
        keep_widths(view, name)


WIDTHS_KEPT = "widths_kept"
"""Property of a table whose columns somebody has made as wide as they like."""


def _copy(view: QTableView) -> None:
    """The rows that are chosen, as they stand, as lines with tabs under their heads."""
    model, shown = view.model(), view.verticalHeader()
    rows = sorted({index.row() for index in view.selectionModel().selectedIndexes()}, key=shown.visualIndex)
    if not rows:
        return
    columns = range(model.columnCount())
    across = Qt.Orientation.Horizontal
    lines = ["\t".join(str(model.headerData(column, across) or "") for column in columns)]
    lines += ["\t".join(str(model.index(row, column).data() or "") for column in columns) for row in rows]
    QGuiApplication.clipboard().setText("\n".join(lines))
