"""Cornered and long stones: whether the claws keep them from turning in the head."""

from __future__ import annotations

from yarvel.heads import holding
from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, Diagnostic, Situation

CODE = "stone-turns"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """Whether pushes and moments of the contacts balance whichever way the stone is turned."""
    if not situation.has(holding.TURN_HELD):
        return []
    turns_held = situation[holding.TURN_HELD] > 0.5
    message = (
        "The claws keep the stone from turning."
        if turns_held
        else "Nothing but friction keeps this stone from turning between its claws: move claws off the middle of its "
        "sides, or take pairs beside the corners."
    )
    return [
        Diagnostic(
            code=CODE,
            level=OK if turns_held else CAUTION,
            title="Held against turning",
            message=message,
            about="plan",
            of=holding.TURN_HELD,
        )
    ]
