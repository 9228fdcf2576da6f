"""Between session and store: opening, taking in, keeping, finding; all of it off the GUI thread."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QObject, Signal

from yarvel.desk.keeper import Keeper
from yarvel.desk.runner import Runner
from yarvel.desk.session import Session
from yarvel.figures.errors import YarvelError
from yarvel.figures.rules import HouseRules
from yarvel.planning.job import patch_between
from yarvel.workshop.dockets import Docket, DocketEdit

OpenStore = Callable[[], Any]
"""Opens the store (a ``workshop.store.Store``); called on the worker, so that its imports do not delay the window."""


class DocketDesk(QObject):
    """One store, one session. Errors become a banner's text; the work on the screen goes on."""

    told = Signal(str)
    kept = Signal()

    def __init__(self, session: Session, runner: Runner, open_store: OpenStore, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._session = session
        self._runner = runner
        self._store: Any = None
        self._adopting = False
        self._queued: list[Callable[[], None]] = []
        self.keeper = Keeper(runner, self)
        self.keeper.kept.connect(self._on_kept)
        self.keeper.failing.connect(lambda text: self.told.emit(f"Not stored yet, trying again: {text}"))
        session.edited.connect(self._on_edited)
        self._open_store = open_store

    def begin(self) -> None:
        """Open the store in the background; what was asked meanwhile is done then."""
        self._runner.run(self._load, self._on_open, lambda error: self.told.emit(str(error)))

    def _load(self) -> tuple[Any, HouseRules]:
        store = self._open_store()
        from yarvel.exchange import job_file

        job_file.schema()
        return store, store.rules()

    @property
    def ready(self) -> bool:
        """Whether the store is open."""
        return self._store is not None

    def _on_open(self, opened: tuple[Any, HouseRules]) -> None:
        self._store, rules = opened
        self._session.set_rules(rules)
        if self._session.docket is None:
            self._ask(lambda store: store.dockets(limit=1), self._on_first)
        self.keeper.begin(self._store.edit)
        queued, self._queued = self._queued, []
        for ask in queued:
            ask()

    def _on_first(self, found: list[Docket]) -> None:
        if found and self._session.docket is None and not self._adopting:
            self._session.open(found[0])

    def _ask(self, question: Callable[[Any], Any], then: Callable[[Any], None]) -> None:
        if self._store is None:
            self._queued.append(lambda: self._ask(question, then))
            return
        store = self._store
        self._runner.run(lambda: question(store), then, lambda error: self.told.emit(str(error)))

    def find(self, words: str, then: Callable[[list[Docket]], None]) -> None:
        """Dockets that hold the words."""
        self._ask(lambda store: store.dockets(words), then)

    def open(self, docket_id: int) -> None:
        """Take another docket in hand."""
        self._ask(lambda store: store.docket(docket_id), self._session.open)

    def take_in(self, item: str = "", job_document: dict[str, Any] | None = None) -> None:
        """Take in a new docket and open it."""
        self._ask(lambda store: store.new_docket(item=item, job_document=job_document), self._session.open)

    def keep_rules(self, rules: HouseRules) -> None:
        """Change the house rules, on the screen at once, in the store behind it."""
        self._session.set_rules(rules)
        self._ask(lambda store: store.keep_rules(rules), lambda _done: self.kept.emit())

    def finish(self) -> None:
        """Write what is not written yet, then close the store. Blocks for as long as that takes."""
        edits = self.keeper.take_all()
        self._runner.finish(lambda: self._write_last(edits))

    def _write_last(self, edits: dict[int, DocketEdit]) -> None:
        if self._store is None and edits:
            self._store = self._open_store()
        if self._store is None:
            return
        try:
            for docket_id, edit in edits.items():
                self._store.edit(docket_id, edit)
        except YarvelError as error:
            self.told.emit(str(error))
        self._store.close()

    def _on_edited(self, edit: DocketEdit) -> None:
        if self._session.docket is not None:
            self.keeper.keep(self._session.docket.id, edit)
        elif not self._adopting:
            self._adopting = True
            self._ask(lambda store: store.new_docket(), self._on_adopted)

    def _on_adopted(self, docket: Docket) -> None:
        """Someone typed before there was a docket: now there is one, and what was typed goes into it."""
        self._adopting = False
        self._session.adopt(docket)
        self.keeper.keep(docket.id, DocketEdit((patch_between(docket.job_document, self._session.document),),
                                               {"drafts": dict(self._session.drafts)}))

    def _on_kept(self, docket: Docket) -> None:
        session = self._session
        session.take_over(docket)
        theirs = patch_between(session.document, docket.job_document)
        if theirs and not self.keeper.waiting and session.docket is not None and session.docket.id == docket.id:
            session.patch(theirs, "Changed in another window")
            self.told.emit("This docket was changed in another window too; both changes are in it now.")
        self.kept.emit()
