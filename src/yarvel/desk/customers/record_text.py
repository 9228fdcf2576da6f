"""A few lines of text of a record; left by Tab, kept when it is left."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtGui import QFocusEvent
from PySide6.QtWidgets import QPlainTextEdit, QWidget

_HIGH_PX = 66


class RecordText(QPlainTextEdit):
    """Three lines high; Tab goes on to the next field."""

    left = Signal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setTabChangesFocus(True)
        self.setFixedHeight(_HIGH_PX)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        """Tell that somebody went on."""
        super().focusOutEvent(event)
        self.left.emit()
