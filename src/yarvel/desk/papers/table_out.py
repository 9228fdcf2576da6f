"""A table of a window on paper or in a file."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import date
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QTableWidget, QWidget

from yarvel.desk.widgets.row_order import RowOrder
from yarvel.drawing.listing import list_pages


def texts_of(table: QTableWidget) -> tuple[list[str], list[list[str]]]:
    """Heads and rows as they are shown."""
    columns = range(table.columnCount())
    heads = [table.horizontalHeaderItem(column) for column in columns]
    order = RowOrder.of(table)
    numbers = range(table.rowCount()) if order is None else order.rows()
    rows = [[table.item(row, column) for column in columns] for row in numbers]
    return (
        ["" if head is None else head.text() for head in heads],
        [["" if item is None else item.text() for item in row] for row in rows],
    )


MOST_PRINTED = 1000
"""Rows that go onto paper; a longer list is one for a file."""


def print_rows(parent: QWidget, heads: Sequence[str], rows: Sequence[Sequence[str]], title: str, today: date) -> None:
    """Preview and print rows of texts."""
    from yarvel.desk.papers.papers import preview_and_print

    pages = list_pages(title, list(heads), [list(row) for row in rows], today.isoformat())
    preview_and_print(parent, pages, title)


def write_rows(heads: Sequence[str], rows: Sequence[Sequence[str]], target: Path) -> str:
    """Write rows of texts as CSV; returns what came of it in a line."""
    from yarvel.exchange.report_file import write_report

    return _written(target, lambda path: write_report(heads, rows, path))


def ask_and_write(parent: QWidget, suggested: str, kind: str, write: Callable[[Path], None]) -> str:
    """Ask where to, and write there; returns what came of it in a line, "" where somebody thought better of it."""
    name, _ = QFileDialog.getSaveFileName(parent, "Write to", suggested, kind)
    if not name:
        return ""
    return _written(Path(name), write)


def _written(target: Path, write: Callable[[Path], None]) -> str:
    try:
        write(target)
    except OSError as error:
        return f"It could not be written: {error.strerror or error}. Choose another folder."
    return f"Written to {target}"
