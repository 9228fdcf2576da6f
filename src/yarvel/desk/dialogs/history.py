"""What was done to a docket, when and by whom; its photographs; what it came in as before."""

from __future__ import annotations

import json
from typing import Any

from PySide6.QtCore import QSize, Qt
from PySide6.QtGui import QIcon, QPixmap
from PySide6.QtWidgets import (
    QAbstractItemView,
    QDialog,
    QDialogButtonBox,
    QHeaderView,
    QListWidget,
    QListWidgetItem,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from yarvel.desk.widgets.manners import open_at
from yarvel.desk.widgets.words import Words, tip
from yarvel.planning.job import patch_between
from yarvel.workshop.dockets import Change, Docket, Photograph

_WORDS = {
    "docket": "docket",
    "job": "the job",
    "promised_on": "promised for",
    "ticks": "checks ticked",
    "weight_in_g": "weight in, g",
    "customer_kind": "customer is",
    "earlier_number": "came before as",
    "claw_chart": "claw chart",
    "measured": "measured",
    "released_by": "released by",
    "release_reason": "reason of release",
}


class HistoryDialog(QDialog):
    """Shows the history, oldest last; nothing in it can be changed."""

    def __init__(
        self,
        number: str,
        changes: list[Change],
        photographs: list[Photograph],
        before: list[Docket],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(f"What was done: {number}")
        open_at(self, 900, 560)
        column = QVBoxLayout(self)
        if before:
            came = Words(
                "Came before as "
                + ", ".join(f"{docket.number} ({docket.created_at:%d %b %Y}, {docket.item})" for docket in before),
                self,
            )
            came.setWordWrap(True)
            came.setObjectName("history.before")
            column.addWidget(came)
        self.rows = QTableWidget(len(changes), 4, self)
        self.rows.setAccessibleName("Changes")
        self.rows.setHorizontalHeaderLabels(["When, UTC", "Who", "What", "From → to"])
        self.rows.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.rows.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.rows.verticalHeader().hide()
        self.rows.horizontalHeader().setSectionResizeMode(3, QHeaderView.ResizeMode.Stretch)
        for row, change in enumerate(reversed(changes)):
            for place, text in enumerate(
                (f"{change.at:%Y-%m-%d %H:%M}", change.by or "–", _WORDS.get(change.field, change.field), told(change))
            ):
                item = QTableWidgetItem(text)
                item.setToolTip(tip(text))
                self.rows.setItem(row, place, item)
        self.rows.resizeColumnsToContents()
        self.rows.setColumnWidth(2, 130)
        column.addWidget(self.rows, 1)
        self.pictures = QListWidget(self)
        self.pictures.setAccessibleName("Photographs")
        self.pictures.setViewMode(QListWidget.ViewMode.IconMode)
        self.pictures.setIconSize(QSize(150, 110))
        self.pictures.setFixedHeight(160)
        self.pictures.setVisible(bool(photographs))
        for photograph in photographs:
            picture = QPixmap()
            picture.loadFromData(photograph.jpeg)
            shown = QListWidgetItem(QIcon(picture), photograph.caption or f"{photograph.at:%d %b}")
            shown.setToolTip(tip(f"{photograph.at:%Y-%m-%d %H:%M}, {photograph.by or 'unknown'}"))
            shown.setData(Qt.ItemDataRole.UserRole, photograph.id)
            self.pictures.addItem(shown)
        column.addWidget(self.pictures)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close, self)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)


def told(change: Change) -> str:
    """What a change was, in one line."""
    if change.field in ("job", "claw_chart", "measured") and isinstance(change.after, dict):
        held = change.before if isinstance(change.before, dict) else {}
        return ", ".join(f"{path}: {value}" for path, value in _leaves(patch_between(held, change.after)))
    before = "" if change.before in (None, "") else f"{_plain(change.before)} → "
    return f"{before}{_plain(change.after)}"


def _leaves(patch: dict[str, Any], path: str = "") -> list[tuple[str, str]]:
    found = []
    for name, value in patch.items():
        if isinstance(value, dict) and value:
            found += _leaves(value, f"{path}{name}.")
        else:
            found.append((f"{path}{name}", "taken away" if value is None else _plain(value)))
    return found


def _plain(value: Any) -> str:
    return value if isinstance(value, str) else json.dumps(value, ensure_ascii=False)
