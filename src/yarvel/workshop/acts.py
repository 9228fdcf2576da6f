"""Acts that record when they happened: on tasks and in the fine book. Each can be done again without happening twice,
so that one whose answer was lost, or that waited for a server, is simply done again."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from typing import TYPE_CHECKING, Any, ClassVar, get_args

from msgspec import Struct, to_builtins
from msgspec.structs import replace

from yarvel.figures.errors import DoneAlreadyError, StoreError
from yarvel.workshop.dockets.records import DocketEdit
from yarvel.workshop.drawer.stock import NAMES, StockItem
from yarvel.workshop.people.customers import customer_from
from yarvel.workshop.storage.authors import NOBODY, Author, author_from
from yarvel.workshop.storage.identity import Stamp, digest_of
from yarvel.workshop.work.tasks import Standing, Wanted, standing_from

if TYPE_CHECKING:
    from yarvel.workshop.store import Store

WAITS = "waits on this machine"
"""What somebody is told whose act is not done yet."""
IN_WINDOW = "waits in this window alone"
"""What somebody is told whose act is neither done nor on any disk."""
UNSAVED = (
    "What you do is in this window alone: this machine's disk does not take it ({why}). Make room, and leave the "
    "window open until it is stored."
)


class StartTask(Struct, frozen=True):
    """Somebody takes a task in hand."""

    KEY: ClassVar = "start-task"
    NAME: ClassVar = "start a task"
    task_id: int
    person_id: int

    def do(self, store: Store, at: datetime) -> object:
        """Do it (StoreError where it cannot be)."""
        return store.tasks.start(self.task_id, self.person_id, at)


class StopTask(Struct, frozen=True):
    """Somebody lays a task down, finished or not."""

    KEY: ClassVar = "stop-task"
    NAME: ClassVar = "stop a task"
    task_id: int
    done: bool = False
    note: str = ""

    def do(self, store: Store, at: datetime) -> object:
        """Do it (StoreError where it cannot be)."""
        return store.tasks.stop(self.task_id, self.done, self.note, at)


class GiveTask(Struct, frozen=True):
    """A task goes to somebody else, or to nobody."""

    KEY: ClassVar = "give-task"
    NAME: ClassVar = "hand a task on"
    task_id: int
    person_id: int | None
    note: str = ""

    def do(self, store: Store, at: datetime) -> object:
        """Do it (StoreError where it cannot be)."""
        return store.tasks.give(self.task_id, self.person_id, self.note, at)


class DropTask(Struct, frozen=True):
    """A task is wanted no more."""

    KEY: ClassVar = "drop-task"
    NAME: ClassVar = "drop a task"
    task_id: int
    note: str = ""

    def do(self, store: Store, at: datetime) -> object:
        """Do it (StoreError where it cannot be)."""
        store.tasks.drop(self.task_id, self.note, at)
        return None


class CorrectMinutes(Struct, frozen=True):
    """What a task really took up to now, with the reason: a clock was forgotten, or nobody started one."""

    KEY: ClassVar = "correct-minutes"
    NAME: ClassVar = "correct the minutes"
    task_id: int
    minutes: float
    why: str

    def do(self, store: Store, at: datetime) -> object:
        """Do it (StoreError where it cannot be)."""
        store.tasks.minutes.correct(self.task_id, self.minutes, self.why, at)
        return None


class TickLine(Struct, frozen=True):
    """A line of a task's step is ticked off, or not any more."""

    KEY: ClassVar = "tick-line"
    NAME: ClassVar = "tick a line"
    task_id: int
    line: str
    ticked: bool

    def do(self, store: Store, _at: datetime) -> object:
        """Do it (StoreError where it cannot be)."""
        return store.tasks.tick(self.task_id, self.line, self.ticked)


class WeighMetal(Struct, frozen=True, kw_only=True):
    """A line of the fine book."""

    KEY: ClassVar = "weigh-metal"
    NAME: ClassVar = "weigh metal"
    kind: str
    alloy: str
    mass_g: float
    person_id: int | None = None
    docket_number: str = ""
    note: str = ""

    def do(self, store: Store, at: datetime) -> object:
        """Do it (StoreError where it cannot be)."""
        return store.fine.add(self.kind, self.alloy, self.mass_g, self.person_id, self.docket_number, self.note, at)


