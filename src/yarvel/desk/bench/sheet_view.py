"""The sheet on screen: painted from the drawing, its figures pressed and typed over, its grips dragged."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from yarvel.desk.edits import can_type_over, typed_over
from yarvel.desk.session import Session
from yarvel.desk.theme import BODY_PX, FIELD_PX, TITLE_PX
from yarvel.desk.widgets.fields import GaugeEdit, mark_wrong
from yarvel.drawing.painters.qt import font, paint, text_box
from yarvel.drawing.primitives import Drawing, Grip, Text
from yarvel.drawing.sheet import sheet
from yarvel.planning.plan import Plan

NATURAL_MM = 150.0
LEAST_PER_MM, MOST_PER_MM = 4.4, 7.5
_GRIP_PX = 9.0
_NUDGE_MM = 0.05
_KEYS = {"seat-height": "seat.plane_above_finger", "opening": "head.inner_opening"}
_EMPTY = "Lay the gauge on: type the first diameter into the station Stone."


class SheetView(QWidget):
    """Paints the session's plan, or the preview while there is one."""

    refused = Signal(str)

    def __init__(self, session: Session, colours: dict[str, str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self._colours = colours
        self.drawing: Drawing | None = None
        self.chosen_key = ""
        self._call = ""
        self._hover_key = ""
        self._scale = 0.0
        self._held: Grip | None = None
        self._held_from = QPointF()
        self._editor: GaugeEdit | None = None
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("The sheet")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        session.plan_changed.connect(self.redraw)
        session.preview_changed.connect(self.redraw)
        session.figure_chosen.connect(self._on_figure_chosen)
        session.call_chosen.connect(self._on_call_chosen)
        session.docket_changed.connect(self._on_docket)

    def sizeHint(self) -> QSize:  # noqa: N802
        """The size at which all views stand well."""
        return QSize(690, 700)

    def minimumSizeHint(self) -> QSize:  # noqa: N802
        """Below this, figures would lie too close."""
        return QSize(480, 420)

    @property
    def per_mm(self) -> float:
        """Pixels to the mm of paper: figures stay readable, and grow with the window."""
        return min(max(self.width() / NATURAL_MM, LEAST_PER_MM), MOST_PER_MM)

    def set_colours(self, colours: dict[str, str]) -> None:
        """Another theme."""
        self._colours = colours
        self.update()

    def redraw(self) -> None:
        """Make the drawing anew and paint it."""
        plan = self._plan()
        self.drawing = None
        if plan is not None and self.width() > 0:
            keep = self._scale if self._held is not None or self.session.preview is not None else 0.0
            self.drawing = sheet(plan, self.width() / self.per_mm, self.height() / self.per_mm, self._call,
                                 keep_scale=keep)
            self._scale = self.drawing.scale
        self.update()

    def _plan(self) -> Plan | None:
        return self.session.plan if self.session.preview is None else self.session.preview.plan

    # --- painting ---------------------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent) -> None:  # noqa: N802
        """Paper, drawing, the chosen figure, grips, and the preview's banner."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(self._colours["paper"]))
        if self.drawing is None:
            painter.setFont(font(TITLE_PX))
            painter.setPen(QColor(self._colours["text-quiet"]))
            painter.drawText(self.rect().adjusted(60, 0, -60, 0), Qt.AlignmentFlag.AlignCenter
                             | Qt.TextFlag.TextWordWrap, _EMPTY)
        else:
            self._paint_choice(painter)
            paint(painter, self.drawing, self._colours, self.per_mm)
            self._paint_grips(painter)
        if self.session.preview is not None:
            self._paint_banner(painter, f"Preview: {self.session.preview.label}")
        if self.hasFocus():
            painter.setPen(QPen(QColor(self._colours["accent"]), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(0, 0, -1, -1))
        painter.end()

    def _paint_choice(self, painter: QPainter) -> None:
        for text in self.figure_texts():
            if text.key in (self.chosen_key, self._hover_key):
                box = text_box(text, self.per_mm)
                colour = QColor(self._colours["accent-soft"])
                painter.fillRect(box, colour)
                if text.key == self.chosen_key:
                    painter.fillRect(QRectF(box.left(), box.bottom() - 1, box.width(), 2),
                                     QColor(self._colours["accent"]))

    def _paint_grips(self, painter: QPainter) -> None:
        drawing = self.drawing
        for grip in drawing.grips if drawing is not None else []:
            centre = self._grip_point(grip)
            held = self._held is not None and self._held.name == grip.name
            painter.setPen(QPen(QColor(self._colours["seat-line"]), 2))
            painter.setBrush(QColor(self._colours["accent-soft" if not held else "seat-line"]))
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

    # --- figures ----------------------------------------------------------------------------------------

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
            if abs(off.x()) <= _GRIP_PX + 3 and abs(off.y()) <= _GRIP_PX + 3:
                return grip
        return None

    def mousePressEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Take hold of a grip, or choose a figure."""
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        grip = self.grip_at(event.position())
        if grip is not None and self.session.preview is None:
            self._held, self._held_from = grip, event.position()
            self.session.end_burst()
            return
        text = self.figure_at(event.position())
        if text is not None:
            self.session.figure_chosen.emit(text.key)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Drag the grip that is held; else show what lies under the pointer."""
        if self._held is not None:
            moved = event.position() - self._held_from
            along = moved.y() if self._held.axis == "y" else moved.x()
            self._drag_to(self._held, self._held.value + along / self.per_mm * self._held.per_mm)
            return
        grip, text = self.grip_at(event.position()), self.figure_at(event.position())
        key = text.key if text is not None else ""
        self.setCursor(Qt.CursorShape.SizeVerCursor if grip is not None and grip.axis == "y" else
                       Qt.CursorShape.SizeHorCursor if grip is not None else
                       Qt.CursorShape.PointingHandCursor if text is not None else Qt.CursorShape.ArrowCursor)
        self.setToolTip(grip.label if grip is not None else self._tip(key))
        if key != self._hover_key:
            self._hover_key = key
            self.update()

    def _tip(self, key: str) -> str:
        plan = self._plan()
        return plan.figures[key].label if plan is not None and key in plan.figures else ""

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Let go of the grip."""
        if self._held is not None:
            self._held = None
            self.session.end_drag()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:  # noqa: N802
        """Type over the figure under the pointer."""
        text = self.figure_at(event.position())
        if text is not None:
            self.session.figure_chosen.emit(text.key)
            self.type_over(text)

    def leaveEvent(self, event: QEvent) -> None:  # noqa: N802
        """Nothing lies under the pointer any more."""
        super().leaveEvent(event)
        self._hover_key = ""
        self.update()

    def _drag_to(self, grip: Grip, value: float) -> None:
        plan = self.session.plan
        key = _KEYS[grip.name]
        if plan is None or key not in plan.figures:
            return
        stepped = round(value, 2)
        self.session.drag(typed_over(plan, key, stepped), plan.figures[key].label)

    # --- keys ---------------------------------------------------------------------------------------------

    def keyPressEvent(self, event: QKeyEvent) -> None:  # noqa: N802
        """Arrows go through the figures, Enter types over, PageUp/PageDown move the seat, < and > the opening."""
        key = event.key()
        texts = self.figure_texts()
        if key in (Qt.Key.Key_Right, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Up) and texts:
            step = 1 if key in (Qt.Key.Key_Right, Qt.Key.Key_Down) else -1
            place = next((place for place, text in enumerate(texts) if text.key == self.chosen_key), -1)
            self.session.figure_chosen.emit(texts[(place + step) % len(texts)].key)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            chosen = next((text for text in texts if text.key == self.chosen_key), None)
            if chosen is not None:
                self.type_over(chosen)
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown):
            self._nudge("seat-height", 1 if key == Qt.Key.Key_PageUp else -1)
        elif key in (Qt.Key.Key_Less, Qt.Key.Key_Greater):
            self._nudge("opening", 1 if key == Qt.Key.Key_Greater else -1)
        else:
            super().keyPressEvent(event)

    def _nudge(self, name: str, way: int) -> None:
        grip = next((grip for grip in self.drawing.grips if grip.name == name), None) if self.drawing else None
        if grip is not None:
            self._drag_to(grip, grip.value + way * _NUDGE_MM)
            self.session.end_drag()

    def type_over(self, text: Text) -> None:
        """Open a line over a figure to type its new value; Enter takes it, Escape leaves it."""
        plan = self.session.plan
        if plan is None or not can_type_over(plan, text.key):
            label = self._tip(text.key)
            self.refused.emit(f"{label} follows from other figures and is not typed over; see its working.")
            return
        self._close_editor()
        box = text_box(text, self.per_mm)
        editor = GaugeEdit(self)
        editor.setObjectName("sheet.editor")
        editor.setAccessibleName(plan.figures[text.key].label)
        editor.setFont(font(FIELD_PX))
        editor.setText(plan.figures[text.key].text(unit=False).replace("−", "-"))
        editor.setGeometry(int(box.center().x()) - 48, int(box.center().y()) - 17, 96, 34)
        editor.entered.connect(lambda: self._on_typed(text.key))
        editor.put_back.connect(self._close_editor)
        editor.show()
        editor.selectAll()
        editor.setFocus()
        self._editor = editor

    def _on_typed(self, key: str) -> None:
        editor = self._editor
        if editor is None:
            return
        if self.session.type_over(key, editor.text()):
            self._close_editor()
            return
        mark_wrong(editor, True)
        problem = self.session.problems.pop(key, None)
        if problem is not None:
            self.refused.emit(f"{problem.wrong}. Accepted: {problem.accepted}")

    def _close_editor(self) -> None:
        if self._editor is not None:
            self._editor.deleteLater()
            self._editor = None
            self.setFocus()

    # --- following ------------------------------------------------------------------------------------------

    def resizeEvent(self, event: QResizeEvent) -> None:  # noqa: N802
        """Lay out for the new size."""
        super().resizeEvent(event)
        self._close_editor()
        self.redraw()

    def _on_figure_chosen(self, key: str) -> None:
        self.chosen_key = key
        self.update()

    def _on_call_chosen(self, code: str) -> None:
        self._call = code
        self.redraw()

    def _on_docket(self) -> None:
        if self.session.plan is None:
            self._call = ""
