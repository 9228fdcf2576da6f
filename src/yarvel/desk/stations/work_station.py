"""Station: work. The route as a list to go down, the operation in hand large, what is chosen of schools and grades."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from html import escape

from PySide6.QtCore import QModelIndex, Qt, Signal
from PySide6.QtGui import QDropEvent, QHideEvent, QKeyEvent, QResizeEvent, QShowEvent
from PySide6.QtWidgets import (
    QAbstractItemView,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QWidget,
)

from yarvel.desk.stations import route_edits
from yarvel.desk.stations.made_readings import MEASURES, ReadingsButton
from yarvel.desk.stations.station import Station
from yarvel.desk.stations.table_level import TableLevel
from yarvel.desk.stations.work_choices import USUAL, WorkChoices
from yarvel.desk.theme import BODY_PX
from yarvel.desk.widgets.fields import ChoiceField
from yarvel.desk.widgets.words import Words
from yarvel.drawing.painters.qt import font
from yarvel.operations.cautions import DEFER, InTheWork, caution_of
from yarvel.operations.joint_groups import name_of
from yarvel.operations.register import REGISTER
from yarvel.planning.documents import Document
from yarvel.planning.work_methods import WITH_PLIERS
from yarvel.route.card import CardLine, Section, sections
from yarvel.route.hazards import in_the_work
from yarvel.route.instead import usual_kind, ways_of
from yarvel.route.running import route_of
from yarvel.workshop.work.docket_work import Work, work_of

_KEY = Qt.ItemDataRole.UserRole
_FLAGS = (
    Qt.ItemFlag.ItemIsEnabled
    | Qt.ItemFlag.ItemIsSelectable
    | Qt.ItemFlag.ItemIsUserCheckable
    | Qt.ItemFlag.ItemIsDragEnabled
)


class RouteList(QListWidget):
    """Operations in order. Space ticks one off, Alt with an arrow moves it, and so does dragging it."""

    moved = Signal(str, int)
    ticked = Signal(str)
    picked = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("work.route")
        self.setAccessibleName("Operations in order")
        self.setWordWrap(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setDragDropMode(QAbstractItemView.DragDropMode.InternalMove)
        self.setMinimumHeight(320)
        self.currentItemChanged.connect(self._on_current)

    def _on_current(self, item: QListWidgetItem | None) -> None:
        if item is not None and item.data(_KEY):
            self.picked.emit(item.data(_KEY))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Space ticks; Alt+Up and Alt+Down move; everything else as lists do."""
        item = self.currentItem()
        key = None if item is None else item.data(_KEY)
        if (
            key
            and event.modifiers() == Qt.KeyboardModifier.AltModifier
            and event.key()
            in (
                Qt.Key.Key_Up,
                Qt.Key.Key_Down,
            )
        ):
            self.moved.emit(key, -1 if event.key() == Qt.Key.Key_Up else 1)
        elif key and event.key() == Qt.Key.Key_Space:
            self.ticked.emit(key)
        else:
            super().keyPressEvent(event)

    def dropEvent(self, event: QDropEvent) -> None:
        """Where an operation was dropped counts; the list itself is filled anew from the route."""
        item = self.currentItem()
        key = None if item is None else item.data(_KEY)
        if not key:
            return
        keys = self.operation_keys()
        place = self._place_of(self.indexAt(event.position().toPoint()), keys)
        event.setDropAction(Qt.DropAction.IgnoreAction)
        event.accept()
        index = keys.index(key)
        step = place - index if place < index else place - index - 1
        if step:
            self.moved.emit(key, step)

    def _place_of(self, index: QModelIndex, keys: list[str]) -> int:
        """How many operations lie above a row."""
        if not index.isValid():
            return len(keys)
        return sum(1 for row in range(index.row()) if self.item(row).data(_KEY))

    def fill(self, sections: tuple[Section, ...], ticks: set[str], chosen: str) -> None:
        """The route's sections with their operations, one chosen."""
        self.blockSignals(True)
        self.clear()
        for section in sections:
            head = QListWidgetItem(f"{section.name} · {section.minutes:.0f} min")
            head.setFlags(Qt.ItemFlag.NoItemFlags)
            head.setFont(font(BODY_PX, bold=True))
            self.addItem(head)
            for line in section.lines:
                item = QListWidgetItem(_short_of(line))
                item.setData(_KEY, line.key)
                item.setFlags(_FLAGS)
                done = line.mark in ticks
                item.setCheckState(Qt.CheckState.Checked if done else Qt.CheckState.Unchecked)
                self.addItem(item)
                if line.key == chosen:
                    self.setCurrentItem(item)
        self.blockSignals(False)
        self._show_current()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Lines wrap anew; the operation in hand stays in sight."""
        super().resizeEvent(event)
        self._show_current()

    def _show_current(self) -> None:
        if (item := self.currentItem()) is not None:
            self.doItemsLayout()
            self.scrollToItem(item, QAbstractItemView.ScrollHint.PositionAtCenter)

    def operation_keys(self) -> list[str]:
        """Keys of the operations as they are listed."""
        keys = (self.item(row).data(_KEY) for row in range(self.count()))
        return [key for key in keys if key]


class WorkStation(Station):
    """From the metal to the release."""

    TITLE = "Work"
    ROOMS = ("joints", "setting", "route")

    operation_chosen = Signal(object, object)

    def build(self) -> None:
        """The operation in hand, the list, and what is chosen."""
        self._work: Work | None = None
        self._sections: tuple[Section, ...] = ()
        self._in_it = InTheWork()
        self._lines: dict[str, CardLine] = {}
        self._key = ""
        self._name = Words(self)
        self._name.setProperty("title", True)
        self._name.setObjectName("work.name")
        self._text = self.account()
        self._text.setObjectName("work.text")
        self.buttons: dict[str, QPushButton] = {}
        _button_row(self, (("done", "Done, next", self._on_done),))
        self.buttons["done"].setToolTip("Tick it off and go to the next (Space in the list)")
        self.column.insertWidget(0, self._name)
        self.list = RouteList(self)
        self.list.picked.connect(self._show)
        self.list.moved.connect(self.move_operation)
        self.list.ticked.connect(self.tick)
        self.list.itemChanged.connect(self._on_checked)
        self.column.addWidget(self.list)
        self._changes()
        self._choices = WorkChoices(self)
        self._more()
        self.level = TableLevel(self.session, self.fold("Is the table level?"), self)
        self.end_fold()

    def _changes(self) -> None:
        """What a person changes of the operation in hand, under the list."""
        _button_row(
            self,
            (
                ("earlier", "Earlier", lambda: self.move_operation(self._key, -1)),
                ("later", "Later", lambda: self.move_operation(self._key, 1)),
                ("strike", "Leave out", self._on_strike),
            ),
        )
        self.buttons["earlier"].setToolTip("Alt+Up in the list, or drag it")
        self.buttons["later"].setToolTip("Alt+Down in the list, or drag it")
        self.readings = ReadingsButton(self.session, self.lines_now, self)
        self.column.addWidget(self.readings)
        self.way = ChoiceField("route.methods", "Done by", [], self)
        self.way.chosen.connect(lambda _path, kind: self._change(route_edits.other_way, str(kind), "Done by"))
        self.column.addWidget(self.way)

    def _more(self) -> None:
        self.fold("Another operation")
        kinds = [(kind.key, kind.label) for kind in sorted(REGISTER.values(), key=lambda kind: kind.label)]
        self.added = ChoiceField("route.added", "After this one", kinds, self)
        self.column.addWidget(self.added)

        def add() -> None:
            self._change(route_edits.with_added, str(self.added.combo.currentData()), "Add")

        def usual() -> None:
            self.session.patch({"route": None}, "The usual order")

        _button_row(self, (("add", "Add it", add),))
        _button_row(self, (("usual", "Back to the usual order", usual),))
        self.end_fold()

    def chosen_value(self, path: str) -> object:
        """The job's school, or what is usual."""
        record = super().chosen_value(path)
        return USUAL.get(path, "") if record is None else record

    def _on_chosen(self, path: str, value: object) -> None:
        self.session.end_burst()
        wanted = None if value in ("", USUAL.get(path, "")) else value
        if path == "head.exists" and wanted is None:  # no stone is in a head that is still to be made
            self.session.patch({"head": {"exists": None}, "stone": {"state": None}}, self.choices[path].label)
        elif path == "setting.closing" and value not in WITH_PLIERS:  # which have no jaws
            self.session.patch({"setting": {"closing": wanted, "jaws": None}}, self.choices[path].label)
        else:
            self.session.set_value(path, wanted, self.choices[path].label)

    # --- the route -----------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """The route anew, the operation in hand kept where it still occurs."""
        super().refresh()
        plan, docket = self.session.plan, self.session.docket
        self._work, self._sections = None, ()
        if plan is not None:
            docket_work = None if docket is None else work_of(plan, docket, self.session.rules)
            self._work = docket_work or Work(plan, route_of(plan))
            self._sections = sections(self._work.route, self._work.plan)
            self._in_it = in_the_work(self._work.plan)
        self._lines = {line.key: line for section in self._sections for line in section.lines}
        ticks = self._ticks()
        if self._key not in self._lines:
            self._key = next((line.key for line in self._lines.values() if line.mark not in ticks), "")
        self.list.fill(self._sections, ticks, self._key)
        self._show(self._key)
        self._choices.refresh()
        self.level.refresh()
        moved = self.session.document.get("route")
        self.buttons["usual"].setEnabled(bool(moved))

    def lines_now(self) -> dict[str, CardLine]:
        """The route's lines by their operations, as the plan is now."""
        self.refresh()
        return dict(self._lines)

    def _ticks(self) -> set[str]:
        docket = self.session.docket
        return set() if docket is None else set(docket.ticks)

    def _show(self, key: str) -> None:
        """The operation in hand, large; the sheet shows the piece as it is then."""
        self._key = key
        line = self._lines.get(key)
        ways = () if line is None else ways_of(line.step.operation)
        self.way.setVisible(len(ways) > 1)
        self.readings.setVisible(key == MEASURES)
        for name in ("done", "earlier", "later", "strike", "add"):
            self.buttons[name].setEnabled(line is not None)
        if line is None:
            self._name.setText("All is ticked off." if self._lines else "The work waits for the stone.")
            self._text.setText("")
        else:
            operation = line.step.operation
            self.way.offer([(kind, REGISTER[kind].label) for kind in ways])
            self.way.show_value(operation.kind.key)
            place = list(self._lines).index(key) + 1
            self._name.setText(f"{place} of {len(self._lines)} · {operation.kind.label}")
            self._text.setText(_told(line, self._in_it))
        self._emit()

    def _emit(self) -> None:
        """Whoever draws the piece shows it as it is then; as it will be while this station is closed."""
        if not self._built:
            return
        line = self._lines.get(self._key) if self.isVisible() else None
        self.operation_chosen.emit(self._work, None if line is None else line.step)

    def showEvent(self, event: QShowEvent) -> None:
        """Opened: the sheet goes along."""
        super().showEvent(event)
        self._emit()

    def hideEvent(self, event: QHideEvent) -> None:
        """Closed: the sheet shows the whole piece again."""
        super().hideEvent(event)
        self._emit()

    def _on_checked(self, item: QListWidgetItem) -> None:
        key = item.data(_KEY)
        if key and (item.checkState() == Qt.CheckState.Checked) != (self._lines[key].mark in self._ticks()):
            self.tick(key)

    def tick(self, key: str) -> None:
        """Tick an operation off, or take the tick back."""
        line = self._lines.get(key)
        if line is None or self.session.docket is None:
            return
        ticks = self.session.docket.ticks
        kept = tuple(tick for tick in ticks if tick != line.mark)
        self.session.set_column("ticks", kept if line.mark in ticks else (*ticks, line.mark))

    def _on_done(self) -> None:
        """Tick it off and go on to the next that is open."""
        keys, key = list(self._lines), self._key
        if key not in self._lines:
            return
        if self._lines[key].mark not in self._ticks():
            self.tick(key)
        following = [other for other in keys[keys.index(key) + 1 :] if self._lines[other].mark not in self._ticks()]
        self._key = following[0] if following else key
        self.refresh()

    # --- what a person changes -----------------------------------------------------------------------------------

    def move_operation(self, key: str, step: int) -> None:
        """An operation so many places later, or earlier."""
        patch = route_edits.moved(self.session.document, self._lines, key, step)
        if patch is not None:
            self._key = key
            self.session.patch(patch, f"Move “{self._lines[key].step.operation.kind.label}”")

    def _on_strike(self) -> None:
        line = self._lines[self._key]
        patch = route_edits.left_out(self.session.document, line)
        self.session.patch(patch, f"Leave out “{line.step.operation.kind.label}”")

    def _change(self, edit: Callable[[Document, CardLine, str], Document], kind: str, said: str) -> None:
        """An edit of the operation in hand by a kind of operation."""
        line = self._lines.get(self._key)
        if line is not None:
            self.session.patch(edit(self.session.document, line, kind), f"{said} “{REGISTER[kind].label}”")

    def telling(self) -> str:
        """How far the work is, and how long it takes by standard."""
        plan = self.session.plan
        if plan is None:
            return "waits for the stone"
        if not self._built or self._work is None:
            return f"{len(plan.joints)} joints, then the setting"
        minutes = sum(section.minutes for section in self._sections)
        ticks = self._ticks()
        done = sum(line.mark in ticks for line in self._lines.values())
        return f"{done} of {len(self._lines)} done · {minutes / 60:.1f} h by standard"

    def first_field(self) -> QWidget | None:
        """The list."""
        return self.list