class ReverseLine(Struct, frozen=True):
    """A mistyped line of the fine book is taken back by a line."""

    KEY: ClassVar = "reverse-line"
    NAME: ClassVar = "take a line back"
    entry_id: int
    why: str = ""

    def do(self, store: Store, at: datetime) -> object:
        """Do it (StoreError where it cannot be)."""
        return store.fine.reverse(self.entry_id, self.why, at)


class PlanTasks(Struct, frozen=True):
    """A docket's tasks become these, with their standard minutes."""

    KEY: ClassVar = "plan-tasks"
    NAME: ClassVar = "make tasks"
    docket_id: int
    operations: tuple[Wanted, ...]

    def do(self, store: Store, _at: datetime) -> object:
        """Do it (StoreError where it cannot be)."""
        return store.tasks.plan_tasks(self.docket_id, [Wanted(*operation) for operation in self.operations])


class TickCheck(Struct, frozen=True):
    """A check of a docket is ticked off, or not any more."""

    KEY: ClassVar = "tick-check"
    NAME: ClassVar = "tick a check"
    docket_id: int
    line: str
    ticked: bool

    def do(self, store: Store, _at: datetime) -> object:
        """Do it (StoreError where it cannot be)."""
        seen = list(store.docket(self.docket_id).ticks)
        wanted = [*(tick for tick in seen if tick != self.line), *([self.line] if self.ticked else [])]
        return store.edit(
            self.docket_id,
            DocketEdit(job_patches=(), fields={"ticks": wanted}, job_seen=(), fields_seen={"ticks": seen}),
        )


class PinTask(Struct, frozen=True):
    """A task is set to somebody and to when it begins (ISO text, UTC; None: whenever the plan has it), ``seen`` being
    who had it and when it was to begin, as the board showed it."""

    KEY: ClassVar = "pin-task"
    NAME: ClassVar = "pin a task"
    task_id: int
    person_id: int | None
    begins: str | None = None
    seen: tuple[str, str | None] | None = None

    def do(self, store: Store, at: datetime) -> object:
        """Do it (StoreError where it cannot be)."""
        store.day.pin(self.task_id, self.person_id, self.begins, at, self.seen)
        return None


class TakeStock(Struct, frozen=True):
    """Something is taken from the drawer for a docket, or put back (``count`` negative)."""

    KEY: ClassVar = "take-stock"
    NAME: ClassVar = "take from the drawer"
    item_id: int
    docket_id: int
    count: int = 1

    def do(self, store: Store, at: datetime) -> object:
        """Do it (StoreError where it cannot be)."""
        store.drawer.take(self.item_id, self.docket_id, self.count, at)
        return None


class TakeLot(Struct, frozen=True):
    """So much of a lot is taken for a docket by somebody, or put back (``mass_g`` negative)."""

    KEY: ClassVar = "take-lot"
    NAME: ClassVar = "take from a lot"
    item_id: int
    docket_id: int
    mass_g: float
    length_mm: float | None
    person_id: int | None

    def do(self, store: Store, at: datetime) -> object:
        """Do it (StoreError where it cannot be)."""
        store.drawer.take_lot(self.item_id, self.docket_id, self.mass_g, self.length_mm, self.person_id, at)
        return None


class GiveBack(Struct, frozen=True):
    """An offcut of a docket becomes a lot; ``lot`` its measures by the drawer's names."""

    KEY: ClassVar = "give-back"
    NAME: ClassVar = "give metal back"
    lot: dict[str, Any]
    docket_id: int
    person_id: int | None

    def do(self, store: Store, at: datetime) -> object:
        """Do it (StoreError where it cannot be)."""
        known = {name: value for name, value in self.lot.items() if name in NAMES}
        store.drawer.give_back(StockItem(**known), self.docket_id, self.person_id, at)
        return None


