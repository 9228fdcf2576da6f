"""Words on the screen: always as they were typed, never taken for a page's markup; and a line that takes only
letters."""

from __future__ import annotations

import html

from PySide6.QtCore import QMetaMethod, QObject, Qt
from PySide6.QtGui import QKeyEvent, QValidator
from PySide6.QtWidgets import QDialog, QLabel, QLineEdit, QWidget

_MOST_HELD = 2_000_000
"""What a line holds at the most; the store refuses far less, and says so. A line's own limit would cut in silence."""


class Words(QLabel):
    """A label that shows its text as it is, whatever signs are in it."""

    def __init__(self, text: str | QWidget | None = "", parent: QWidget | None = None) -> None:
        super().__init__(text if isinstance(text, str) else "", parent if isinstance(text, str) else text)
        self.setTextFormat(Qt.TextFormat.PlainText)


class _OnlyLetters(QValidator):
    """Takes control signs out of whatever is typed or pasted; lines become blanks."""

    def validate(self, text: str, position: int) -> tuple[QValidator.State, str, int]:
        """The text without them."""
        cleaned = "".join(" " if sign in "\t\r\n" else sign for sign in text if sign in "\t\r\n" or sign.isprintable())
        return QValidator.State.Acceptable, cleaned, min(position, len(cleaned))


class LineField(QLineEdit):
    """A line for free text: no control sign ever gets into it, and nothing is cut in silence."""

    def __init__(self, text: str | QWidget | None = "", parent: QWidget | None = None) -> None:
        super().__init__(parent if isinstance(text, str) else text)
        self.setMaxLength(_MOST_HELD)
        letters: QObject = _OnlyLetters(self)
        assert isinstance(letters, QValidator)
        self.setValidator(letters)
        self.advances = False
        """Whether Enter goes to the next field also in a dialog, where it presses the button otherwise."""
        if isinstance(text, str):
            self.setText(text)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter goes to the next field, unless somebody waits for it."""
        super().keyPressEvent(event)
        if event.key() not in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            return
        waits = self.isSignalConnected(QMetaMethod.fromSignal(self.returnPressed))
        if self.advances or not (waits or isinstance(self.window(), QDialog)):
            event.accept()
            self.focusNextChild()


def tip(text: str) -> str:
    """A text for a tool tip, shown as it is."""
    return f"<p>{html.escape(text)}</p>" if "<" in text or "&" in text else text
