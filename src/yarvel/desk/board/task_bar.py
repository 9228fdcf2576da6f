"""What is done with the chosen task: a button and a key each, whom to hand it on to, a note; undo and redo."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from PySide6.QtGui import QKeySequence, QShortcut, QUndoStack
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from yarvel.desk.widgets.choice import Choice
from yarvel.desk.widgets.words import LineField, tip
from yarvel.workshop.acts import Deed, DoHere, GiveTask, SendOut
from yarvel.workshop.people.person import Person
from yarvel.workshop.storage.task_states import DONE, STARTED
from yarvel.workshop.work.deed_codes import HAND_ON, DeedCode
from yarvel.workshop.work.errands import USUAL, stands_for
from yarvel.workshop.work.standards import skill_of
from yarvel.workshop.work.tasks import Task

_HERE = "here"
_DONE_THERE = {errand.operation for errand in USUAL if errand.does_it}


def board_button(parent: QWidget, name: str, text: str, act: Callable[[], None], shortcut: str = "") -> QPushButton:
    """A button that acts at once, by its key too."""
    button = QPushButton(text, parent)
    button.setObjectName(f"board.{name}")
    if shortcut:
        QShortcut(QKeySequence(shortcut), parent, lambda: act() if button.isEnabled() else None)
        button.setToolTip(f"{text} ({shortcut})")
    button.clicked.connect(lambda _checked=False: act())
    return button


class TaskBar(QWidget):
    """``doing``: what each button does, by name."""

    def __init__(self, doing: Mapping[str, Callable[[], None]], undo_stack: QUndoStack, parent: QWidget) -> None:
        super().__init__(parent)
        self.next = Choice(self)
        self.next.setAccessibleName("Hand on to")
        self.note = LineField(self)
        self.note.setPlaceholderText("a note for the next pair of hands")
        self.note.setAccessibleName("Note")
        self.buttons = {
            name: board_button(self, name, text, act, keys)
            for name, text, act, keys in (
                ("start", "Start", doing["start"], "Ctrl+Return"),
                ("stop", "Stop", doing["stop"], "Ctrl+."),
                ("done", "Done", doing["done"], "Ctrl+Shift+Return"),
                ("hand", "Hand on", doing["hand"], "Ctrl+H"),
                ("minutes", "Minutes…", doing["minutes"], "Ctrl+M"),
                ("open", "Open its docket", doing["open"], "Ctrl+O"),
                ("undo", "Undo", undo_stack.undo, "Ctrl+Z"),
                ("redo", "Redo", undo_stack.redo, "Ctrl+Shift+Z"),
            )
        }
        QShortcut(QKeySequence("Ctrl+Y"), self, undo_stack.redo)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        for name in ("start", "stop", "done"):
            row.addWidget(self.buttons[name])
        row.addWidget(self.next)
        row.addWidget(self.buttons["hand"])
        row.addWidget(self.note, 1)
        for name in ("minutes", "open", "undo", "redo"):
            row.addWidget(self.buttons[name])
        self.buttons["undo"].setEnabled(undo_stack.canUndo())
        self.buttons["redo"].setEnabled(undo_stack.canRedo())
        self.show_task(None, [])
        undo_stack.canUndoChanged.connect(self.buttons["undo"].setEnabled)
        undo_stack.canRedoChanged.connect(self.buttons["redo"].setEnabled)
        undo_stack.undoTextChanged.connect(self._name_undo)  # methods of this bar: they end with it
        undo_stack.redoTextChanged.connect(self._name_redo)

    def _name_undo(self, step: str) -> None:
        """What the next undo takes back stands in its tip."""
        self.buttons["undo"].setToolTip(tip(f"Undo: {step} (Ctrl+Z)" if step else "Undo (Ctrl+Z)"))

    def _name_redo(self, step: str) -> None:
        keys = "(Ctrl+Shift+Z, Ctrl+Y)"
        self.buttons["redo"].setToolTip(tip(f"Redo: {step} {keys}" if step else f"Redo {keys}"))

    @property
    def next_person(self) -> int | None:
        """Who is chosen to be handed on to; None for nobody, and for a way out of the house."""
        chosen = self.next.currentData()
        return chosen if isinstance(chosen, int) else None

    def handed_on(self, tasks: Sequence[Task]) -> list[Deed]:
        """The tasks to somebody here, to an outworker (those of a docket in one go), or back from one; or, after them,
        their dockets out of the house."""
        if self.next.currentData() not in _DONE_THERE:
            return [self._handed(task) for task in tasks]
        by_docket: dict[int, list[int]] = {}
        for task in tasks:
            by_docket.setdefault(task.docket_id, []).append(task.id)
        to, note = str(self.next.currentData()), self.note.text().strip()
        return [SendOut(ids[0], docket, to, note, tuple(ids[1:])) for docket, ids in by_docket.items()]

    def _handed(self, task: Task) -> Deed:
        to, note = self.next.currentData(), self.note.text().strip()
        if to == _HERE:
            return DoHere(task.id, task.docket_id)
        return SendOut(task.id, task.docket_id, to, note) if isinstance(to, str) else GiveTask(task.id, to, note)

    def do(self, deed: DeedCode) -> bool:
        """What a scanner's code says, with the chosen task; whether that can be done with it."""
        if deed.deed == HAND_ON:
            self.next.setCurrentIndex(max(self.next.findData(deed.person), 0))
        button = self.buttons["hand" if deed.deed == HAND_ON else deed.deed]
        able = button.isEnabled()
        button.click()
        return able

    def show_people(self, people: list[Person]) -> None:
        """Whom a task can be handed on to."""
        self.next.clear()
        self.next.addItem("nobody", None)
        for person in people:
            self.next.addItem(person.name, person.id)
        for errand in USUAL:
            where = f"by an {errand.label}" if errand.does_it else f"out to the {errand.label}"
            self.next.addItem(where, errand.operation)

    def show_task(self, task: Task | None, people: list[Person]) -> None:
        """What can be done with this task, and who has the hands for it."""
        able = {
            "start": task is not None and task.state != DONE and bool(people),
            "stop": task is not None and task.state == STARTED,
            "done": task is not None,
            "hand": task is not None,
            "minutes": task is not None,
            "open": task is not None,
        }
        for name, wanted in able.items():
            self.buttons[name].setEnabled(wanted)
            self.buttons[name].setAccessibleDescription("" if task is not None else "Choose a task first")
        self._offer_here(task is not None and task.state != DONE and bool(stands_for(task.operation)))
        skill = "" if task is None else skill_of(task.operation)
        for row, person in enumerate(people, start=1):
            self.next.setItemText(row, f"{person.name}, {skill}" if skill in person.skills else person.name)

    def _offer_here(self, wanted: bool) -> None:
        """What an outworker is to do can be done here after all, until it has gone."""
        row_here = self.next.findData(_HERE)
        if wanted and row_here < 0:
            self.next.addItem("done here after all", _HERE)
        elif not wanted and row_here >= 0:
            self.next.removeItem(row_here)
