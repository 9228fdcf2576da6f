"""Kinds of operations and operations: what is done to which part, what must be true before, what is true after."""

from __future__ import annotations

from collections.abc import Mapping

from msgspec import Struct
from msgspec.structs import replace

from yarvel.figures.figure import FigureKey
from yarvel.operations import joint_states
from yarvel.operations.joint_groups import name_of
from yarvel.operations.lot import Lot
from yarvel.operations.piece import ANNEALED, BEND, DRAW, HEAT, SPRUNG, Part, Piece
from yarvel.operations.stone_state import CENTRE, FEATURES, LONG, StoneState

STATIONS = (
    "desk",
    "bench",
    "torch",
    "laser",
    "motor",
    "pickle",
    "mill",
    "draw-bench",
    "setting-bench",
    "polishing",
    "plating",
    "outside",
)
__all__ = ["BEND", "DRAW", "HEAT", "SKILLS", "STATIONS", "Operation", "OperationKind", "RepeatGroup"]
SKILLS = ("front", "mounter", "setter", "polisher", "caster", "lead")


class OperationKind(Struct, frozen=True, kw_only=True):
    """One kind of operation. ``minutes`` and ``each_minutes`` more for every one after the first (from memory, to be
    changed by the workshop), ``wait_minutes`` minutes in which no hand is needed; ``hazard`` in one line, in the words
    of the safety page.

    Of parts: ``needs`` what must be true of each, ``bars`` what must not be, ``annealed`` whether it must be soft;
    ``makes`` and ``loses`` what is true and no longer true after, ``shape`` what the parts are then; ``temper`` one of
    bend, draw, heat; ``opens`` whether a ring under tension would spring open by it; ``spares`` what it leaves on
    purpose, ``takes_off`` the spares that it removes. Of marks: ``marks`` the mark that it makes, ``lost_by`` what that
    is lost by, ``by_mark`` the mark that it is done by, ``uses_up`` whether that is gone then, ``wears`` what it does
    to other marks.

    Of joints: ``joint`` how far the operation's joints are after, ``looked`` whether every closed joint must have been
    pickled and looked at. Of the stone: ``stone`` where it is after, ``stone_before`` where it may be; ``level``
    whether it is levelled then, ``level_before`` whether it must be; ``seat`` the feature of its seat that is cut,
    ``seat_before`` those that must be; ``tips`` the sides of the tips that change, ``lean_before`` how they may lean.
    ``last``: nothing that was left on purpose may be on the piece any more.
    """

    key: str
    label: str
    station: str
    skills: tuple[str, ...]
    minutes: float
    each_minutes: float = 0.0
    wait_minutes: float = 0.0
    hazard: str = ""
    needs: tuple[str, ...] = ()
    bars: tuple[str, ...] = ()
    annealed: bool = False
    makes: tuple[str, ...] = ()
    loses: tuple[str, ...] = ()
    shape: str = ""
    temper: str = ""
    opens: bool = False
    spares: tuple[str, ...] = ()
    takes_off: tuple[str, ...] = ()
    marks: str = ""
    lost_by: tuple[str, ...] = ()
    by_mark: str = ""
    uses_up: bool = False
    wears: str = ""
    joint: str = ""
    looked: bool = False
    stone: str = ""
    stone_before: tuple[str, ...] = ()
    level: bool | None = None
    level_before: bool = False
    seat: str = ""
    seat_before: tuple[str, ...] = ()
    tips: tuple[tuple[str, str], ...] = ()
    lean_before: tuple[str, ...] = ()
    last: bool = False


class RepeatGroup(Struct, frozen=True):
    """Operations that are done by turns until something is seen (cut, offer, cut again): one line, one tick; about so
    many rounds, ``usual``, each with its minutes."""

    keys: tuple[str, ...]
    until: str
    usual: int


