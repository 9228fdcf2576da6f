"""Keeping: whatever is on the screen is on disk at once and in the store a moment later. There is no Save."""

from __future__ import annotations

from collections.abc import Callable, Collection

from msgspec import Struct
from msgspec.structs import replace
from PySide6.QtCore import QObject, QTimer, Signal

from yarvel.clock import now
from yarvel.desk.background.runner import Runner
from yarvel.figures.errors import StoreGoneError, YarvelError
from yarvel.planning.job import merge_patch
from yarvel.workshop.dockets.merging import EditClashError, settled
from yarvel.workshop.dockets.records import Docket, DocketEdit, with_fields
from yarvel.workshop.storage.authors import Author
from yarvel.workshop.storage.identity import new_id
from yarvel.workshop.storage.rights import NotSignedInError
from yarvel.workshop.waiting import Key, Refusal, WaitingEdits, gathered, one_edit

DELAY_MS = 200

PAUSE_MS = 700
"""An act that goes on (typing, dragging) is written once it rests this long, or when it is said to be over."""
RETRY_MS = 2000

Write = Callable[[Key, DocketEdit], Docket]
"""Writes an edit in its author's name and by their rights; one of a docket that is not taken in yet takes it in."""
_Edits = tuple[DocketEdit, ...]


class _Outcome(Struct, frozen=True):
    """What became of one edit; None where it was not tried because one before it was not written."""

    key: Key
    edit: DocketEdit
    found: Docket | YarvelError | None

    @property
    def waits(self) -> bool:
        """Whether it may be otherwise later: the store is away, or its author has to sign in again."""
        answer = self.found
        return (
            answer is None
            or isinstance(answer, StoreGoneError)
            or (isinstance(answer, NotSignedInError) and self.edit.author.signed)
        )


