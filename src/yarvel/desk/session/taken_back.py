"""Undo of what is stored at once: acts on the board, people added, dockets put aside."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtGui import QUndoCommand, QUndoStack


class UndoStep:
    """One thing that was done and can be taken back, from whichever window: twice taken back is once."""

    def __init__(self, label: str, undo: Callable[[], object], redo: Callable[[], object], gesture: int = 0) -> None:
        self.label, self._undo, self._redo, self.gesture = label, undo, redo, gesture
        self._done = True

    def put(self, done: bool) -> None:
        """Have it done, or not."""
        if done != self._done:
            self._done = done
            (self._redo if done else self._undo)()


class StepCommand(QUndoCommand):
    """Steps of one gesture on the stack of one window; they are done already when they get there."""

    _ID = 7

    def __init__(self, step: UndoStep) -> None:
        super().__init__(step.label)
        self._steps = [step]

    def id(self) -> int:
        """Commands of this kind may become one."""
        return self._ID

    def mergeWith(self, other: QUndoCommand) -> bool:
        """Steps that one movement of the hand made are taken back by one key."""
        if not isinstance(other, StepCommand) or not other._steps[0].gesture:
            return False
        if other._steps[0].gesture != self._steps[0].gesture:
            return False
        self._steps += other._steps
        self.setText(f"{self._steps[0].label}, {len(self._steps)} at once")
        return True

    def redo(self) -> None:
        """Do it again."""
        for step in self._steps:
            step.put(True)

    def undo(self) -> None:
        """Take it back, the last first."""
        for step in reversed(self._steps):
            step.put(False)


def remember(step: UndoStep, *stacks: QUndoStack) -> None:
    """Offer a step that was just done for undo in these windows."""
    for stack in stacks:
        stack.push(StepCommand(step))
