"""Sharp corners: they never touch metal, and their relief must not show through."""

from __future__ import annotations

import math

from yarvel.heads import notches, vees
from yarvel.heads.style import BOUGHT
from yarvel.planning.diagnostics.diagnostic import CAUTION, NOTE, OK, STOP, Diagnostic, Situation

CODE = "corner-touches-metal"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """Metal left outside a V's relief hole against the house's least; a wall round a point is told to be relieved."""
    if situation.has(vees.left_behind_relief_mm):
        return [_relief(situation)]
    if situation.shape.walls and situation.facts.cut.pointed:
        return [
            Diagnostic(
                code=CODE,
                level=NOTE,
                title="Corners in the wall",
                message="Relieve the wall behind every sharp corner with a small hole before setting, and press the "
                "metal from both sides towards it: a corner that touches metal chips.",
                about="notch",
            )
        ]
    return []


_LEAST_KEPT = 0.05
"""Where a notch leaves less of the V than this share, no metal is thick enough."""


def _relief(situation: Situation) -> Diagnostic:
    left, limit = round(situation[vees.left_behind_relief_mm], 6), situation.rules.relief_left_mm
    level = OK if left >= limit else STOP if left <= 0 else CAUTION
    sharp = math.sin(math.radians(situation[vees.V_ANGLE]) / 2)
    needed = (limit + situation.rules.corner_relief_mm) * sharp
    kept = max(1 - situation[notches.notch_ratio], _LEAST_KEPT)
    claw = math.ceil(needed / kept * 20) / 20
    can_open = level != OK and claw <= situation.facts.narrowest / 3.05 and situation.style.COMES != BOUGHT
    remedy = {"head": {"claw_mm": claw}} if can_open else None
    message = (
        "The corner lies free in its relief hole."
        if level == OK
        else "The corner has to lie free, but the hole for it would show through once the V is polished."
    )
    return Diagnostic(
        code=CODE,
        level=level,
        title="Corner in the V",
        message=message,
        figure=left,
        limit=limit,
        unit="mm",
        about="notch",
        of=vees.left_behind_relief_mm,
        remedy=remedy,
        remedy_label=f"V of {claw:.2f} mm" if remedy else "",
    )
