"""A gap that takes too much of a ring: what is left no longer holds its round, or falls into pieces."""

from __future__ import annotations

from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, STOP, Diagnostic, Situation
from yarvel.planning.job import LOWEST
from yarvel.shanks import blanks

CODE = "gap-too-wide"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """The arc taken out at the inside against the house's limits."""
    if not situation.has(blanks.removed_arc_deg):
        return []
    arc, rules = situation[blanks.removed_arc_deg], situation.rules
    level = OK if arc <= rules.gap_most_deg else CAUTION if arc <= rules.gap_stop_deg else STOP
    if level == OK:
        message = "The head takes a piece out of the ring that the rest of it bears."
    else:
        message = "The head takes so much of the ring that what is left is no ring to fit it to: set it on a flat."
    remedy = None if level == OK else {"fit": {"method": "on-flat", "height": LOWEST, "slot": None}}
    label = "" if level == OK else "On a flat instead"
    limit, key = rules.gap_most_deg, blanks.removed_arc_deg
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title="Gap in the ring",
            message=message,
            figure=arc,
            limit=limit,
            unit="°",
            about="gap",
            of=key,
            remedy=remedy,
            remedy_label=label,
        )
    ]
