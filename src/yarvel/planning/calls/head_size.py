"""Bought head against the stone: too small is overcut, too large does not hold."""

from __future__ import annotations

from yarvel.heads import bought, notches
from yarvel.planning.calls.call import OK, STOP, Call, Situation

SMALL, LARGE = "head-too-small", "head-too-large"
CODES = (SMALL, LARGE)


def examine(situation: Situation) -> list[Call]:
    """The notch that this stone takes in the head, against the house's stop and least."""
    if not situation.has(bought.MADE_FOR):
        return []
    rules, ratio = situation.rules, round(situation[notches.notch_ratio], 6)
    remedy = {"head": {"made_for_mm": round(situation.diameter, 1), "opening_mm": None}}
    label = f"A head for {situation.diameter:.1f} mm"
    small, large = (STOP if wrong else OK for wrong in (ratio > rules.notch_stop, ratio < rules.notch_least))
    return [
        Call(
            SMALL,
            small,
            "Head for a smaller stone",
            "The claws would be cut past half to let the stone in; they fail sideways later.",
            ratio,
            rules.notch_stop,
            "",
            "notch",
            notches.notch_ratio,
            remedy if small == STOP else None,
            label if small == STOP else "",
        ),
        Call(
            LARGE,
            large,
            "Head for a larger stone",
            "Too little of the claw lies over the girdle; pressed in, the claws lean and the stone sits low.",
            ratio,
            rules.notch_least,
            "",
            "notch",
            notches.notch_ratio,
            remedy if large == STOP else None,
            label if large == STOP else "",
        ),
    ]
