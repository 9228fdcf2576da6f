"""Bars under a table, for people who would rather look than read; each leads to what it counts."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QColor, QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QVBoxLayout, QWidget

from yarvel.desk.widgets.words import Words
from yarvel.drawing.listing import Bar, bar_at, bar_span, bars
from yarvel.drawing.painters.qt import paint
from yarvel.drawing.primitives import Drawing

_PER_MM = 4.4
_MARGIN = 8
_STEPS = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}


class BarsView(QWidget):
    """A title and its bars; nothing at all where there is nothing to look at. A press on a bar, or Enter on the one
    that the arrows have come to, tells its number."""

    pressed = Signal(int)

    def __init__(self, title: str, colours: dict[str, str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._colours = colours
        self._rows: Sequence[Bar] = ()
        self._limit: tuple[float | None, str] = None, ""
        self.canvas = _Canvas(self, title)
        self.canvas.pressed.connect(self.pressed)
        head = Words(title, self)
        head.setProperty("quiet", True)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, _MARGIN, 0, 0)
        column.addWidget(head)
        column.addWidget(self.canvas)
        self.hide()

    def show_bars(self, rows: Sequence[Bar], limit: float | None = None, limit_text: str = "") -> None:
        """Show these; ``limit`` is what they are held against."""
        self._rows, self._limit = rows, (limit, limit_text)
        labels = ", ".join(f"{row.label} {row.text}" for row in rows)
        self.setAccessibleName(labels)
        self.canvas.show_count(len(rows), limit, labels)
        self.canvas.setFixedHeight(round(self.drawing(200.0).height * _PER_MM) + 2)
        self.setVisible(bool(rows))

    def drawing(self, width: float) -> Drawing:
        """The bars on a width in mm."""
        return bars(self._rows, width, *self._limit)

    def paint_on(self, painter: QPainter, width_px: int) -> None:
        """Paint the bars."""
        paint(painter, self.drawing(width_px / _PER_MM), self._colours, _PER_MM)

    @property
    def frame_colour(self) -> QColor:
        """What the bar in hand is framed with."""
        return QColor(self._colours["accent"])


class _Canvas(QWidget):
    """Where the bars are painted: one of them is in hand, by pointer or arrows."""

    pressed = Signal(int)

    def __init__(self, view: BarsView, title: str) -> None:
        super().__init__(view)
        self._view = view
        self._count, self._at = 0, -1
        self._limit: float | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName(title)
        self.setToolTip("Press a bar, or Enter, for what it counts")

    def show_count(self, count: int, limit: float | None, told: str) -> None:
        """So many bars are painted now, in the words of ``told``."""
        self._count, self._limit, self._at = count, limit, -1
        self.setAccessibleDescription(told)
        self.update()

    def _number(self, y: float) -> int:
        bar = bar_at(y / _PER_MM, self._count, self._limit)
        return -1 if bar is None else bar

    def _move_to(self, number: int) -> None:
        if number != self._at:
            self._at = number
            self.setCursor(Qt.CursorShape.PointingHandCursor if number >= 0 else Qt.CursorShape.ArrowCursor)
            self.update()

    # --- Qt -------------------------------------------------------------------------------------------------------

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """The bar under the pointer is in hand."""
        self._move_to(self._number(event.position().y()))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """A press on a bar."""
        number = self._number(event.position().y())
        if event.button() == Qt.MouseButton.LeftButton and number >= 0:
            self.pressed.emit(number)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Up and down from bar to bar, Enter presses it."""
        key = Qt.Key(event.key())
        if key in _STEPS and self._count:
            self._move_to(min(max(self._at + _STEPS[key], 0), self._count - 1))
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space) and self._at >= 0:
            self.pressed.emit(self._at)
        else:
            super().keyPressEvent(event)

    def focusInEvent(self, event: QFocusEvent) -> None:
        """Somebody came here by key: the first bar is in hand."""
        if self._at < 0 and event.reason() != Qt.FocusReason.MouseFocusReason:
            self._move_to(0)
        super().focusInEvent(event)

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint what the view shows, the one in hand framed."""
        painter = QPainter(self)
        self._view.paint_on(painter, self.width())
        if 0 <= self._at < self._count:
            top, bottom = (edge * _PER_MM for edge in bar_span(self._at, self._limit))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(self._view.frame_colour, 2 if self.hasFocus() else 1))
            painter.drawRoundedRect(QRectF(1, top + 1, self.width() - 2, bottom - top - 2), 3, 3)
        painter.end()
