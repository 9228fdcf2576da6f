"""A scanner types like a keyboard, only faster: a label's code is caught wherever the focus is."""

from __future__ import annotations

import re

from PySide6.QtCore import QEvent, QObject, QTimer, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QApplication, QWidget

from yarvel.drawing.label import MARK

_WAIT_MS = 120
_CODE = re.compile(r"\d\d-\d{4,}")


class Scanner(QObject):
    """Watches the application's keys; what begins with the label's mark and goes on fast is a code."""

    scanned = Signal(str)

    def __init__(self, application: QApplication, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._held: list[QKeyEvent] = []
        self._to: QObject | None = None
        self._giving_back = False
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._give_back)
        application.focusChanged.connect(self._on_focus)
        self._on_focus(None, application.focusWidget())

    def _on_focus(self, old: QWidget | None, new: QWidget | None) -> None:
        """Only whoever has the focus is watched: every other event of the application stays out of Python."""
        if old is not None:
            old.removeEventFilter(self)
        if new is not None:
            new.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Hold keys back from the mark on; open on Enter after a whole number."""
        if self._giving_back or not isinstance(event, QKeyEvent):
            return False
        if event.type() == QEvent.Type.ShortcutOverride and self._held:
            event.accept()
            return True
        if event.type() != QEvent.Type.KeyPress or not watched.isWidgetType():
            return False
        if not self._held and event.text() != MARK:
            return False
        if event.text() in ("\r", "\n") and self._held:
            self._finish(event)
            return True
        self._held.append(event.clone())
        self._to = watched
        self._timer.start(_WAIT_MS)
        return True

    def _finish(self, enter: QKeyEvent) -> None:
        text = "".join(event.text() for event in self._held)[1:]
        if _CODE.fullmatch(text):
            self._timer.stop()
            self._held.clear()
            self.scanned.emit(text)
            return
        self._held.append(enter.clone())
        self._give_back()

    def _give_back(self) -> None:
        """It was typing after all: the keys go where they were meant for."""
        held, self._held = self._held, []
        self._giving_back = True
        for event in held:
            if self._to is not None:
                QApplication.sendEvent(self._to, event)
        self._giving_back = False
