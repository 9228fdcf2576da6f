"""Out of round: the mean sizes the head, the largest must enter."""

from __future__ import annotations

from yarvel.planning.calls.call import CAUTION, OK, Call, Situation

CODE = "out-of-round"
CODES = (CODE,)


def examine(situation: Situation) -> list[Call]:
    """Only where there is more than one reading."""
    if not situation.has("stone.out_of_round"):
        return []
    out, limit = situation["stone.out_of_round"], situation.rules.out_of_round
    level = OK if out <= limit else CAUTION
    largest = situation["stone.largest_diameter"]
    return [
        Call(
            CODE,
            level,
            "Roundness",
            f"The mean sizes the head; the largest, {largest:.2f} mm, must enter: mark where it lies and cut that seat "
            "deeper.",
            out,
            limit,
            "",
            "stone",
            "stone.out_of_round",
        )
    ]
