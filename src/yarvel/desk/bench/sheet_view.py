"""The hand on the sheet: its figures pressed and typed over, its grips dragged."""

from __future__ import annotations

import math

from msgspec.structs import replace
from PySide6.QtCore import QEvent, QPointF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QResizeEvent
from PySide6.QtWidgets import QWidget

from yarvel.desk.bench.drawing_view import DrawingView
from yarvel.desk.session.edits import can_type_over, claw_patch, dragged_to
from yarvel.desk.session.session import Session
from yarvel.desk.theme import FIELD_PX
from yarvel.desk.widgets.fields import GaugeEdit, mark_wrong
from yarvel.drawing.painters.qt import font, text_box
from yarvel.drawing.primitives import Grip, Text
from yarvel.figures.figure import FigureKey
from yarvel.heads import style
from yarvel.planning.plan import Plan
from yarvel.shanks import fitting

_NUDGE_MM, _NUDGE_DEG = 0.05, 1.0
_KEYS = {"seat-height": fitting.PLANE_ABOVE_FINGER, "opening": style.INNER_OPENING}


class SheetView(DrawingView):
    """The hand on the sheet: figures are chosen and typed over, grips dragged, by pointer or keys."""

    refused = Signal(str)

    def __init__(self, session: Session, colours: dict[str, str], parent: QWidget | None = None) -> None:
        super().__init__(session, colours, parent)
        self._held_from = QPointF()
        self._editor: GaugeEdit | None = None
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("The sheet")
        session.plan_changed.connect(self.redraw)
        session.preview_changed.connect(self.redraw)
        session.figure_chosen.connect(self._on_figure_chosen)
        session.call_chosen.connect(self._on_call_chosen)
        session.docket_changed.connect(self._on_docket)

    def mousePressEvent(self, event: QMouseEvent) -> None:
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

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """Drag the grip that is held; else show what lies under the pointer."""
        if self._held is not None:
            if self._held.axis == "turn":
                self._turn_to(self._held, event.position())
                return
            moved = event.position() - self._held_from
            along = moved.y() if self._held.axis == "y" else moved.x()
            self._drag_to(self._held, self._held.value + along / self.per_mm * self._held.per_mm)
            return
        grip, text = self.grip_at(event.position()), self.figure_at(event.position())
        key = text.key if text is not None else ""
        self.setCursor(
            Qt.CursorShape.SizeAllCursor
            if grip is not None and grip.axis == "turn"
            else Qt.CursorShape.SizeVerCursor
            if grip is not None and grip.axis == "y"
            else Qt.CursorShape.SizeHorCursor
            if grip is not None
            else Qt.CursorShape.PointingHandCursor
            if text is not None
            else Qt.CursorShape.ArrowCursor
        )
        self.setToolTip(grip.label if grip is not None else _label_of(self._plan(), key))
        if key != self._hover_key:
            self._hover_key = key
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """Let go of the grip."""
        if self._held is not None:
            self._held = None
            self.session.end_drag()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        """Type over the figure under the pointer."""
        text = self.figure_at(event.position())
        if text is not None:
            self.session.figure_chosen.emit(text.key)
            self.type_over(text)

    def leaveEvent(self, event: QEvent) -> None:
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
        self.session.drag(dragged_to(plan, key, stepped), plan.figures[key].label)

    def _turn_to(self, grip: Grip, point: QPointF) -> None:
        """A claw follows the pointer round the stone."""
        plan = self.session.plan
        if plan is None:
            return
        off = point - QPointF(grip.centre[0] * self.per_mm, grip.centre[1] * self.per_mm)
        self._move_claw(plan, int(grip.name.removeprefix("claw-")), math.degrees(math.atan2(-off.y(), off.x())))

    def _move_claw(self, plan: Plan, number: int, azimuth_deg: float) -> None:
        """Move one claw; places are counted anew round the stone, so the held number follows its claw."""
        if number >= len(plan.claw_azimuths_deg):
            return
        patch = claw_patch(plan, number, azimuth_deg)
        wanted = patch["head"]["claw_places_deg"][number]
        self.session.drag(patch, "Place of a claw")
        now = self.session.plan
        if now is not None and self._held is not None:
            nearest = min(
                range(len(now.claw_azimuths_deg)),
                key=lambda place: abs((now.claw_azimuths_deg[place] - wanted + 180) % 360 - 180),
            )
            self._held = replace(self._held, name=f"claw-{nearest}")

    # --- keys ---------------------------------------------------------------------------------------------

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Arrows go through the figures, Enter types over; PageUp and PageDown move the seat, < and > the opening; C
        chooses a claw, [ and ] move it."""
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
        elif key == Qt.Key.Key_C and not event.modifiers():
            self._choose_claw()
        elif key in (Qt.Key.Key_BracketLeft, Qt.Key.Key_BracketRight):
            self._nudge_claw(1 if key == Qt.Key.Key_BracketLeft else -1)
        else:
            super().keyPressEvent(event)

    def _choose_claw(self) -> None:
        """The next claw that can be moved, counter-clockwise."""
        names = [grip.name for grip in self.drawing.grips if grip.axis == "turn"] if self.drawing is not None else []
        if names:
            after = names.index(self.chosen_grip) + 1 if self.chosen_grip in names else 0
            self.chosen_grip = names[after % len(names)]
            self.update()

    def _nudge_claw(self, way: int) -> None:
        plan = self.session.plan
        grip = (
            next((grip for grip in self.drawing.grips if grip.name == self.chosen_grip), None)
            if self.drawing is not None
            else None
        )
        if plan is None or grip is None:
            return
        self._held = grip
        self._move_claw(plan, int(grip.name.removeprefix("claw-")), grip.value + way * _NUDGE_DEG)
        self.chosen_grip = self._held.name
        self._held = None
        self.session.end_drag()

    def _nudge(self, name: str, way: int) -> None:
        grip = next((grip for grip in self.drawing.grips if grip.name == name), None) if self.drawing else None
        if grip is not None:
            self._drag_to(grip, grip.value + way * _NUDGE_MM)
            self.session.end_drag()

    def type_over(self, text: Text) -> None:
        """Open a line over a figure to type its new value; Enter takes it, Escape leaves it."""
        plan = self.session.plan
        if plan is None or not can_type_over(plan, FigureKey(text.key)):
            label = _label_of(self._plan(), text.key)
            self.refused.emit(f"{label} follows from other figures and is not typed over; see its working.")
            return
        self._close_editor()
        box = text_box(text, self.per_mm)
        editor = GaugeEdit(self)
        editor.setObjectName("sheet.editor")
        editor.setAccessibleName(plan.figures[FigureKey(text.key)].label)
        editor.setFont(font(FIELD_PX))
        editor.setText(plan.figures[FigureKey(text.key)].text(unit=False).replace("−", "-"))
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
            self._editor.hide()
            self._editor.deleteLater()
            self._editor = None
            self.setFocus()

    # --- following ------------------------------------------------------------------------------------------

    def resizeEvent(self, event: QResizeEvent) -> None:
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
        self._close_editor()
        if self.session.plan is None:
            self._call = ""


def _label_of(plan: Plan | None, key: str) -> str:
    figure = None if plan is None else plan.figures.get(FigureKey(key))
    return "" if figure is None else figure.label
