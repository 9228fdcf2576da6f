"""The docket in hand: its document, its plan, a preview of what a remedy would make of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from msgspec import Struct
from PySide6.QtCore import QObject, Signal

from yarvel.figures.errors import JobError, Problem
from yarvel.figures.rules import HouseRules
from yarvel.planning.diagnostics.diagnostic import Diagnostic
from yarvel.planning.documents import Document
from yarvel.planning.job import FORMAT, Job, from_document, is_measured, merge_patch, patch_between
from yarvel.planning.plan import Plan, plan
from yarvel.workshop.dockets.records import FIELDS, Docket, DocketEdit, with_fields

_SHOWN = tuple(name for name in FIELDS if name != "drafts")


class PlanPreview(Struct, frozen=True):
    """A plan shown in place of the job's own, and what it would be the result of."""

    plan: Plan
    label: str


class DocketInHand(QObject):
    """One docket at a time. ``plan`` is None until the stone is measured."""

    docket_changed = Signal()
    job_changed = Signal()
    plan_changed = Signal()
    problems_changed = Signal()
    preview_changed = Signal()
    figure_chosen = Signal(str)
    call_chosen = Signal(str)
    edited = Signal(object)
    act_over = Signal()

    def __init__(self, rules: HouseRules, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.rules = rules
        self.docket: Docket | None = None
        self.document: Document = {"format": FORMAT}
        self.plan: Plan | None = None
        self.preview: PlanPreview | None = None
        self.problems: dict[str, Problem] = {}
        self._dragging = False
        self.signed_name = ""
        self.is_new = False
        """Whether an empty docket is in hand that has no number yet."""
        self._columns: Document = {}

    def be(self, name: str) -> None:
        """Who is signed in; "" for nobody."""
        if name != self.signed_name:
            self.signed_name = name
            self.docket_changed.emit()

    def open(self, docket: Docket) -> None:
        """Take a docket in hand."""
        self.docket, self.is_new, self._columns = docket, False, {}
        self.document = docket.job_document
        self.preview = None
        self._replan()
        self.docket_changed.emit()
        self.job_changed.emit()
        self.problems_changed.emit()

    def begin_new(self) -> None:
        """An empty docket in hand, without a number until something is typed."""
        self.docket, self.is_new, self._columns = None, True, {}
        self.document = {"format": FORMAT}
        self.preview = None
        self.problems = {}
        self._replan()
        self.docket_changed.emit()
        self.job_changed.emit()
        self.problems_changed.emit()

    def adopt(self, docket: Docket) -> None:
        """Give a new docket to what is already in hand."""
        self.docket, self.is_new = replace(docket, **self._columns), False
        self._columns = {}
        self.docket_changed.emit()

    def column(self, name: str) -> object:
        """A column of the docket in hand; of one without a number, what was typed so far."""
        return self._columns.get(name) if self.docket is None else getattr(self.docket, name)

    def take_over(self, docket: Docket, unwritten: Document | None = None) -> None:
        """The store's word on this docket: what others changed meanwhile shows; columns ``unwritten`` yet stay."""
        if self.docket is None or docket.id != self.docket.id:
            return
        before = self.docket
        kept: Document = {name: tuple(value) if name == "ticks" else value for name, value in (unwritten or {}).items()}
        self.docket = replace(docket, **kept)
        if any(getattr(self.docket, name) != getattr(before, name) for name in _SHOWN):
            self.docket_changed.emit()

    def set_rules(self, rules: HouseRules) -> None:
        """Other house rules: everything is worked out again."""
        if rules != self.rules:
            self.rules = rules
            self._replan()
            self.job_changed.emit()

    def set_column(self, name: str, value: object, act: str = "") -> None:
        """Set a column of the docket itself (customer, item, promised date, state, ticks); ``act`` names what goes on,
        where this is one letter of a word or one step of a drag."""
        self.set_columns({name: value}, act)

    def set_columns(self, values: Mapping[str, object], act: str = "", follows: str = "") -> None:
        """Set several columns in one act; ``follows`` names the act that it takes back or does again."""
        docket = self.docket
        if docket is None:
            self._columns.update(values)
            self.edited.emit(
                DocketEdit(job_patches=(), fields={name: _listed(value) for name, value in values.items()}, act=act)
            )
            return
        new = {name: value for name, value in values.items() if getattr(docket, name) != value}
        if not new:
            return
        columns = {name: _listed(getattr(docket, name)) for name in new}
        self.docket = with_fields(docket, new)
        fields = {name: _listed(value) for name, value in new.items()}
        self.edited.emit(DocketEdit(fields=fields, fields_seen=columns, act=act, follows=follows))
        self.docket_changed.emit()

    def show_preview(self, call: Diagnostic | None) -> None:
        """Show what a call's remedy would make of the plan; None: back to the plan itself."""
        preview = None
        if call is not None and call.remedy is not None:
            try:
                job = from_document(merge_patch(self.document, call.remedy))
                preview = PlanPreview(plan(job, self.rules, samples=0), call.remedy_label)
            except JobError:
                preview = None
        if preview is not self.preview:
            self.preview = preview
            self.preview_changed.emit()

    @property
    def dragging(self) -> bool:
        """Whether a hand is dragging something on the sheet."""
        return self._dragging

    def take_judged(self, judged: Plan) -> None:
        """Take the plan of the job as it is with what its bodies told."""
        self.plan = judged
        self.plan_changed.emit()

    def put(self, document: Document, act: str = "", follows: str = "") -> None:
        """Make a document the current one (undo and redo come here); stores only what differs. ``act`` and ``follows``
        as of a column."""
        change, back = patch_between(self.document, document), patch_between(document, self.document)
        self.document = document
        if change:
            self.edited.emit(DocketEdit(job_patches=(change,), fields={}, job_seen=(back,), act=act, follows=follows))
        self._replan()
        self.job_changed.emit()

    def follow(self, document: Document) -> None:
        """Show what others stored: no step of undo, and nothing to store."""
        if document != self.document:
            self.document = document
            self._replan()
            self.job_changed.emit()

    def _replan(self) -> None:
        self.plan = None
        had = self.problems.pop("job", None)
        try:
            job = self.job
            if job is not None:
                self.plan = plan(job, self.rules, samples=0) if self._dragging else plan(job, self.rules)
        except JobError as error:
            self.problems["job"] = error.problems[0]
        if had is not None or "job" in self.problems:
            self.problems_changed.emit()
        self.plan_changed.emit()

    @property
    def job(self) -> Job | None:
        """The job, once its stone is measured across."""
        return from_document(self.document) if is_measured(self.document.get("stone") or {}) else None


def _listed(value: object) -> object:
    return list(value) if isinstance(value, tuple) else value
