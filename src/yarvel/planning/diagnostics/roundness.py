"""Out of round: the mean sizes the head, the largest must enter."""

from __future__ import annotations

from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, Diagnostic, Situation
from yarvel.stones import stone as stones

CODE = "out-of-round"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """Only where there is more than one reading."""
    if not situation.has(stones.out_of_round):
        return []
    out, limit = situation[stones.out_of_round], situation.rules.out_of_round
    level = OK if out <= limit else CAUTION
    largest = situation[stones.LARGEST_DIAMETER]
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title="Roundness",
            message=f"The mean sizes the head; the largest, {largest:.2f} mm, must enter: mark where it lies "
            "and cut that seat "
            "deeper.",
            figure=out,
            limit=limit,
            unit="",
            about="stone",
            of=stones.out_of_round,
        )
    ]
