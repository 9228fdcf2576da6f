"""Cutting square where the head tapers."""

from __future__ import annotations

from yarvel.planning.calls.call import OK, Call, Situation

CODE = "cut-square"
CODES = (CODE,)


def examine(situation: Situation) -> list[Call]:
    """What the gap would be off at the inside if both cuts were made square at the outer marks."""
    if not situation.has("shank.mark_half") or not situation.has("shank.gap_outside"):
        return []
    off, limit = situation["shank.gap_outside"] - situation["shank.gap_inside"], situation.rules.cut_square_mm
    message = (
        "The head is as wide inside as outside: both cuts are square."
        if off <= limit
        else "Cut square at the outer marks, the gap is this much too wide inside, and solder does not bridge it: "
        "mark "
        "inside and outside, saw from mark to mark."
    )
    return [Call(CODE, OK, "Saw on the taper", message, off, limit, "mm", "gap", "shank.gap_outside")]
