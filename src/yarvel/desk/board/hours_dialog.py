"""When the workshop is open, who is away when, and how many can work at a station: what a plan of the day rests on."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from functools import partial
from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace
from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QUndoStack
from PySide6.QtWidgets import (
    QDialog,
    QGridLayout,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from yarvel.clock import today
from yarvel.day.axis import Hours, Week
from yarvel.desk.session.taken_back import UndoStep, remember
from yarvel.desk.storing.asking import Ask
from yarvel.desk.widgets.calendar import month_first
from yarvel.desk.widgets.choice import Choice
from yarvel.desk.widgets.manners import open_at
from yarvel.desk.widgets.words import LineField, Words
from yarvel.figures.errors import StoreError
from yarvel.planning.documents import Document
from yarvel.workshop.people.person import Person
from yarvel.workshop.storage.rights import NotAllowedError
from yarvel.workshop.work.day_words import DAYS, days_of, fetched_of, fetched_text, hours_of, hours_text, moment_of
from yarvel.workshop.work.errands import USUAL, Errand
from yarvel.workshop.work.lacking import lacking
from yarvel.workshop.work.snapshot import USUAL_STATIONS, Absence

if TYPE_CHECKING:
    from yarvel.workshop.store import Store

_WORKSHOP = "The workshop"


class _Held(Struct, frozen=True, kw_only=True):
    """What the store says."""

    hours: Hours
    own: dict[int, Week]
    stations: dict[str, int]
    errands: dict[str, Errand]
    absences: list[Absence]
    people: list[Person]
    lacking: tuple[str, ...]


def _as_typed(held: _Held) -> _Held:
    """What of it stands in lines that somebody may be typing in."""
    return replace(held, absences=[], people=[], lacking=())


class HoursDialog(QDialog):
    """Absences are stored as they are entered; hours, stations and what is sent out with the button."""

    changed = Signal()

    def __init__(
        self, ask: Ask, undo_stack: QUndoStack, standing: Callable[[], Document], parent: QWidget | None = None
    ) -> None:
        """``standing`` tells the plan that stands: undo brings back the one that stood before."""
        super().__init__(parent)
        self._ask, self._undo_stack, self._day = ask, undo_stack, standing
        self._held: _Held | None = None
        self.setWindowTitle("Hours and absences")
        open_at(self, 1080, 760)
        self.problem = Words(self)
        self.problem.setObjectName("hours.problem")
        self.problem.setProperty("problem", True)
        self.problem.setWordWrap(True)
        self.whose = Choice(self)
        self.whose.setObjectName("hours.whose")
        self.whose.setAccessibleName("Hours of")
        self.whose.activated.connect(lambda _place: self._show_week())
        self._typed: dict[int, dict[str, str]] = {}
        self.days = {day: self._line(f"hours.{day}", day, "shut") for day in DAYS}
        for day, line in self.days.items():
            line.textEdited.connect(partial(self._on_typed, day))
        self.holidays = self._line("hours.holidays", "Shut on", "2031-12-24, 2031-12-25")
        self.stations = {name: self._line(f"hours.{name}", f"At once: {name}") for name in USUAL_STATIONS}
        self.errands = {
            errand.key: self._line(f"hours.{errand.operation}", f"To the {errand.label}") for errand in USUAL
        }
        self.keep = QPushButton(self)
        self.keep.setObjectName("hours.keep")
        self.keep.clicked.connect(lambda _checked=False: self._on_keep())
        self.person = Choice(self)
        self.person.setObjectName("absence.person")
        self.person.setAccessibleName("Who is away")
        self.begins = self._line("absence.begins", "From", "today, 13:00, Thursday, 24 Dec")
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
        self.told = Words(self)
        self.told.setObjectName("hours.told")
        self.told.setProperty("quiet", True)
        self.told.setWordWrap(True)
        self._of_workshop: list[QWidget] = []
        self._lay_out()
        self.reload()

    def _line(self, name: str, label: str, hint: str = "") -> LineField:
        line = LineField(self)
        line.setObjectName(name)
        line.setAccessibleName(label)
        line.setPlaceholderText(hint)
        line.advances = True
        return line

    def _lay_out(self) -> None:
        left, right = QGridLayout(), QGridLayout()
        places: list[tuple[str, QWidget]] = [(f"At once: {name}", line) for name, line in self.stations.items()]
        theirs: list[list[tuple[str, QWidget]]] = [[("Shut on", self.holidays)]]
        theirs += [places[place : place + 2] for place in range(0, len(places), 2)]
        theirs += [[(f"To the {errand.label}", self.errands[errand.key])] for errand in USUAL]
        rows: list[list[tuple[str, QWidget]]] = [[("Hours of", self.whose)]]
        rows += [[day] for day in self.days.items()]
        for row, fields in enumerate([*rows, *theirs]):
            for place, (label, widget) in enumerate(fields):
                words = Words(label, self)
                left.addWidget(words, row, 2 * place)
                left.addWidget(widget, row, 2 * place + 1, 1, 1 if len(fields) > 1 else 3)
                if fields in theirs:
                    self._of_workshop += [words, widget]
        left.setColumnStretch(1, 1)
        left.setColumnStretch(3, 1)
        last = len(rows) + len(theirs)
        left.addWidget(self.keep, last, 1, 1, 3, Qt.AlignmentFlag.AlignRight)
        left.addWidget(self.told, last + 1, 0, 1, 4)
        left.setRowStretch(last + 2, 1)
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
        sides.addLayout(left, 3)
        sides.addSpacing(20)
        sides.addLayout(right, 2)
        column = QVBoxLayout(self)
        column.addLayout(sides, 1)
        column.addWidget(self.problem)

    def reload(self) -> None:
        """Ask the store how things are."""

        def work(store: Store) -> _Held:
            day = store.day
            return _Held(
                hours=day.hours(),
                own=day.own_weeks(),
                stations=day.stations(),
                errands=store.day.errands.all(),
                absences=day.absences(),
                people=store.people.all(),
                lacking=lacking(store),
            )

        self._ask(work, self._show)

    def _show(self, found: _Held) -> None:
        before = self._held
        self._held = found
        if before is None or found.people != before.people:
            for choice, first in ((self.person, ()), (self.whose, (_WORKSHOP,))):
                chosen = choice.currentData()
                choice.clear()
                for name in first:
                    choice.addItem(name, 0)
                for person in found.people:
                    choice.addItem(person.name, person.id)
                choice.setCurrentIndex(max(choice.findData(chosen), 0))
        self._show_absences(found.absences)
        self.told.setText(self._told(int(self.whose.currentData() or 0), found))
        if before is not None and _as_typed(before) == _as_typed(found):
            return  # what is being typed stays
        self.holidays.setText(", ".join(day.isoformat() for day in sorted(found.hours.holidays)))
        for name, line in self.stations.items():
            line.setText(str(found.stations[name]))
        for key, line in self.errands.items():
            line.setText(fetched_text(found.errands[key]))
            line.setCursorPosition(0)
        self._show_week()

    def _show_week(self) -> None:
        """The hours of the workshop, or of the one who was chosen."""
        hours, who = self._held, int(self.whose.currentData() or 0)
        if hours is None:
            return
        week = hours.own.get(who, hours.hours.week)
        typed = self._typed.get(who, {})
        for (day, line), blocks in zip(self.days.items(), week, strict=True):
            line.setText(typed.get(day, hours_text(blocks)))
            line.setCursorPosition(0)
            line.setPlaceholderText("not here" if who else "shut")
        for widget in self._of_workshop:
            widget.setVisible(not who)
        self.keep.setText(f"Keep the hours of {self.whose.currentText()}" if who else "Keep hours, stations and days")
        self.told.setText(self._told(who, hours))

    def _on_typed(self, day: str, text: str) -> None:
        """What is typed for one waits while another is looked at."""
        self._typed.setdefault(int(self.whose.currentData() or 0), {})[day] = text

    def _told(self, who: int, held: _Held) -> str:
        """Whose hours these are, in words."""
        if not who:
            own = [person.name for person in held.people if person.id in held.own]
            whose = f"Hours of their own: {', '.join(own)}." if own else ""
        elif who not in held.own:
            whose = "The same as the workshop's: here whenever it is open."
        else:
            share = held.hours.share(held.own[who])
            whose = f"{share:.0%} of the open hours. Type the workshop's to have these follow them again."
        return " ".join(filter(None, (whose, *held.lacking)))

    def _show_absences(self, absences: list[Absence]) -> None:
        people = [] if self._held is None else self._held.people
        names = {person.id: person.name for person in people}
        self.held.clear()
        for absence in absences:
            why = f" · {absence.why}" if absence.why else ""
            when = f"{absence.begins:%a %-d %b %H:%M} to {absence.ends:%a %-d %b %H:%M}"
            text = f"{names.get(absence.person_id, '–')}: {when}{why}"
            item = QListWidgetItem(text)
            item.setData(Qt.ItemDataRole.UserRole, absence.id)
            self.held.addItem(item)
        self.withdraw.setEnabled(bool(absences))

    def _on_keep(self) -> None:
        self.problem.setText("")
        who, held = int(self.whose.currentData() or 0), self._held
        if held is None:
            return
        try:
            week = tuple(hours_of(line.text(), day) for day, line in self.days.items())
            hours = Hours(week, days_of(self.holidays.text()))
            rooms = {name: _room(name, line.text()) for name, line in self.stations.items()}
            errands = [fetched_of(line.text(), held.errands[key]) for key, line in self.errands.items()]
        except StoreError as error:
            self.problem.setText(str(error))
            return
        if who:
            own, before = None if week == held.hours.week else week, held.own.get(who)
            self._keep(
                who,
                "hours of somebody's own",
                lambda store: store.day.keep_own_week(who, own, before),
                lambda store: store.day.keep_own_week(who, before, own),
            )
        else:
            was, now = held, replace(held, hours=hours, stations=rooms, errands={one.key: one for one in errands})
            self._keep(
                who,
                "the workshop's hours",
                lambda store: _keep_house(store, now, was),
                lambda store: _keep_house(store, was, now),
            )

    def _keep(self, who: int, label: str, keep: Callable[[Store], None], back: Callable[[Store], None]) -> None:
        """Have it stored; once it is, it can be taken back on the board."""

        def stored(problem: str) -> None:
            if not problem:
                self._typed.pop(who, None)
                remember(UndoStep(label, self._put(_with_the_day(back, day)), self._put(keep)), self._undo_stack)
            self._on_stored(problem)

        day = self._day()
        self._ask(_tried(keep), stored)

    def _put(self, act: Callable[[Store], None]) -> Callable[[], object]:
        return lambda: self._ask(_tried(act), self._on_stored)

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
            begins = moment_of(self.begins.text(), today(), end=False, month_first=month_first())
            until = self.ends.text().strip() or begins.date().isoformat()
            ends = moment_of(until, today(), end=True, month_first=month_first())
        except StoreError as error:
            self.problem.setText(str(error))
            return
        why, day = self.why.text().strip(), self._day()

        def add(store: Store) -> Absence | str:
            try:
                return store.day.add_absence(int(who), begins, ends, why)
            except StoreError as error:
                return str(error)

        def added(found: Absence | str) -> None:
            if isinstance(found, str):
                self._on_stored(found)
                return
            self._remember("somebody is away", found.id, day, withdrawn=False)
            for line in (self.begins, self.ends, self.why):
                line.clear()
            self._on_stored("")

        self._ask(add, added)

    def _on_withdraw(self) -> None:
        item = self.held.currentItem() or self.held.item(0)
        if item is not None:
            absence = int(item.data(Qt.ItemDataRole.UserRole))
            self._remember("somebody is there after all", absence, self._day(), withdrawn=True)
            self._set(absence, True)()

    def _remember(self, label: str, absence: int, day: Document, withdrawn: bool) -> None:
        """What was done can be taken back on the board, and the day with it."""
        back = self._set(absence, not withdrawn, day)
        remember(UndoStep(label, back, self._set(absence, withdrawn)), self._undo_stack)

    def _set(self, absence: int, withdrawn: bool, day: Document | None = None) -> Callable[[], object]:
        return self._put(_with_the_day(lambda store: store.day.withdraw_absence(absence, withdrawn), day or {}))


def _with_the_day(act: Callable[[Store], None], day: Document) -> Callable[[Store], None]:
    """An act, after which the plan that stood before what it takes back stands again ({}: none)."""

    def put(store: Store) -> None:
        act(store)
        if day:
            with suppress(NotAllowedError):  # a lead's window keeps it
                store.day.kept.bring_back(day)

    return put


def _tried(act: Callable[[Store], None]) -> Callable[[Store], str]:
    """An act of the store, and what is wrong with it in words."""

    def put(store: Store) -> str:
        try:
            act(store)
        except StoreError as error:
            return str(error)
        return ""

    return put


def _keep_house(store: Store, wanted: _Held, seen: _Held) -> None:
    store.day.keep_house(
        wanted.hours, wanted.stations, list(wanted.errands.values()), seen.hours, seen.stations, seen.errands
    )


def _room(name: str, text: str) -> int:
    try:
        return int(text.strip())
    except ValueError as error:
        raise StoreError(f"At once, {name}: {text!r} is no number. Accepted: 1 to 50 at once") from error
