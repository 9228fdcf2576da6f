"""Undo of what is stored at once: acts on the board, people added, dockets put aside."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtGui import QUndoCommand, QUndoStack


class Step:
    """One thing that was done and can be taken back, from whichever window: twice taken back is once."""

    def __init__(self, label: str, undo: Callable[[], None], redo: Callable[[], None]) -> None:
        self.label, self._undo, self._redo = label, undo, redo
        self._done = True

    def put(self, done: bool) -> None:
        """Have it done, or not."""
        if done != self._done:
            self._done = done
            (self._redo if done else self._undo)()


class StepCommand(QUndoCommand):
    """A step on the stack of one window; it is done already when it gets there."""

    def __init__(self, step: Step) -> None:
        super().__init__(step.label)
        self._step = step

    def redo(self) -> None:
        """Do it again."""
        self._step.put(True)

    def undo(self) -> None:
        """Take it back."""
        self._step.put(False)


def remember(step: Step, *stacks: QUndoStack) -> None:
    """Offer a step that was just done for undo in these windows."""
    for stack in stacks:
        stack.push(StepCommand(step))
