"""What is still open of a piece that is about to leave, and what becomes of each: closed, handed on, or kept with a
reason."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec import Struct
from PySide6.QtWidgets import QVBoxLayout, QWidget

from yarvel.desk.widgets.choice import Choice
from yarvel.desk.widgets.words import LineField, Words
from yarvel.figures.rules import HouseRules
from yarvel.metals.alloys import alloy_label
from yarvel.workshop.acts import Deed, DropTask, GiveTask, StopTask, WeighMetal
from yarvel.workshop.leaving import LeftOpen
from yarvel.workshop.metal.fine_book import OFFCUTS, RETURNED, USED, Balance
from yarvel.workshop.people.person import Person
from yarvel.workshop.work.tasks import Task

TICK, DONE, DROP, KEEP, GIVE = "tick", "done", "drop", "keep", "give"


class MatterAnswer(Struct, frozen=True):
    """What becomes of one open matter: ``what`` a key, ``person_id`` who it is handed on to, ``reason`` why it is
    kept."""

    what: str
    person_id: int | None
    reason: str


class _Row(QWidget):
    """One open matter, what may become of it, and a line for the reason where it stays open."""

    def __init__(
        self, name: str, text: str, choices: Sequence[tuple[str, str, int | None]], own_reason: bool, parent: QWidget
    ) -> None:
        super().__init__(parent)
        self._own_reason = own_reason
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 2, 0, 4)
        column.setSpacing(2)
        title = Words(text, self)
        title.setWordWrap(True)
        self.choice = Choice(self)
        self.choice.setObjectName(f"leaving.{name}")
        self.choice.setAccessibleName(f"What becomes of it: {text}")
        for label, what, person in choices:
            self.choice.addItem(label, what if person is None else f"{what} {person}")
        self.reason = LineField(self)
        self.reason.setObjectName(f"leaving.{name}.reason")
        self.reason.setAccessibleName(f"Why it stays open: {text}")
        self.reason.setPlaceholderText("why it stays open")
        for widget in (title, self.choice, self.reason):
            column.addWidget(widget)
        self.choice.currentIndexChanged.connect(lambda _row: self._show_reason())
        self._show_reason()

    def _show_reason(self) -> None:
        self.reason.setVisible(self._own_reason and self.answer.what in (KEEP, GIVE))

    @property
    def answer(self) -> MatterAnswer:
        """What was chosen."""
        what, _, person = str(self.choice.currentData()).partition(" ")
        return MatterAnswer(what, int(person) if person else None, self.reason.text().strip())


class Leaving(QWidget):
    """Everything that is open, a row each; empty where nothing is."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(0)
        self._checks: _Row | None = None
        self._tasks: list[tuple[Task, _Row]] = []
        self._metal: list[tuple[Balance, _Row]] = []
        self._number = ""
        self.loaded = False

    def show_open(self, number: str, checks: list[str], found: LeftOpen, rules: HouseRules) -> None:
        """A row for all open checks, and one for each task and alloy."""
        self.clear()
        self._number, self.loaded = number, True
        if checks:
            some = "; ".join(checks[:3]) + (f"; and {len(checks) - 3} more" if len(checks) > 3 else "")
            choices = [
                ("Leave them open (reason below)", KEEP, None),
                ("Looked at now: tick them off", TICK, None),
            ]
            self._checks = self._add("checks", f"{len(checks)} checks open: {some}", choices, own_reason=False)
        for task in found.tasks:
            who = f", {task.person}" if task.person else ""
            row = self._add(f"task.{task.id}", f"Task open: {task.operation}{who}", _task_choices(found.people))
            self._tasks.append((task, row))
        for balance in found.metal:
            text = f"Metal out: {balance.open:.2f} g of {alloy_label(balance.alloy, rules)}"
            row = self._add(f"metal.{balance.alloy}", text, _METAL_CHOICES)
            self._metal.append((balance, row))

    def clear(self) -> None:
        """Nothing is asked."""
        self._checks, self._tasks, self._metal, self.loaded = None, [], [], False
        while (item := self._column.takeAt(0)) is not None:
            if (widget := item.widget()) is not None:
                widget.hide()
                widget.deleteLater()

    def _add(
        self, name: str, text: str, choices: Sequence[tuple[str, str, int | None]], own_reason: bool = True
    ) -> _Row:
        row = _Row(name, text, choices, own_reason, self)
        self._column.addWidget(row)
        return row

    def unanswered(self) -> QWidget | None:
        """The first reason that is wanted and not given."""
        for row in self._rows():
            if row.answer.what in (KEEP, GIVE) and row is not self._checks and not row.answer.reason:
                return row.reason
        return None

    @property
    def ticks_checks(self) -> bool:
        """Whether the open checks are ticked off now."""
        return self._checks is not None and self._checks.answer.what == TICK

    def reasons(self) -> list[str]:
        """Why what stays open does, checks aside: their reason is the release's own."""
        lines = []
        for task, row in self._tasks:
            if row.answer.what in (KEEP, GIVE):
                lines.append(f"{task.operation} left open: {row.answer.reason}")
        for balance, row in self._metal:
            if row.answer.what == KEEP:
                lines.append(f"{balance.open:.2f} g of {balance.alloy} out: {row.answer.reason}")
        return lines

    def deeds(self) -> list[Deed]:
        """What is to be done in the store for it."""
        deeds_offered: list[Deed] = []
        for task, row in self._tasks:
            answer = row.answer
            if answer.what == DONE:
                deeds_offered.append(StopTask(task.id, True, ""))
            elif answer.what == DROP:
                deeds_offered.append(DropTask(task.id, "not wanted when the piece left"))
            elif answer.what == GIVE:
                deeds_offered.append(GiveTask(task.id, answer.person_id, answer.reason))
        for balance, row in self._metal:
            if row.answer.what != KEEP:
                mass = round(balance.open, 3)
                deeds_offered.append(
                    WeighMetal(
                        kind=row.answer.what,
                        alloy=balance.alloy,
                        mass_g=mass,
                        person_id=None,
                        docket_number=self._number,
                        note="when the piece left",
                    )
                )
        return deeds_offered

    def _rows(self) -> list[_Row]:
        first = [] if self._checks is None else [self._checks]
        return [*first, *(row for _, row in self._tasks), *(row for _, row in self._metal)]


def _task_choices(people: Sequence[Person]) -> list[tuple[str, str, int | None]]:
    others = [(f"Hand on to {person.name}", GIVE, person.id) for person in people]
    return [("It is done", DONE, None), ("Not wanted any more", DROP, None), ("Keep it open", KEEP, None), *others]


_METAL_CHOICES = (
    ("Still out", KEEP, None),
    ("In the piece", USED, None),
    ("Came back whole", RETURNED, None),
    ("Came back as offcuts", OFFCUTS, None),
)
