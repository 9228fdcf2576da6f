"""When the workshop is open, who is away when, and how many can work at a station: what a plan of the day rests on."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QUndoStack
from PySide6.QtWidgets import (
    QComboBox,
    QDialog,
    QGridLayout,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from yarvel.desk.asking import Ask
from yarvel.desk.taken_back import Step, remember
from yarvel.desk.widgets.manners import open_at
from yarvel.desk.widgets.words import Line, Words
from yarvel.figures.errors import StoreError
from yarvel.workshop.day.axis import Hours
from yarvel.workshop.day.snapshot import USUAL_STATIONS, Absence
from yarvel.workshop.day.words import DAYS, days_of, hours_of, hours_text, moment_of
from yarvel.workshop.tasks import Person

if TYPE_CHECKING:
    from yarvel.workshop.store import Store

_Held = tuple[Hours, dict[str, int], list[Absence], list[Person]]


class HoursDialog(QDialog):
    """Absences are stored as they are entered; hours and stations with the button below them."""

    changed = Signal()

    def __init__(self, ask: Ask, today: date, undo_stack: QUndoStack, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._ask, self._today, self._undo_stack = ask, today, undo_stack
        self._people: list[Person] = []
        self.setWindowTitle("Hours and absences")
        open_at(self, 980, 600)
        self.problem = Words(self)
        self.problem.setObjectName("hours.problem")
        self.problem.setProperty("problem", True)
        self.problem.setWordWrap(True)
        self.days = {day: self._line(f"hours.{day}", day, "shut") for day in DAYS}
        self.holidays = self._line("hours.holidays", "Shut on", "2031-12-24, 2031-12-25")
        self.stations = {name: self._line(f"hours.{name}", f"At once: {name}") for name in USUAL_STATIONS}
        self.keep = QPushButton("Keep hours and stations", self)
        self.keep.setObjectName("hours.keep")
        self.keep.clicked.connect(lambda _checked=False: self._on_keep())
        self.person = QComboBox(self)
        self.person.setObjectName("absence.person")
        self.person.setAccessibleName("Who is away")
        self.begins = self._line("absence.begins", "From", "today, 13:00, Thursday or 2031-12-24")
        self.ends = self._line("absence.ends", "To", "the same, or nothing: that day")
        self.why = self._line("absence.why", "Why", "need not be said")
        self.add = QPushButton("Is away", self)
        self.add.setObjectName("absence.add")
        self.add.clicked.connect(lambda _checked=False: self._on_add())
        self.held = QListWidget(self)
        self.held.setObjectName("absence.held")
        self.held.setAccessibleName("Absences")
        self.held.setWordWrap(True)
        self.withdraw = QPushButton("Is there after all", self)
        self.withdraw.setObjectName("absence.withdraw")
        self.withdraw.clicked.connect(lambda _checked=False: self._on_withdraw())
        self._lay_out()
        self.reload()

    def _line(self, name: str, label: str, hint: str = "") -> Line:
        line = Line(self)
        line.setObjectName(name)
        line.setAccessibleName(label)
        line.setPlaceholderText(hint)
        line.advances = True
        return line

    def _lay_out(self) -> None:
        left, right = QGridLayout(), QGridLayout()
        rows: list[tuple[str, QLineEdit]] = [*self.days.items(), ("Shut on", self.holidays)]
        rows += [(f"At once: {name}", line) for name, line in self.stations.items()]
        for row, (label, line) in enumerate(rows):
            left.addWidget(Words(label, self), row, 0)
            left.addWidget(line, row, 1)
        left.setColumnStretch(1, 1)
        left.addWidget(self.keep, len(rows), 1, Qt.AlignmentFlag.AlignRight)
        left.setRowStretch(len(rows) + 1, 1)
        absence: list[tuple[str, QWidget]] = [
            ("Who", self.person),
            ("From", self.begins),
            ("To", self.ends),
            ("Why", self.why),
        ]
        for row, (label, widget) in enumerate(absence):
            right.addWidget(Words(label, self), row, 0)
            right.addWidget(widget, row, 1)
        right.addWidget(self.add, 4, 1, Qt.AlignmentFlag.AlignRight)
        right.addWidget(self.held, 5, 0, 1, 2)
        right.addWidget(self.withdraw, 6, 1, Qt.AlignmentFlag.AlignRight)
        sides = QHBoxLayout()
        sides.addLayout(left, 5)
        sides.addSpacing(20)
        sides.addLayout(right, 4)
        column = QVBoxLayout(self)
        column.addLayout(sides, 1)
        column.addWidget(self.problem)

    def reload(self) -> None:
        """Ask the store how things are."""

        def work(store: Store) -> _Held:
            return store.day.hours(), store.day.stations(), store.day.absences(), store.people.all()

        self._ask(work, self._show)

    def _show(self, found: _Held) -> None:
        hours, stations, absences, people = found
        for line, blocks in zip(self.days.values(), hours.week, strict=True):
            line.setText(hours_text(blocks))
            line.setCursorPosition(0)
        self.holidays.setText(", ".join(day.isoformat() for day in sorted(hours.holidays)))
        for name, line in self.stations.items():
            line.setText(str(stations[name]))
        if people != self._people:
            self._people = people
            self.person.clear()
            for person in people:
                self.person.addItem(person.name, person.id)
        self._show_absences(absences)

    def _show_absences(self, absences: list[Absence]) -> None:
        names = {person.id: person.name for person in self._people}
        self.held.clear()
        for one in absences:
            why = f" · {one.why}" if one.why else ""
            text = f"{names.get(one.person_id, '–')}: {one.begins:%a %-d %b %H:%M} to {one.ends:%a %-d %b %H:%M}{why}"
            item = QListWidgetItem(text)
            item.setData(Qt.ItemDataRole.UserRole, one.id)
            self.held.addItem(item)
        self.withdraw.setEnabled(bool(absences))

    def _on_keep(self) -> None:
        self.problem.setText("")
        try:
            week = tuple(hours_of(line.text(), day) for day, line in self.days.items())
            hours = Hours(week, days_of(self.holidays.text()))
            rooms = {name: _room(name, line.text()) for name, line in self.stations.items()}
        except StoreError as error:
            self.problem.setText(str(error))
            return

        def keep(store: Store) -> str:
            try:
                store.day.keep_hours(hours)
                held = store.day.stations()
                for name, room in rooms.items():
                    if held[name] != room:
                        store.day.keep_station(name, room)
            except StoreError as error:
                return str(error)
            return ""

        self._ask(keep, self._on_stored)

    def _on_stored(self, problem: str) -> None:
        self.problem.setText(problem)
        if not problem:
            self.changed.emit()
            self.reload()

    def _on_add(self) -> None:
        """From when to when; a mere day is the whole of it."""
        self.problem.setText("")
        who = self.person.currentData()
        try:
            begins = moment_of(self.begins.text(), self._today, end=False)
            ends = moment_of(self.ends.text().strip() or self.begins.text().split(" ")[0], self._today, end=True)
        except StoreError as error:
            self.problem.setText(str(error))
            return
        why = self.why.text().strip()

        def add(store: Store) -> Absence | str:
            try:
                return store.day.add_absence(int(who), begins, ends, why)
            except StoreError as error:
                return str(error)

        def added(found: Absence | str) -> None:
            if isinstance(found, str):
                self._on_stored(found)
                return
            self._remember("somebody is away", found.id, withdrawn=False)
            for line in (self.begins, self.ends, self.why):
                line.clear()
            self._on_stored("")

        self._ask(add, added)

    def _on_withdraw(self) -> None:
        item = self.held.currentItem() or self.held.item(0)
        if item is not None:
            absence = int(item.data(Qt.ItemDataRole.UserRole))
            self._set(absence, True)()
            self._remember("somebody is there after all", absence, withdrawn=True)

    def _remember(self, label: str, absence: int, withdrawn: bool) -> None:
        """What was done can be taken back on the board."""
        remember(Step(label, self._set(absence, not withdrawn), self._set(absence, withdrawn)), self._undo_stack)

    def _set(self, absence: int, withdrawn: bool) -> Callable[[], None]:
        def put(store: Store) -> str:
            try:
                store.day.withdraw_absence(absence, withdrawn)
            except StoreError as error:
                return str(error)
            return ""

        return lambda: self._ask(put, self._on_stored)


def _room(name: str, text: str) -> int:
    try:
        return int(text.strip())
    except ValueError as error:
        raise StoreError(f"At once, {name}: {text!r} is no number. Accepted: 1 to 50 at once") from error
