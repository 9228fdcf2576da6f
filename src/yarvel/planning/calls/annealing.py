"""Sawing a gap into a ring that is under tension."""

from __future__ import annotations

from yarvel.planning.calls.call import NOTE, Call, Situation

CODE = "anneal-before-sawing"


def examine(situation: Situation) -> list[Call]:
    """A reminder for every inset head."""
    if situation.method != "inset":
        return []
    return [Call(CODE, NOTE, "Anneal before sawing", "A ring rounded up cold snaps open when it is sawn, and the marks "
                 "no longer fit. Anneal, then saw.", about="gap")]
