"""Methods of the work, each listed once: a key that stays, what it is called, and what it is for. Methods of soldering
stand with the joints (``metals.joints``), those of folding with the Vs (``heads.vees``)."""

from __future__ import annotations

from msgspec import Struct

from yarvel.operations.stone_state import ABSENT, HELD, LOOSE

CLOSED_RING, OPEN_RING = "closed", "open"

RINGS: dict[str, str] = {CLOSED_RING: "Closed, then sawn", OPEN_RING: "Open C, closed by its head"}
"""How an inset's ring is made. Closed is the default: it is round and on size before it is opened."""
TIPS_BEFORE, TIPS_AFTER = "before", "after"

TIPS: dict[str, str] = {TIPS_BEFORE: "Made ready before the stone", TIPS_AFTER: "Left long, trimmed after closing"}
"""When tips are made. Before is the default: no file comes near the stone."""
TACK, WELD = "tack", "weld"

TACKS: dict[str, str] = {TACK: "Tack, then solder", WELD: "Full weld"}
"""The laser at the head's joint; without a word only where the head does not stand by itself."""
DOWN, SIDEWAYS, FILE_FIRST, BALL_FIRST = "bur-down", "hart-sideways", "file-first", "ball-first"

SEATS: dict[str, str] = {
    DOWN: "Bur straight down",
    SIDEWAYS: "Hart bur sideways",
    FILE_FIRST: "File first",
    BALL_FIRST: "Ball bur first",
}
"""Methods of cutting the notch. Straight down is the default for round stones, sideways for all others."""
DRILLED, BUD = "drilled", "bud"

CORNERS: dict[str, str] = {DRILLED: "Hole drilled", BUD: "Bud bur drawn out"}
"""How a V is freed where the stone's corner lies. A hole is the default: its size is known before anything is cut."""
PUSHER, PLIERS, PLIERS_PUSHER, ROCKER, PUNCH = "pusher", "pliers", "pliers-pusher", "rocker", "punch"
BLOCK = "block"
WITH_PLIERS = (PLIERS, PLIERS_PUSHER)
BRASS, LEATHER, NYLON = "brass", "leather", "nylon"

JAWS: dict[str, str] = {BRASS: "Brass", LEATHER: "Faced with leather", NYLON: "Nylon"}
"""What the jaws of closing pliers are of; without a word smooth steel. Softer ones mark neither metal nor stone."""


class ClosingMethod(Struct, frozen=True):
    """A method of closing: what it is called, whether it is for ``claws``, for ``rims``, and there for round ones
    only."""

    label: str
    claws: bool = False
    rims: bool = False
    round_only: bool = False


CLOSINGS: dict[str, ClosingMethod] = {
    PUSHER: ClosingMethod("Pusher", claws=True, rims=True),
    PLIERS: ClosingMethod("Pliers in pairs", claws=True),
    PLIERS_PUSHER: ClosingMethod("Pliers, then notched pusher", claws=True),
    BLOCK: ClosingMethod("Rocked on a wood block", claws=True),
    ROCKER: ClosingMethod("Rocker, on rims", rims=True),
    PUNCH: ClosingMethod("Hollow punch, on round tubes", rims=True, round_only=True),
}
"""Methods of closing. The pusher is the default: each claw is felt alone, and nothing bears on two sides of the stone
at once. Pliers close a pair evenly and faster on sound round stones."""
STONE_STATES: dict[str, str] = {ABSENT: "Out", LOOSE: "Loose in it", HELD: "Held in it"}
"""Where a stone is as the work begins."""


def closings_for(clawed: bool, round_stone: bool) -> tuple[str, ...]:
    """Closing methods that suit claws, or a rim."""
    return tuple(
        key
        for key, closing in CLOSINGS.items()
        if (closing.claws if clawed else closing.rims and (round_stone or not closing.round_only))
    )
