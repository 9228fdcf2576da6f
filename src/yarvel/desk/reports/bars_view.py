"""Bars under a table, for people who would rather look than read."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QVBoxLayout, QWidget

from yarvel.desk.widgets.words import Words
from yarvel.drawing.listing import Bar, bars
from yarvel.drawing.painters.qt import paint
from yarvel.drawing.primitives import Drawing

_PER_MM = 4.4
_MARGIN = 8


class BarsView(QWidget):
    """A title and its bars; nothing at all where there is nothing to look at."""

    def __init__(self, title: str, colours: dict[str, str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._colours = colours
        self._rows: Sequence[Bar] = ()
        self._limit: tuple[float | None, str] = None, ""
        self._canvas = _Canvas(self)
        head = Words(title, self)
        head.setProperty("quiet", True)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, _MARGIN, 0, 0)
        column.addWidget(head)
        column.addWidget(self._canvas)
        self.hide()

    def show_bars(self, rows: Sequence[Bar], limit: float | None = None, limit_text: str = "") -> None:
        """Show these; ``limit`` is what they are held against."""
        self._rows, self._limit = rows, (limit, limit_text)
        self.setAccessibleName(", ".join(f"{row.label} {row.text}" for row in rows))
        self._canvas.setFixedHeight(round(self.drawing(200.0).height * _PER_MM) + 2)
        self.setVisible(bool(rows))
        self._canvas.update()

    def drawing(self, width: float) -> Drawing:
        """The bars on a width in mm."""
        return bars(self._rows, width, *self._limit)

    def paint_on(self, canvas: QWidget) -> None:
        """Paint the bars."""
        painter = QPainter(canvas)
        paint(painter, self.drawing(canvas.width() / _PER_MM), self._colours, _PER_MM)
        painter.end()


class _Canvas(QWidget):
    def __init__(self, view: BarsView) -> None:
        super().__init__(view)
        self._view = view

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint what the view shows."""
        self._view.paint_on(self)
