"""Resizing with the head in: how far it may go, and what it does to the head."""

from __future__ import annotations

from yarvel.planning.calls.call import CAUTION, NOTE, OK, Call, Situation
from yarvel.shanks import blanks, resizing

FAR, HEAD = "resize-too-far", "resize-strains-head"
CODES = (FAR, HEAD)


def examine(situation: Situation) -> list[Call]:
    """The change of diameter against the house's most, and the foot's fit to the new curve."""
    if not situation.has(resizing.change_mm):
        return []
    change = abs(situation[blanks.INSIDE_DIAMETER] - situation[resizing.FROM_DIAMETER])
    most, gap, play = situation.rules.resize_most_mm, situation[resizing.foot_gap_mm], situation.rules.resize_gap_mm
    side = "opens under the edges of the foot" if gap > 0 else "presses on the edges of the foot and lifts its middle"
    return [
        Call(
            FAR,
            OK if change <= most else CAUTION,
            "Size to size",
            "So far from one size to the other the curve no longer fits the head: unset it, or make the shank anew."
            if change > most
            else "A change that a set head bears, with the head supported.",
            change,
            most,
            "mm",
            "band",
            resizing.change_mm,
        ),
        Call(
            HEAD,
            OK if abs(gap) <= play else NOTE,
            "Head on a new curve",
            f"Rounded up to the new size, the band {side}: round up beside the head, not through it, and look at every "
            "seat afterwards."
            if abs(gap) > play
            else "The new curve hardly moves the head; look at every seat afterwards all the same.",
            abs(gap),
            play,
            "mm",
            "joints",
            resizing.foot_gap_mm,
        ),
    ]
