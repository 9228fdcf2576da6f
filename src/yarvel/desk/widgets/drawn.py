"""A small drawing in a panel, painted as it is on paper."""

from __future__ import annotations

from PySide6.QtCore import QSize, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from yarvel.drawing.painters.qt import paint
from yarvel.drawing.primitives import Drawing


class Drawn(QWidget):
    """Shows one drawing at ``per_mm`` pixels to the mm; nothing, and no room, without one."""

    def __init__(self, colours: dict[str, str], per_mm: float, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._colours, self.per_mm = colours, per_mm
        self.drawing: Drawing | None = None
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.hide()

    def show_drawing(self, drawing: Drawing | None, told: str) -> None:
        """Another drawing; ``told`` is what it says, for those who cannot see it."""
        self.drawing = drawing
        self.setAccessibleName(told)
        self.setVisible(drawing is not None)
        if drawing is not None:
            self.setFixedHeight(round(drawing.height * self.per_mm) + 2)
        self.update()

    def set_colours(self, colours: dict[str, str]) -> None:
        """The colours of another theme."""
        self._colours = colours
        self.update()

    def sizeHint(self) -> QSize:
        """As large as the drawing."""
        if self.drawing is None:
            return QSize(0, 0)
        return QSize(round(self.drawing.width * self.per_mm), round(self.drawing.height * self.per_mm) + 2)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint it."""
        if self.drawing is not None:
            painter = QPainter(self)
            paint(painter, self.drawing, self._colours, self.per_mm)
