"""How the plan of the day looks: one picture of it, back to front."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from msgspec import Struct
from PySide6.QtCore import QPointF, QRect, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QFont, QFontMetrics, QPainter, QPainterPath, QPen, QPolygonF

from yarvel.workshop.work.day_reading import DayPlan, TaskBlock
from yarvel.workshop.work.standards import label_of

NAMES_PX, HEAD_PX = 236, 46

LEAST_ROW_PX, ROW_PX = 46, 72
"""How high a person's row is: as high as all of them have room, so that nobody is below the edge."""
_LOW = 66
"""What is lower has two lines of words, not three."""
_NARROW, _LEAST_ITEM_PX, _LEAST_UPRIGHT_PX = 54, 34, 10
"""Below ``_NARROW`` a bar's words have less air; an item is written where it has so much room, a number upright where a
bar is so wide."""
_TOOTH = 5.0
_LATE = "late"


class Drag(Struct, frozen=True):
    """What is taken: the bar, where, and where the pointer is now."""

    bar: TaskBlock
    taken: QPointF
    at: QPointF

    @property
    def by(self) -> QPointF:
        """How far it went."""
        return self.at - self.taken

    @property
    def far(self) -> bool:
        """Whether that is a drag and no trembling hand."""
        return self.by.manhattanLength() > 8


class Look(Struct, frozen=True, kw_only=True):
    """What of a plan is looked at: the room, how far it is scrolled, pixels a slot and a row, where a bar is, and the
    letters."""

    view: QRect
    across: int
    down: int
    per_slot: float
    row: int
    box: Callable[[TaskBlock], QRectF]
    font: QFont


