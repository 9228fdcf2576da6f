"""Clocks like a foreman's: what was left running is asked about the next morning, and what a task really took is said
with its reason. Nothing is written for anybody."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import date
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QDialog, QDialogButtonBox, QFormLayout, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from yarvel.clock import local, today
from yarvel.desk.storing.asking import Ask
from yarvel.desk.widgets.fields import read_number
from yarvel.desk.widgets.words import LineField, Words
from yarvel.workshop.acts import CorrectMinutes, StopTask
from yarvel.workshop.people.person import Person
from yarvel.workshop.work.counting import ClockTime
from yarvel.workshop.work.day_reading import DayPlan
from yarvel.workshop.work.minutes_store import MOST_MINUTES
from yarvel.workshop.work.tasks import Task
from yarvel.workshop.work.today import left_running

if TYPE_CHECKING:
    from yarvel.workshop.store import Store

_WORTH_SAYING = 20.0
"""Minutes of a clock that do not count, from which on somebody is told when they stop it."""


class StillRow(QWidget):
    """Asks whether somebody is still at what their clock was left running on: once a day a clock, in this window."""

    wished = Signal(object)
    correction_wanted = Signal(object)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.words = Words(self)
        self.words.setObjectName("board.still")
        self.words.setWordWrap(True)
        self.buttons: dict[str, QPushButton] = {}
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.words, 1)
        for name, text, answer in (
            ("yes", "Still at it", lambda _task: None),
            ("stop", "Not any more: stop it", lambda task: self.wished.emit(StopTask(task.id))),
            ("minutes", "It took…", self.correction_wanted.emit),
        ):
            button = QPushButton(text, self)
            button.setObjectName(f"board.still.{name}")
            button.clicked.connect(lambda _checked=False, answer=answer: self._answer(answer))
            self.buttons[name] = button
            row.addWidget(button)
        self._asked: list[Task] = []
        self._answered: set[tuple[int, date]] = set()
        self.hide()

    def show_for(self, plan: DayPlan) -> None:
        """Ask about the first clock that has run since before today."""
        day = today()
        self._asked = [task for task in left_running(plan, day) if (task.id, day) not in self._answered]
        self._ask()

    def _ask(self) -> None:
        self.setVisible(bool(self._asked))
        self.words.setText(still_text(self._asked[0]) if self._asked else "")

    def _answer(self, answer: Callable[[Task], None]) -> None:
        task, *self._asked = self._asked
        self._answered.add((task.id, today()))
        self._ask()
        answer(task)


def still_text(task: Task) -> str:
    """The question about a clock that was left running."""
    since = "" if task.started_at is None else f" since {local(task.started_at):%a %-H:%M}"
    return (
        f"{task.person} has had {task.docket_number} {task.label} in hand{since}; {task.running:.0f} minutes of it lie "
        "in their hours and count. Still at it?"
    )


def stopped_text(task: Task) -> str:
    """What is said where a clock is stopped of which many minutes do not count; "" where they do."""
    if task.by_clock - task.running < _WORTH_SAYING:
        return ""
    return (
        f"{task.docket_number} {task.label}: {task.running:.0f} of the clock’s {task.by_clock:.0f} minutes lie in "
        f"{task.person}’s hours and count. Minutes… (Ctrl+M) says what it really was."
    )


class MinutesDialog(QDialog):
    """What a task took by its clocks and what of it counts, one below the other; and what it really was. ``wished``
    hands out the act."""

    wished = Signal(object)

    def __init__(self, task: Task, times: Sequence[ClockTime], people: Sequence[Person], parent: QWidget) -> None:
        super().__init__(parent)
        self._task = task
        self.setWindowTitle(f"Minutes: {task.docket_number} {task.label}")
        self.told = Words(working_text(task, times, {person.id: person.name for person in people}), self)
        self.told.setObjectName("minutes.told")
        self.told.setWordWrap(True)
        self.minutes, self.why = LineField(self), LineField(self)
        for field, name, label in ((self.minutes, "minutes.really", "Really"), (self.why, "minutes.why", "Because")):
            field.setObjectName(name)
            field.setAccessibleName(label)
            field.advances = field is self.minutes
        self.minutes.setPlaceholderText("minutes")
        self.why.setPlaceholderText("the clock was forgotten over night")
        self.problem = Words(self)
        self.problem.setProperty("problem", True)
        self.problem.setWordWrap(True)
        form = QFormLayout()
        form.addRow("Really", self.minutes)
        form.addRow("Because", self.why)
        self.buttons = QDialogButtonBox(self)
        self.keeping = self.buttons.addButton("Count these", QDialogButtonBox.ButtonRole.AcceptRole)
        self.buttons.addButton("Leave it so", QDialogButtonBox.ButtonRole.RejectRole)
        self.buttons.accepted.connect(self._keep)
        self.buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        column.addWidget(self.told)
        column.addLayout(form)
        column.addWidget(self.problem)
        column.addWidget(self.buttons)
        self.setMinimumWidth(480)
        self.minutes.setFocus()

    def _keep(self) -> None:
        try:
            minutes = read_number(self.minutes.text(), MOST_MINUTES)
        except ValueError:
            minutes = None
        if minutes is None:
            self.problem.setText(f"“{self.minutes.text()}”: minutes from 0 to {MOST_MINUTES:g}, such as 35.")
            self.minutes.setFocus()
        elif not self.why.text().strip():
            self.problem.setText("Because of what? A word or two; it stands in the docket’s history.")
            self.why.setFocus()
        else:
            self.wished.emit(CorrectMinutes(self._task.id, minutes, self.why.text().strip()))
            self.accept()


class MinutesCorrected(QObject):
    """Shows what a task took once the store has said it, and hands out what somebody says it really took."""

    wished = Signal(object)

    def __init__(self, look: Ask, parent: QWidget) -> None:
        super().__init__(parent)
        self._look, self._parent = look, parent
        self.dialog: MinutesDialog | None = None

    def ask(self, task: Task | None) -> None:
        """Of which task; None: of none."""
        if task is None:
            return

        def read(store: Store) -> tuple[list[Task], list[ClockTime], list[Person]]:
            clocks = store.tasks.minutes.clocks(task.id)
            return store.tasks.tasks(docket_id=task.docket_id), clocks, store.people.all()

        def show(found: tuple[list[Task], list[ClockTime], list[Person]]) -> None:
            tasks, clocks, people = found
            if self.dialog is not None:
                self.dialog.deleteLater()
            task_now = next((one for one in tasks if one.id == task.id), task)
            self.dialog = MinutesDialog(task_now, clocks, people, self._parent)
            self.dialog.wished.connect(self.wished)
            self.dialog.open()

        self._look(read, show)


def working_text(task: Task, times: Sequence[ClockTime], names: dict[int, str]) -> str:
    """How a task's minutes come about: a line a clock, then the sum."""
    lines = []
    for one in times:
        begins = local(one.begins)
        ends = None if one.ends is None else local(one.ends)
        until = "running" if ends is None else f"{ends:%-H:%M}" if ends.date() == begins.date() else f"{ends:%a %-H:%M}"
        lines.append(
            f"{begins:%a %-d %b %-H:%M} – {until}, {names.get(one.person_id, 'somebody who left')}: "
            f"{one.minutes:.0f} min by the clock, {one.counted:.0f} of them in their hours"
        )
    corrected = task.minutes - sum(one.counted for one in times)
    if corrected > 0.5:
        lines.append(f"Corrected before: {corrected:.0f} min")
    lines = lines or ["No clock has run on it."]
    return "\n".join([*lines, f"Counts: {task.minutes:.0f} min. Planned: {task.standard:.0f} min."])
