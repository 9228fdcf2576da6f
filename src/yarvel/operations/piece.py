"""A piece as it lies on the bench: its parts, its joints, its stones, and what is true of each."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from msgspec import Struct, field
from msgspec.structs import replace

from yarvel.operations import joint_states
from yarvel.operations.stone_state import ABSENT, CENTRE, StoneState

ANNEALED, WORKED, HARD, CAST, UNKNOWN = "annealed", "worked", "hard", "cast", "unknown"
"""Tempers: what the last heat or the last work left; of what came in nobody knows."""
EXISTS, BOUGHT, CASTING, MADE = "exists", "bought", "cast", "made"
"""Where a part comes from."""
BEND, DRAW, HEAT = "bend", "draw", "heat"
"""What work does to temper."""
FREE, WANTED, SPRUNG = "free", "wanted", "sprung"
"""Tension: none; the grip of branches spread on purpose; a ring that springs open where it is sawn or heated."""
BY_FILE, BY_HEAT, BY_POLISH, BY_HAND = "file", "heat", "polish", "hand"
"""What a mark is lost by."""


class Metal(Struct, frozen=True):
    """Elongation as fractions before it cracks: drawn or rolled, annealed, cast; the alloy's ``key`` and its density in
    g/cm³."""

    drawn: float
    annealed: float
    cast: float
    key: str = ""
    density_g_cm3: float = 0.0


class Part(Struct, frozen=True, kw_only=True):
    """One part, or a zone of one.

    ``temper`` and the elongation ``left`` to it since its last heat, as a fraction; its shape; what is true of it
    (``facts``); its ``volume_mm3`` in mm³ (of a part that was there already, what was added, less what was taken off);
    its ``origin``; ``spares`` what is left on purpose and must go before release; ``marks`` that still stand, each with
    what it is lost by; its ``tension``. A zone (the claws sawn from a collet, the branches of a split band) is one
    piece with its ``host``: it never comes off and has no metal of its own, but is bent and annealed by itself.
    """

    metal: Metal
    temper: str
    left: float
    shape: str
    facts: frozenset[str] = frozenset()
    volume_mm3: float = 0.0
    origin: str = MADE
    spares: frozenset[str] = frozenset()
    marks: frozenset[tuple[str, tuple[str, ...]]] = frozenset()
    tension: str = FREE
    host: str = ""

    def after(self, work: str, strain: float) -> dict[str, Any]:
        """What of temper and elongation changes by a bend of this strain, by the draw plate or the mill, by a torch."""
        if work == HEAT:
            return {"temper": ANNEALED, "left": self.metal.annealed}
        if work == BEND:
            return {"temper": WORKED, "left": max(self.left - strain, 0.0)}
        return {"temper": HARD, "left": self.metal.drawn} if work == DRAW else {}

    def with_facts(self, more: Iterable[str], less: Iterable[str], shape: str) -> Part:
        """With some facts more and some less, and another shape where one is named."""
        facts = self.facts.difference(less).union(more)
        if facts == self.facts and shape in ("", self.shape):
            return self
        return replace(self, facts=facts, shape=shape or self.shape)

    def grown(self, volume_mm3: float) -> Part:
        """With so much more metal, mm³; less where that is negative."""
        return replace(self, volume_mm3=self.volume_mm3 + volume_mm3)

    def marked(self, key: str) -> bool:
        """Whether this mark still stands."""
        return any(key == marked_key for marked_key, _ in self.marks)


def wrought(metal: Metal, shape: str) -> Part:
    """Stock as it is sold: annealed."""
    return Part(metal=metal, temper=ANNEALED, left=metal.annealed, shape=shape)


def as_cast(metal: Metal) -> Part:
    """A part as it comes out of the mould."""
    return Part(metal=metal, temper=CAST, left=metal.cast, shape="cast")


def as_it_came(metal: Metal, shape: str) -> Part:
    """A part that came in: nobody knows its temper; judged as if it bore what annealed metal does, and told to be
    tested."""
    return Part(metal=metal, temper=UNKNOWN, left=metal.annealed, shape=shape, origin=EXISTS)


class Piece(Struct, frozen=True):
    """Parts by name; joints, by group, with how far each is (open where none is named); stones by their place."""

    parts: Mapping[str, Part] = field(default_factory=dict)
    joints: Mapping[str, str] = field(default_factory=dict)
    stones: Mapping[str, StoneState] = field(default_factory=dict)

    @property
    def stone(self) -> str:
        """Where the stone is that the head is for."""
        return self.stone_at(CENTRE).state

    @property
    def joined(self) -> tuple[str, ...]:
        """Groups of joints that are closed."""
        return tuple(group for group, state in self.joints.items() if state in joint_states.CLOSED)

    @property
    def stones_in(self) -> tuple[tuple[str, str], ...]:
        """Stones that are in the piece, each with where it is."""
        return tuple((place, stone.state) for place, stone in self.stones.items() if stone.state != ABSENT)

    def stone_at(self, place: str) -> StoneState:
        """One stone with its seat and its tips."""
        return self.stones.get(place, StoneState())

    def state_of(self, group: str) -> str:
        """How far a group of joints is."""
        return self.joints.get(group, joint_states.OPEN)

    def facts_of(self, name: str) -> frozenset[str]:
        """What is true of a part; of a zone also what is true of its host."""
        part = self.parts[name]
        host = self.parts.get(part.host)
        return part.facts if host is None else part.facts | host.facts

    def zones_of(self, name: str) -> tuple[str, ...]:
        """Zones that are one piece with a part."""
        return tuple(zone for zone, part in self.parts.items() if part.host == name)
