"""What the chosen task says, line by line, to tick off; its caution below."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from yarvel.desk.storing.asking import Ask
from yarvel.desk.widgets.words import Words
from yarvel.figures.rules import HouseRules
from yarvel.operations.cautions import DEFER
from yarvel.workshop.work.docket_work import TaskCard
from yarvel.workshop.work.tasks import Task

if TYPE_CHECKING:
    from yarvel.workshop.store import Store


_MARK = Qt.ItemDataRole.UserRole


class StepList(QWidget):
    """One line an item; a line whose figure has changed since it was ticked is open again."""

    ticked = Signal(str, bool)

    known = Signal()
    """What the chosen task says has come."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._head = Words(self)
        self._head.setObjectName("step.head")
        self.lines = QListWidget(self)
        self.lines.setObjectName("step.lines")
        self.lines.setAccessibleName("Lines of the step")
        self.lines.setWordWrap(True)
        self._caution = Words(self)
        self._caution.setObjectName("step.caution")
        self._caution.setWordWrap(True)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self._head)
        column.addWidget(self.lines, 1)
        column.addWidget(self._caution)
        column.addStretch(0)
        self.lines.itemChanged.connect(self._on_changed)
        self._asked: int | None = None
        self._told: int | None = None
        self.show_step("Choose a task to see what it says.", None, ())

    def ask_for(self, task: Task | None, look: Ask, rules: HouseRules) -> None:
        """What the chosen task says, worked out in the background from its docket as it is now."""
        self._asked = None if task is None else task.id
        self._told = self._told if self._told == self._asked else None
        if task is None:
            self.show_step("Choose a task to see what it says.", None, ())
            self.known.emit()
            return
        if self._told != task.id:  # nobody ticks the lines of another task
            self.show_step(f"{task.docket_number} · {task.label}: being worked out…", None, ())

        def work(store: Store) -> tuple[TaskCard | None, tuple[str, ...]]:
            from yarvel.workshop.work.docket_work import told_of

            docket = store.docket(task.docket_id)
            return told_of(task.operation, docket, rules), (*docket.ticks, *task.ticks)

        def show(found: tuple[TaskCard | None, tuple[str, ...]]) -> None:
            step, ticks = found
            if self._asked == task.id:
                title = f"{task.docket_number} · {task.label}"
                self.show_step(title if step is not None else f"{title}: nothing to tick; see its docket", step, ticks)
                self._told = task.id
                self.known.emit()

        look(work, show)

    def unticked(self, task: Task) -> int | None:
        """How many lines of a task's step are open, if it is the one that is shown; None while that is worked out."""
        if self._asked != task.id:
            return 0
        if self._told != task.id:
            return None
        items = [self.lines.item(row) for row in range(self.lines.count())]
        return sum(item.checkState() != Qt.CheckState.Checked for item in items)

    def shows(self, task: Task) -> bool:
        """Whether it is this task's step that is shown, and known."""
        return self._told == task.id

    def show_step(self, title: str, step: TaskCard | None, ticks: tuple[str, ...]) -> None:
        """Show a part of the work, or only a title."""
        lines = () if step is None else step.lines
        done = sum(mark in ticks for mark, _ in lines)
        self._head.setText(f"{title} · {done} of {len(lines)} ticked" if lines else title)
        self._caution.setText(f"Caution. {step.caution} {DEFER}" if step is not None and step.caution else "")
        self._caution.setVisible(bool(self._caution.text()))
        self.lines.setVisible(bool(lines))
        marks = [self.lines.item(row).data(_MARK) for row in range(self.lines.count())]
        self.lines.blockSignals(True)
        if marks != [mark for mark, _ in lines]:
            self.lines.clear()
            for mark, text in lines:
                item = QListWidgetItem(text)
                item.setData(_MARK, mark)
                item.setFlags(Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsUserCheckable)
                self.lines.addItem(item)
        for row, (mark, _) in enumerate(lines):
            self.lines.item(row).setCheckState(Qt.CheckState.Checked if mark in ticks else Qt.CheckState.Unchecked)
        self.lines.blockSignals(False)

    def _on_changed(self, item: QListWidgetItem) -> None:
        self.ticked.emit(item.data(_MARK), item.checkState() == Qt.CheckState.Checked)