class PutCustomers(Struct, frozen=True):
    """Records of customers become these, ``seen`` being how each was (none: it is new)."""

    KEY: ClassVar = "put-customers"
    NAME: ClassVar = "change a customer"
    records: tuple[dict[str, Any], ...]
    seen: tuple[dict[str, Any] | None, ...]

    def do(self, store: Store, at: datetime) -> object:
        """Do it (StoreError where it cannot be)."""
        before = [None if record is None else customer_from(record) for record in self.seen]
        store.customers.put([customer_from(record) for record in self.records], before, at)
        return None

    @property
    def back(self) -> PutCustomers:
        """What takes it back: each as it was; what was new is gone again."""
        was = tuple(
            {**record, "gone": True} if record_seen is None else record_seen
            for record, record_seen in zip(self.records, self.seen, strict=True)
        )
        return PutCustomers(was, self.records)


class PutTasks(Struct, frozen=True):
    """Tasks stand again as they did, ``seen`` being how they were left: an act taken back, or done again."""

    KEY: ClassVar = "put-tasks"
    NAME: ClassVar = "put tasks back"
    to: tuple[Standing, ...]
    seen: tuple[Standing, ...]
    why: str

    def do(self, store: Store, at: datetime) -> object:
        """Do it (StoreError where it cannot be)."""
        to, seen = (tuple(standing_from(standing) for standing in side) for side in (self.to, self.seen))
        store.tasks.put_back(to, seen, self.why, at)
        return None


class SendOut(Struct, frozen=True):
    """After a task its docket is sent out: a task more, by its key; to an outworker, who does the task itself, in its
    place."""

    KEY: ClassVar = "send-out"
    NAME: ClassVar = "send it out"
    task_id: int
    docket_id: int
    operation: str
    note: str = ""

    more: tuple[int, ...] = ()
    """Further tasks of the docket that are done there with it."""

    def do(self, store: Store, at: datetime) -> object:
        """Do it (StoreError where it cannot be)."""
        store.day.errands.send(self.task_id, self.operation, self.note, at, self.more)
        return None


class DoHere(Struct, frozen=True):
    """What an outworker was to do is done here after all."""

    KEY: ClassVar = "do-here"
    NAME: ClassVar = "do it here after all"
    task_id: int
    docket_id: int

    def do(self, store: Store, at: datetime) -> object:
        """Do it (StoreError where it cannot be)."""
        store.day.errands.do_here(self.task_id, at)
        return None


class JoinTasks(Struct, frozen=True):
    """Tasks of several dockets are done together, or (``apart``) each by itself again."""

    KEY: ClassVar = "join-tasks"
    NAME: ClassVar = "do together"
    task_ids: tuple[int, ...]
    apart: bool = False

    def do(self, store: Store, at: datetime) -> object:
        """Do it (StoreError where it cannot be)."""
        store.day.join(self.task_ids, self.apart, at)
        return None


OfTask = StartTask | StopTask | GiveTask | DropTask | CorrectMinutes | TickLine | PlanTasks | PinTask | SendOut | DoHere
"""Deeds that change how tasks stand."""
OfDrawer = TakeStock | TakeLot | GiveBack
"""Deeds that change what the drawer holds."""
Deed = OfTask | OfDrawer | JoinTasks | WeighMetal | ReverseLine | TickCheck | PutTasks | PutCustomers
DEEDS: dict[str, type[Deed]] = {deed.KEY: deed for deed in get_args(Deed)}

_FORMER = {"task": "task_id", "person": "person_id", "mass": "mass_g", "docket": "docket_number"}
"""How arguments were called in what waited up to Yarvel 0.1."""


class Act(Struct, frozen=True):
    """One act: what, when (UTC), who did it, the name that it has from the moment when the key was pressed, and the
    name of the act that it takes back or does again."""

    deed: Deed
    at: datetime
    author: Author = NOBODY
    id: str = ""
    follows: str = ""

    @property
    def name(self) -> str:
        """What it is, in words."""
        return self.deed.NAME

    def document(self) -> dict[str, Any]:
        """As it is written down while it waits."""
        return {
            "deed": self.deed.KEY,
            "at": self.at.isoformat(),
            "author": self.author.document(),
            "act": self.id,
            "follows": self.follows,
            **to_builtins(self.deed),
        }

    def stamp(self) -> Stamp | None:
        """What it is written down as; None where it has no name."""
        if not self.id:
            return None
        content = digest_of({"at": self.at.isoformat(), **to_builtins(self.deed)})
        return Stamp(id=self.id, deed=self.deed.KEY, digest=content, pressed=self.at, follows=self.follows)


