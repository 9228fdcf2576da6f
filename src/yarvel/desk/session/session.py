"""What the window asks for: every change of the job as an intent."""

from __future__ import annotations

from yarvel.desk.session.edits import can_type_over, cut_patch, size_patch, typed_over
from yarvel.desk.session.undoable_docket import UndoableDocket, is_number
from yarvel.figures.errors import Problem, SizeError
from yarvel.figures.figure import FigureKey
from yarvel.figures.lookup import first_of
from yarvel.planning.diagnostics.diagnostic import Diagnostic
from yarvel.planning.documents import Document, nested
from yarvel.planning.job import merge_patch


class Session(UndoableDocket):
    """The docket in hand, and what can be asked of it."""

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

    def set_value(self, path: str, value: object, label: str, draft: str = "") -> bool:
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
            wrong = first_of(text for text in kept if not is_number(text))
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

    def set_size(self, change: Document, text: str) -> None:
        """A finger size as typed, with its system; kept as a draft where the system does not know it."""
        self._apply(size_patch(self.document, change), "Finger size", "shank.size.value", text)

    def refuse_size(self, path: str, text: str, error: SizeError) -> None:
        """A size of which nobody can say what finger is meant: kept as a draft, and told."""
        self._refuse(path, text, Problem(path, error.wrong, error.accepted))

    def type_over(self, key: str, text: str) -> bool:
        """A figure on the sheet was typed over; False where the value is not accepted."""
        if self.plan is None or not can_type_over(self.plan, FigureKey(key)):
            self._refuse(
                key, text, Problem(key, "this figure is no longer there to type over", "see its working"), keep=False
            )
            return False
        if not is_number(text):
            self._refuse(key, text, Problem(key, f"{text!r} is no number", "a number"), keep=False)
            return False
        value = float(text.strip().replace(",", ".").replace("−", "-"))
        self.end_burst()
        label = self.plan.figures[FigureKey(key)].label
        done = self._apply(typed_over(self.plan, FigureKey(key), value), label, key, text, keep_draft=False)
        self.end_burst()
        return done

    def take_remedy(self, call: Diagnostic) -> None:
        """Make the change that a call offers."""
        self.show_preview(None)
        if call.remedy is not None:
            self.end_burst()
            self._apply(call.remedy, call.remedy_label, "", "")

    def replace_job(self, job_document: Document, label: str) -> None:
        """Take a whole job, as from a file, as one step."""
        self.end_burst()
        self.drafts, self.problems = {}, {}
        self._keep_drafts()
        self._push(job_document, label, "")
