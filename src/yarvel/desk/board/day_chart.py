"""The plan of the day to work in: bars are chosen, dragged and nudged."""

from __future__ import annotations

from datetime import datetime, timedelta

from msgspec import Struct
from PySide6.QtCore import QPoint, QPointF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QWheelEvent
from PySide6.QtWidgets import QToolTip

from yarvel.desk.board.day_canvas import DayCanvas
from yarvel.desk.board.day_painting import HEAD_PX, NAMES_PX, Drag
from yarvel.figures.lookup import first_of
from yarvel.workshop.work.day_reading import DayPlan, TaskBlock
from yarvel.workshop.work.sharing import why_not_together
from yarvel.workshop.work.standards import base_of, label_of

_NUDGE = timedelta(minutes=15)


class Wish(Struct, frozen=True):
    """A task somebody wants elsewhere: whose (a place among the shop's hands), and from when (None: whenever)."""

    bar: TaskBlock
    hands: int
    begins: datetime | None


class DayChart(DayCanvas):
    """What is wanted of a bar is told, and the plan that comes of it is shown."""

    wished = Signal(object)
    """What is to be pinned: a list of wishes."""
    joined = Signal(object)
    """What is to be done together: keys of tasks."""
    opened = Signal(int)

    drag_says = ""
    """``drag_says``: what would come of letting go where the pointer is, said beside it."""

    def wheelEvent(self, event: QWheelEvent) -> None:
        """Ctrl and the wheel zoom; the wheel goes through the people, with Shift through time."""
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.zoom(self._per_slot * (1.2 if event.angleDelta().y() > 0 else 1 / 1.2))
        else:
            super().wheelEvent(event)

    def bar_at(self, at: QPoint) -> TaskBlock | None:
        """The bar under the pointer."""
        if self._plan is None or at.x() < NAMES_PX or at.y() < HEAD_PX:
            return None
        return next((bar for bar in self._plan.bars if self.box(bar).contains(QPointF(at))), None)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Choose a bar (with Ctrl or Shift one more), and take it."""
        bar = self.bar_at(event.position().toPoint())
        more = event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
        if bar is None:
            self.choose(() if not more else self._keys)
            return
        key = bar.job.key
        if more:
            self._choose_too(key)
        elif key not in self._keys:
            self.choose((key,))
        self._drag = Drag(bar, event.position(), event.position())

    def _choose_too(self, key: int) -> None:
        """One more, with those it is done together with; or let it go."""
        left = [kept_key for kept_key in self._keys if kept_key not in self._heat(key)]
        self.choose(left if key in self._keys else [*self._keys, key])

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        """What is taken follows the pointer."""
        if self._drag is not None and event.buttons() & Qt.MouseButton.LeftButton:
            self._drag = Drag(self._drag.bar, self._drag.taken, event.position())
            self.viewport().update()
            keys, why_not = self._onto(self._drag)
            self.drag_says = together_text(self._plan, keys, why_not)
            QToolTip.showText(event.globalPosition().toPoint(), self.drag_says, self.viewport())
        else:
            bar = self.bar_at(event.position().toPoint())
            self.viewport().setToolTip("" if bar is None or self._plan is None else _tip(self._plan, bar))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        """What was dragged is pinned where it was let go."""
        drag, self._drag = self._drag, None
        self.viewport().update()
        if drag is None or self._plan is None or not drag.far:
            return
        keys, why_not = self._onto(drag)
        if keys and not why_not:
            self.joined.emit(keys)
            return
        shop = self._plan.reading.shop
        slots = round(drag.by.x() / self._per_slot)
        rows = round(drag.by.y() / self.row_px)
        wishes = []
        for bar in self.bars():
            place = self._plan.plan[bar.job.key, 0]
            hands = min(max(bar.hands + rows, 0), len(self._plan.reading.people) - 1)
            start = min(max(place.start + slots, self._plan.reading.now), shop.axis.size - 1)
            wishes.append(Wish(bar, hands, shop.axis.moment_of(start)))
        self.wished.emit(wishes)

    def _onto(self, drag: Drag) -> tuple[tuple[int, ...], str]:
        """The tasks that would be done together if a bar were let go here, on one of the same work; why they cannot be.
        None anywhere else."""
        plan = self._plan
        other = None if plan is None or not drag.far or len(self._keys) != 1 else self.bar_at(drag.at.toPoint())
        if plan is None or other is None or other.job.key == drag.bar.job.key:
            return (), ""
        if base_of(other.job.operation) != base_of(drag.bar.job.operation) or other.job.docket == drag.bar.job.docket:
            return (), ""
        keys = tuple(dict.fromkeys([*self._heat(other.job.key), *self._heat(drag.bar.job.key)]))
        return keys, why_not_together(plan, keys)

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        """Open the docket."""
        bar = self.bar_at(event.position().toPoint())
        if bar is not None:
            self.opened.emit(bar.job.docket.id)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Arrows go from bar to bar; with Shift they choose one more, with Ctrl none, and Space chooses or lets go the
        one they are at; with Alt they move what is chosen; Enter opens its docket; Del frees it."""
        key, alt = Qt.Key(event.key()), bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
        steps = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}
        if key in steps and self._plan is not None:
            if alt:
                self._nudge(*steps[key])
            else:
                self._walk(*steps[key], event.modifiers())
        elif key == Qt.Key.Key_Space and self._plan is not None:
            here = self.at()
            if here is not None:
                self._choose_too(here.job.key)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and not event.modifiers() and self.bars():
            self.opened.emit(self.bars()[-1].job.docket.id)
        elif key == Qt.Key.Key_Delete and self.bars():
            self.wished.emit([Wish(bar, -1, None) for bar in self.bars()])
        elif event.text() in ("+", "-"):
            self.zoom(self._per_slot * (1.25 if event.text() == "+" else 0.8))
        elif key == Qt.Key.Key_Home:
            self.show_now()
        else:
            super().keyPressEvent(event)

    def _walk(self, across: int, down: int, held: Qt.KeyboardModifier) -> None:
        """The next bar that way, chosen alone, with Shift too, with Ctrl not at all."""
        assert self._plan is not None
        bar = self.at()
        if bar is None:
            first = next((bar for bar in self._plan.bars if bar.ends > self._plan.reading.shop.axis.moment_of(0)), None)
            self.choose(() if first is None else (first.job.key,))
            return
        if across:
            row = self._plan.bars_of(bar.hands)
            order = list(dict.fromkeys(bar.job.key for bar in row))
            place = order.index(bar.job.key) + across
            neighbour = order[place] if 0 <= place < len(order) else None
        else:
            neighbour = None
            row_number = bar.hands + down
            while neighbour is None and 0 <= row_number < len(self._plan.reading.people):
                others = self._plan.bars_of(row_number)
                if others:
                    neighbour = min(others, key=lambda one: abs((one.begins - bar.begins).total_seconds())).job.key
                row_number += down
        if neighbour is not None and held & Qt.KeyboardModifier.ControlModifier:
            self.go_to(neighbour)
        elif neighbour is not None:
            more = held & Qt.KeyboardModifier.ShiftModifier
            self.choose([*[key for key in self._keys if key != neighbour], neighbour] if more else (neighbour,))

    def _nudge(self, across: int, down: int) -> None:
        """What is chosen a quarter of an hour earlier or later, or to the next pair of hands that way."""
        plan = self._plan
        assert plan is not None
        shop, wishes = plan.reading.shop, []
        for bar in self.bars():
            hands, begins = bar.hands, bar.begins
            if across:
                wanted = shop.axis.slot_at(begins + across * _NUDGE)
                if across < 0 and wanted >= plan.plan[bar.job.key, 0].start:  # over a break
                    wanted = max(plan.plan[bar.job.key, 0].start - 3, 0)
                begins = shop.axis.moment_of(max(wanted, plan.reading.now))
            else:
                hands += down
                if not 0 <= hands < len(plan.reading.people):
                    continue
            wishes.append(Wish(bar, hands, begins))
        if wishes:
            self.wished.emit(wishes)


def together_text(plan: DayPlan | None, keys: tuple[int, ...], why_not: str) -> str:
    """What would come of letting a bar go on another."""
    if plan is None or not keys:
        return ""
    numbers = ", ".join(plan.reading.jobs[key].docket.number for key in keys)
    return f"Not together: {why_not}." if why_not else f"Let go: {numbers} together."


def _tip(plan: DayPlan, bar: TaskBlock) -> str:
    """A bar in words."""
    docket = bar.job.docket
    outcome = first_of(outcome_row for outcome_row in plan.outcomes if outcome_row.docket.id == docket.id)
    lines = [
        f"{docket.title}",
        f"{label_of(bar.job.operation)}, {bar.begins:%a %H:%M} to {bar.ends:%a %H:%M}",
        ", ".join(filter(None, (docket.customer, docket.stone))),
        f"promised {docket.promised:%a %d %b}, ready {outcome.ready:%a %d %b}" if docket.promised else "no promise",
    ]
    if bar.pinned:
        lines.append("pinned")
    if bar.job.guessed:
        lines.append("not measured yet: counted as a usual one")
    elif bar.job.task is None:
        lines.append("no tasks made yet: counted by its plan")
    return "\n".join(line for line in lines if line)
