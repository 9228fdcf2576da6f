"""A scanner types like a keyboard, only faster: a label's code is caught wherever the focus is."""

from __future__ import annotations

import re
import time
from collections.abc import Callable

from PySide6.QtCore import QEvent, QObject, QTimer, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QApplication, QWidget

from yarvel.drawing.label import MARK
from yarvel.workshop.work.deed_codes import PATTERN

_WAIT_MS = 120

_FAST_S = 0.045
"""Nobody types a key every 45 ms for long; every scanner is faster."""
_LEAST_FAST = 3
_CODE = re.compile(rf"[0-9]{{2}}-[0-9]{{4,8}}(/[0-9]{{1,3}})?|{PATTERN}")


class Scanner(QObject):
    """Watches the application's keys; what begins with the label's mark and goes on fast is a scan, and never reaches a
    field: a label opens what it names, a deed's code is for the board, anything else is told."""

    scanned = Signal(str)
    unknown = Signal(str)

    def __init__(self, application: QApplication, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.clock: Callable[[], float] = time.monotonic
        """Seconds that pass between keys."""
        self._held: list[QKeyEvent] = []
        self._times: list[float] = []
        self._to: QObject | None = None
        self._giving_back = False
        self._swallowing = False
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._on_pause)
        application.focusChanged.connect(self._on_focus)
        self._on_focus(None, application.focusWidget())

    def _on_focus(self, old: QWidget | None, new: QWidget | None) -> None:
        """Only whoever has the focus is watched: every other event of the application stays out of Python."""
        if old is not None:
            old.removeEventFilter(self)
        if new is not None:
            new.installEventFilter(self)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Hold keys back from the mark on, until a pause or Enter says what they were."""
        if self._giving_back or not isinstance(event, QKeyEvent):
            return False
        if event.type() == QEvent.Type.ShortcutOverride and (self._held or self._swallowing):
            event.accept()
            return True
        if event.type() != QEvent.Type.KeyPress or not watched.isWidgetType():
            return False
        if self._swallowing:  # what a scanner sends behind its code
            self._timer.start(_WAIT_MS)
            return True
        if not self._held and event.text() != MARK:
            return False
        if event.text() in ("\r", "\n") and self._held:
            self._finish(event)
            return True
        self._held.append(event.clone())
        self._times.append(self.clock())
        self._to = watched
        self._timer.start(_WAIT_MS)
        return True

    @property
    def quiet(self) -> bool:
        """Whether nothing is held back, and nothing of a scan is still expected."""
        return not self._held and not self._swallowing

    @property
    def _fast(self) -> bool:
        """Whether what is held came as only a scanner types."""
        count = len(self._times)
        return count >= _LEAST_FAST and (self._times[-1] - self._times[0]) / (count - 1) < _FAST_S

    def _finish(self, enter: QKeyEvent) -> None:
        text = self._text()
        if _CODE.fullmatch(text) or self._fast:
            self._swallow(text)
            return
        self._held.append(enter.clone())
        self._give_back()

    def _on_pause(self) -> None:
        if self._swallowing:
            self._swallowing = False
        elif self._fast:
            self._swallow(self._text())
        else:
            self._give_back()

    def _text(self) -> str:
        return "".join(event.text() for event in self._held)[1:]

    def _swallow(self, text: str) -> None:
        """A scan: whatever else it sends right behind goes nowhere."""
        self._held.clear()
        self._times.clear()
        self._swallowing = True
        self._timer.start(_WAIT_MS)
        # Only the first line counts, and no control signs: some scanners end a code with several of them.
        shown = "".join(sign for sign in text if sign.isprintable())
        if _CODE.fullmatch(shown):
            self.scanned.emit(shown)
        else:
            self.unknown.emit(shown)

    def _give_back(self) -> None:
        """It was typing after all: the keys go where they were meant for."""
        keys_held, self._held = self._held, []
        self._times.clear()
        self._timer.stop()
        self._giving_back = True
        for event in keys_held:
            if self._to is not None:
                QApplication.sendEvent(self._to, event)
        self._giving_back = False
