"""Whether a task may be called done: its boxes are looked at first, and open ones are asked for once more."""

from __future__ import annotations

from PySide6.QtCore import QObject, Signal

from yarvel.desk.board.step_list import StepList
from yarvel.workshop.acts import Deed, StopTask
from yarvel.workshop.work.tasks import Task


class Finishing(QObject):
    """``said`` what is still open; ``ready`` when the boxes of a task are known that was to be done before."""

    said = Signal(str)
    ready = Signal()

    def __init__(self, step: StepList) -> None:
        super().__init__(step)
        self._step = step
        self._asked: set[int] = set()
        self._waits: Task | None = None
        step.known.connect(self._on_known)

    def deed(self, task: Task, note: str) -> Deed | None:
        """The deed that finishes a task; None where it is not to be done yet."""
        left = self._step.unticked(task)
        if self._waits is not None and self._waits.id != task.id:
            self._on_known()
        if left is None:
            self._waits = task
            return None
        if left and task.id not in self._asked:
            self._asked.add(task.id)
            boxes = "1 box is" if left == 1 else f"{left} boxes are"
            what = f"{task.docket_number} {task.label}"
            self.said.emit(f"{what}: {boxes} not ticked. Press Done again if it is done all the same.")
            return None
        self._asked.discard(task.id)
        return StopTask(task.id, True, note)

    def _on_known(self) -> None:
        task, self._waits = self._waits, None
        if task is None:
            return
        if self._step.shows(task):
            self.ready.emit()
        else:
            self.said.emit(f"{task.docket_number} {task.label}: left before its boxes were known, not done. Once more.")
