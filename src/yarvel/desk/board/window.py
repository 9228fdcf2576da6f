"""The board: everybody's bench in one look, the tasks of one person or one docket, start and stop, hand on."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, date, datetime
from functools import partial

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtGui import QUndoStack
from PySide6.QtWidgets import (
    QAbstractItemView,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QVBoxLayout,
    QWidget,
)

from yarvel.desk.asking import Ask, DoAct
from yarvel.desk.board.step_list import StepList
from yarvel.desk.board.task_bar import TaskBar, board_button
from yarvel.desk.taken_back import Step, remember
from yarvel.desk.widgets.manners import close_on_keys, open_at
from yarvel.desk.widgets.plain_table import plain_table
from yarvel.desk.widgets.rows_on_demand import Row, RowsOnDemand
from yarvel.desk.widgets.words import Line, Words
from yarvel.figures.rules import HouseRules
from yarvel.workshop.acts import Deed, GiveTask, StartTask, StopTask, TickCheck
from yarvel.workshop.task_sums import TaskOverview, overview
from yarvel.workshop.tasks import Load, Person, Task

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
        acts: dict[str, Callable[[Task], Deed | None]] = {
            "start": self._start,
            "stop": lambda task: StopTask(task.id, False, self.note.text().strip()),
            "done": lambda task: StopTask(task.id, True, self.note.text().strip()),
            "hand": lambda task: GiveTask(task.id, self.next.currentData(), self.note.text().strip()),
            "open": self._open_docket,
        }
        doing = {name: partial(self._with, act) for name, act in acts.items()}
        self.bar = TaskBar(doing, undo_stack, self)
        self.note, self.next = self.bar.note, self.bar.next
        self.buttons = {**self.bar.buttons, "add": board_button(self, "add", "Add", self._add_person)}
        self.loads = QListWidget(self)
        self.loads.setAccessibleName("People")
        self.loads.setMaximumWidth(330)
        self.rows = plain_table(self, _HEADS, "Tasks")
        self.rows.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.rows.horizontalHeader().setDefaultAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        self.loads.setSpacing(4)
        self._on_demand = RowsOnDemand(self.rows, self._fetch_tasks)
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
        self._lay_out()
        self.step.ticked.connect(self._on_tick)
        self.loads.currentRowChanged.connect(lambda _row: self._ask_tasks())
        self.rows.itemSelectionChanged.connect(self._on_selected)
        self.rows.cellDoubleClicked.connect(lambda _row, _column: self._with(self._open_docket))
        self._clock = QTimer(self)
        self._clock.timeout.connect(lambda: self._show_tasks() if self.isVisible() else None)
        self._clock.start(_TICK_MS)

    def _lay_out(self) -> None:
        left = QVBoxLayout()
        left.addWidget(self.loads, 1)
        add = QHBoxLayout()
        add.addWidget(self.name)
        add.addWidget(self.buttons["add"])
        left.addLayout(add)
        right = QVBoxLayout()
        right.addWidget(self._empty)
        right.addWidget(self.rows, 3)
        right.addWidget(self.bar)
        right.addWidget(self.problem)
        right.addWidget(self.step, 2)
        whole = QHBoxLayout(self)
        whole.addLayout(left)
        whole.addLayout(right, 1)

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
        self.bar.show_people(self.people)
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
                then([_row_of(task, self._today) for task in found])

        self._look(lambda store: store.tasks.page(None if key == _ALL else key, first, count), take)

    def _chosen_person(self) -> int:
        item = self.loads.currentItem()
        return _ALL if item is None else int(item.data(Qt.ItemDataRole.UserRole))

    def _show_tasks(self, held: Task | None = None) -> None:
        held = self._chosen_task() if held is None else held
        self._on_demand.show_first(
            [_row_of(task, self._today) for task in self.tasks], _open_of(self._chosen_person(), self._counts)
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

    def _chosen_task(self) -> Task | None:
        rows = {index.row() for index in self.rows.selectedIndexes()}
        return self.tasks[min(rows)] if rows and min(rows) < len(self.tasks) else None

    def _on_selected(self) -> None:
        task = self._chosen_task()
        self.bar.show_task(task, self.people)
        self.step.ask_for(task, self._ask, self._rules())

    def _on_tick(self, line: str, ticked: bool) -> None:
        """A tick stands with the docket: the bench shows it too."""
        task = self._chosen_task()
        if task is not None:
            self._act(TickCheck(task.docket_id, line, ticked), self._on_done)

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

    def _open_docket(self, task: Task) -> None:
        self.docket_wanted.emit(task.docket_id)


def _open_of(key: int, counts: TaskOverview | None) -> int:
    """How many open tasks there are of whoever is chosen."""
    if counts is None:
        return 0
    if key == _ALL:
        return counts.open
    return counts.nobodys if not key else sum(load.tasks for load in counts.loads if load.person.id == key)


def _row_of(task: Task, today: date) -> Row:
    late = bool(task.promised) and task.promised < today.isoformat()
    return (
        task.docket_number,
        task.label,
        task.person or "–",
        task.state,
        f"{task.standard:.0f} min",
        f"{task.running(datetime.now(UTC).replace(tzinfo=None)):.0f} min",
        f"{task.promised}{' late' if late else ''}",
        task.note,
    )


def load_text(load: Load) -> str:
    """One person in two lines."""
    hours = f"{load.minutes / 60:.1f} h left" if load.minutes >= 60 else f"{load.minutes:.0f} min left"
    in_hand = f"\nin hand: {load.in_hand}" if load.in_hand else ""
    return f"{load.person.name}\n{load.tasks} tasks · {hours}{in_hand}"