class Painting:
    """One picture of a plan."""

    def __init__(
        self,
        painter: QPainter,
        look: Look,
        plan: DayPlan,
        colours: dict[str, str],
        chosen: tuple[list[int], list[TaskBlock], int | None],
    ) -> None:
        self._p, self._plan, self._box, self._base = painter, plan, look.box, look.font
        self._c = {name: QColor(value) for name, value in colours.items()}
        self._keys, self._bars, self._at = chosen
        self._away: list[QRectF] = []
        self._last_hour = -100.0
        self._picked = {plan.reading.jobs[key].docket.id for key in self._keys}
        self._late = {outcome_row.docket.id: outcome_row.late for outcome_row in plan.late}
        self._view, self._per_slot, self._row = look.view, look.per_slot, look.row
        self._x0, self._y0 = NAMES_PX - look.across, HEAD_PX - look.down

    def all(self) -> None:
        """Everything but what is dragged, back to front."""
        p = self._p
        p.save()
        p.setClipRect(QRect(NAMES_PX, HEAD_PX, self._view.width(), self._view.height()))
        self._rows()
        boxes = {(bar.job.key, bar.piece): self._box(bar) for bar in self._plan.bars}
        self._threads(boxes)
        for bar in self._plan.bars:
            box = boxes[bar.job.key, bar.piece]
            if box.right() > NAMES_PX and box.left() < self._view.right() and box.bottom() > HEAD_PX:
                self._bar(bar, box)
        self._absences()
        p.restore()
        self._head()
        self._names()

    def _font(self, pixels: int, bold: bool = False) -> QFont:
        font = QFont(self._base)
        font.setPixelSize(pixels)
        font.setBold(bold)
        return font

    def _rows(self) -> None:
        """Lines between people, breaks and nights, absences."""
        p, shop = self._p, self._plan.reading.shop
        for row, hands in enumerate(shop.hands[: len(self._plan.reading.people)]):
            top = self._y0 + row * self._row
            if row % 2:
                p.fillRect(QRectF(NAMES_PX, top, self._view.width(), self._row), self._c["panel"])
            for begin, end in hands.away:
                if begin >= self._plan.reading.now or end > self._plan.reading.now:
                    left = self._x0 + max(begin, self._plan.reading.now) * self._per_slot
                    box = QRectF(left, top, (end - max(begin, self._plan.reading.now)) * self._per_slot, self._row)
                    p.fillRect(box, QBrush(self._c["hatch"], Qt.BrushStyle.BDiagPattern))
                    self._away.append(box)
        self._past()
        edges = shop.axis.block_edges
        nights = {int(evening) for evening in shop.axis.evenings}
        for edge in edges:
            x = self._x0 + edge * self._per_slot
            if NAMES_PX <= x <= self._view.right():
                night = edge in nights
                p.setPen(QPen(self._c["frame" if night else "line"], 2 if night else 1))
                p.drawLine(QPointF(x, HEAD_PX), QPointF(x, self._view.bottom()))
        now = self._x0 + self._plan.reading.now * self._per_slot
        p.setPen(QPen(self._c["stop"], 2, Qt.PenStyle.DashLine))
        p.drawLine(QPointF(now, HEAD_PX), QPointF(now, self._view.bottom()))

    def _past(self) -> None:
        """What was done today, quietly; a tick where it is finished."""
        p = self._p
        for hands, begin, end, past in self._plan.reading.past:
            box = QRectF(
                self._x0 + begin * self._per_slot,
                self._y0 + hands * self._row + 9,
                (end - begin) * self._per_slot - 1,
                self._row - 18,
            )
            if box.right() < NAMES_PX or box.left() > self._view.right():
                continue
            p.setPen(QPen(self._c["line"], 1))
            p.setBrush(self._c["window"])
            p.drawRect(box)
            words = [past.number, f"{'✓ ' if past.done else ''}{label_of(past.operation)}"]
            self._words(box.adjusted(5, 0, -4, 0), words)

    def _absences(self) -> None:
        """The word on every absence."""
        p = self._p
        p.setFont(self._font(13, bold=True))
        for box in self._away:
            left, middle = max(box.left(), float(NAMES_PX)), box.center().y()
            if box.right() - left > 50:
                p.fillRect(QRectF(left + 6, middle - 10, 44, 20), self._c["paper"])
                p.setPen(self._c["text"])
                p.drawText(QPointF(left + 10, middle + 5), "away")

    def _threads(self, boxes: Mapping[tuple[int, int], QRectF]) -> None:
        """Dockets as threads from bar to bar; those of what is chosen strong."""
        by_docket: dict[int, list[TaskBlock]] = {}
        for bar in self._plan.bars:
            by_docket.setdefault(bar.job.docket.id, []).append(bar)
        picked = self._picked
        for docket, bars in sorted(by_docket.items(), key=lambda held: held[0] in picked):
            strong = docket in picked
            self._p.setPen(QPen(self._c["accent" if strong else "line"], 3 if strong else 1))
            self._p.setBrush(Qt.BrushStyle.NoBrush)
            for one, other in zip(bars, bars[1:], strict=False):
                a, b = boxes[one.job.key, one.piece], boxes[other.job.key, other.piece]
                if b.left() < NAMES_PX - 50 or a.right() > self._view.right() + 50:
                    continue
                begin, end = QPointF(a.right(), a.center().y()), QPointF(b.left(), b.center().y())
                bend = max(12.0, min(abs(end.x() - begin.x()) / 2, 60.0))
                path = QPainterPath(begin)
                path.cubicTo(begin + QPointF(bend, 0), end - QPointF(bend, 0), end)
                self._p.drawPath(path)

    def _outline(self, box: QRectF, late: bool) -> QPolygonF:
        """A bar's outline; that of a late docket ends in teeth."""
        points = [box.topLeft()]
        if late and box.width() > 2 * _TOOTH:
            count = 6
            step = box.height() / count
            for tooth in range(count):
                points.append(QPointF(box.right(), box.top() + tooth * step))
                points.append(QPointF(box.right() - _TOOTH, box.top() + (tooth + 0.5) * step))
            points.append(box.bottomRight())
        else:
            points += [box.topRight(), box.bottomRight()]
        return QPolygonF([*points, box.bottomLeft(), box.topLeft()])

    def _bar(self, bar: TaskBlock, box: QRectF) -> None:
        p, job = self._p, bar.job
        late, picked = self._late.get(job.docket.id, 0), job.key in self._keys
        fill = self._c["accent-soft"] if picked else self._c["metal" if bar.running else "raised"]
        edge = self._c["accent"] if job.docket.id in self._picked else self._c["stop" if late else "outline"]
        p.setBrush(fill)
        dashed = Qt.PenStyle.DashLine if job.task is None else Qt.PenStyle.SolidLine
        p.setPen(QPen(edge, 2.4 if picked else 1.4, dashed))
        inner = box.adjusted(1, 0, -1, 0)
        p.drawPolygon(self._outline(inner, bool(late)))
        if bar.running:  # a wedge at its front: in hand
            p.setBrush(self._c["accent"])
            p.setPen(Qt.PenStyle.NoPen)
            p.drawPolygon(QPolygonF([inner.topLeft(), inner.topLeft() + QPointF(12, 0), inner.bottomLeft()]))
        if bar.pinned:
            p.setBrush(edge)
            p.setPen(Qt.PenStyle.NoPen)
            p.drawEllipse(QPointF(inner.center().x(), inner.top()), 4.5, 4.5)
        if job.key == self._at:  # the keys are here, and it is not chosen by that
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(QPen(self._c["accent"], 1.4, Qt.PenStyle.DotLine))
            p.drawRect(inner.adjusted(3, 3, -3, -3))
        if bar.beside[1] > 1:  # one under the other: a line each
            line = f"{job.docket.number}  {label_of(job.operation)}"
            self._words(inner.adjusted(7, 0, -7, 0), [line])
            return
        words = [job.docket.number, label_of(job.operation)]
        notes = [f"{_LATE} {late} d"] if late else []
        notes += ["moved"] if bar.moved else []
        notes += [] if job.docket.importance == "" else [job.docket.importance]
        air = 1 if self._row < _LOW else 3
        narrow = 1 if inner.width() < _NARROW else 7
        room = inner.adjusted(narrow if not bar.running else 14, air, -narrow, -air)
        self._words(room, words, notes, job.docket.item)

    def _words(self, box: QRectF, lines: list[str], told: Sequence[str] = (), item: str = "") -> None:
        """Lines one under the other, the first bold and the ``item`` behind it; what is ``told`` below them, or in a
        low row beside the first. A bar that is too narrow for its docket's number has it upright."""
        p = self._p
        low, first = self._row < _LOW, lines[0]
        bold, beside = self._letters(14, bold=True), QFontMetrics(self._font(13, bold=True))
        needed = bold.horizontalAdvance(first) + (beside.horizontalAdvance(f"  {told[0]}") if low and told else 0)
        if needed > box.width():
            first = first.split("-")[-1]
        p.setPen(self._c["text"])
        if bold.horizontalAdvance(first) >= int(box.width()):
            self._upright(first, box)
            return
        self._word(first, box, 0, bold)
        behind = bold.horizontalAdvance(f"{first}  ")
        if item and not (low and told) and box.width() - behind > _LEAST_ITEM_PX:
            self._word(item, box.adjusted(behind, 0, 0, 0), 0, self._letters(13, bold=False))
        for place, line in enumerate(lines[1:], start=1):
            self._word(line, box, place * (16 if low else 17), self._letters(13, bold=False))
        if told:
            late = told[0].startswith(_LATE)
            p.setPen(self._c["stop"] if late else self._c["text"])
            if low:
                box = box.adjusted(bold.horizontalAdvance(f"{first}  "), 0, 0, 0)
            ways = [" · ".join(told[:count]) for count in range(len(told), 0, -1)] + [_LATE] * late
            fits = next((way for way in ways if beside.horizontalAdvance(way) <= box.width()), "")
            self._word(fits, box, 0 if low else len(lines) * 17, self._letters(13, bold=True))

    def _upright(self, text: str, box: QRectF) -> None:
        """A short text from below upwards, where that has room."""
        metrics = self._letters(12, bold=True)
        if box.width() < _LEAST_UPRIGHT_PX or metrics.horizontalAdvance(text) > box.height():
            return
        p = self._p
        p.save()
        p.translate(box.center().x() + metrics.ascent() / 2 - 1, box.bottom() - 1)
        p.rotate(-90)
        p.drawText(QPointF(0, 0), text)
        p.restore()

    def _letters(self, pixels: int, bold: bool) -> QFontMetrics:
        """Write with these letters from now on."""
        font = self._font(pixels, bold)
        self._p.setFont(font)
        return QFontMetrics(font)

    def _word(self, text: str, box: QRectF, down: float, metrics: QFontMetrics) -> None:
        """A line in a box; cut short, or left out where too little of it would be left."""
        shown = metrics.elidedText(text, Qt.TextElideMode.ElideRight, round(box.width()))
        if shown == text or len(shown) > 4:
            self._p.drawText(QPointF(box.left(), box.top() + min(14, box.height() - 2) + down), shown)

    def dragged(self, drag: Drag) -> None:
        """Where what is taken would go."""
        p = self._p
        p.setClipRect(QRect(NAMES_PX, HEAD_PX, self._view.width(), self._view.height()))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.setPen(QPen(self._c["accent"], 2.5, Qt.PenStyle.DotLine))
        for bar in self._bars:
            p.drawRect(self._box(bar).translated(drag.by.x(), round(drag.by.y() / self._row) * self._row))

    def _head(self) -> None:
        """Days, hours, and the present."""
        p, axis = self._p, self._plan.reading.shop.axis
        p.fillRect(QRect(0, 0, self._view.width(), HEAD_PX), self._c["panel"])
        p.setPen(self._c["line"])
        p.drawLine(0, HEAD_PX, self._view.width(), HEAD_PX)
        p.save()
        p.setClipRect(QRect(NAMES_PX, 0, self._view.width() - NAMES_PX, HEAD_PX))
        begin = 0
        for place, end in enumerate(int(evening) for evening in axis.evenings):
            left, right = self._x0 + begin * self._per_slot, self._x0 + end * self._per_slot
            if right > NAMES_PX and left < self._view.right():
                p.setFont(self._font(14, bold=True))
                p.setPen(self._c["text"])
                room = right - max(left, NAMES_PX) - 12
                for name in (f"{axis.days[place]:%A %-d %B}", f"{axis.days[place]:%a %-d}"):
                    if p.fontMetrics().horizontalAdvance(name) <= room:
                        p.drawText(QPointF(max(left, NAMES_PX) + 6, 17), name)
                        break
                self._hours(begin, end)
            begin = end
        now = self._x0 + self._plan.reading.now * self._per_slot
        p.setFont(self._font(13, bold=True))
        p.setPen(self._c["stop"])
        if now >= NAMES_PX - 1:
            p.drawText(QPointF(now + 4, 40), "now")
        p.restore()

    def _hours(self, begin: int, end: int) -> None:
        p, axis = self._p, self._plan.reading.shop.axis
        p.setFont(self._font(12))
        p.setPen(self._c["text-quiet"])
        every = 1 if self._per_slot > 4 else 4
        edges = set(axis.block_edges)
        for slot in range(begin, end):
            moment = axis.moment_of(slot)
            x = self._x0 + slot * self._per_slot
            hour = moment.minute == 0 and moment.hour % every == 0
            if (hour or (every == 1 and slot in edges)) and x - self._last_hour > 40 and x >= NAMES_PX:
                if abs(slot - self._plan.reading.now) * self._per_slot > 34:
                    p.drawText(QPointF(x + 2, 40), f"{moment:%-H:%M}")
                p.drawLine(QPointF(x, 32), QPointF(x, HEAD_PX))
                self._last_hour = x

    def _names(self) -> None:
        """Whoever works here, and what they should take next."""
        p, shop = self._p, self._plan.reading.shop
        p.save()
        p.setClipRect(QRect(0, HEAD_PX, NAMES_PX, self._view.height()))
        p.fillRect(QRect(0, HEAD_PX, NAMES_PX, self._view.height()), self._c["panel"])
        for row, hands in enumerate(shop.hands[: len(self._plan.reading.people)]):
            top = self._y0 + row * self._row
            bars = self._plan.bars_of(row)
            first = bars[0] if bars else None
            metrics = self._letters(15, bold=True)
            p.setPen(self._c["text"])
            below = top + (21 if self._row >= _LOW else 20)
            p.drawText(QPointF(12, below), hands.name)
            if first is None:
                p.setFont(self._font(13))
                p.setPen(self._c["text-quiet"])
                p.drawText(QPointF(12, below + 22), "nothing to do")
            else:
                self._next(first, below, metrics.horizontalAdvance(hands.name))
            p.setPen(self._c["line"])
            p.drawLine(QPointF(0, top + self._row), QPointF(NAMES_PX, top + self._row))
        p.setPen(QPen(self._c["frame"], 1))
        p.drawLine(NAMES_PX - 1, HEAD_PX, NAMES_PX - 1, self._view.bottom())
        p.restore()

    def _next(self, bar: TaskBlock, below: float, name_px: int) -> None:
        """What comes next, large; from when on below it, or in a low row beside the name."""
        p = self._p
        metrics = self._letters(15, bold=False)
        what = f"{bar.job.docket.number.split('-')[-1]} {label_of(bar.job.operation)}"
        p.drawText(QPointF(12, below + 22), metrics.elidedText(what, Qt.TextElideMode.ElideRight, NAMES_PX - 24))
        day = (
            "" if bar.begins.date() == self._plan.reading.shop.axis.moment_of(self._plan.reading.now).date() else "%a "
        )
        when = "in hand" if bar.running else f"next, {bar.begins.strftime(f'{day}%-H:%M')}"
        when = f"{when} · {(bar.ends - bar.begins).total_seconds() / 60:.0f} min"
        metrics = self._letters(13, bold=False)
        p.setPen(self._c["accent"] if bar.running else self._c["text-quiet"])
        if self._row >= _LOW:
            p.drawText(QPointF(12, below + 41), when)
            return
        room = NAMES_PX - 36 - name_px
        shown = metrics.elidedText(when, Qt.TextElideMode.ElideRight, room)
        p.drawText(QPointF(NAMES_PX - 12 - metrics.horizontalAdvance(shown), below), shown)