def _button_row(station: WorkStation, buttons: Iterable[tuple[str, str, Callable[[], object]]]) -> None:
    """Buttons beside one another, under what the station has so far."""
    row = QWidget(station)
    line = QHBoxLayout(row)
    line.setContentsMargins(0, 0, 0, 0)
    for name, text, act in buttons:
        button = QPushButton(text, row)
        button.setObjectName(f"work.{name}")
        button.setMinimumWidth(1)
        button.clicked.connect(lambda _checked=False, act=act: act())
        line.addWidget(button)
        station.buttons[name] = button
    station.column.addWidget(row)


def _short_of(line: CardLine) -> str:
    """One line of the list: what is done to what."""
    operation = line.step.operation
    passes = operation.kind.key in ("roll", "draw-wire")
    many = f" × {operation.count}" if operation.count > 1 and not passes else ""
    what = ", ".join(name_of(group) for group in operation.closes)
    what = what or operation.key.removeprefix(f"{usual_kind(operation)}-").replace("-", " ")
    marks = " (if asked for)" if operation.maybe else ""
    return f"{operation.kind.label}: {what}{many}{marks}{' – too early' if line.step.unmet else ''}"


def _told(line: CardLine, work: InTheWork) -> str:
    """The operation in hand as rich text."""
    operation = line.step.operation
    more = " ".join(step.operation.text for step in line.more)
    parts = [f"<p style='font-size:17px; margin:4px 0'>{escape(operation.text)} {escape(more)}</p>"]
    if operation.look:
        parts.append(f"<p style='margin:4px 0'><b>Look:</b> {escape(operation.look)}.</p>")
    if line.step.unmet:
        parts.append(f"<p style='margin:4px 0'><b>Too early here:</b> {escape('; '.join(line.step.unmet))}.</p>")
    kind = operation.kind
    wait = f", then {kind.wait_minutes:.0f} min of waiting" if kind.wait_minutes else ""
    skills = " or ".join(kind.skills)
    parts.append(f"<p style='margin:4px 0'>{line.minutes:g} min at the {kind.station}{wait}; {skills}.</p>")
    if caution := caution_of(operation, work):
        parts.append(f"<p style='margin:4px 0'><i>Caution.</i> {escape(caution)} {escape(DEFER)}</p>")
    return "".join(parts)
