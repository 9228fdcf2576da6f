"""Claws crowding: so many and so thick that they hide the stone or run into each other."""

from __future__ import annotations

from yarvel.heads import basket, claws
from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, STOP, Diagnostic, Situation
from yarvel.planning.job import usual_claws_of

CODE = "claws-crowd"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """Daylight between neighbouring claws against half a claw; none at all is a stop."""
    if not situation.has(basket.between_claws_mm):
        return []
    gap, limit = situation[basket.between_claws_mm], situation[claws.CLAW] / 2
    level = STOP if gap <= 0 else CAUTION if gap < limit else OK
    spare = situation.can_set("claws") and situation.facts.cut.is_round and usual_claws_of(situation.job) > 4
    fewer = 4 if spare else None
    remedy = {"head": {"claws": fewer}} if level != OK and fewer else None
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title="Room between claws",
            message="Claws that nearly touch hide the stone and leave no way in for a file.",
            figure=gap,
            limit=limit,
            unit="mm",
            about="plan",
            of=basket.between_claws_mm,
            remedy=remedy,
            remedy_label="Four claws" if remedy else "",
        )
    ]
