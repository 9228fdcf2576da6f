"""The lock over the whole application: while nobody is signed in who should be, no window of it shows or takes
anything, but the one that asks for a PIN."""

from __future__ import annotations

from PySide6.QtCore import QObject, Qt
from PySide6.QtGui import QAction, QGuiApplication, QShortcut
from PySide6.QtWidgets import QApplication, QDialog, QMainWindow, QStackedWidget, QToolBar, QWidget

from yarvel.desk.widgets.words import Words

LOCKED_TITLE = "Yarvel – locked"


class Lock(QObject):
    """Covers one main window, and hides all others."""

    def __init__(self, window: QMainWindow, content: QWidget) -> None:
        super().__init__(window)
        self._window = window
        self.veil = Words("Locked. Sign in to go on.", window)
        self.veil.setTextFormat(Qt.TextFormat.PlainText)
        self.veil.setObjectName("veil")
        self.veil.setProperty("veil", True)
        self.veil.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self._pages = QStackedWidget(window)
        self._pages.addWidget(content)
        self._pages.addWidget(self.veil)
        window.setCentralWidget(self._pages)
        self._hidden: list[QWidget] = []
        self._able: dict[QAction | QShortcut, bool] = {}
        self._title = ""
        self._copied = False
        QGuiApplication.clipboard().dataChanged.connect(self._on_clipboard)

    def _on_clipboard(self) -> None:
        """What is copied while one of our windows is in front, is ours."""
        self._copied = QApplication.activeWindow() is not None

    @property
    def is_shut(self) -> bool:
        """Whether it is locked now."""
        return self._pages.currentWidget() is self.veil

    def shut(self) -> None:
        """Close every dialog, hide every window, let no key through."""
        if not self.is_shut:
            self._title = self._window.windowTitle()
            keys: list[QAction | QShortcut] = [*self._window.findChildren(QAction)]
            keys += self._window.findChildren(QShortcut)
            self._able = {key: key.isEnabled() for key in keys}
        self._window.setWindowTitle(LOCKED_TITLE)
        self._pages.setCurrentWidget(self.veil)
        for what in self._able:
            what.setEnabled(False)
        self._window.setAcceptDrops(False)
        for bar in self._bars():
            bar.hide()
        clipboard = QGuiApplication.clipboard()
        if self._copied or clipboard.ownsClipboard():
            clipboard.clear()
        for other in QApplication.topLevelWidgets():
            if other is self._window or not other.isVisible() or other.property("unlocks"):
                continue
            if isinstance(other, QDialog):
                other.reject()
            elif other.isWindow() and other.windowType() in (Qt.WindowType.Window, Qt.WindowType.Tool):
                other.hide()
                if other not in self._hidden:
                    self._hidden.append(other)
            else:
                other.close()  # a menu or a list that hangs open

    def _bars(self) -> list[QWidget]:
        return [self._window.menuBar(), self._window.statusBar(), *self._window.findChildren(QToolBar)]

    def open(self) -> None:
        """Somebody signed in: everything is as it was."""
        if not self.is_shut:
            return
        self._pages.setCurrentIndex(0)
        for what, able in self._able.items():
            what.setEnabled(able)
        self._window.setAcceptDrops(True)
        for bar in self._bars():
            bar.show()
        if self._window.windowTitle() == LOCKED_TITLE:
            self._window.setWindowTitle(self._title)
        for other in self._hidden:
            other.show()
        self._hidden = []
