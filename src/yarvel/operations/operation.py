"""Kinds of operations and operations: what is done to which part, what must be true before, what is true after."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from yarvel.operations.lot import Lot
from yarvel.operations.piece import ABSENT, Part, Piece

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
SKILLS = ("front", "mounter", "setter", "polisher", "caster", "lead")
BEND, DRAW, HEAT = "bend", "draw", "heat"
"""What an operation does to the temper of the parts it is done to."""


@dataclass(frozen=True)
class Kind:
    """One kind of operation. ``minutes`` and ``each`` more for every one after the first (from memory, to be changed by
    the workshop), ``wait`` minutes in which no hand is needed; ``needs`` what must be true of each part, ``bars`` what
    must not be; ``makes`` and ``loses`` what is true and no longer true after, ``shape`` what the parts are then,
    ``temper`` one of bend, draw, heat; ``stone`` where it is then; ``hazard`` in one line, in the words of the safety
    page."""

    key: str
    label: str
    station: str
    skills: tuple[str, ...]
    minutes: float
    each: float = 0.0
    wait: float = 0.0
    hazard: str = ""
    needs: tuple[str, ...] = ()
    bars: tuple[str, ...] = ()
    makes: tuple[str, ...] = ()
    loses: tuple[str, ...] = ()
    shape: str = ""
    temper: str = ""
    stone: str = ""
    stone_before: tuple[str, ...] = ()


@dataclass(frozen=True)
class Operation:
    """One operation of a route.

    ``on`` names the parts, ``joints`` the groups of joints closed by it, ``melts`` those that its heat would open;
    ``makes`` and ``shape`` what is true of the parts besides what its kind makes; ``strain`` of a bend as a fraction;
    ``after`` keys of operations that come before it, ``stands_for`` keys that others wait for and that this one is
    instead of; ``stage`` breaks ties only. ``text`` and ``look`` are sentences, ``figures`` the keys of the figures in
    them; ``maybe`` what is done only where a look asks for it. ``needs`` what must be true of some part besides what
    its kind needs, ``loses`` what is no longer, ``harms`` what it
    would spoil as it is planned; ``shields`` joints near it that its heat might open, where they are
    made by then. Metal: ``takes`` what is taken from stock for its parts, ``gives`` what comes back; ``off`` how much
    of a part, in mm³, is sawn, filed or cut to dust; ``leaves`` to what volume parts together are worked.
    """

    kind: Kind
    key: str
    on: tuple[str, ...]
    text: str
    look: str = ""
    figures: tuple[str, ...] = ()
    count: int = 1
    joints: tuple[str, ...] = ()
    melts: tuple[str, ...] = ()
    makes: tuple[str, ...] = ()
    shape: str = ""
    strain: float = 0.0
    after: tuple[str, ...] = ()
    stage: int = 0
    maybe: bool = False
    takes: tuple[Lot, ...] = ()
    gives: tuple[Lot, ...] = ()
    off: tuple[tuple[str, float], ...] = ()
    leaves: tuple[tuple[tuple[str, ...], float], ...] = ()
    stands_for: tuple[str, ...] = ()
    shields: tuple[str, ...] = ()
    needs: tuple[tuple[str, str], ...] = ()
    loses: tuple[str, ...] = ()
    harms: tuple[str, ...] = ()

    @property
    def minutes(self) -> float:
        """Minutes with hands, by the standard of its kind; none for what is done only where a look asks for it."""
        return 0.0 if self.maybe else self.kind.minutes + self.kind.each * self.count

    def unmet(self, piece: Piece) -> tuple[str, ...]:
        """What is not as it must be before this operation, in plain words; empty where all is well."""
        missing = [part for part in self.on if part not in piece.parts]
        if missing:
            return tuple(f"there is no {part} yet" for part in missing)
        found = list(self.harms)
        for name in self.on:
            part = piece.parts[name]
            found += [f"{name}: not {need} yet" for need in self.kind.needs if need not in part.facts]
            found += [f"{name}: {fact}" for fact in self.kind.bars if fact in part.facts]
            own = (need for part_name, need in self.needs if part_name == name)
            found += [f"{name}: not {need} yet" for need in own if need not in part.facts]
            if self.kind.temper == BEND and self.strain > part.left + 1e-9:
                found.append(
                    f"{name}: bent by {self.strain:.0%} where {part.temper} metal bears {part.left:.0%}: anneal first"
                )
        if self.kind.temper == HEAT and piece.stone != ABSENT:
            found.append(f"the stone is {piece.stone} in the torch's heat: take it out first")
        found += [f"this heat opens {joint}" for joint in self.melts if joint in piece.joined]
        wanted = self.kind.stone_before
        if wanted and piece.stone not in wanted:
            found.append(f"the stone is {piece.stone}, not {' or '.join(wanted)}")
        return tuple(found)

    def lost(self, piece: Piece) -> dict[str, float]:
        """What becomes dust of each part, mm³: saw kerf, filings, what the wheel takes. Nothing grows under a file: of
        parts that are smaller already than they are to be left nothing is lost."""
        lost = dict(self.off)
        if not lost and not self.leaves:
            return lost
        held = self._moved(piece.parts) if self.leaves else piece.parts
        for names, volume in self.leaves:
            there = [name for name in names if name in held]
            surplus = sum(held[name].volume - lost.get(name, 0.0) for name in there) - volume
            if there and surplus > 0:
                lost[there[0]] = lost.get(there[0], 0.0) + surplus
        return {name: volume for name, volume in lost.items() if name in held}

    def _moved(self, parts: Mapping[str, Part]) -> dict[str, Part]:
        """Parts with what is taken from stock and without what comes back."""
        held = dict(parts)
        for sign, lots in ((1, self.takes), (-1, self.gives)):
            for lot in lots:
                if lot.part in held:
                    held[lot.part] = held[lot.part].grown(sign * lot.volume)
        return held

    def apply(self, piece: Piece, lost: Mapping[str, float] | None = None) -> Piece:
        """The piece afterwards (``lost`` where it is known already); parts that are not there are left out."""
        parts = self._moved(piece.parts)
        for name, volume in (self.lost(piece) if lost is None else lost).items():
            parts[name] = parts[name].grown(-volume)
        makes, loses = (*self.kind.makes, *self.makes), (*self.kind.loses, *self.loses)
        shape = self.shape or self.kind.shape
        for name in self.on:
            if name in parts:
                parts[name] = self._treated(parts[name]).with_facts(makes, loses, shape)
        joints = tuple(joint for joint in self.joints if joint not in piece.joined)
        return Piece(parts, self.kind.stone or piece.stone, (*piece.joined, *joints))

    def _treated(self, part: Part) -> Part:
        """A part's temper afterwards."""
        if self.kind.temper == HEAT:
            return part.heated()
        if self.kind.temper == BEND:
            return part.worked(self.strain)
        return part.drawn() if self.kind.temper == DRAW else part
