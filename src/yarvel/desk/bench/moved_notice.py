"""What stands above the sheet while the store's file is not where it was: what happened, and the way out."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QWidget

from yarvel.desk.widgets.words import Words


class MovedNotice(QFrame):
    """A line and a button; it stays until the file is back or the store is saved elsewhere."""

    wanted = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("moved")
        text = Words(
            "The store's file was deleted, moved or replaced. Nothing is lost: what was stored is still held open, and "
            "what you do waits on this machine. Put the file back, or save the store elsewhere.",
            self,
        )
        text.setTextFormat(Qt.TextFormat.PlainText)
        text.setWordWrap(True)
        self.button = QPushButton("Save the store elsewhere…", self)
        self.button.setObjectName("moved.save")
        self.button.clicked.connect(self.wanted)
        row = QHBoxLayout(self)
        row.addWidget(text, 1)
        row.addWidget(self.button)
        self.hide()
