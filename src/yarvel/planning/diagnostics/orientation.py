"""A stone that is not quite square: mark one direction and set it that way round every time."""

from __future__ import annotations

from yarvel.planning.diagnostics.diagnostic import NOTE, OK, Diagnostic, Situation
from yarvel.stones import stone as stones

CODE = "mark-orientation"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """Difference of length and width against the house's limit, for cuts that are meant to be square."""
    if not situation.has(stones.out_of_square):
        return []
    off, limit = situation[stones.out_of_square], situation.rules.out_of_square
    level = OK if off <= limit else NOTE
    message = (
        "Length and width agree."
        if level == OK
        else f"{situation[stones.LENGTH]:.2f} by {situation[stones.WIDTH]:.2f} mm: mark one direction on stone and "
        "head, and try and set it that way round every time."
    )
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title="Which way round",
            message=message,
            figure=off,
            limit=limit,
            unit="",
            about="stone",
            of=stones.out_of_square,
        )
    ]
