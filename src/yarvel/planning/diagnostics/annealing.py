"""Sawing a gap into a ring that is under tension."""

from __future__ import annotations

from yarvel.planning.diagnostics.diagnostic import OK, Diagnostic, Situation
from yarvel.shanks import blanks

CODE = "anneal-before-sawing"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """Examined wherever the finished ring is sawn through; the step of sawing begins with it."""
    if not situation.has(blanks.removed_arc_deg) or situation.open_ring:
        return []
    return [
        Diagnostic(
            code=CODE,
            level=OK,
            title="Anneal before sawing",
            message="A ring rounded up cold snaps open when it is sawn, and the marks no longer fit. Anneal, then saw.",
            about="gap",
        )
    ]