def act_from(held: Mapping[str, Any]) -> Act:
    """An act as written down, by this Yarvel or an earlier one.

    Raises
    ------
    StoreError : it is no act, or not whole.
    """
    former = {deed.NAME: key for key, deed in DEEDS.items()}
    key = str(held.get("deed", former.get(str(held.get("name", "")), held.get("name", ""))))
    deed = DEEDS.get(key)
    if deed is None:
        raise StoreError(f"{key}: is no act: one of {', '.join(DEEDS)}")
    said = held.get("arguments", held)
    try:
        fields = {_FORMER.get(name, name): value for name, value in said.items()}
        for name in ("deed", "at", "author", "act", "follows"):
            fields.pop(name, None)
        author = author_from(held["author"]) if "author" in held else Author(str(held.get("by", "")))
        names = str(held.get("act", "")), str(held.get("follows", ""))
        return Act(deed(**fields), datetime.fromisoformat(held["at"]), author, *names)
    except (TypeError, ValueError, KeyError, AttributeError) as error:
        raise StoreError(f"{key}: is not whole ({error}): an act as Yarvel writes it down") from error


class Reversal(Struct, frozen=True):
    """What takes an act back, and what does it again after that."""

    back: Deed
    again: Deed


def do(store: Store, act: Act) -> Reversal | None:
    """Do an act in its author's name and by its author's rights; doing it again changes nothing more. Returns how it
    can be taken back: None for a line of the fine book, which is reversed by another line, and for what was done
    before, its answer lost.

    Raises
    ------
    StoreError : it cannot be done any more, or its author may not.
    """
    try:
        return _done(store.acting(act.author, act.stamp()), act)
    except DoneAlreadyError:
        return None


def _done(mine: Store, act: Act) -> Reversal | None:
    deed = act.deed
    if isinstance(deed, TickCheck):
        deed.do(mine, act.at)
        return Reversal(replace(deed, ticked=not deed.ticked), deed)
    if isinstance(deed, JoinTasks):
        deed.do(mine, act.at)
        return Reversal(replace(deed, apart=not deed.apart), deed)
    if isinstance(deed, TakeStock):
        deed.do(mine, act.at)
        return Reversal(replace(deed, count=-deed.count), deed)
    if isinstance(deed, TakeLot):
        deed.do(mine, act.at)
        length = None if deed.length_mm is None else -deed.length_mm
        return Reversal(replace(deed, mass_g=-deed.mass_g, length_mm=length), deed)
    if isinstance(deed, WeighMetal | ReverseLine | GiveBack | PutTasks):
        deed.do(mine, act.at)
        return None
    if isinstance(deed, PutCustomers):
        deed.do(mine, act.at)
        return Reversal(deed.back, deed.back.back)
    touched = _touched(mine, deed)
    before = mine.tasks.standings(touched)
    deed.do(mine, act.at)
    if isinstance(deed, PlanTasks | SendOut):
        new_tasks = set(mine.tasks.of_docket(deed.docket_id)) - set(touched)
        after = mine.tasks.standings([*touched, *new_tasks])
        before += [
            replace(standing, dropped_at=act.at.isoformat()) for standing in after if standing.task_id in new_tasks
        ]
    else:
        after = mine.tasks.standings(touched)
    standing_now = {standing.task_id: standing for standing in after}
    changed = [standing for standing in before if standing_now.get(standing.task_id) != standing]
    if not changed:
        return None
    left = tuple(standing_now[standing.task_id] for standing in changed)
    was = tuple(changed)
    return Reversal(PutTasks(was, left, f"undone: {deed.NAME}"), PutTasks(left, was, f"again: {deed.NAME}"))


def _touched(store: Store, deed: OfTask) -> list[int]:
    """Tasks that a deed may change."""
    if isinstance(deed, PlanTasks | SendOut | DoHere):
        return store.tasks.of_docket(deed.docket_id)
    others = store.tasks.in_hand(deed.person_id) if isinstance(deed, StartTask) else []
    return [deed.task_id, *others]