class Operation(Struct, frozen=True, kw_only=True):
    """One operation of a route.

    ``on`` names the parts, ``joints`` the groups of joints that it is about, ``melts`` those that its heat would open;
    ``joint`` how far they are then, where its kind does not say; ``joint_before`` how far they must be; ``takes_out``
    the groups that go with what is sawn out. ``makes`` and ``shape`` what is true of the parts besides what its kind
    makes; ``strain`` of a bend as a fraction; ``tension`` what it leaves the first part under; ``zones`` what is a zone
    of its own afterwards, each with its host. ``place`` the stone that it is about, ``seat`` the
    feature of its seat that it cuts, where its kind does not say. ``after`` keys of operations that
    come before it, ``stands_for`` keys that others wait for and that this one is instead of; ``stage`` breaks ties
    only. ``text`` and ``look`` are sentences, ``figures`` the figures in them; ``maybe`` what is done only
    where a look asks for it; ``turns`` what it is done by turns with. ``reads`` figures that it measures on what is
    made, ``waits`` whether their readings are still out. ``harms`` what it would spoil as it is planned; ``shields``
    joints near it that its heat might open, where they are made by then. Metal: ``takes`` what is taken from stock for
    its parts, ``gives`` what comes back; ``off`` how much of a part, in mm³, is sawn, filed or cut to dust; ``leaves``
    to what volume parts together are worked.
    """

    kind: OperationKind
    key: str
    on: tuple[str, ...]
    text: str
    look: str = ""
    figures: tuple[FigureKey, ...] = ()
    count: int = 1
    joints: tuple[str, ...] = ()
    joint: str = ""
    joint_before: str = joint_states.OPEN
    takes_out: tuple[str, ...] = ()
    melts: tuple[str, ...] = ()
    makes: tuple[str, ...] = ()
    shape: str = ""
    strain: float = 0.0
    tension: str = ""
    zones: tuple[tuple[str, str], ...] = ()
    place: str = CENTRE
    seat: str = ""
    after: tuple[str, ...] = ()
    stage: int = 0
    maybe: bool = False
    turns: RepeatGroup | None = None
    reads: tuple[FigureKey, ...] = ()
    waits: bool = False
    takes: tuple[Lot, ...] = ()
    gives: tuple[Lot, ...] = ()
    off: tuple[tuple[str, float], ...] = ()
    leaves: tuple[tuple[tuple[str, ...], float], ...] = ()
    stands_for: tuple[str, ...] = ()
    shields: tuple[str, ...] = ()
    harms: tuple[str, ...] = ()

    @property
    def minutes(self) -> float:
        """Time with hands in minutes, by the standard of its kind; none for what is done only where a look asks for
        it."""
        rounds = 1 if self.turns is None else self.turns.usual
        return 0.0 if self.maybe else rounds * (self.kind.minutes + self.kind.each_minutes * self.count)

    @property
    def joint_after(self) -> str:
        """How far its joints are afterwards; "" where it does nothing to them."""
        return (self.joint or self.kind.joint) if self.joints else ""

    @property
    def closes(self) -> tuple[str, ...]:
        """The groups of joints that it closes."""
        closed_states = (joint_states.SOLDERED, joint_states.FUSED, joint_states.WELDED)
        return self.joints if self.joint_after in closed_states else ()

    def unmet(self, piece: Piece) -> tuple[str, ...]:
        """What is not as it must be before this operation, in plain words; empty where all is well."""
        missing = [part for part in self.on if part not in piece.parts]
        if missing:
            return tuple(f"there is no {part} yet" for part in missing)
        problems = list(self.harms)
        for name in self.on:
            problems += self._unmet_of_part(name, piece)
        return (*problems, *self._unmet_of_joints(piece), *self._unmet_of_stone(piece), *self._unmet_at_last(piece))

    def _unmet_of_part(self, name: str, piece: Piece) -> list[str]:
        kind, part, facts = self.kind, piece.parts[name], piece.facts_of(name)
        problems = [f"{name}: not {need} yet" for need in kind.needs if need not in facts]
        problems += [f"{name}: {fact}" for fact in kind.bars if fact in facts]
        if kind.annealed and part.temper != ANNEALED:
            problems.append(f"{name}: {part.temper}, not annealed yet")
        if kind.by_mark and not part.marked(kind.by_mark):
            problems.append(f"{name}: not {kind.by_mark} yet, or the mark is lost")
        if kind.temper == BEND and self.strain > part.left + 1e-9:
            problems.append(
                f"{name}: bent by {self.strain:.0%} where {part.temper} metal bears {part.left:.0%}: anneal first"
            )
        if part.tension == SPRUNG and (kind.opens or kind.temper == HEAT):
            problems.append(f"{name}: sprung, it opens where it is {'heated' if kind.temper == HEAT else 'sawn'}")
        return problems

    def _unmet_of_joints(self, piece: Piece) -> list[str]:
        problems = []
        for group in self.joints:
            now = piece.state_of(group)
            if not joint_states.at_least(now, self.joint_before):
                wanted = joint_states.WORDS[self.joint_before]
                problems.append(f"{name_of(group)}: {joint_states.WORDS[now]}, not {wanted} yet")
        problems += [f"this heat opens {name_of(group)}" for group in self.melts if group in piece.joined]
        if self.kind.looked:
            problems += [
                f"{name_of(group)}: not {joint_states.WORDS[joint_states.LOOKED]} yet"
                for group, state in piece.joints.items()
                if state in (joint_states.SOLDERED, joint_states.FUSED)
            ]
        return problems

    def _unmet_of_stone(self, piece: Piece) -> list[str]:
        kind, stone = self.kind, piece.stone_at(self.place)
        problems = []
        if kind.temper == HEAT:
            problems += [f"the stone is {state} in the torch's heat: take it out first" for _, state in piece.stones_in]
        if kind.stone_before and stone.state not in kind.stone_before:
            problems.append(f"the stone is {stone.state}, not {' or '.join(kind.stone_before)}")
        problems += [
            f"the seat has no {FEATURES[feature]} yet" for feature in kind.seat_before if feature not in stone.seat
        ]
        if kind.level_before and not stone.level:
            problems.append("the stone is not level yet")
        if kind.lean_before and stone.tips.lean not in kind.lean_before:
            problems.append(f"the tips are {stone.tips.lean}, not {' or '.join(kind.lean_before)} yet")
        return problems

    def _unmet_at_last(self, piece: Piece) -> list[str]:
        """What must not be left when a piece is released: spares on any part, tips left long."""
        if not self.kind.last:
            return []
        problems = [f"{name}: {spare} still on" for name, part in piece.parts.items() for spare in sorted(part.spares)]
        problems += ["tips left long" for stone in piece.stones.values() if stone.tips.length == LONG]
        return problems

    def lost(self, piece: Piece) -> dict[str, float]:
        """What becomes dust of each part, mm³: saw kerf, filings, what the wheel takes. Nothing grows under a file: of
        parts that are smaller already than they are to be left nothing is lost."""
        lost = dict(self.off)
        if not lost and not self.leaves:
            return lost
        parts_after = self._moved(piece.parts) if self.leaves else piece.parts
        for names, volume in self.leaves:
            there = [name for name in names if name in parts_after]
            surplus = sum(parts_after[name].volume_mm3 - lost.get(name, 0.0) for name in there) - volume
            if there and surplus > 0:
                lost[there[0]] = lost.get(there[0], 0.0) + surplus
        return {name: volume for name, volume in lost.items() if name in parts_after}

    def _moved(self, parts: Mapping[str, Part]) -> dict[str, Part]:
        """Parts with what is taken from stock and without what comes back."""
        parts_after = dict(parts)
        for sign, lots in ((1, self.takes), (-1, self.gives)):
            for lot in lots:
                if lot.part in parts_after:
                    parts_after[lot.part] = parts_after[lot.part].grown(sign * lot.volume_mm3)
        return parts_after

    def apply(self, piece: Piece, lost: Mapping[str, float] | None = None) -> Piece:
        """The piece afterwards (``lost`` where it is known already); parts that are not there are left out."""
        parts = self._moved(piece.parts)
        for name, volume in (self.lost(piece) if lost is None else lost).items():
            parts[name] = parts[name].grown(-volume)
        for name in self.on:
            if name in parts:
                parts[name] = self._treated(parts[name], name == self.on[0])
            if self.kind.temper == HEAT:  # a zone is one piece with its host: the same heat
                for zone in piece.zones_of(name):
                    parts[zone] = replace(parts[zone], **parts[zone].after(HEAT, 0.0))
        for zone, host in self.zones:
            if host in parts:
                host_part = parts[host]
                parts[zone] = replace(host_part, facts=frozenset(), volume_mm3=0.0, host=host, spares=frozenset())
        return Piece(parts, self._joined(piece.joints), self._set(piece.stones))

    def _joined(self, before: Mapping[str, str]) -> Mapping[str, str]:
        """How far the joints are afterwards; one that is closed is not opened by a mark or a file, and what does not
        fit is not made to fit by holding it."""
        after = self.joint_after
        if not after and not self.takes_out:
            return before
        joint_states_after = {group: state for group, state in before.items() if group not in self.takes_out}
        for group in self.joints if after else ():
            now = joint_states_after.get(group, joint_states.OPEN)
            loose = after == joint_states.HELD and not joint_states.at_least(now, self.joint_before)
            if after == joint_states.OPEN or (joint_states.at_least(after, now) and not loose):
                joint_states_after[group] = after
        return joint_states_after

    def _set(self, before: Mapping[str, StoneState]) -> Mapping[str, StoneState]:
        kind, seat = self.kind, self.seat or self.kind.seat
        if not (kind.stone or kind.tips or seat or kind.level is not None):
            return before
        stone = before.get(self.place, StoneState())
        after = replace(
            stone,
            state=kind.stone or stone.state,
            level=stone.level if kind.level is None else kind.level,
            seat=stone.seat | {seat} if seat else stone.seat,
            tips=replace(stone.tips, **dict(kind.tips)) if kind.tips else stone.tips,
        )
        return before if after == stone else {**before, self.place: after}

    def _treated(self, part: Part, first: bool) -> Part:
        """A part afterwards: temper, facts, spares, marks, tension."""
        kind = self.kind
        changes = part.after(kind.temper, self.strain)
        if (kind.makes or self.makes or kind.loses) and (
            facts := part.facts.difference(kind.loses).union(kind.makes, self.makes)
        ) != part.facts:
            changes["facts"] = facts
        shape = self.shape or kind.shape
        if shape and shape != part.shape:
            changes["shape"] = shape
        if kind.spares or (kind.takes_off and part.spares):
            changes["spares"] = part.spares.difference(kind.takes_off).union(kind.spares)
        if kind.marks or (part.marks and (kind.wears or kind.uses_up)):
            changes["marks"] = self._marked(part)
        if first and self.tension:
            changes["tension"] = self.tension
        return replace(part, **changes) if changes else part

    def _marked(self, part: Part) -> frozenset[tuple[str, tuple[str, ...]]]:
        """The marks that stand afterwards, each with what it is lost by."""
        kind = self.kind
        left = frozenset(
            (key, lost_by)
            for key, lost_by in part.marks
            if kind.wears not in lost_by and not (kind.uses_up and key == kind.by_mark)
        )
        return left | {(kind.marks, kind.lost_by)} if kind.marks else left