class Keeper(QObject):
    """Gathers edits of one act and writes them, each in the name of whoever made it. What the store
    cannot take now waits on disk and is tried again; what clashes with somebody else's change waits for an answer; what
    is refused is told to its author and let go."""

    kept = Signal(object)
    failing = Signal(str)

    unsaved = Signal(str)
    """What was typed is on no disk: why."""
    unsigned = Signal(str)
    clashed = Signal(object)

    refused = Signal(object, object)
    """By the key of a docket what was refused of it."""

    taken_in = Signal(str, object)
    """What waited under this key is a docket by now."""

    def __init__(self, runner: Runner, parent: QObject | None = None, waiting: WaitingEdits | None = None) -> None:
        super().__init__(parent)
        self._runner = runner
        self._write: Write | None = None
        self._on_disk = waiting
        self._pending: dict[Key, _Edits] = {}
        self._writing: dict[Key, _Edits] = {}
        self._asking: dict[Key, tuple[_Edits, EditClashError]] = {}
        self.on_disk = True
        """Whether all that waits is on this machine's disk."""
        self.last_name = ""
        """Under which name the edit that was made last is stored."""

        self._sealed: set[str] = set()
        self._newest: dict[int, Docket] = {}
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._on_due)

    def begin(self, write: Write) -> None:
        """The store is open: write what has gathered, and from now on."""
        self._write = write
        if self._pending:
            self._timer.start(0)

    def keep(self, key: Key, edit: DocketEdit) -> bool:
        """Take an edit to be written soon. While its act goes on it is not written, so that one act is one line of
        history. Returns whether it is on this machine's disk."""
        edit = self._named(key, edit)
        self.last_name = edit.id
        on_disk = self._note(key, edit)
        self._pending[key] = gathered(self._pending.get(key, ()), edit)
        if edit.act:
            self._timer.start(PAUSE_MS)
        elif not self._timer.isActive():
            self._timer.start(DELAY_MS)
        return on_disk

    def act_over(self) -> None:
        """The act in hand is over: what was made of it is written now."""
        if self._timer.isActive() and self._timer.interval() == PAUSE_MS:
            self._timer.start(0)

    def _named(self, key: Key, edit: DocketEdit) -> DocketEdit:
        """The edit with the name that the store will know it by: that of the one that it is a part of, until that is
        tried for the first time. Then it is sealed: its answer may be lost, and under its name nothing else may
        come."""
        if edit.id:  # of a window that is gone: it may have been tried there
            self._sealed.add(edit.id)
            return edit
        before = (*self._writing.get(key, ()), *self._pending.get(key, ()))
        last = before[-1] if before else None
        pressed = edit.pressed or now()
        if last is None:
            return replace(edit, id=key if isinstance(key, str) else new_id(), pressed=pressed)
        open_still = last.id not in self._sealed
        if open_still and ((last.id == key and last.author == edit.author) or one_edit(last, edit)):
            return replace(edit, id=last.id, follows=last.follows, pressed=last.pressed)
        return replace(edit, id=new_id(), follows=edit.follows or last.id, pressed=pressed)

    def _note(self, key: Key, edit: DocketEdit) -> bool:
        if self._on_disk is None:
            return True
        try:
            self._on_disk.add(key, edit)
        except OSError as error:
            self.on_disk = False
            self.unsaved.emit(error.strerror or str(error))
            return False
        return True

    def wait_in(self, waiting: WaitingEdits) -> None:
        """What is not stored waits in another place from now on (OSError: it still waits where it did)."""
        waiting.replace(self._waiting())
        old, self._on_disk = self._on_disk, waiting
        if old is not None:
            old.replace({})
            old.close()

    @property
    def waiting(self) -> bool:
        """Whether anything is not in the store yet."""
        return bool(self._pending or self._writing or self._asking)

    def laid_over(self, docket: Docket) -> Docket:
        """A docket as the store told it last, with what was changed here and is not in it yet (asked over, being
        written, waiting) on top of it: what the screen shows, wherever it was read. What was read before something was
        written never takes its place."""
        newest = self._newest.get(docket.id)
        if newest is None or newest.version < docket.version:
            self._newest[docket.id] = newest = docket
        asked, _ = self._asking.get(docket.id, ((), None))
        edits = (*asked, *self._writing.get(docket.id, ()), *self._pending.get(docket.id, ()))
        document = newest.job_document
        for patch in (patch for edit in edits for patch in edit.job_patches):
            document = merge_patch(document, patch)
        fields = {name: value for edit in edits for name, value in edit.fields.items()}
        if "ticks" in fields:
            fields["ticks"] = tuple(fields["ticks"])
        return with_fields(newest, {**fields, "job_document": document}) if edits else newest

    def settle(self, docket_id: int, keep_theirs: Collection[str]) -> None:
        """Somebody has said which of the clashing fields stay as stored: the rest is written."""
        if docket_id not in self._asking:
            return
        edits, error = self._asking.pop(docket_id)
        answer = settled(error.docket, edits[0], keep_theirs)
        first = replace(answer, author=edits[0].author, id=new_id(), follows=edits[0].id, pressed=now())
        edits_left: _Edits = ()
        for edit in (first, *edits[1:], *self._pending.pop(docket_id, ())):
            edits_left = gathered(edits_left, edit)
        self._pending[docket_id] = edits_left
        self._write_down()
        self._timer.start(0)

    def take_all(self) -> list[tuple[Key, DocketEdit]]:
        """Everything that is not yet known to be in the store, to be written on closing. What clashes stays on disk,
        and is asked about at the next start."""
        self._timer.stop()
        taken = [(docket_id, edit) for docket_id, edits in self._writing.items() for edit in edits]
        taken += [
            (docket_id, edit)
            for docket_id, edits in self._pending.items()
            if docket_id not in self._asking
            for edit in edits
        ]
        self._pending, self._writing = {}, {}
        return taken

    def signed(self, author: Author) -> None:
        """Somebody has signed in: what they made earlier and could not be stored is tried again."""
        for docket_id, edits in self._pending.items():
            self._pending[docket_id] = tuple(
                replace(edit, author=author) if edit.author == author else edit for edit in edits
            )
        if self._pending:
            self._timer.start(0)

    def _on_due(self) -> None:
        write = self._write
        if write is None or self._writing:
            if write is not None and self._pending:
                self._timer.start(DELAY_MS)
            return
        # what clashes waits for its answer: later edits of that docket would be written on top of the question
        self._writing = {key: edits for key, edits in self._pending.items() if key not in self._asking}
        self._pending = {key: edits for key, edits in self._pending.items() if key in self._asking}
        writing = dict(self._writing)
        self._sealed.update(edit.id for edits in writing.values() for edit in edits)
        if writing:
            self._runner.run(
                lambda: [outcome for key, edits in writing.items() for outcome in _tried(write, key, edits)],
                self._on_written,
            )

    def _on_written(self, outcomes: list[_Outcome]) -> None:
        # in order, docket by docket: behind one that waits or clashes nothing of that docket was tried
        self._writing = {}
        clashing = {outcome.key for outcome in outcomes if isinstance(outcome.found, EditClashError)}
        behind: dict[Key, _Edits] = {}
        for outcome in outcomes:
            if isinstance(outcome.found, EditClashError):
                self._asking[outcome.key] = (outcome.edit,), outcome.found
            elif outcome.waits and outcome.key in clashing:
                edits, error = self._asking[outcome.key]
                self._asking[outcome.key] = (*edits, outcome.edit), error
            elif outcome.waits:
                behind[outcome.key] = (*behind.get(outcome.key, ()), outcome.edit)
            else:
                self._sealed.discard(outcome.edit.id)
        for key, edits in behind.items():
            edits_left = edits
            for edit in self._pending.get(key, ()):
                edits_left = gathered(edits_left, edit)
            self._pending[key] = edits_left
        told = self._taken_in(outcomes)
        self._write_down()
        for key, docket in told:
            self.taken_in.emit(key, docket)
        self._tell(outcomes)

    def _taken_in(self, outcomes: list[_Outcome]) -> list[tuple[str, Docket]]:
        """Dockets that have a number by now: what waits for them waits under it."""
        there: dict[str, Docket] = {}
        for outcome in outcomes:
            if isinstance(outcome.key, str) and isinstance(outcome.found, Docket):
                there[outcome.key] = outcome.found
        for key, docket in there.items():
            if key in self._pending:
                self._pending[docket.id] = self._pending.pop(key)
            if key in self._asking:
                self._asking[docket.id] = self._asking.pop(key)
        return [(key, self.laid_over(docket)) for key, docket in there.items()]

    def _tell(self, outcomes: list[_Outcome]) -> None:
        gone = [str(outcome.found) for outcome in outcomes if isinstance(outcome.found, StoreGoneError)]
        # of acts of one docket written together only the last is told: in those before it, what follows is missing
        last = {outcome.key: outcome for outcome in outcomes if isinstance(outcome.found, Docket)}
        for outcome in outcomes:
            answer = outcome.found
            if isinstance(answer, Docket):
                if outcome is last[outcome.key]:
                    self.kept.emit(answer)
            elif isinstance(answer, EditClashError):
                self.clashed.emit(answer)
            elif isinstance(answer, NotSignedInError) and outcome.waits:
                self.unsigned.emit(str(answer))
            elif answer is not None and not outcome.waits:
                text = self._put_aside(outcome.key, outcome.edit, str(answer))
                self._write_down()  # neither it nor what was built on it comes again
                self.refused.emit(outcome.key, Refusal(text, outcome.edit.author))
        if gone:
            self.failing.emit(gone[0])
            self._timer.start(RETRY_MS)

    def try_again(self) -> None:
        """Something is otherwise: what waits is tried now."""
        if self._pending:
            self._timer.start(0)

    def _put_aside(self, key: Key, edit: DocketEdit, why: str) -> str:
        """What is refused, and what its author built on it, is kept for people to read; returns what to tell them."""
        later = self._pending.pop(key, ())
        built_on = later if isinstance(key, str) else later[:1] if later and later[0].author == edit.author else ()
        for part in built_on:
            edit = edit.then(part)
        if rest := later[len(built_on) :]:
            self._pending[key] = rest
        if self._on_disk is None:
            return why
        try:
            path = self._on_disk.put_aside(key, edit, why)
        except OSError:
            return why
        if isinstance(key, str):
            return f"{why}. What was typed stays on this machine: whoever may finds it under “Typed and not taken in”."
        return f"{why} (what was refused is kept in {path})"

    def _waiting(self) -> dict[Key, _Edits]:
        waiting = {key: edits for key, (edits, _) in self._asking.items()}
        for edits_by_docket in (self._writing, self._pending):
            for key, edits in edits_by_docket.items():
                waiting[key] = (*waiting.get(key, ()), *edits)
        return waiting

    def _write_down(self) -> None:
        """Only what is not stored waits on disk from now on."""
        if self._on_disk is None:
            return
        try:
            self._on_disk.replace(self._waiting())
            self.on_disk = True
        except OSError as error:  # those that waited still do, and a few that are stored beside them
            self.unsaved.emit(error.strerror or str(error))


def _tried(write: Write, key: Key, edits: _Edits) -> list[_Outcome]:
    """Each in its turn; behind one that waits or clashes nothing more is tried, nor behind a docket that was not taken
    in."""
    outcomes: list[_Outcome] = []
    held_up, target = False, key
    for edit in edits:
        outcome = _Outcome(key, edit, None if held_up else _one(write, target, edit))
        if isinstance(outcome.found, Docket):
            target = outcome.found.id
        held_up = held_up or outcome.waits or isinstance(outcome.found, EditClashError) or isinstance(target, str)
        outcomes.append(outcome)
    return outcomes


def _one(write: Write, key: Key, edit: DocketEdit) -> Docket | YarvelError:
    try:
        return write(key, edit)
    except YarvelError as error:
        return error
