"""A joint on the bench: how far it is, from the mark to the look at what was soldered."""

from __future__ import annotations

OPEN, MARKED, CUT, FITS, HELD = "open", "marked", "cut", "fits", "held"
SOLDERED, FUSED, WELDED, LOOKED = "soldered", "fused", "welded", "looked-at"

STATES = (OPEN, MARKED, CUT, FITS, HELD, SOLDERED, FUSED, WELDED, LOOKED)
"""In the order in which they follow each other; a joint is soldered, fused or welded."""
CLOSED = (SOLDERED, FUSED, WELDED, LOOKED)
"""Closed: nothing moves any more."""
WORDS = {
    OPEN: "open",
    MARKED: "marked",
    CUT: "cut",
    FITS: "fitted without air",
    HELD: "held",
    SOLDERED: "soldered",
    FUSED: "fused",
    WELDED: "welded",
    LOOKED: "pickled and looked at",
}
"""How a state is told."""


def at_least(state: str, least: str) -> bool:
    """Whether a joint has come as far as ``least``."""
    return STATES.index(state) >= STATES.index(least)
