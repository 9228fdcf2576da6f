"""What the window asks for: every change of the job as an intent, checked, undoable; what is refused is kept."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QObject
from PySide6.QtGui import QUndoCommand, QUndoStack

from yarvel.desk.docket_in_hand import DocketInHand, Document
from yarvel.desk.edits import can_type_over, cut_patch, typed_over
from yarvel.figures.errors import JobError, Problem
from yarvel.figures.rules import HouseRules
from yarvel.planning.calls.call import Call
from yarvel.planning.job import is_measured, merge_patch, patch_between, stand_in
from yarvel.workshop.dockets import Docket, DocketEdit


class JobEdit(QUndoCommand):
    """One undoable change of the job document; changes of one field in one go are one step."""

    def __init__(self, session: Session, after: Document, label: str, burst: str) -> None:
        super().__init__(label)
        self._session = session
        self._before = session.document
        self._after = after
        self._burst = burst

    def id(self) -> int:
        """All job edits may merge; ``mergeWith`` decides."""
        return 1

    def mergeWith(self, other: QUndoCommand) -> bool:
        """Take up a following edit of the same burst."""
        if not isinstance(other, JobEdit) or not self._burst or other._burst != self._burst:
            return False
        self._after = other._after
        self.setObsolete(self._after == self._before)
        return True

    def redo(self) -> None:
        """Make the change; what others changed beside it meanwhile stays."""
        self._session.put(merge_patch(self._session.document, patch_between(self._before, self._after)))

    def undo(self) -> None:
        """Take the change back; what others changed beside it meanwhile stays."""
        self._session.put(merge_patch(self._session.document, patch_between(self._after, self._before)))


class Session(DocketInHand):
    """The docket in hand, with what is typed but not accepted, and undo."""

    def __init__(self, rules: HouseRules, parent: QObject | None = None) -> None:
        super().__init__(rules, parent)
        self.drafts: dict[str, str] = {}
        self.undo_stack = QUndoStack(self)
        self._burst = 0
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

    # --- intents -----------------------------------------------------------------------------------------

    def enter_text(self, path: str, text: str, label: str) -> None:
        """What was typed into a number field: applied where it is accepted, else kept as a draft with its problem."""
        cleaned = text.strip().replace(",", ".").replace("−", "-")
        if not cleaned:
            self.set_value(path, None, label, draft=text)
            return
        try:
            value = float(cleaned)
        except ValueError:
            from yarvel.exchange.job_file import accepted

            self._refuse(path, text, Problem(path, f"{text!r} is no number", accepted(path)))
            return
        self.set_value(path, int(value) if path == "head.claws" and value.is_integer() else value, label, draft=text)

    def set_value(self, path: str, value: Any, label: str, draft: str = "") -> bool:
        """Set one field of the job; None goes back to derived. False, with a problem kept, where it is refused."""
        return self._apply(nested(path, value), label, path, draft or ("" if value is None else str(value)))

    def set_readings(self, texts: list[str]) -> None:
        """All diameter readings as typed; those that are no numbers keep the whole list a draft."""
        path = "stone.diameters_mm"
        kept = [text for text in texts if text.strip()]
        if not kept:
            self._clear_draft(path)
            self._push(merge_patch(self.document, {"stone": {"diameters_mm": None}}), "Clear the readings", path)
            return
        try:
            values = [float(text.strip().replace(",", ".").replace("−", "-")) for text in kept]
        except ValueError:
            wrong = next(text for text in kept if not _is_number(text))
            self._refuse(path, "; ".join(kept), Problem(path, f"{wrong!r} is no number", "0.5 to 40 mm"))
            return
        self._apply({"stone": {"diameters_mm": values}}, "Diameter readings", path, "; ".join(kept))

    def set_cut(self, cut: str) -> None:
        """Another cut: its own measures are kept, others dropped, and the head goes to a style that suits it."""
        self.end_burst()
        for path in [path for path in self.drafts if path.startswith("stone.") or path == "head.claws"]:
            self._clear_draft(path)
        self._apply(cut_patch(self.document, cut), "Cut", "stone.cut", cut, keep_draft=False)
        self.end_burst()

    def set_size(self, change: dict[str, Any], text: str) -> None:
        """A finger size as typed, with its system; kept as a draft where the system does not know it."""
        self._apply({"shank": {"size": change}}, "Finger size", "shank.size.value", text)

    def type_over(self, key: str, text: str) -> bool:
        """A figure on the sheet was typed over; False where the value is not accepted."""
        if self.plan is None or not can_type_over(self.plan, key):
            self._refuse(
                key, text, Problem(key, "this figure is no longer there to type over", "see its working"), keep=False
            )
            return False
        if not _is_number(text):
            self._refuse(key, text, Problem(key, f"{text!r} is no number", "a number"), keep=False)
            return False
        value = float(text.strip().replace(",", ".").replace("−", "-"))
        self.end_burst()
        label = self.plan.figures[key].label
        done = self._apply(typed_over(self.plan, key, value), label, key, text, keep_draft=False)
        self.end_burst()
        return done

    def take_remedy(self, call: Call) -> None:
        """Make the change that a call offers."""
        self.show_preview(None)
        if call.remedy is not None:
            self.end_burst()
            self._apply(call.remedy, call.remedy_label, "", "")

    def patch(self, change: dict[str, Any], label: str) -> bool:
        """Apply a merge patch as one step."""
        self.end_burst()
        return self._apply(change, label, "", "")

    def replace_job(self, job_document: Document, label: str) -> None:
        """Take a whole job, as from a file, as one step."""
        self.end_burst()
        self.drafts, self.problems = {}, {}
        self._keep_drafts()
        self._push(job_document, label, "")

    def drag(self, change: dict[str, Any], label: str) -> None:
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

    # --- working ------------------------------------------------------------------------------------------

    def _apply(self, change: dict[str, Any], label: str, path: str, draft: str, keep_draft: bool = True) -> bool:
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
            if not all(_is_number(value) for value in values):
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
        self.edited.emit(DocketEdit((), {"drafts": dict(self.drafts)}))


def nested(path: str, value: Any) -> dict[str, Any]:
    """A merge patch that sets one dotted path."""
    patch: Any = value
    for name in reversed(path.split(".")):
        patch = {name: patch}
    result: dict[str, Any] = patch
    return result


def value_at(document: Document, path: str) -> Any:
    """The value at a dotted path, None where it is absent."""
    held: Any = document
    for name in path.split("."):
        held = held.get(name) if isinstance(held, dict) else None
    return held


def _is_number(text: str) -> bool:
    try:
        float(text.strip().replace(",", ".").replace("−", "-"))
    except ValueError:
        return False
    return True
