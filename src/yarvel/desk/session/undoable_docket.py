"""The docket in hand as it is changed: every change checked and undoable, what is refused kept as it was typed."""

from __future__ import annotations

from collections.abc import Mapping

from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QUndoCommand, QUndoStack

from yarvel.desk.session.docket_in_hand import DocketInHand
from yarvel.figures.errors import JobError, Problem
from yarvel.figures.rules import HouseRules
from yarvel.planning.documents import Document, nested
from yarvel.planning.job import is_measured, merge_patch, patch_between, stand_in
from yarvel.workshop.dockets.records import FIELDS, Docket, DocketEdit


class JobEdit(QUndoCommand):
    """One undoable change of the job document; changes of one field in one go are one step."""

    def __init__(self, docket: UndoableDocket, after: Document, label: str, burst: str) -> None:
        super().__init__(label)
        self._docket = docket
        self._before = docket.document
        self._after = after
        self._burst = burst
        self._name = ""

    def id(self) -> int:
        """All job edits may merge; ``mergeWith`` decides."""
        return 1

    def mergeWith(self, other: QUndoCommand) -> bool:
        """Take up a following edit of the same burst."""
        if not isinstance(other, JobEdit) or not self._burst or other._burst != self._burst:
            return False
        self._after, self._name = other._after, other._name
        self.setObsolete(self._after == self._before)
        return True

    def redo(self) -> None:
        """Make the change; what others changed beside it meanwhile stays."""
        self._put(self._before, self._after, self._burst)

    def undo(self) -> None:
        """Take the change back; what others changed beside it meanwhile stays."""
        self._put(self._after, self._before, "")

    def _put(self, before: Document, after: Document, burst: str) -> None:
        """From one to the other, as an act that names the one that it takes back or does again."""
        docket = self._docket
        docket.last_act = ""
        docket.put(merge_patch(docket.document, patch_between(before, after)), burst, self._name)
        self._name = docket.last_act or self._name


class ColumnsEdit(QUndoCommand):
    """One undoable change of what stands on the docket itself; letters of one field in one go are one step."""

    def __init__(self, docket: UndoableDocket, before: Mapping[str, object], after: Mapping[str, object], act: str):
        super().__init__(", ".join(FIELDS[name].label for name in after))
        self._docket, self._before, self._after, self._act = docket, before, after, act
        self._done = False
        self._name = ""

    def id(self) -> int:
        """All of them may merge; ``mergeWith`` decides."""
        return 2

    def mergeWith(self, other: QUndoCommand) -> bool:
        """Take up a following letter."""
        if not isinstance(other, ColumnsEdit) or not self._act or other._act != self._act:
            return False
        if other._after.keys() != self._after.keys():
            return False
        self._after, self._name = other._after, other._name
        self.setObsolete(self._after == self._before)
        return True

    def redo(self) -> None:
        """Make the change: the first time as it is typed."""
        self._put(self._after, self._before, self._act)

    def undo(self) -> None:
        """Take it back; what somebody else has put there meanwhile stays."""
        self._put(self._before, self._after, "")

    def _put(self, values: Mapping[str, object], seen: Mapping[str, object], act: str) -> None:
        """As an act that names the one that it takes back or does again."""
        self._docket.last_act = ""
        self._docket.put_columns(values, seen, act, self._done, self._name)
        self._done, self._name = True, self._docket.last_act or self._name


_NOT_TAKEN_BACK = frozenset({"state", "approved", "withdrawn", "estimate", "drafts"})
"""What is signed, sent or worked out is not taken back by a key: it has a counter-act of its own, or none."""


