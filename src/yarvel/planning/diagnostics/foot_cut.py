"""A foot that stands flush with the finger is filed to its curve: what that leaves of the ring or the wall."""

from __future__ import annotations

from typing import Any

import numpy as np

from yarvel.heads import style
from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, STOP, Diagnostic, Situation
from yarvel.planning.job import LOWEST, FitJob
from yarvel.shanks import inset

CODE = "foot-cut-by-finger"
CODES = (CODE,)
_STEP_MM, _NOTHING_MM = 0.05, 0.1

_MOST_LIFT_MM = 5.0
"""What a job takes as a lift of the lower ring, at the most."""


def examine(situation: Situation) -> list[Diagnostic]:
    """What is left under the middle, where the finger rises highest into the foot."""
    joinery, shape = situation.joinery, situation.shape
    if joinery is None or not joinery.in_finger or not situation.has(inset.finger_sagitta_mm):
        return []
    rises = situation[inset.finger_sagitta_mm]
    if shape.hooks is not None:
        legs = shape.hooks.wire_mm
        left, limit = legs - rises, situation.rules.foot_left_share * legs
        what, least = "the legs under the ring" if shape.rings else "the wires where they cross", _NOTHING_MM
    elif shape.rings:
        ring = shape.rings[-1]
        lifted = shape.height_mm + ring.foot_mm
        high, limit = ring.high_mm, situation.rules.foot_left_share * ring.high_mm
        left = min(high, high + lifted - rises)
        what, least = "the ring" if shape.on_legs else "the lower ring", max(0.25 * high, _NOTHING_MM)
    elif shape.walls:
        wall = shape.walls[0].profile
        thick = float(np.ptp(wall[:, 0])) if len(wall) == 4 else situation[style.HEAD_WALL]
        left, limit = shape.height_mm - rises, min(thick, situation[style.HEAD_WALL])
        what, least = "the wall under the seat", 0.5 * limit
    else:
        return []
    level = OK if left >= limit - 1e-9 else STOP if left < least else CAUTION
    message = f"Filed flush, the finger's curve takes {rises:.2f} mm off {what} under the middle."
    remedy, label = (None, "") if level == OK else _remedy(situation, rises)
    if level != OK:
        message += " It no longer closes there: lift it, make the foot smaller, or set the head on a flat."
    title, key = "Foot cut to the finger, left", inset.finger_sagitta_mm
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title=title,
            message=message,
            figure=left,
            limit=limit,
            unit="mm",
            about="foot",
            of=key,
            remedy=remedy,
            remedy_label=label,
        )
    ]


def _remedy(situation: Situation, rises: float) -> tuple[dict[str, Any] | None, str]:
    """A ring is lifted over the finger's curve; a wall, and legs that are bent in below the ring, go on a flat."""
    fit = situation.job.fit or FitJob()
    shape = situation.shape
    lift = float(np.ceil((rises + 0.02) / _STEP_MM) * _STEP_MM)
    room = lift <= min(_MOST_LIFT_MM, shape.height_mm / 2) and fit.height == LOWEST
    if shape.rings and room and situation.can_set("ring_lift_mm") and not shape.on_legs and shape.hooks is None:
        return {"head": {"ring_lift_mm": round(lift, 2)}}, f"Lift the lower ring by {lift:.2f} mm"
    if fit.slot is None:
        return {"fit": {"method": "on-flat", "height": LOWEST, "split_mm": None}}, "On a flat instead"
    return None, ""
