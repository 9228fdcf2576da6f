"""Between session and store: opening, taking in, keeping, finding; all of it off the GUI thread."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable
from contextlib import suppress
from dataclasses import replace
from datetime import date
from functools import partial
from pathlib import Path
from typing import Any

from PySide6.QtCore import QObject, QTimer, Signal

from yarvel.desk.act_keeper import ActKeeper
from yarvel.desk.keeper import Keeper
from yarvel.desk.runner import Runner
from yarvel.desk.session import Session
from yarvel.desk.watcher import Watcher
from yarvel.figures.errors import StoreError, StoreGoneError, YarvelError
from yarvel.figures.rules import HouseRules
from yarvel.planning.job import patch_between
from yarvel.workshop.dockets import Docket, DocketEdit
from yarvel.workshop.stock import StockItem, bur_sizes, plate_holes
from yarvel.workshop.waiting import NEW, WaitingActs, WaitingEdits

_AGAIN_MS = 3000
_LARGE_COPY_AFTER_S = 15.0

OpenStore = Callable[[], Any]
"""Opens the store (a ``workshop.store.Store``); called on the worker, so that its imports do not delay the window."""


class DocketDesk(QObject):
    """One store, one session. Errors become a banner's text; the work on the screen goes on."""

    told = Signal(str)
    kept = Signal()
    opened = Signal()
    changed = Signal()
    drawer_changed = Signal()
    clashed = Signal(object)

    def __init__(
        self,
        session: Session,
        runner: Runner,
        open_store: OpenStore,
        parent: QObject | None = None,
        waiting: WaitingEdits | None = None,
        waiting_acts: WaitingActs | None = None,
    ) -> None:
        super().__init__(parent)
        self._session = session
        self._runner = runner
        self._store: Any = None
        self._adopting = False
        self._queued: list[Callable[[], None]] = []
        self._waiting = waiting
        self._stock_mark: Any = None
        self.watcher = Watcher(self)
        self.watcher.changed.connect(self._on_changed)
        self.acts = ActKeeper(runner, self, waiting_acts)
        self.acts.told.connect(self.told)
        self.keeper = Keeper(runner, self, waiting)
        self.keeper.kept.connect(self._on_kept)
        self.keeper.failing.connect(
            lambda text: self.told.emit(
                f"The store does not answer; your work waits on this machine and is written when it does. ({text})"
            )
        )
        self.keeper.unsigned.connect(lambda text: self.told.emit(f"Your work waits on this machine: {text}."))
        self.keeper.clashed.connect(self.clashed)
        self.keeper.refused.connect(self._on_refused)
        session.edited.connect(self._on_edited)
        self._open_store = open_store

    def begin(self) -> None:
        """Open the store in the background; what was asked meanwhile is done then."""
        self._runner.run(self._load, self._on_open, self._on_not_open)

    def _on_not_open(self, error: YarvelError) -> None:
        if isinstance(error, StoreGoneError):
            self.told.emit(f"The store does not answer; what you do waits on this machine. ({error})")
            QTimer.singleShot(_AGAIN_MS, self.begin)
        else:
            self.told.emit(str(error))

    def _load(self) -> tuple[Any, HouseRules, Any]:
        store = self._open_store()
        from yarvel.exchange import job_file

        job_file.schema()
        return store, _rules_of(store), store.drawer.mark()

    @property
    def ready(self) -> bool:
        """Whether the store is open."""
        return self._store is not None

    def _on_open(self, opened: tuple[Any, HouseRules, Any]) -> None:
        self._store, rules, self._stock_mark = opened
        self._session.set_rules(rules)
        if self._session.docket is None:
            self.ask(lambda store: store.dockets(limit=1), self._on_first)
        self._take_over_waiting()
        self.keeper.begin(self._store.edit)
        self.acts.begin(self._store)
        self.watcher.begin(self._store.location)
        threading.Thread(
            target=_copy,
            args=(self._store.path, self._store.now().date(), self.told.emit),
            daemon=True,
            name="day's copy",
        ).start()
        queued, self._queued = self._queued, []
        for ask in queued:
            ask()
        self.opened.emit()

    def _take_over_waiting(self) -> None:
        """What a window that is gone left on disk is written now, by the same rules."""
        if self._waiting is None:
            return
        left = self._waiting.taken_over()
        for docket_id, edit in left.items():
            if docket_id == NEW:
                self.ask(lambda store: store.new_docket(), partial(self._keep_new, edit))
            else:
                self.keeper.keep(docket_id, edit)
        if left:
            self.told.emit("What was not stored when a window ended is written now.")
        self._waiting.forget()

    def _keep_new(self, edit: DocketEdit, docket: Docket) -> None:
        self.keeper.keep(docket.id, DocketEdit(edit.job_patches, edit.fields))

    @property
    def signed_in(self) -> Any:
        """Who signed in here (a ``workshop.tasks.Person``), or None."""
        return None if self._store is None else self._store.signed_in

    def _on_first(self, found: list[Docket]) -> None:
        if found and self._session.docket is None and not self._adopting:
            self._session.open(found[0])

    def ask(self, question: Callable[[Any], Any], then: Callable[[Any], None]) -> None:
        """Put a question to the store in the background; what fails is told in a line."""
        if self._store is None:
            self._queued.append(lambda: self.ask(question, then))
            return
        store = self._store
        self._runner.run(lambda: question(store), then, lambda error: self.told.emit(str(error)))

    def find(self, words: str, then: Callable[[list[Docket]], None]) -> None:
        """Dockets that hold the words."""
        self.ask(lambda store: store.dockets(words), then)

    def open(self, docket_id: int) -> None:
        """Take another docket in hand."""
        self.ask(lambda store: store.docket(docket_id), self._session.open)

    def take_in(self, item: str = "", job_document: dict[str, Any] | None = None) -> None:
        """Take in a new docket and open it."""
        self.ask(lambda store: store.new_docket(item=item, job_document=job_document), self._session.open)

    def keep_rules(self, rules: HouseRules) -> None:
        """Change the house rules, on the screen at once, in the store behind it; what the store says counts."""
        seen = self._session.rules
        self._session.set_rules(_with_drawer(rules, seen))

        def work(store: Any) -> tuple[HouseRules, str]:
            try:
                return store.keep_rules(rules, seen), ""
            except StoreError as error:
                return store.rules(), str(error)

        def done(kept: tuple[HouseRules, str]) -> None:
            self._session.set_rules(_with_drawer(kept[0], self._session.rules))
            if kept[1]:
                self.told.emit(kept[1])
            else:
                self.kept.emit()

        self.ask(work, done)

    def stock(self, then: Callable[[list[StockItem]], None]) -> None:
        """Everything in the drawer."""
        self.ask(lambda store: store.drawer.items(), then)

    def change_drawer(self, change: Callable[[Any], None], then: Callable[[list[StockItem]], None]) -> None:
        """Change the drawer; ``then`` gets what it holds afterwards. Burs in it count for every seat from now on."""

        def work(store: Any) -> list[StockItem]:
            change(store)
            self._stock_mark = store.drawer.mark()
            held: list[StockItem] = store.drawer.items()
            return held

        def done(held: list[StockItem]) -> None:
            mine = replace(self._session.rules, burs_mm=bur_sizes(held), plate_mm=plate_holes(held))
            if mine != self._session.rules:
                self._session.set_rules(mine)
            then(held)

        self.ask(work, done)

    def finish(self) -> None:
        """Write what is not written yet, then close the store. Blocks for as long as that takes."""
        self.watcher.finish()
        edits = self.keeper.take_all()
        self.acts.close()
        self._runner.finish(lambda: self._write_last(edits))
        if self._waiting is not None:
            self._waiting.close()

    def _write_last(self, edits: dict[int, DocketEdit]) -> None:
        """Write; what cannot be written stays on disk for the next start."""
        try:
            if self._store is None and edits:
                self._store = self._open_store()
            for docket_id, edit in edits.items():
                self._store.edit(docket_id, edit)
            if self._waiting is not None and not self.keeper.waiting and self._store is not None:
                self._waiting.replace({})
        except (YarvelError, OSError) as error:
            self.told.emit(str(error))
        if self._store is not None:
            self._store.close()

    def _on_edited(self, edit: DocketEdit) -> None:
        if self._session.docket is not None:
            self.keeper.keep(self._session.docket.id, edit)
            return
        self.keeper.note(NEW, edit)
        if not self._adopting:
            self._adopting = True
            self.ask(lambda store: store.new_docket(), self._on_adopted)

    def _on_adopted(self, docket: Docket) -> None:
        """Someone typed before there was a docket: now there is one, and what was typed goes into it."""
        self._adopting = False
        self._session.adopt(docket)
        self.keeper.keep(
            docket.id,
            DocketEdit(
                (patch_between(docket.job_document, self._session.document),), {"drafts": dict(self._session.drafts)}
            ),
        )

    def _on_kept(self, docket: Docket) -> None:
        self._take_stored(docket)
        self.kept.emit()

    def _take_stored(self, docket: Docket) -> None:
        """The docket in hand as it is stored now, with what is typed here and not stored yet on top of it."""
        session = self._session
        if session.docket is None or session.docket.id != docket.id or session.docket.version > docket.version:
            return
        session.take_over(docket, self.keeper.unwritten_fields(docket.id))
        if session.document != docket.job_document and not self.keeper.waiting:
            session.follow(docket.job_document)
            self.told.emit("This docket was changed in another window too; both changes are in it now.")

    def _on_changed(self) -> None:
        """Somebody changed something in the store: look at what is on the screen again."""
        docket = self._session.docket
        if self._store is None or self._session.dragging:
            return

        def work(store: Any) -> tuple[Docket | None, Any, HouseRules | None]:
            mark = store.drawer.mark()
            return (
                None if docket is None else store.docket(docket.id),
                mark,
                _rules_of(store) if mark != self._stock_mark else None,
            )

        def done(found: tuple[Docket | None, Any, HouseRules | None]) -> None:
            stored, self._stock_mark, rules = found
            if rules is not None:
                self._session.set_rules(rules)
                self.drawer_changed.emit()
            if stored is not None and not self.keeper.waiting:
                self._take_stored(stored)
            self.changed.emit()

        self._runner.run(lambda: work(self._store), done, lambda _error: None)

    def _on_refused(self, docket_id: int, text: str) -> None:
        """Nothing was written: the screen shows again what is stored."""
        self.told.emit(text)
        if self._session.docket is not None and self._session.docket.id == docket_id:
            self.open(docket_id)


def _copy(path: Path | None, today: date, tell: Callable[[str], None]) -> None:
    """The day's copy of a file, for a thread of its own; of a large one once the first docket is surely in hand."""
    from yarvel.workshop.backup import LARGE_BYTES, nightly

    try:
        if path is not None:
            if path.stat().st_size > LARGE_BYTES:
                time.sleep(_LARGE_COPY_AFTER_S)
            nightly(path, today)
    except (StoreError, OSError) as error:
        with suppress(RuntimeError):  # the window is gone
            tell(f"No copy was made today: {error}")


def _with_drawer(rules: HouseRules, held: HouseRules) -> HouseRules:
    """Rules with the burs and the plate of the drawer, which are not kept among them."""
    return replace(rules, burs_mm=held.burs_mm, plate_mm=held.plate_mm)


def _rules_of(store: Any) -> HouseRules:
    """House rules, with the burs of the workshop's own drawer."""
    rules: HouseRules = store.rules()
    held = store.drawer.items()
    return replace(rules, burs_mm=bur_sizes(held), plate_mm=plate_holes(held))
