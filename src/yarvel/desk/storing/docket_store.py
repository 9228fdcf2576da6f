"""Between session and store: opening, taking in, keeping, finding; all of it off the GUI thread."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, TypeVar

from msgspec.structs import replace
from PySide6.QtCore import QObject, Signal

from yarvel.desk.background.runner import Runner
from yarvel.desk.session.session import Session
from yarvel.desk.storing.act_keeper import ActKeeper
from yarvel.desk.storing.keeper import Keeper
from yarvel.desk.storing.new_docket import NewDocket
from yarvel.desk.storing.presses import Presses
from yarvel.desk.storing.rules_keeper import RulesKeeper
from yarvel.desk.storing.store_gateway import SHUT, OpenStore, StoreGateway
from yarvel.desk.storing.watcher import Watcher
from yarvel.figures.errors import YarvelError
from yarvel.figures.rules import HouseRules
from yarvel.planning.documents import Document
from yarvel.workshop.acts import UNSAVED, Deed, OfDrawer
from yarvel.workshop.dockets.records import Docket, DocketEdit
from yarvel.workshop.storage.authors import NOBODY, Author
from yarvel.workshop.storage.rights import TAKE_IN
from yarvel.workshop.waiting import Draft, Key, Refusal, Refusals, WaitingActs, WaitingEdits

if TYPE_CHECKING:
    from yarvel.workshop.store import Store

T = TypeVar("T")


class DocketStore(QObject):
    """One store, one session."""

    told = Signal(str)
    kept = Signal()
    waits = Signal()
    opened = Signal()
    changed = Signal()
    drawer_changed = Signal()
    put_aside = Signal(int)
    clashed = Signal(object)

    def __init__(
        self,
        session: Session,
        runner: Runner,
        open_store: OpenStore,
        author: Author = NOBODY,
        locked: bool = False,
        waiting: WaitingEdits | None = None,
        waiting_acts: WaitingActs | None = None,
    ) -> None:
        super().__init__()
        self._session = session
        self._waiting = waiting
        self._refusals = None if waiting is None else Refusals(waiting.folder)
        self.gateway = StoreGateway(runner, open_store, author, locked)
        self.gateway.told.connect(self.told)
        self.watcher = Watcher(self)
        self.watcher.changed.connect(self._on_changed)
        self.acts = ActKeeper(runner, self, waiting_acts)
        self.acts.author = lambda: self.gateway.author
        self.acts.shut = lambda: SHUT if self.gateway.locked else ""
        self.acts.told.connect(self.told)
        self.acts.refused.connect(self._on_refusal)
        self.acts.done.connect(partial(_tell_of_drawer, self))
        self.keeper = Keeper(runner, self, waiting)
        self.keeper.kept.connect(self._on_kept)
        self.keeper.failing.connect(self._on_failing)
        self.keeper.unsaved.connect(lambda why: self.told.emit(UNSAVED.format(why=why)))
        self.keeper.unsigned.connect(lambda text: self.told.emit(f"Your work waits on this machine: {text}."))
        self.keeper.clashed.connect(self.clashed)
        self.keeper.refused.connect(self._on_refused)
        self.new_docket = NewDocket(session, self.keeper)
        self.presses = Presses(lambda: self.gateway.author)
        self.rules = RulesKeeper(session, self.ask)
        self.rules.told.connect(self.told)
        self.rules.kept.connect(self.kept)
        session.edited.connect(self._on_edited)
        session.act_over.connect(self.keeper.act_over)

    def begin(self) -> None:
        """Open the store in the background; what was asked meanwhile is done then."""
        self.gateway.begin(self._load, self._on_open)

    def _load(self, store: Store) -> tuple[HouseRules, str, int, list[str]]:
        from yarvel.exchange import job_file
        from yarvel.workshop.metal.seals_seen import note_seals

        job_file.warm()
        house, store_id = store.house, store.house.identity()
        note_seals(store, store_id)
        return self.rules.load(store), store_id, house.put_aside_count(), house.unreadable_rules()

    @property
    def ready(self) -> bool:
        """Whether the store is open."""
        return self.gateway.store is not None

    def _on_open(self, opened: tuple[HouseRules, str, int, list[str]]) -> None:
        rules, store_id, aside, unread = opened
        store = self.gateway.store
        assert store is not None
        self._session.set_rules(rules)
        if self._session.docket is None and not self.gateway.locked:
            self.ask(lambda store: store.dockets(limit=1), self._on_first)
        if self._waiting is not None:
            self._waiting.store_id = store_id
        if self._waiting is not None and self._refusals is not None:
            _take_over_waiting(self, self._waiting, self._refusals)
        self._work_on(store)
        self.gateway.copy_for_today()
        self.put_aside.emit(aside)
        if unread:
            self.told.emit(
                f"House rules that cannot be read ({', '.join(unread)}): the usual ones count instead, until a lead "
                "has looked at them under “House rules”."
            )
        self.opened.emit()

    def _work_on(self, store: Store) -> None:
        """Write what waits into this store, and watch it."""
        self.keeper.begin(partial(_written, store))
        self.acts.begin(store)
        self.watcher.begin(store.location)

    def be(self, author: Author) -> None:
        """Somebody signed in, or nobody needs to: what they made earlier is tried again, what was refused is told."""
        self.gateway.unlock(author)
        self.keeper.signed(author)
        self.acts.signed(author)
        if self._session.docket is None:
            self.ask(lambda store: store.dockets(limit=1), self._on_first)
        for text in [] if self._refusals is None else self._refusals.of(author):
            self.told.emit(f"Of what you did here earlier: {text}")

    def _on_first(self, found: list[Docket]) -> None:
        if found and self._session.docket is None and not self._session.is_new and not self.new_docket.awaited:
            self.new_docket.open(found[0])

    def ask(self, question: Callable[[Store], T], then: Callable[[T], None]) -> bool:
        """Put a question to the store in the background; what fails is told in a line. Whether it is asked."""
        return self.gateway.ask(question, then)

    def open(self, docket_id: int) -> None:
        """Take another docket in hand."""
        self.ask(lambda store: store.docket(docket_id), self.new_docket.open)

    def take_in(self, item: str = "", job_document: Document | None = None) -> None:
        """Take in a new docket and open it; an empty one gets its number with the first thing typed. Who may not is
        told before they have typed anything."""
        if not item and job_document is None:
            self.new_docket.begin()
            if self.ready and not self.gateway.locked:
                author = self.gateway.author
                self.ask(lambda store: store.acting(author).refusal(TAKE_IN), partial(_tell, self))
            return
        self.ask(lambda store: store.new_docket(item=item, job_document=job_document), self.new_docket.open)

    def save_elsewhere(self, target: Path) -> None:
        """Everything that is stored, and what waits, into a new file; this window goes on with that one."""

        def work(store: Store) -> Store:
            from yarvel.workshop.store import Store as NewStore

            store.save_elsewhere(target)
            return NewStore(target, by=store.by)

        def done(store: Store) -> None:
            edits = WaitingEdits(store.location.waiting_folder)
            edits.store_id = "" if self._waiting is None else self._waiting.store_id
            try:
                self.keeper.wait_in(edits)
                self.acts.go_on_with(store, WaitingActs(store.location.waiting_folder))
            except OSError as error:
                self.told.emit(f"{target}: {error.strerror or error}: a folder that can be written to")
                return
            self._waiting = edits
            self.watcher.finish()
            self.gateway.change_store(store)
            self._work_on(store)
            self.told.emit(
                f"This window works on {target} from now on. To open it next time: yarvel use-store {target}"
            )

        self.gateway.ask(work, done)

    def finish(self) -> None:
        """Write what is not written yet, then close the store; no longer than a few seconds."""
        self.watcher.finish()
        edits = self.keeper.take_all()
        self.acts.close()
        self.gateway.finish(lambda: _write_last(self, edits, self._waiting))
        if self._waiting is not None:
            self._waiting.close()
        if self._refusals is not None:
            self._refusals.close()

    def _on_edited(self, edit: DocketEdit) -> None:
        if self.gateway.locked:
            self.told.emit(SHUT)
            return
        edit = replace(edit, author=self.gateway.author)
        if self._session.docket is not None:
            self.keeper.keep(self._session.docket.id, edit)
        else:
            self.new_docket.take(edit)
        self._session.last_act = self.keeper.last_name

    def _on_kept(self, docket: Docket) -> None:
        self._take_stored(docket)
        if not self.keeper.waiting:
            self.kept.emit()

    def _on_failing(self, text: str) -> None:
        if self.keeper.on_disk:
            self.waits.emit()
        self.gateway.look_where()
        if not self.gateway.is_moved and self.keeper.on_disk:  # which have their own notices
            self.told.emit(
                f"The store does not answer; your work waits on this machine and is written when it does. ({text})"
            )

    def _take_stored(self, docket: Docket) -> None:
        """The docket in hand as it is stored now, with what is typed here and not stored yet on top of it."""
        session = self._session
        if session.docket is None or session.docket.id != docket.id or session.docket.version > docket.version:
            return
        docket = self.keeper.laid_over(docket)
        session.take_over(docket)
        if session.document != docket.job_document:
            session.follow(docket.job_document)
            self.told.emit("This docket was changed in another window too; both changes are in it now.")

    def _on_changed(self) -> None:
        """Somebody changed something in the store: look at what is on the screen again."""
        docket = self._session.docket
        self.gateway.look_where()
        store = self.gateway.store
        if store is None or self._session.dragging or self.gateway.is_moved or self.gateway.locked:
            return

        def work(store: Store) -> tuple[Docket | None, HouseRules | None]:
            return None if docket is None else store.docket(docket.id), self.rules.changed(store)

        def done(found: tuple[Docket | None, HouseRules | None]) -> None:
            stored, rules = found
            if rules is not None:
                self._session.set_rules(rules)
                self.drawer_changed.emit()
            if stored is not None:
                self._take_stored(stored)
            self.changed.emit()

        self.gateway.follow(work, done)

    def _on_refused(self, key: Key, refusal: Refusal) -> None:
        """Nothing was written: the screen shows again what is stored."""
        self._on_refusal(refusal)
        if key == self.new_docket.key:
            self.new_docket.begin()
        elif self._session.docket is not None and self._session.docket.id == key and not self.gateway.locked:
            self.open(self._session.docket.id)

    def _on_refusal(self, refusal: Refusal) -> None:
        """Told at once to whoever is here, where it is theirs; else when they come."""
        if self._refusals is None or not refusal.author.signed or refusal.author == self.gateway.author:
            self.told.emit(refusal.text)
            return
        try:
            self._refusals.add(refusal)
        except OSError:
            self.told.emit(f"{refusal.author.name}: {refusal.text}")


def drafts_at(dockets: DocketStore) -> list[Draft]:
    """Dockets that were typed at this machine and refused to whoever did, taken in since or not."""
    return [] if dockets._waiting is None else dockets._waiting.drafts()


def _show_what_waits(dockets: DocketStore) -> None:
    """The docket in hand with what waits for it on top, also while the store takes nothing."""
    session = dockets._session
    if session.docket is not None:
        shown = dockets.keeper.laid_over(session.docket)
        session.take_over(shown)
        session.follow(shown.job_document)


def _tell(dockets: DocketStore, text: str) -> None:
    if text:
        dockets.told.emit(text)


def _tell_of_drawer(dockets: DocketStore, deed: Deed) -> None:
    """Told by itself: what is taken and put back faster than the watcher looks leaves the store as it knew it."""
    if isinstance(deed, OfDrawer):
        dockets.drawer_changed.emit()


def _written(store: Store, key: Key, edit: DocketEdit) -> Docket:
    mine = store.acting(edit.author)
    return mine.take_in(edit) if isinstance(key, str) else mine.edit(key, edit)


def _write_last(dockets: DocketStore, edits: list[tuple[Key, DocketEdit]], waiting: WaitingEdits | None) -> None:
    """Write; what cannot be written stays on disk for the next start."""
    store = dockets.gateway.store
    if store is None:
        return
    try:
        numbers: dict[Key, Key] = {}
        for key, edit in edits:
            numbers[key] = _written(store, numbers.get(key, key), edit).id
        if waiting is not None and not dockets.keeper.waiting:
            waiting.replace({})
    except (YarvelError, OSError) as error:
        dockets.told.emit(str(error))


def _take_over_waiting(dockets: DocketStore, waiting: WaitingEdits, refusals: Refusals) -> None:
    """What a window that is gone left on disk is written now, by the same rules and in the same names."""
    left = waiting.taken_over()
    refusals.take_over()
    on_disk = [dockets.keeper.keep(key, edit) for key, edits in left.items() for edit in edits]
    if left:
        dockets.told.emit("What was not stored when a window ended is written now.")
    _show_what_waits(dockets)
    for line in waiting.spoiled:
        dockets.told.emit(line)
    if all(on_disk):  # else they stay where they lie, and are known by their names when they come again
        waiting.forget()
