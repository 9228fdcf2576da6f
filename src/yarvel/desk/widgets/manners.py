"""What every window but the bench does: fits onto the screen with its frame, and closes on Esc and Ctrl+W."""

from __future__ import annotations

from PySide6.QtCore import QRect, QSize
from PySide6.QtGui import QGuiApplication, QKeySequence, QShortcut
from PySide6.QtWidgets import QWidget

FRAME = QSize(16, 48)
"""What a desktop's frame takes at the most, across and down: borders, title bar."""


def fitting(wanted: QSize, screen: QRect) -> QSize:
    """A size that fits onto a screen with its frame."""
    return QSize(
        min(wanted.width(), screen.width() - FRAME.width()), min(wanted.height(), screen.height() - FRAME.height())
    )


def open_at(window: QWidget, width: int, height: int) -> None:
    """Give a window its size, less where the screen has not the room."""
    screen = QGuiApplication.primaryScreen()
    wanted = QSize(width, height)
    window.resize(wanted if screen is None else fitting(wanted, screen.availableGeometry()))


def close_on_keys(window: QWidget) -> None:
    """Esc and Ctrl+W close the window."""
    for keys in ("Esc", "Ctrl+W"):
        QShortcut(QKeySequence(keys), window, window.close)
