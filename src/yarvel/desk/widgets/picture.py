"""A photograph in a panel, as large as there is room, with marks on it."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from msgspec import Struct
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QImage, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PySide6.QtWidgets import QWidget

from yarvel.desk.theme import BODY_PX, LIGHT
from yarvel.drawing.marks import level_shape
from yarvel.drawing.painters.qt import font
from yarvel.workshop.dockets.records import Photograph

_MARK_PX, _ROUND_PX = 8.0, 15.0


class Mark(Struct, frozen=True):
    """A mark on a photograph: where, as shares of its width and height; the level whose shape it has; its number."""

    x: float
    y: float
    level: str
    number: int


class Picture(QWidget):
    """One photograph as large as there is room, never beyond its own pixels twice over. ``pressed`` tells where on it,
    as shares of its width and height."""

    pressed = Signal(float, float)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._image = QImage()
        self.marks: tuple[Mark, ...] = ()
        self.setMinimumSize(240, 200)

    def show_image(self, photograph: Photograph, marks: Sequence[Mark] = ()) -> None:
        """Show another one."""
        self._image, self.marks = QImage.fromData(photograph.jpeg), tuple(marks)
        marks_told = ", ".join(f"claw {mark.number} marked" for mark in self.marks)
        self.setAccessibleName(": ".join(word for word in (photograph.caption or "photograph", marks_told) if word))
        self.update()

    def spot(self, x: float, y: float) -> QPointF:
        """Where a place on the photograph is painted."""
        room = self._room()
        return QPointF(room.x() + x * room.width(), room.y() + y * room.height())

    def _room(self) -> QRectF:
        scale = min(self.width() / self._image.width(), self.height() / self._image.height(), 2.0)
        wide, high = self._image.width() * scale, self._image.height() * scale
        return QRectF((self.width() - wide) / 2, (self.height() - high) / 2, wide, high)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Where it was pressed, if on the picture."""
        if self._image.isNull():
            return
        room = self._room()
        if room.contains(event.position()):
            off = event.position() - room.topLeft()
            self.pressed.emit(off.x() / room.width(), off.y() / room.height())

    def resizeEvent(self, _event: QResizeEvent) -> None:
        """It follows the window."""
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        """The picture in the middle with its marks, or that its file cannot be read."""
        painter = QPainter(self)
        if self._image.isNull():
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, "This picture cannot be read.")
            painter.end()
            return
        painter.setRenderHints(QPainter.RenderHint.SmoothPixmapTransform | QPainter.RenderHint.Antialiasing)
        painter.drawImage(self._room(), self._image)
        for mark in self.marks:
            self._paint(painter, mark)
        painter.end()

    def _paint(self, painter: QPainter, mark: Mark) -> None:
        """A light disc, whatever the picture is like there, with the level's shape and the claw's number."""
        middle = self.spot(mark.x, mark.y)
        painter.setPen(QPen(QColor(LIGHT["text"]), 1.5))
        painter.setBrush(QColor(LIGHT["paper"]))
        painter.drawEllipse(middle, _ROUND_PX, _ROUND_PX)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(LIGHT[mark.level]))
        shape = np.asarray(level_shape(mark.level)) * _MARK_PX
        painter.drawPolygon([middle + QPointF(x - 5.0, y) for x, y in shape])
        painter.setFont(font(BODY_PX, bold=True))
        painter.setPen(QColor(LIGHT["text"]))
        painter.drawText(middle + QPointF(4.0, 5.0), str(mark.number))
