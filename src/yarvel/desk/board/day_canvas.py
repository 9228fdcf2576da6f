"""The plan of the day as a picture: people down, hours across, dockets as threads through it."""

from __future__ import annotations

from collections.abc import Collection

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPixmap, QResizeEvent
from PySide6.QtWidgets import QAbstractScrollArea, QWidget

from yarvel.day.axis import GRID_MINUTES
from yarvel.desk.board.day_painting import HEAD_PX, LEAST_ROW_PX, NAMES_PX, ROW_PX, Drag, Look, Painting
from yarvel.workshop.work.day_reading import DayPlan, TaskBlock

DAY, WEEK = 10.4, 2.1
"""Pixels a slot: a day in a window of 1280, or a week."""
_LEAST, _MOST = 1.0, 40.0
_AIR = 6

_VEIL = 150
"""Of 255: how much of the paper lies over a plan of before."""


class DayCanvas(QAbstractScrollArea):
    """Shows a plan, and what of it is chosen."""

    chosen = Signal()

    def __init__(self, colours: dict[str, str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._colours = colours
        self._plan: DayPlan | None = None
        self._per_slot = DAY
        self._keys: list[int] = []
        self._at: int | None = None
        """The task that the keys have come to without choosing it; None at the one chosen last."""
        self._drag: Drag | None = None
        self._former = False
        self._still: tuple[object, QPixmap] | None = None
        self.row_px = ROW_PX
        """How high a person's row is: lower where many work here, so that all of them are seen, but never too low."""
        self.setObjectName("board.chart")
        self.setAccessibleName("Plan of the day: people down, hours across")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.viewport().setMouseTracking(True)

    @property
    def plan(self) -> DayPlan | None:
        """The plan that is shown."""
        return self._plan

    def show_plan(self, plan: DayPlan | None) -> None:
        """Show another plan; what is chosen stays chosen where it is still there."""
        first = self._plan is None
        self._plan = plan
        held_keys = set() if plan is None else set(plan.reading.jobs)
        self._keys = [key for key in self._keys if key in held_keys]
        self._at = self._at if self._at in held_keys else None
        self._drag = None
        self._set_bars()
        if first and plan is not None:
            self.show_now()
        self.viewport().update()

    def show_now(self) -> None:
        """Scroll to the present."""
        if self._plan is not None:
            self.horizontalScrollBar().setValue(round((self._plan.reading.now - 2) * self._per_slot))

    def zoom(self, per_slot: float) -> None:
        """So many pixels for five minutes; what is at the left stays there."""
        left = self.horizontalScrollBar().value() / self._per_slot
        self._per_slot = min(max(per_slot, _LEAST), _MOST)
        self._set_bars()
        self.horizontalScrollBar().setValue(round(left * self._per_slot))
        self.viewport().update()

    def bars(self) -> list[TaskBlock]:
        """The chosen ones: of each task its first piece, in the order chosen."""
        if self._plan is None:
            return []
        by_key = {bar.job.key: bar for bar in reversed(self._plan.bars)}
        return [by_key[key] for key in self._keys if key in by_key]

    def at(self) -> TaskBlock | None:
        """Where the keys are: at the bar chosen last, or at one they have gone to without choosing it."""
        if self._plan is not None and self._at is not None:
            return next((bar for bar in self._plan.bars if bar.job.key == self._at), None)
        return next(reversed(self.bars()), None)

    def go_to(self, key: int) -> None:
        """The keys go to a bar; what is chosen stays chosen."""
        self._at = key
        for bar in filter(None, (self.at(),)):
            self._show_bar(bar)
        self.viewport().update()

    def set_former(self, former: bool) -> None:
        """Whether this is the plan of before, while it is worked out what stands now: it is grey then."""
        if former != self._former:
            self._former = former
            self.viewport().update()

    def choose(self, keys: Collection[int], see: bool = True) -> None:
        """Choose tasks by their keys, with those that are done together with them, and see that the last is on the
        screen."""
        self._keys = list(dict.fromkeys(beside_key for key in reversed(list(keys)) for beside_key in self._heat(key)))[
            ::-1
        ]
        self._at = None
        for bar in self.bars()[-1:] if see else ():
            self._show_bar(bar)
        self.viewport().update()
        self.chosen.emit()

    def _heat(self, key: int) -> tuple[int, ...]:
        """A task, and whatever is done together with it."""
        heat = None if self._plan is None else self._plan.reading.beside.get(key)
        return (key,) if heat is None else (key, *(task for task in heat.tasks if task != key))

    def box(self, bar: TaskBlock) -> QRectF:
        """Where a bar is, in the viewport's pixels."""
        assert self._plan is not None
        place = self._plan.plan[bar.job.key, bar.piece]
        minutes = (bar.ends - bar.begins).total_seconds() / 60
        left = NAMES_PX + place.start * self._per_slot - self.horizontalScrollBar().value()
        row = self.row_px
        top = HEAD_PX + bar.hands * row - self.verticalScrollBar().value()
        number, count = bar.beside  # what is done together lies one under the other
        high = (row - 2 * _AIR) / count
        return QRectF(left, top + _AIR + number * high, max(minutes / GRID_MINUTES * self._per_slot, 3.0), high)

    def _set_bars(self) -> None:
        across, down = 0, 0
        if self._plan is not None:
            count = max(len(self._plan.reading.people), 1)
            self.row_px = min(max((self.viewport().height() - HEAD_PX) // count, LEAST_ROW_PX), ROW_PX)
            shop = self._plan.reading.shop
            last = max((place.start for place in self._plan.plan.values()), default=0) + 60
            across = round(min(last, shop.axis.size) * self._per_slot) + NAMES_PX - self.viewport().width()
            down = len(self._plan.reading.people) * self.row_px + HEAD_PX - self.viewport().height()
        self.horizontalScrollBar().setRange(0, max(across, 0))
        self.horizontalScrollBar().setPageStep(max(self.viewport().width() - NAMES_PX, 1))
        self.horizontalScrollBar().setSingleStep(60)
        self.verticalScrollBar().setRange(0, max(down, 0))
        self.verticalScrollBar().setPageStep(max(self.viewport().height() - HEAD_PX, 1))
        self.verticalScrollBar().setSingleStep(self.row_px)

    def _show_bar(self, bar: TaskBlock) -> None:
        box = self.box(bar)
        across, down = self.horizontalScrollBar(), self.verticalScrollBar()
        if box.left() < NAMES_PX or box.right() > self.viewport().width():
            across.setValue(round(across.value() + box.left() - NAMES_PX - 60))
        if box.top() < HEAD_PX:
            down.setValue(round(down.value() + box.top() - HEAD_PX - 8))
        elif box.bottom() > self.viewport().height():
            down.setValue(round(down.value() + box.bottom() - self.viewport().height() + 8))

    def resizeEvent(self, _event: QResizeEvent) -> None:
        """The scroll bars follow."""
        self._set_bars()

    def sizeHint(self) -> QSize:
        """Room for four people."""
        return QSize(900, HEAD_PX + 4 * ROW_PX)

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Days and hours, threads, bars, names."""
        painter = QPainter(self.viewport())
        if self._drag is not None and self._drag.far and self._plan is not None:
            painter.drawPixmap(0, 0, self._picture())  # under what is dragged, nothing changes
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            self._painting(painter, self._plan).dragged(self._drag)
        else:
            self._still = None
            self._paint(painter)
        painter.end()

    def _painting(self, painter: QPainter, plan: DayPlan) -> Painting:
        across, down = self.horizontalScrollBar().value(), self.verticalScrollBar().value()
        look = Look(
            view=self.viewport().rect(),
            across=across,
            down=down,
            per_slot=self._per_slot,
            row=self.row_px,
            box=self.box,
            font=self.font(),
        )
        return Painting(painter, look, plan, self._colours, (self._keys, self.bars(), self._at))

    def _paint(self, painter: QPainter) -> None:
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.viewport().rect(), QColor(self._colours["paper"]))
        if self._plan is not None:
            self._painting(painter, self._plan).all()
            if self._former:
                veil = QColor(self._colours["paper"])
                veil.setAlpha(_VEIL)
                painter.fillRect(self.viewport().rect(), veil)

    def _picture(self) -> QPixmap:
        """The plan as it is, painted once as long as nothing but the pointer moves."""
        scrolled = self.horizontalScrollBar().value(), self.verticalScrollBar().value()
        seen = (*scrolled, self._per_slot, self.viewport().size(), id(self._plan))
        if self._still is None or self._still[0] != seen:
            picture = QPixmap(self.viewport().size() * self.devicePixelRatioF())
            picture.setDevicePixelRatio(self.devicePixelRatioF())
            painter = QPainter(picture)
            self._paint(painter)
            painter.end()
            self._still = seen, picture
        return self._still[1]
