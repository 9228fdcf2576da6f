"""A photograph in a panel, as large as there is room."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QImage, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QWidget

from yarvel.workshop.dockets import Photograph


class Picture(QWidget):
    """One photograph as large as there is room, never beyond its own pixels twice over."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._image = QImage()
        self.setMinimumSize(240, 200)

    def show_image(self, photograph: Photograph) -> None:
        """Show another one."""
        self._image = QImage.fromData(photograph.jpeg)
        self.setAccessibleName(photograph.caption or "photograph")
        self.update()

    def resizeEvent(self, _event: QResizeEvent) -> None:
        """It follows the window."""
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        """The picture in the middle, or that its file cannot be read."""
        painter = QPainter(self)
        if self._image.isNull():
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, "This picture cannot be read.")
            painter.end()
            return
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        scale = min(self.width() / self._image.width(), self.height() / self._image.height(), 2.0)
        wide, high = self._image.width() * scale, self._image.height() * scale
        painter.drawImage(QRectF((self.width() - wide) / 2, (self.height() - high) / 2, wide, high), self._image)
        painter.end()
