"""A stone and its seat on the bench: where the stone is, what of its seat is cut, how the tips over it stand."""

from __future__ import annotations

from msgspec import Struct

ABSENT, LOOSE, IN_SEAT, HELD = "absent", "loose", "in-seat", "held"
"""Where a stone is: not in the piece (also as a gauge in the hand), in it and loose, in its seat, held."""
CENTRE, SHOULDERS = "centre", "shoulders"
"""The stone that the head is for; the small rounds in the shoulders, all of them."""

GUIDE, CORNER, KEEL, BEARING, BEVEL = "guide", "corner", "keel", "bearing", "bevel"
"""Features of a seat: the first cut, the relief of a corner, its keel, what the girdle lies on, the bevel over it."""
FEATURES = {
    GUIDE: "guide cut",
    CORNER: "relief at its corners",
    KEEL: "keel",
    BEARING: "bearing for the girdle",
    BEVEL: "bevel",
}
"""How a feature is told."""

LONG, TO_LENGTH = "long", "to-length"
FULL, THINNED = "full", "thinned"

OUT, UPRIGHT, TOUCHING, HOME = "out", "upright", "touching", "home"
"""How tips come over a stone, in this order."""
RAW, ROUNDED, CUPPED, BURNISHED = "raw", "rounded", "cupped", "burnished"


class Tips(Struct, frozen=True):
    """Tips over a stone (or the rim), by four sides that do not depend on each other."""

    length: str = TO_LENGTH
    section: str = FULL
    lean: str = UPRIGHT
    end: str = RAW


class StoneState(Struct, frozen=True):
    """One stone of the piece (like ones together): where it is, whether it was levelled, the features of its seat that
    are cut, and its tips."""

    state: str = ABSENT
    level: bool = False
    seat: frozenset[str] = frozenset()
    tips: Tips = Tips()
