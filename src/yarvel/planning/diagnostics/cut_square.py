"""Cutting square where the head tapers."""

from __future__ import annotations

from yarvel.planning.diagnostics.diagnostic import OK, Diagnostic, Situation
from yarvel.shanks import inset

CODE = "cut-square"
CODES = (CODE,)
_TOO_WIDE = "Square at the outer marks, the gap is this much too wide inside, and solder does not bridge it:"


def examine(situation: Situation) -> list[Diagnostic]:
    """What the gap would be off at the inside if both ends were square at the outer marks."""
    if not situation.has(inset.MARK_HALF) or not situation.has(inset.gap_outside_mm):
        return []
    off, limit = situation[inset.gap_outside_mm] - situation[inset.gap_inside_mm], situation.rules.cut_square_mm
    if off <= limit:
        message = "The head is as wide inside as outside: both ends are square."
    elif situation.open_ring:
        message = f"{_TOO_WIDE} file both ends to the head's taper, from the inner mark to the outer."
    else:
        message = f"{_TOO_WIDE} mark inside and outside, saw from mark to mark."
    title = "Ends on the taper" if situation.open_ring else "Saw on the taper"
    return [
        Diagnostic(
            code=CODE,
            level=OK,
            title=title,
            message=message,
            figure=off,
            limit=limit,
            unit="mm",
            about="gap",
            of=inset.gap_outside_mm,
        )
    ]
