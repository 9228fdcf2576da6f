"""A V filed from solid that was to be thicker at its foot than its metal is."""

from __future__ import annotations

from yarvel.heads import claws, vees
from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, Diagnostic, Situation

CODE = "v-thicker-below"
CODES = (CODE,)
_SAME_MM = 1e-6


def examine(situation: Situation) -> list[Diagnostic]:
    """The foot as asked against the V's metal."""
    asked = situation.job.head.v_foot_mm
    if asked is None or not situation.has(vees.V_FOOT):
        return []
    metal = situation[claws.CLAW]
    level = OK if asked <= metal + _SAME_MM else CAUTION
    message = "The V is filed thin low and thick high."
    if level == CAUTION:
        message = "The foot was to be thicker than the V's metal: it is as thick as that, all the way."
    remedy, label = (None, "") if level == OK else ({"head": {"v_foot_mm": None}}, "As thick below as above")
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title="V at its foot",
            message=message,
            figure=asked,
            limit=metal,
            unit="mm",
            about="claw",
            of=vees.V_FOOT,
            remedy=remedy,
            remedy_label=label,
        )
    ]
