"""What was done to a docket, when and by whom; its photographs; what it came in as before."""

from __future__ import annotations

import json
from collections.abc import Mapping

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
from yarvel.workshop.clock import here
from yarvel.workshop.dockets import DOCUMENTS, FIELDS, SEVERAL, Change, Docket, Photograph

_WORDS = {"docket": "docket", "job": "the job", **{name: one.label for name, one in FIELDS.items()}}


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
                + ", ".join(
                    f"{docket.number} ({here(docket.created_at):%d %b %Y}, {docket.item})" for docket in before
                ),
                self,
            )
            came.setWordWrap(True)
            came.setObjectName("history.before")
            column.addWidget(came)
        self.rows = QTableWidget(len(changes), 4, self)
        self.rows.setAccessibleName("Changes")
        self.rows.setHorizontalHeaderLabels(["When", "Who", "What", "From → to"])
        self.rows.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.rows.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.rows.verticalHeader().hide()
        self.rows.horizontalHeader().setSectionResizeMode(3, QHeaderView.ResizeMode.Stretch)
        for row, change in enumerate(reversed(changes)):
            for place, text in enumerate(
                (f"{here(change.at):%Y-%m-%d %H:%M}", change.by or "–", fields_of(change), told(change))
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
            shown = QListWidgetItem(QIcon(picture), photograph.caption or f"{here(photograph.at):%d %b}")
            shown.setToolTip(tip(f"{here(photograph.at):%Y-%m-%d %H:%M}, {photograph.by or 'unknown'}"))
            shown.setData(Qt.ItemDataRole.UserRole, photograph.id)
            self.pictures.addItem(shown)
        column.addWidget(self.pictures)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close, self)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)


def fields_of(change: Change) -> str:
    """What an act was about."""
    names = list(change.after) if change.field == SEVERAL and isinstance(change.after, dict) else [change.field]
    return ", ".join(_WORDS.get(name, name) for name in names)


def told(change: Change) -> str:
    """What an act was, in one line: of each field what it was and what it became."""
    if change.field == SEVERAL and isinstance(change.after, dict) and isinstance(change.before, dict):
        several = ((name, _told(name, change.before.get(name), after)) for name, after in change.after.items())
        return "; ".join(f"{_WORDS.get(name, name)}: {said}" for name, said in several)
    return _told(change.field, change.before, change.after)


def _told(field: str, before: object, after: object) -> str:
    if field in _OBJECTS and isinstance(after, dict):
        held = before if isinstance(before, dict) else {}
        if field == "job" and "format" in after and "format" in held:  # a line of before layout 0010: the whole job
            held, after = patch_between(after, held), patch_between(held, after)
        return ", ".join(_leaves(after, held))
    was = "" if before in (None, "") else f"{_plain(before)} → "
    return f"{was}{_plain(after)}"


_OBJECTS = ("job", *DOCUMENTS)


def _leaves(patch: Mapping[str, object], back: Mapping[str, object], path: str = "") -> list[str]:
    """Each value that a patch sets, with what it was before."""
    found = []
    for name, value in patch.items():
        was = back.get(name) if isinstance(back, Mapping) else None
        if isinstance(value, dict) and value:
            found += _leaves(value, was if isinstance(was, dict) else {}, f"{path}{name}.")
        else:
            left = "" if was is None else f"{_plain(was)} → "
            found.append(f"{path}{name}: {left}{'taken away' if value is None else _plain(value)}")
    return found


def _plain(value: object) -> str:
    return value if isinstance(value, str) else json.dumps(value, ensure_ascii=False)
