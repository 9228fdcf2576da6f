"""One heat or casting for all tasks that are chosen, or each by itself again."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Signal
from PySide6.QtGui import QKeySequence, QShortcut
from PySide6.QtWidgets import QPushButton, QWidget

from yarvel.workshop.acts import JoinTasks
from yarvel.workshop.work.day_reading import DayPlan
from yarvel.workshop.work.sharing import why_not_together
from yarvel.workshop.work.tasks import Task

_KEYS = "Ctrl+G"


class HeatButton(QPushButton):
    """There where it would do something: for the same work of several dockets, and for what is done together."""

    wished = Signal(object)
    refused = Signal(str)

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("board.together")
        self._deed: JoinTasks | None = None
        self.why_not = ""
        """Why those that are chosen cannot be done together; "" where they can, or where only one is chosen."""
        self.clicked.connect(lambda _checked=False: self._wish())
        QShortcut(QKeySequence(_KEYS), parent, self._wish)
        self.hide()

    def show_for(self, plan: DayPlan | None, tasks: Sequence[Task]) -> None:
        """What it would do with these tasks."""
        chosen = tuple(task.id for task in tasks)
        heat = None if plan is None or not chosen else plan.reading.beside.get(chosen[0])
        apart = heat is not None and set(heat.tasks) == set(chosen)
        self.why_not = "" if plan is None or apart else why_not_together(plan, chosen)
        self._deed = JoinTasks(chosen, apart) if apart or (len(chosen) > 1 and not self.why_not) else None
        self.setText(f"{'Each by itself' if apart else f'Do these {len(tasks)} together'} ({_KEYS})")
        self.setVisible(self._deed is not None)

    def _wish(self) -> None:
        if self._deed is not None:
            self.wished.emit(self._deed)
        elif self.why_not:
            self.refused.emit(f"Not together: {self.why_not}.")
