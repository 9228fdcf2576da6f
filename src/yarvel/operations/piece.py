"""A piece as it lies on the bench: its parts, what is true of each, and where the stone is."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

ABSENT, LOOSE, IN_SEAT, HELD = "absent", "loose", "in-seat", "held"
ANNEALED, WORKED, HARD, CAST = "annealed", "worked", "hard", "cast"
"""Tempers: what the last heat or the last work left."""
EXISTS, BOUGHT, CASTING, MADE = "exists", "bought", "cast", "made"
"""Where a part comes from."""


@dataclass(frozen=True)
class Metal:
    """Elongation as fractions before it cracks: drawn or rolled, annealed, cast; the alloy's ``key`` and its density in
    g/cm³."""

    drawn: float
    annealed: float
    cast: float
    key: str = ""
    density: float = 0.0


@dataclass(frozen=True)
class Part:
    """One part: its temper, the elongation ``left`` to it since its last heat, its shape, what is true of it, and its
    ``volume`` in mm³ (of a part that was there already, what was added to it, less what was taken off); its
    ``origin``: there already, bought, cast, or made."""

    metal: Metal
    temper: str
    left: float
    shape: str
    facts: frozenset[str] = frozenset()
    volume: float = 0.0
    origin: str = MADE

    def heated(self) -> Part:
        """As a torch leaves it."""
        return Part(self.metal, ANNEALED, self.metal.annealed, self.shape, self.facts, self.volume, self.origin)

    def worked(self, strain: float) -> Part:
        """As a bend of this strain leaves it."""
        return Part(self.metal, WORKED, max(self.left - strain, 0.0), self.shape, self.facts, self.volume, self.origin)

    def drawn(self) -> Part:
        """As the draw plate or the mill leaves it."""
        return Part(self.metal, HARD, self.metal.drawn, self.shape, self.facts, self.volume, self.origin)

    def with_facts(self, more: Iterable[str], less: Iterable[str], shape: str) -> Part:
        """With some facts more and some less, and another shape where one is named."""
        facts = self.facts.difference(less).union(more)
        if facts == self.facts and shape in ("", self.shape):
            return self
        return Part(self.metal, self.temper, self.left, shape or self.shape, facts, self.volume, self.origin)

    def grown(self, volume: float) -> Part:
        """With so much more metal, mm³; less where that is negative."""
        return Part(self.metal, self.temper, self.left, self.shape, self.facts, self.volume + volume, self.origin)


def wrought(metal: Metal, shape: str) -> Part:
    """Stock as it is sold: annealed."""
    return Part(metal, ANNEALED, metal.annealed, shape)


def as_cast(metal: Metal) -> Part:
    """A part as it comes out of the mould."""
    return Part(metal, CAST, metal.cast, "cast")


@dataclass(frozen=True)
class Piece:
    """Parts by name; ``stone`` absent (not in the piece), loose, in-seat or held; the joints that are closed."""

    parts: Mapping[str, Part] = field(default_factory=dict)
    stone: str = ABSENT
    joined: tuple[str, ...] = ()
