"""Holding: the open arc as built, and what happens when any one claw is lost."""

from __future__ import annotations

from yarvel.planning.calls.call import NOTE, OK, STOP, Call, Situation

OPEN, LOSS = "open-arc", "claw-loss"


def examine(situation: Situation) -> list[Call]:
    """On a round stone the claws hold while no open arc reaches half the circle."""
    if not situation.has("head.open_arc"):
        return []
    limit = situation.rules.open_arc_deg
    arc, lost = situation["head.open_arc"], situation["head.open_arc_one_lost"]
    now = OK if arc < limit else STOP
    after = OK if lost < limit else NOTE
    message = ("If one claw goes, the stone stays." if after == OK else
               "If any one claw goes, the stone can leave sideways: six claws would still hold it.")
    return [
        Call(OPEN, now, "Open arc", "The stone leaves through an open arc of half the circle or more.", arc, limit,
             "°", "plan", "head.open_arc"),
        Call(LOSS, after, "One claw lost", message, lost, limit, "°", "plan", "head.open_arc_one_lost",
             None if after == OK else {"head": {"claws": 6}}, "" if after == OK else "Six claws"),
    ]
