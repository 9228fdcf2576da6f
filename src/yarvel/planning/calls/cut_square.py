"""Cutting square where the head tapers."""

from __future__ import annotations

from yarvel.planning.calls.call import OK, Call, Situation
from yarvel.shanks import inset

CODE = "cut-square"
CODES = (CODE,)


def examine(situation: Situation) -> list[Call]:
    """What the gap would be off at the inside if both cuts were made square at the outer marks."""
    if not situation.has(inset.MARK_HALF) or not situation.has(inset.gap_outside_mm):
        return []
    off, limit = situation[inset.gap_outside_mm] - situation[inset.gap_inside_mm], situation.rules.cut_square_mm
    message = (
        "The head is as wide inside as outside: both cuts are square."
        if off <= limit
        else "Cut square at the outer marks, the gap is this much too wide inside, and solder does not bridge it: "
        "mark "
        "inside and outside, saw from mark to mark."
    )
    return [Call(CODE, OK, "Saw on the taper", message, off, limit, "mm", "gap", inset.gap_outside_mm)]
