"""A tube's wall at the girdle: enough under the stone to bear it, enough outside it to roll over."""

from __future__ import annotations

from typing import Any

from yarvel.heads import notches, tube
from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, STOP, Diagnostic, Situation

LIP, LEDGE = "tube-lip-thin", "tube-ledge-narrow"
CODES = (LIP, LEDGE)


def examine(situation: Situation) -> list[Diagnostic]:
    """Lip and ledge of a straight tube or strip against the house's least."""
    if not situation.has(tube.tube_outer_mm):
        return []
    return [_lip(situation), _ledge(situation)]


def _lip(situation: Situation) -> Diagnostic:
    rules, lip = situation.rules, round(situation[notches.REMAINING], 6)
    least, most = rules.tube_lip_least_mm, tube.STIFF * rules.tube_lip_mm
    in_hand = situation.job.head.outside_mm is not None
    level, limit, why = OK, least, "Enough wall stands round the stone to be rolled over it."
    if lip < least:
        level, why = STOP, "So thin a rim tears as it is rolled over, or wears through: the stone goes."
    elif lip > most:
        limit, why = most, "So thick a rim is hard to roll over and hides more of the stone: thin it from outside."
        level = CAUTION if in_hand else OK  # with a ledge that was chosen, the wall round it was chosen too
    return Diagnostic(
        code=LIP,
        level=level,
        title="Rim round the stone",
        message=why,
        figure=lip,
        limit=limit,
        unit="mm",
        about="wall",
        of=notches.REMAINING,
        **_usual(situation, level),
    )


def _ledge(situation: Situation) -> Diagnostic:
    rules, ledge = situation.rules, round(situation[notches.SEAT_DEPTH], 6)
    least = round(rules.tube_ledge_least_mm, 6)
    level = STOP if ledge < least else OK
    why = "The stone stands on the ledge all round."
    if level == STOP:
        why = "Too little ledge under the girdle: the stone tilts as the rim is pressed, or goes through."
    return Diagnostic(
        code=LEDGE,
        level=level,
        title="Ledge under the stone",
        message=why,
        figure=ledge,
        limit=least,
        unit="mm",
        about="wall",
        of=notches.SEAT_DEPTH,
        **_usual(situation, level),
    )


def _usual(situation: Situation, level: str) -> dict[str, Any]:
    """Back to the usual wall: a tube in hand that does not fit is another tube."""
    if level == OK:
        return {}
    label = "Another tube" if situation.job.head.outside_mm is not None else "The usual wall and ledge"
    patch = {"head": {"outside_mm": None, "wall_mm": None, "notch_ratio": None}}
    return {"remedy": patch, "remedy_label": label}
