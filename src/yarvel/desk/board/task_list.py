"""The list of tasks beside the plan: everybody at the left, what they have at the right."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date

from PySide6.QtCore import QItemSelectionModel, Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from yarvel import clock
from yarvel.desk.storing.asking import Ask
from yarvel.desk.widgets.plain_table import plain_table
from yarvel.desk.widgets.row_filter import RowFilter
from yarvel.desk.widgets.rows_on_demand import Row, RowsOnDemand
from yarvel.desk.widgets.words import LineField, Words
from yarvel.workshop.people.person import Person
from yarvel.workshop.work.task_sums import TaskOverview, overview
from yarvel.workshop.work.tasks import Load, Task

_HEADS = ("Docket", "Task", "Who", "State", "Standard", "Taken", "Promised", "Note")

_COLUMNS = ("docket", "operation", "person", "state", "standard", "", "promised", "note")
"""What the store puts them in the order of, head by head; what was taken is known only when it is read."""
_ALL = -1


class TaskList(QWidget):
    """Shows what the store says; whose tasks are shown is chosen at the left."""

    chosen = Signal()

    refreshed = Signal()
    """What is chosen stands anew: nobody has chosen it now."""
    people_known = Signal()
    docket_wanted = Signal(int)

    def __init__(self, look: Ask, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._look = look
        self.tasks: list[Task] = []
        self.people: list[Person] = []
        self._counts: TaskOverview | None = None
        self.loads = QListWidget(self)
        self.loads.setAccessibleName("People")
        self.loads.setMaximumWidth(330)
        self.loads.setSpacing(4)
        self.rows = plain_table(self, _HEADS, "Tasks")
        self.words = RowFilter(self, rest=True)
        self.words.setObjectName("board.words")
        self.words.asked.connect(self._ask_tasks)
        self._on_demand = RowsOnDemand(self.rows, self._fetch_tasks, self._ask_tasks, _COLUMNS)
        self.name = LineField(self)
        self.name.setObjectName("board.name")
        self.name.setPlaceholderText("somebody new")
        self.name.setAccessibleName("Name of somebody new")
        self._empty = Words(self)
        self._empty.setProperty("quiet", True)
        self._empty.setWordWrap(True)
        self.loads.currentRowChanged.connect(lambda _row: self._ask_tasks())
        self.rows.itemSelectionChanged.connect(self.chosen)
        self.rows.cellDoubleClicked.connect(lambda _row, _column: self._open())

    def lay_out(self, add: QWidget, codes: QWidget) -> None:
        """Everything in its place; ``add`` takes in who is named below the people, ``codes`` prints what a scanner
        reads."""
        left = QVBoxLayout()
        left.addWidget(self.loads, 1)
        line = QHBoxLayout()
        line.addWidget(self.name)
        line.addWidget(add)
        left.addLayout(line)
        left.addWidget(codes)
        right = QVBoxLayout()
        right.addWidget(self.words)
        right.addWidget(self._empty)
        right.addWidget(self.rows, 1)
        whole = QHBoxLayout(self)
        whole.setContentsMargins(0, 6, 0, 0)
        whole.addLayout(left)
        whole.addLayout(right, 1)

    def reload(self) -> None:
        """Ask the store how things stand."""
        today = clock.today()
        self._look(lambda store: overview(store, today), self._on_loaded)

    def _on_loaded(self, found: TaskOverview) -> None:
        self._counts = found
        self.people = [load.person for load in found.loads]
        row_before = self.loads.currentRow()
        self.loads.blockSignals(True)
        self.loads.clear()
        for text, key in (
            (f"All tasks\n{found.open} open" + (f" · {found.late} late" if found.late else ""), _ALL),
            (f"Nobody's\n{found.nobodys} to give out", 0),
        ):
            self._add(text, key)
        for load in found.loads:
            self._add(load_text(load), load.person.id)
        self.loads.setCurrentRow(min(max(row_before, 0), self.loads.count() - 1))
        self.loads.blockSignals(False)
        self.people_known.emit()
        self._ask_tasks()

    def _add(self, text: str, key: int) -> None:
        item = QListWidgetItem(text)
        item.setData(Qt.ItemDataRole.UserRole, key)
        self.loads.addItem(item)

    @property
    def person(self) -> int:
        """Whose tasks are shown: a person's id, 0 for nobody's, −1 for all."""
        item = self.loads.currentItem()
        return _ALL if item is None else int(item.data(Qt.ItemDataRole.UserRole))

    def _ask_tasks(self) -> None:
        """The first tasks of whoever is chosen at the left; more come as somebody scrolls."""
        key, count, order = self.person, self._on_demand.wanted, self._on_demand.order
        words = self.words.words
        self._look(
            lambda store: store.tasks.page(None if key == _ALL else key, 0, count, order, words),
            lambda found: self._take_tasks(key, found) if words == self.words.words else None,
        )

    def _take_tasks(self, key: int, found: list[Task]) -> None:
        if key == self.person:
            chosen = {task.id for task in self.chosen_tasks}
            self.tasks = found
            self.show_tasks(chosen)

    def _fetch_tasks(self, first: int, count: int, then: Callable[[list[Row]], None]) -> None:
        key, order, words = self.person, self._on_demand.order, self.words.words

        def take(found: list[Task]) -> None:
            if key == self.person and len(self.tasks) == first:
                self.tasks += found
                then([_row_of(task, clock.today()) for task in found])

        self._look(lambda store: store.tasks.page(None if key == _ALL else key, first, count, order, words), take)

    def show_tasks(self, held: set[int] | None = None) -> None:
        """What is known, as it is now; what is chosen, or was (``held``, by id), stays chosen."""
        chosen = {task.id for task in self.chosen_tasks} if held is None else held
        rows = [_row_of(task, clock.today()) for task in self.tasks]
        self.rows.blockSignals(True)
        self._on_demand.show_first(rows, _open_of(self.person, self._counts))
        select = QItemSelectionModel.SelectionFlag.Select | QItemSelectionModel.SelectionFlag.Rows
        for row, task in enumerate(self.tasks):
            if task.id in chosen:
                index = self.rows.model().index(row, 0)
                self.rows.selectionModel().setCurrentIndex(index, QItemSelectionModel.SelectionFlag.NoUpdate)
                self.rows.selectionModel().select(index, select)
        self.rows.blockSignals(False)
        self._empty.setVisible(not self.tasks)
        self._empty.setText(
            ""
            if self.tasks
            else "No open task here. Open a docket and press Ctrl+Alt+T there: its steps "
            "become tasks; add people at the left to give them out."
        )
        self.refreshed.emit()

    @property
    def task(self) -> Task | None:
        """The one that is chosen, of several the one in hand."""
        chosen = self.chosen_tasks
        return chosen[-1] if chosen else None

    @property
    def chosen_tasks(self) -> list[Task]:
        """All that are chosen, the one in hand last."""
        front = self.rows.currentRow()
        rows = sorted({index.row() for index in self.rows.selectedIndexes()}, key=lambda row: (row == front, row))
        return [self.tasks[row] for row in rows if row < len(self.tasks)]

    def _open(self) -> None:
        if self.task is not None:
            self.docket_wanted.emit(self.task.docket_id)


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
        f"{task.minutes:.0f} min",
        f"{task.promised}{' late' if late else ''}",
        task.note,
    )


def load_text(load: Load) -> str:
    """One person in two lines."""
    hours = f"{load.minutes / 60:.1f} h left" if load.minutes >= 60 else f"{load.minutes:.0f} min left"
    in_hand = f"\nin hand: {load.in_hand}" if load.in_hand else ""
    count = "1 task" if load.tasks == 1 else f"{load.tasks} tasks"
    return f"{load.person.name}\n{count} · {hours}{in_hand}"
