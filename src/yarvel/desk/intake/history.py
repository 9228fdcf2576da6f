"""What was done to a docket, when and by whom; its photographs; what it came in as before."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QSize, Qt
from PySide6.QtGui import QIcon, QPixmap
from PySide6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QListWidget,
    QListWidgetItem,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from yarvel.clock import here
from yarvel.desk.widgets.manners import open_at
from yarvel.desk.widgets.plain_table import plain_table
from yarvel.desk.widgets.row_filter import RowFilter
from yarvel.desk.widgets.rows_on_demand import fit_columns
from yarvel.desk.widgets.words import Words, tip
from yarvel.workshop.dockets.history_words import fields_of, told
from yarvel.workshop.dockets.records import Change, Docket, Photograph


class HistoryDialog(QDialog):
    """Shows the history, oldest last; nothing in it can be changed. ``claws`` are the numbers of the head's claws."""

    def __init__(
        self,
        number: str,
        changes: list[Change],
        photographs: list[Photograph],
        before: list[Docket],
        parent: QWidget | None = None,
        claws: Sequence[int] = (),
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
        self.rows = plain_table(self, ("When", "Who", "What", "From → to"), "Changes")
        self.rows.setRowCount(len(changes))
        for row, change in enumerate(reversed(changes)):
            for place, text in enumerate(
                (f"{here(change.at):%Y-%m-%d %H:%M}", change.by or "–", fields_of(change), told(change, claws))
            ):
                item = QTableWidgetItem(text)
                item.setToolTip(tip(text))
                self.rows.setItem(row, place, item)
        fit_columns(self.rows)
        self.words = RowFilter(self, self.rows)
        column.addWidget(self.words)
        column.addWidget(self.rows, 1)
        self.rows.setFocus()
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