class UndoableDocket(DocketInHand):
    """The docket in hand, with what is typed but not accepted, and undo."""

    put_back = Signal(object)
    """Columns, by name, that undo or redo has set: fields show them also where somebody is typing."""

    def __init__(self, rules: HouseRules, parent: QObject | None = None) -> None:
        super().__init__(rules, parent)
        self.drafts: dict[str, str] = {}
        self.undo_stack = QUndoStack(self)
        self._burst = 0
        self.last_act = ""
        """Under which name the edit that was made last is stored; whoever keeps edits says so."""

        self._origin: tuple[str, Document] = ("", self.document)

    def open(self, docket: Docket) -> None:
        """Take a docket in hand; undo starts anew."""
        self.drafts = dict(docket.drafts)
        self.problems = {path: Problem(path, f"{text!r} is not accepted", "") for path, text in self.drafts.items()}
        self.undo_stack.clear()
        super().open(docket)

    def begin_new(self) -> None:
        """An empty docket in hand; undo starts anew."""
        self.drafts = {}
        self.undo_stack.clear()
        super().begin_new()

    def patch(self, change: Document, label: str) -> bool:
        """Apply a merge patch as one step."""
        self.end_burst()
        return self._apply(change, label, "", "")

    def set_columns(self, values: Mapping[str, object], act: str = "", follows: str = "") -> None:
        """The same as one step for undo, but for what is signed or sent."""
        docket = self.docket
        if docket is None or not _NOT_TAKEN_BACK.isdisjoint(values):
            super().set_columns(values, act, follows)
            return
        before = {name: getattr(docket, name) for name in values}
        if before != dict(values):
            burst = f"{act}#{self._burst}" if act else ""
            self.undo_stack.push(ColumnsEdit(self, before, dict(values), burst))

    def put_columns(
        self, values: Mapping[str, object], seen: Mapping[str, object], burst: str, again: bool, follows: str
    ) -> None:
        """Have columns be this, where they are still as ``seen``; ``again``: by undo or redo of the act ``follows``."""
        docket = self.docket
        if docket is None:
            return
        wanted = {name: value for name, value in values.items() if not again or getattr(docket, name) == seen[name]}
        super().set_columns(wanted, burst.split("#")[0], follows)
        if again:
            self.put_back.emit(wanted)

    def drag(self, change: Document, label: str) -> None:
        """One step of a drag: planned without tolerance, merged into one undo step."""
        self._dragging = True
        self._apply(change, label, "drag", "", keep_draft=False)

    def end_drag(self) -> None:
        """The hand rests: plan again, whole."""
        self._dragging = False
        self.end_burst()
        self._replan()

    def end_burst(self) -> None:
        """What comes next is a step of its own for undo."""
        self._burst += 1
        self.act_over.emit()

    def _apply(self, change: Document, label: str, path: str, draft: str, keep_draft: bool = True) -> bool:
        after = merge_patch(self.document, change)
        problem = self._problem(after, path)
        if problem is not None:
            self._refuse(path, draft, problem, keep=keep_draft)
            return False
        if path in self.problems:
            self._clear_draft(path)
        self._push(after, label, path)
        self._retry_drafts()
        return True

    def _push(self, after: Document, label: str, path: str) -> None:
        burst = f"{path}#{self._burst}" if path else ""
        if burst != self._origin[0]:
            self._origin = burst, self.document
        if after != self.document:
            self.undo_stack.push(JobEdit(self, after, label, burst))

    def _problem(self, document: Document, path: str) -> Problem | None:
        from yarvel.exchange.job_file import checked_job

        stone = document.get("stone") or {}
        measured = is_measured(stone)
        try:
            checked_job(document if measured else {**document, "stone": {**stone, **stand_in(stone)}}, self.rules)
        except JobError as error:
            own = [problem for problem in error.problems if path and problem.path.startswith(path)]
            others = [problem for problem in error.problems if measured or not problem.path.startswith("stone.")]
            return next(iter(own + others), None)
        return None

    def _retry_drafts(self) -> None:
        """A change may make acceptable what was refused before."""
        for path, text in list(self.drafts.items()):
            if path == "shank.size.value":
                continue
            values = [part.strip().replace(",", ".") for part in text.split(";")]
            if not all(is_number(value) for value in values):
                continue
            numbers = [float(value) for value in values]
            after = merge_patch(self.document, nested(path, numbers if path.endswith("diameters_mm") else numbers[0]))
            if self._problem(after, path) is None:
                self._clear_draft(path)
                self._push(after, f"Accept {text}", path)

    def _refuse(self, path: str, text: str, problem: Problem, keep: bool = True) -> None:
        self.problems[path] = problem
        if keep and path:
            self._withdraw(path)
            self.drafts[path] = text
            self._keep_drafts()
        self.problems_changed.emit()

    def _withdraw(self, path: str) -> None:
        """What was accepted on the way to a text that is refused does not count: back to before this go of typing."""
        burst, before = self._origin
        if burst == f"{path}#{self._burst}" and before != self.document:
            self._push(before, "", path)

    def _clear_draft(self, path: str) -> None:
        self.problems.pop(path, None)
        if self.drafts.pop(path, None) is not None:
            self._keep_drafts()
        self.problems_changed.emit()

    def _keep_drafts(self) -> None:
        self.edited.emit(DocketEdit(job_patches=(), fields={"drafts": dict(self.drafts)}))


def is_number(text: str) -> bool:
    """Whether a text can be read as a number, with a point or a comma."""
    try:
        float(text.strip().replace(",", ".").replace("−", "-"))
    except ValueError:
        return False
    return True
