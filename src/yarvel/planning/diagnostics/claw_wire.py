"""Claw too thin for its stone."""

from __future__ import annotations

from yarvel.heads import claws
from yarvel.heads.basket import LEAST_V_MM
from yarvel.heads.claws import usual_wire_mm
from yarvel.heads.vees import most_metal_mm
from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, Diagnostic, Situation

CODE = "claw-too-thin"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """Claw wire against the share of the usual wire that the house still accepts."""
    if not situation.has(claws.CLAW) or not situation.can_set("claw_mm"):
        return []
    usual = usual_wire_mm(
        situation.diameter,
        len(situation.shape.places),
        situation.rules,
        situation.facts.narrowest,
        situation.alloy.soft,
    )
    usual = min(usual, max(most_metal_mm(situation.facts.outline, situation.shape.places, situation.rules), LEAST_V_MM))
    claw, limit = situation[claws.CLAW], situation.rules.claw_least_share * usual
    level = OK if round(claw - limit, 6) >= 0 else CAUTION
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title="Claw wire",
            message=f"For this stone {usual:.2f} mm is usual; thinner claws bend open.",
            figure=claw,
            limit=limit,
            unit="mm",
            about="claw",
            of=claws.CLAW,
            remedy=None if level == OK else {"head": {"claw_mm": usual}},
            remedy_label="" if level == OK else f"Claw wire {usual:.2f} mm",
        )
    ]
