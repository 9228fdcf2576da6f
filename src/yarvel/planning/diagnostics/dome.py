"""Cast claws over a dome: what the metal bends to against what the dome asks."""

from __future__ import annotations

from yarvel.heads import cast_claw
from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, Diagnostic, Situation

CODE = "bend-to-dome"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """The dome's radius where the tip ends against the least radius that annealed metal bends to."""
    if not situation.has(cast_claw.dome_radius_mm):
        return []
    dome, limit = situation[cast_claw.dome_radius_mm], situation[cast_claw.least_bend_radius_mm]
    level = OK if dome >= limit else CAUTION
    message = (
        "Cast and filed metal is brittle: anneal, then curve the claws to the dome before the stone goes in."
        if level == OK
        else "The dome turns tighter than the claw can bend: thin its tip before bending."
    )
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title="Claw over the dome",
            message=message,
            figure=dome,
            limit=limit,
            unit="mm",
            about="tip",
            of=cast_claw.dome_radius_mm,
        )
    ]
