"""The board: everybody's bench in one look, the tasks of one person or one docket, start and stop, hand on."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, date, datetime
from typing import Any

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QKeySequence, QShortcut, QUndoStack
from PySide6.QtWidgets import (
    QAbstractItemView,
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from yarvel.desk.asking import Ask, DoAct
from yarvel.desk.board.step_list import StepList
from yarvel.desk.taken_back import Step, remember
from yarvel.desk.widgets.manners import close_on_keys, open_at
from yarvel.desk.widgets.plain_table import plain_table
from yarvel.desk.widgets.rows_on_demand import Row, RowsOnDemand
from yarvel.desk.widgets.words import Line, Words, tip
from yarvel.figures.rules import HouseRules
from yarvel.workshop.acts import Deed, GiveTask, StartTask, StopTask, TickCheck, TickLine
from yarvel.workshop.estimate import CHECK
from yarvel.workshop.operations import OPERATIONS
from yarvel.workshop.task_sums import TaskOverview, overview
from yarvel.workshop.tasks import DONE, STARTED, Load, Person, Task

_HEADS = ("Docket", "Task", "Who", "State", "Standard", "Taken", "Promised", "Note")
_ALL = -1
_TICK_MS = 20_000


class BoardWindow(QWidget):
    """People at the left, their tasks at the right; every change goes to the store and comes back from there."""

    docket_wanted = Signal(int)
    told = Signal(str)

    def __init__(
        self,
        ask: Ask,
        look: Ask,
        act: DoAct,
        rules: Callable[[], HouseRules],
        today: date,
        undo_stack: QUndoStack,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent, Qt.WindowType.Window)
        self._ask, self._look, self._act, self._rules, self._today = ask, look, act, rules, today
        self._undo_stack = undo_stack
        self.setWindowTitle("The board")
        open_at(self, 1280, 800)
        close_on_keys(self)
        self.tasks: list[Task] = []
        self._counts: TaskOverview | None = None
        self.people: list[Person] = []
        self.buttons: dict[str, QPushButton] = {}
        self.loads = QListWidget(self)
        self.loads.setAccessibleName("People")
        self.loads.setMaximumWidth(330)
        self.rows = plain_table(self, _HEADS, "Tasks")
        self.rows.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.rows.horizontalHeader().setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        self.loads.setSpacing(4)
        self._on_demand = RowsOnDemand(self.rows, self._fetch_tasks)
        self.note = Line(self)
        self.note.setPlaceholderText("a note for the next pair of hands")
        self.note.setAccessibleName("Note")
        self.next = QComboBox(self)
        self.next.setAccessibleName("Hand on to")
        self.name = Line(self)
        self.name.setObjectName("board.name")
        self.name.setPlaceholderText("name of somebody new")
        self.name.setAccessibleName("Name of somebody new")
        self._empty = Words(self)
        self._empty.setProperty("quiet", True)
        self._empty.setWordWrap(True)
        self.problem = Words(self)
        self.problem.setProperty("problem", True)
        self.problem.setObjectName("board.problem")
        self.problem.setWordWrap(True)
        self.problem.hide()
        self.step = StepList(self)
        self._step_of: int | None = None
        self._lay_out()
        self.step.ticked.connect(self._on_tick)
        self.loads.currentRowChanged.connect(lambda _row: self._ask_tasks())
        self.rows.itemSelectionChanged.connect(self._on_selected)
        self.rows.cellDoubleClicked.connect(lambda _row, _column: self._open_docket())
        self._clock = QTimer(self)
        self._clock.timeout.connect(lambda: self._show_tasks() if self.isVisible() else None)
        self._clock.start(_TICK_MS)

    def _lay_out(self) -> None:
        left = QVBoxLayout()
        left.addWidget(self.loads, 1)
        add = QHBoxLayout()
        add.addWidget(self.name)
        add.addWidget(self._button("add", "Add", self._add_person, ""))
        left.addLayout(add)
        doing = QGridLayout()
        doing.addWidget(self._button("start", "Start", lambda: self._with(self._start), "Ctrl+Return"), 0, 0)
        doing.addWidget(self._button("stop", "Stop", lambda: self._with(self._stop), "Ctrl+."), 0, 1)
        doing.addWidget(self._button("done", "Done", lambda: self._with(self._done), "Ctrl+Shift+Return"), 0, 2)
        doing.addWidget(self.next, 0, 3)
        doing.addWidget(self._button("hand", "Hand on", lambda: self._with(self._hand_on), "Ctrl+H"), 0, 4)
        doing.addWidget(self.note, 0, 5)
        doing.addWidget(self._button("open", "Open its docket", self._open_docket, "Ctrl+O"), 0, 6)
        doing.addWidget(self._button("undo", "Undo", self._undo_stack.undo, "Ctrl+Z"), 0, 7)
        doing.addWidget(self._button("redo", "Redo", self._undo_stack.redo, "Ctrl+Shift+Z"), 0, 8)
        QShortcut(QKeySequence("Ctrl+Y"), self, self._undo_stack.redo)
        for name, able in (("undo", self._undo_stack.canUndo), ("redo", self._undo_stack.canRedo)):
            self.buttons[name].setEnabled(able())
        self._undo_stack.canUndoChanged.connect(self.buttons["undo"].setEnabled)
        self._undo_stack.canRedoChanged.connect(self.buttons["redo"].setEnabled)
        self._undo_stack.undoTextChanged.connect(self._name_steps)  # a method of this window: it ends with it
        self._undo_stack.redoTextChanged.connect(self._name_steps)
        doing.setColumnStretch(5, 1)
        right = QVBoxLayout()
        right.addWidget(self._empty)
        right.addWidget(self.rows, 3)
        right.addLayout(doing)
        right.addWidget(self.problem)
        right.addWidget(self.step, 2)
        whole = QHBoxLayout(self)
        whole.addLayout(left)
        whole.addLayout(right, 1)

    def _button(self, name: str, text: str, act: Callable[[], None], shortcut: str) -> QPushButton:
        button = QPushButton(text, self)
        button.setObjectName(f"board.{name}")
        if shortcut:
            QShortcut(QKeySequence(shortcut), self, lambda: act() if button.isEnabled() else None)  # at once
            button.setToolTip(f"{text} ({shortcut})")
        button.clicked.connect(lambda _checked=False: act())
        self.buttons[name] = button
        return button

    def _name_steps(self, _text: str) -> None:
        """What the next undo takes back, and the next redo does again, stands in their tips."""
        stack = self._undo_stack
        for name, word, keys, step in (
            ("undo", "Undo", "Ctrl+Z", stack.undoText()),
            ("redo", "Redo", "Ctrl+Shift+Z, Ctrl+Y", stack.redoText()),
        ):
            self.buttons[name].setToolTip(tip(f"{word}: {step} ({keys})" if step else f"{word} ({keys})"))

    def reload(self) -> None:
        """Ask the store how things stand."""
        today = self._today
        self._look(lambda store: overview(store, today), self._on_loaded)

    def _on_loaded(self, found: TaskOverview) -> None:
        self._counts = found
        self.people = [load.person for load in found.loads]
        held = self.loads.currentRow()
        self.loads.blockSignals(True)
        self.loads.clear()
        for text, key in (
            (f"All tasks\n{found.open} open" + (f" · {found.late} late" if found.late else ""), _ALL),
            (f"Nobody's\n{found.nobodys} to give out", 0),
        ):
            item = QListWidgetItem(text)
            item.setData(Qt.ItemDataRole.UserRole, key)
            self.loads.addItem(item)
        for load in found.loads:
            item = QListWidgetItem(load_text(load))
            item.setData(Qt.ItemDataRole.UserRole, load.person.id)
            self.loads.addItem(item)
        self.loads.setCurrentRow(min(max(held, 0), self.loads.count() - 1))
        self.loads.blockSignals(False)
        self.next.clear()
        self.next.addItem("nobody", None)
        for person in self.people:
            self.next.addItem(person.name, person.id)
        self._ask_tasks()

    def _ask_tasks(self) -> None:
        """The first tasks of whoever is chosen at the left; more come as somebody scrolls."""
        key, count = self._chosen_person(), self._on_demand.wanted
        self._look(
            lambda store: store.tasks.page(None if key == _ALL else key, 0, count),
            lambda found: self._take_tasks(key, found),
        )

    def _take_tasks(self, key: int, found: list[Task]) -> None:
        if key == self._chosen_person():
            held = self._chosen_task()
            self.tasks = found
            self._show_tasks(held)

    def _fetch_tasks(self, first: int, count: int, then: Callable[[list[Row]], None]) -> None:
        key = self._chosen_person()

        def take(found: list[Task]) -> None:
            if key == self._chosen_person() and len(self.tasks) == first:
                self.tasks += found
                then([self._row(task) for task in found])

        self._look(lambda store: store.tasks.page(None if key == _ALL else key, first, count), take)

    def _chosen_person(self) -> int:
        item = self.loads.currentItem()
        return _ALL if item is None else int(item.data(Qt.ItemDataRole.UserRole))

    def _show_tasks(self, held: Task | None = None) -> None:
        held = self._chosen_task() if held is None else held
        self._on_demand.show_first(
            [self._row(task) for task in self.tasks], _open_of(self._chosen_person(), self._counts)
        )
        for row, task in enumerate(self.tasks):
            if held is not None and task.id == held.id:
                self.rows.selectRow(row)
        self._empty.setVisible(not self.tasks)
        self._empty.setText(
            ""
            if self.tasks
            else "No open task here. Open a docket and press Ctrl+Alt+T there: its steps "
            "become tasks; add people at the left to give them out."
        )
        self._on_selected()

    def _row(self, task: Task) -> Row:
        late = bool(task.promised) and task.promised < self._today.isoformat()
        return (
            task.docket_number,
            task.operation,
            task.person or "–",
            task.state,
            f"{task.standard:.0f} min",
            f"{task.running(datetime.now(UTC).replace(tzinfo=None)):.0f} min",
            f"{task.promised}{' late' if late else ''}",
            task.note,
        )

    def _chosen_task(self) -> Task | None:
        rows = {index.row() for index in self.rows.selectedIndexes()}
        return self.tasks[min(rows)] if rows and min(rows) < len(self.tasks) else None

    def _on_selected(self) -> None:
        task = self._chosen_task()
        able = {
            "start": task is not None and task.state != DONE and bool(self.people),
            "stop": task is not None and task.state == STARTED,
            "done": task is not None,
            "hand": task is not None,
            "open": task is not None,
        }
        for name, wanted in able.items():
            self.buttons[name].setEnabled(wanted)
        skill = "" if task is None or task.operation not in OPERATIONS else OPERATIONS[task.operation].skill
        for row, person in enumerate(self.people, start=1):
            self.next.setItemText(row, f"{person.name}, {skill}" if skill in person.skills else person.name)
        self._ask_step(task)

    def _ask_step(self, task: Task | None) -> None:
        """What the chosen task says, worked out in the background from its docket as it is now."""
        self._step_of = None if task is None else task.id
        if task is None:
            self.step.show_step("Choose a task to see what it says.", None, ())
            return
        rules = self._rules()

        def work(store: Any) -> tuple[Any, tuple[str, ...]]:
            from yarvel.workshop.steps import step_of

            docket = store.docket(task.docket_id)
            return step_of(task.operation, docket, rules), docket.ticks if task.operation == CHECK else task.ticks

        def show(found: tuple[Any, tuple[str, ...]]) -> None:
            step, ticks = found
            if self._step_of == task.id:
                title = f"{task.docket_number} · {task.operation}"
                self.step.show_step(
                    title if step is not None else f"{title}: nothing to tick; see its docket", step, ticks
                )

        self._ask(work, show)

    def _on_tick(self, line: str, ticked: bool) -> None:
        """A tick of a step stands with its task, one of the checks with the docket."""
        task = self._chosen_task()
        if task is None:
            return
        check = task.operation == CHECK
        deed = TickCheck(task.docket_id, line, ticked) if check else TickLine(task.id, line, ticked)
        self._act(deed, self._on_done)

    def _say(self, text: str) -> None:
        """What is refused is said where the hand is."""
        self.problem.setText(text)
        self.problem.setVisible(bool(text))

    def _on_done(self, text: str) -> None:
        self._say(text)
        self.reload()

    def _with(self, act: Callable[[Task], Deed | None]) -> None:
        task = self._chosen_task()
        self._say("")
        wanted = None if task is None else act(task)
        if wanted is not None:
            self._act(wanted, self._on_done)
            self.note.clear()

    def _start(self, task: Task) -> Deed | None:
        """By whom the task is given to, else whose bench is shown, else who is chosen to hand on to."""
        names = {person.name: person.id for person in self.people}
        key = self._chosen_person()
        who = names.get(task.person) or (key if key > 0 else None) or self.next.currentData()
        if who is None:
            self._say("Who starts it? Choose a person at the left, or beside “Hand on”.")
            return None
        return StartTask(task.id, who)

    def _stop(self, task: Task) -> Deed:
        return StopTask(task.id, False, self.note.text().strip())

    def _done(self, task: Task) -> Deed:
        return StopTask(task.id, True, self.note.text().strip())

    def _hand_on(self, task: Task) -> Deed:
        return GiveTask(task.id, self.next.currentData(), self.note.text().strip())

    def _add_person(self) -> None:
        name = self.name.text().strip()

        def added(person: Person) -> None:
            step = Step(
                f"add {name}",
                lambda: self._ask(lambda store: store.people.left(person.id), lambda _done: self.reload()),
                lambda: self._ask(lambda store: store.people.add(name), lambda _done: self.reload()),
            )
            remember(step, self._undo_stack)
            self.name.clear()
            self.reload()

        self._ask(lambda store: store.people.add(name), added)

    def _open_docket(self) -> None:
        task = self._chosen_task()
        if task is not None:
            self.docket_wanted.emit(task.docket_id)


def _open_of(key: int, counts: TaskOverview | None) -> int:
    """How many open tasks there are of whoever is chosen."""
    if counts is None:
        return 0
    if key == _ALL:
        return counts.open
    return counts.nobodys if not key else sum(load.tasks for load in counts.loads if load.person.id == key)


def load_text(load: Load) -> str:
    """One person in two lines."""
    hours = f"{load.minutes / 60:.1f} h left" if load.minutes >= 60 else f"{load.minutes:.0f} min left"
    in_hand = f"\nin hand: {load.in_hand}" if load.in_hand else ""
    return f"{load.person.name}\n{load.tasks} tasks · {hours}{in_hand}"
