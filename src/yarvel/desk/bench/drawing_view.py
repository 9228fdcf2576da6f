"""The sheet on screen: the plan's drawing, laid out for the window's size and painted; what lies under a point."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QSizePolicy, QWidget

from yarvel.desk.session.session import Session
from yarvel.desk.theme import BODY_PX, TITLE_PX
from yarvel.drawing.painters.qt import font, paint, text_box
from yarvel.drawing.primitives import Drawing, Grip, Text
from yarvel.drawing.sheet import sheet
from yarvel.drawing.stages import StageView, seen_at
from yarvel.planning.plan import Plan
from yarvel.route.running import RouteStep
from yarvel.workshop.work.docket_work import Work

NATURAL_MM = 150.0
LEAST_PER_MM, MOST_PER_MM = 4.4, 5.6
_GRIP_PX, _LINE_PX = 12.0, 4.0
_EMPTY = "Lay the gauge on: type the first diameter into the station Stone."


class DrawingView(QWidget):
    """Paints the session's plan, or the preview while there is one."""

    def __init__(self, session: Session, colours: dict[str, str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self._colours = colours
        self.drawing: Drawing | None = None
        self.chosen_key = ""
        self.chosen_grip = ""
        self._call = ""
        self._hover_key = ""
        self._scale = 0.0
        self._held: Grip | None = None
        self.whole_ring = False
        self._work: Work | None = None
        self._step: RouteStep | None = None
        self._staged = False
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def sizeHint(self) -> QSize:
        """The size at which all views stand well."""
        return QSize(690, 700)

    def minimumSizeHint(self) -> QSize:
        """Below this, figures would lie too close."""
        return QSize(480, 420)

    @property
    def per_mm(self) -> float:
        """Pixels to the mm of paper: figures stay readable, and grow with the window."""
        fitting = min(self.width(), self.height()) / NATURAL_MM
        return min(max(fitting, LEAST_PER_MM), MOST_PER_MM)

    def set_colours(self, colours: dict[str, str]) -> None:
        """Another theme."""
        self._colours = colours
        self.update()

    def redraw(self) -> None:
        """Make the drawing anew and paint it."""
        plan = self._plan()
        self.drawing = None
        if plan is not None and self.width() > 0:
            width, height = self.width() / self.per_mm, self.height() / self.per_mm
            keep = self._scale if self._held is not None or self.session.preview is not None else 0.0
            if self.whole_ring and plan.band is not None:
                from yarvel.drawing.ring_sheet import ring_sheet

                self.drawing = ring_sheet(plan, width, height)
            else:
                label, seen = self._at_operation(plan)
                self._staged = seen is not None
                self.drawing = sheet(label, width, height, self._call, keep_scale=keep, seen=seen)
            self._scale = self.drawing.scale
        self.update()

    def show_at(self, work: Work | None, step: RouteStep | None) -> None:
        """The piece as it is at an operation of this work; as it will be where there is none."""
        if (work, step) != (self._work, self._step):
            self._work, self._step = work, step
            self.redraw()

    def _at_operation(self, plan: Plan) -> tuple[Plan, StageView | None]:
        if self._work is None or self._step is None or self.session.preview is not None:
            return plan, None
        seen = seen_at(self._work.route, self._step)
        return self._work.plan, None if seen.nothing else seen

    def switch(self) -> None:
        """From the head's drawing to the whole ring's and back."""
        self.whole_ring = not self.whole_ring
        self.redraw()

    def _plan(self) -> Plan | None:
        return self.session.plan if self.session.preview is None else self.session.preview.plan

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paper, drawing, the chosen figure, grips, and the preview's banner."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(self._colours["paper"]))
        if self.drawing is None:
            painter.setFont(font(TITLE_PX))
            painter.setPen(QColor(self._colours["text-quiet"]))
            painter.drawText(
                self.rect().adjusted(60, 0, -60, 0),
                Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap,
                self._instead(),
            )
        else:
            self._paint_choice(painter)
            paint(painter, self.drawing, self._colours, self.per_mm)
            self._paint_grips(painter)
        if self.session.preview is not None:
            self._paint_banner(painter, f"Preview: {self.session.preview.label}")
        elif self._step is not None and not self.whole_ring and self.drawing is not None:
            label = self._step.operation.kind.label
            self._paint_banner(painter, f"As it is at: {label}" if self._staged else f"{label}: as it will be")
        if self.hasFocus():
            painter.setPen(QPen(QColor(self._colours["accent"]), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(0, 0, -1, -1))
        painter.end()

    def _instead(self) -> str:
        """What is said where there is nothing to draw."""
        problem = self.session.problems.get("job")
        return _EMPTY if problem is None else f"This job cannot be worked out. {problem}"

    def _paint_choice(self, painter: QPainter) -> None:
        for text in self.figure_texts():
            if text.key in (self.chosen_key, self._hover_key):
                box = text_box(text, self.per_mm)
                colour = QColor(self._colours["accent-soft"])
                painter.fillRect(box, colour)
                if text.key == self.chosen_key:
                    painter.fillRect(
                        QRectF(box.left(), box.bottom() - 1, box.width(), 2), QColor(self._colours["accent"])
                    )

    def _paint_grips(self, painter: QPainter) -> None:
        drawing = self.drawing
        for grip in drawing.grips if drawing is not None else []:
            centre = self._grip_point(grip)
            is_held = grip.name == self.chosen_grip or (self._held is not None and self._held.name == grip.name)
            if grip.axis == "turn":
                painter.setPen(QPen(QColor(self._colours["seat-line"]), 1.5))
                painter.setBrush(QColor(self._colours["seat-line" if is_held else "accent-soft"]))
                painter.drawEllipse(centre, 4.0, 4.0)
                continue
            painter.setPen(QPen(QColor(self._colours["seat-line"]), 2))
            painter.setBrush(QColor(self._colours["accent-soft" if not is_held else "seat-line"]))
            painter.drawRoundedRect(QRectF(centre.x() - 8, centre.y() - 8, 16, 16), 4, 4)
            along = QPointF(0, 4) if grip.axis == "y" else QPointF(4, 0)
            painter.drawLine(centre - along, centre + along)

    def _paint_banner(self, painter: QPainter, text: str) -> None:
        painter.setFont(font(BODY_PX, bold=True))
        width = painter.fontMetrics().horizontalAdvance(text) + 24
        box = QRectF(self.width() / 2 - width / 2, self.height() - 40, width, 28)
        painter.setPen(QPen(QColor(self._colours["accent"]), 2))
        painter.setBrush(QColor(self._colours["accent-soft"]))
        painter.drawRect(box)
        painter.setPen(QColor(self._colours["text"]))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, text)

    def figure_texts(self) -> list[Text]:
        """All texts of the drawing that show a figure."""
        return [] if self.drawing is None else [text for text in self.drawing.texts() if text.key]

    def figure_at(self, point: QPointF) -> Text | None:
        """The figure's text under a point, where there is one."""
        return next((text for text in self.figure_texts() if text_box(text, self.per_mm).contains(point)), None)

    def _grip_point(self, grip: Grip) -> QPointF:
        return QPointF(grip.at[0] * self.per_mm, grip.at[1] * self.per_mm)

    def grip_at(self, point: QPointF) -> Grip | None:
        """The grip under a point, where there is one."""
        for grip in self.drawing.grips if self.drawing is not None else []:
            off = self._grip_point(grip) - point
            if grip.reach and abs(off.y()) <= _LINE_PX and 0 <= off.x() <= grip.reach * self.per_mm:
                return grip
            if abs(off.x()) <= _GRIP_PX and abs(off.y()) <= _GRIP_PX:
                return grip
        return None
