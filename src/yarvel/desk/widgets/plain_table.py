"""A table to read: rows are chosen, nothing is typed."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtWidgets import QAbstractItemView, QTableWidget, QWidget


def plain_table(parent: QWidget, heads: Sequence[str], name: str) -> QTableWidget:
    """An empty table with these heads; ``name`` is what a screen reader calls it."""
    table = QTableWidget(0, len(heads), parent)
    table.setAccessibleName(name)
    table.setHorizontalHeaderLabels(list(heads))
    table.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
    table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
    table.verticalHeader().hide()
    table.horizontalHeader().setStretchLastSection(True)
    return table
