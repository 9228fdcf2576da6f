"""The head from above with its claws numbered: press one to say what is wrong with it."""

from __future__ import annotations

import math

import numpy as np
from PySide6.QtCore import QPointF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QWidget

from yarvel.desk.theme import BODY_PX
from yarvel.drawing import elements
from yarvel.drawing.claw_chart import LEVELS
from yarvel.drawing.marks import level_shape
from yarvel.drawing.model import sheet_model
from yarvel.drawing.painters.qt import font, paint
from yarvel.drawing.primitives import Drawing
from yarvel.drawing.view import View
from yarvel.heads.places import numbers
from yarvel.planning.plan import Plan

_REACH_PX, _NUMBER_PX = 26.0, 46.0
_WAYS = {Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Down: (0, 1), Qt.Key.Key_Up: (0, -1)}
_FIGURES = "0123456789"
_MARK_PX = 9.0


class ChartView(QWidget):
    """Paints the plan's head from above; each claw carries its verdict's own shape and its clock position. Arrow keys
    go to the next claw that way; a figure says what is found on the one in hand."""

    chosen = Signal(int)
    figure = Signal(int)

    def __init__(self, colours: dict[str, str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._colours = colours
        self._plan: Plan | None = None
        self._work: tuple[str, ...] = ()
        self._missing: tuple[int, ...] = ()
        self.claw = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("The head from above; arrow keys go from claw to claw")

    def sizeHint(self) -> QSize:
        """Large enough to press a claw with a dirty finger."""
        return QSize(440, 440)

    def show_head(self, plan: Plan, work: tuple[str, ...], missing: tuple[int, ...] = ()) -> None:
        """Show a head, what each of its claws calls for, and which of them are missing."""
        self._plan, self._work, self._missing = plan, work, missing
        self.claw = min(self.claw, max(len(work) - 1, 0))
        self.update()

    def spot(self, claw: int) -> QPointF:
        """Where a claw is painted."""
        scale, middle = self._frame()
        plan = self._plan
        if plan is None:
            return middle
        place = plan.shape.places[claw]
        out = max(float(part[:, 0].max()) for part in plan.shape.profiles)
        return QPointF(
            middle.x() + (place.x_mm + out * place.normal[0]) * scale,
            middle.y() - (place.y_mm + out * place.normal[1]) * scale,
        )

    def _frame(self) -> tuple[float, QPointF]:
        """Pixels per mm of the head, and where its middle is."""
        middle = QPointF(self.width() / 2, self.height() / 2)
        if self._plan is None:
            return 1.0, middle
        model = sheet_model(self._plan)
        reach = max(model.half_x, model.half_y)
        return max((min(self.width(), self.height()) / 2 - 60) / reach, 1.0), middle

    def paintEvent(self, event: QPaintEvent) -> None:
        """The head, then the verdicts."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(self._colours["paper"]))
        if self._plan is not None:
            scale, middle = self._frame()
            per_mm = 4.0
            drawing = Drawing(self.width() / per_mm, self.height() / per_mm)
            elements.head_from_above(
                View(drawing, (middle.x() / per_mm, middle.y() / per_mm), scale / per_mm),
                sheet_model(self._plan),
                [self._plan.shape.places[claw] for claw in self._missing],
            )
            paint(painter, drawing, self._colours, per_mm)
            for claw, work in enumerate(self._work):
                self._paint_claw(painter, claw, work)
        painter.end()

    def _paint_claw(self, painter: QPainter, claw: int, work: str) -> None:
        spot, plan = self.spot(claw), self._plan
        if plan is None:
            return
        level = LEVELS[work]
        place = plan.shape.places[claw]
        away = QPointF(place.normal[0], -place.normal[1])
        mark = spot + away * 16
        if claw == self.claw:
            painter.setPen(QPen(QColor(self._colours["accent"]), 3))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(mark, _MARK_PX + 6, _MARK_PX + 6)
        painter.setPen(QPen(QColor(self._colours["paper"]), 1))
        painter.setBrush(QColor(self._colours[level]))
        painter.drawPolygon([mark + QPointF(x * _MARK_PX, y * _MARK_PX) for x, y in np.asarray(level_shape(level))])
        painter.setFont(font(BODY_PX))
        painter.setPen(QColor(self._colours["text"]))
        word = str(numbers(plan.shape.places)[claw])
        wide = painter.fontMetrics().horizontalAdvance(word)
        painter.drawText(mark + away * (_NUMBER_PX - 16) + QPointF(-wide / 2, 5), word)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Choose the claw that is pressed: anywhere on it, on its mark or its number."""
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        far = [(self._off(claw, event.position()), claw) for claw in range(len(self._work))]
        nearest = min(far, default=None)
        if nearest is not None and nearest[0] <= _REACH_PX:
            self._choose(nearest[1])

    def _off(self, claw: int, at: QPointF) -> float:
        """How far a point is from a claw as it is painted, from its tip over the stone to its number, px."""
        plan = self._plan
        if plan is None:
            return float("inf")
        place, (scale, middle) = plan.shape.places[claw], self._frame()
        over = min(float(part[:, 0].min()) for part in plan.shape.profiles)
        tip = middle + QPointF(place.x_mm + over * place.normal[0], -place.y_mm - over * place.normal[1]) * scale
        end = self.spot(claw) + QPointF(place.normal[0], -place.normal[1]) * _NUMBER_PX
        way, to = end - tip, at - tip
        along = QPointF.dotProduct(way, to) / max(QPointF.dotProduct(way, way), 1e-9)
        off = to - way * min(max(along, 0.0), 1.0)
        return math.hypot(off.x(), off.y())

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Arrow keys go the way that the eye does; figures are handed on."""
        way = _WAYS.get(Qt.Key(event.key()))
        if way is not None and self._work:
            self._choose(self._next(way))
        elif event.text() in _FIGURES and event.text() and self._work:
            self.figure.emit(int(event.text()))
        else:
            super().keyPressEvent(event)

    def _next(self, way: tuple[int, int]) -> int:
        """The nearest claw that lies more that way than aside; the one in hand where none does."""
        here = self.spot(self.claw)
        found = []
        for claw in range(len(self._work)):
            off = self.spot(claw) - here
            along = off.x() * way[0] + off.y() * way[1]
            aside = abs(off.x() * way[1]) + abs(off.y() * way[0])
            if along > 1.0:
                found.append((along + 2.0 * aside, claw))
        return min(found)[1] if found else self.claw

    def _choose(self, claw: int) -> None:
        self.claw = claw
        self.update()
        self.chosen.emit(claw)
