"""The mark of a level: its own shape and its word, never colour alone."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QSize, Qt
from PySide6.QtGui import QColor, QFontMetrics, QPainter, QPaintEvent, QPolygonF
from PySide6.QtWidgets import QSizePolicy, QWidget

from yarvel.desk.theme import BODY_PX
from yarvel.drawing.marks import level_shape
from yarvel.drawing.painters.qt import font


class LevelMark(QWidget):
    """Paints one level's shape and word in the level's colour."""

    def __init__(self, colours: dict[str, str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._colours = colours
        self._level = "ok"
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)

    def show_level(self, level: str, colours: dict[str, str]) -> None:
        """Set which level to show, in which theme."""
        self._level, self._colours = level, colours
        self.setAccessibleName(level)
        self.updateGeometry()
        self.update()

    def sizeHint(self) -> QSize:
        """Room for the shape and the word."""
        return QSize(28 + QFontMetrics(font(BODY_PX, bold=True)).horizontalAdvance(self._level), 20)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Shape, then word."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paint_level(painter, self._level, 10.0, 10.0, self._colours)
        painter.setFont(font(BODY_PX, bold=True))
        painter.setPen(QColor(self._colours[self._level]))
        painter.drawText(24, 15, self._level)
        painter.end()


def paint_level(painter: QPainter, level: str, x: float, y: float, colours: dict[str, str], size: float = 7.0) -> None:
    """Paint a level's shape around (x, y) in pixels."""
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(QColor(colours[level]))
    painter.drawPolygon(QPolygonF([QPointF(x + px * size, y + py * size) for px, py in level_shape(level).tolist()]))
