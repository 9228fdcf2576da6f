"""Tube too low: the whole pavilion has to lie inside the wall."""

from __future__ import annotations

import math

from yarvel.heads import style
from yarvel.heads.heights import clear_of_culet
from yarvel.planning.diagnostics.diagnostic import OK, STOP, Diagnostic, Situation
from yarvel.stones import stone as stones

CODE = "wall-too-low"
CODES = (CODE,)

_READ_MM = 0.01
"""A made collet is as high as planned within what it is read to."""


def examine(situation: Situation) -> list[Diagnostic]:
    """Height of the wall under the seat against the pavilion and its clearance."""
    if not situation.has(style.HEAD_WALL):
        return []
    rules = situation.rules
    height = situation[style.height_mm]
    limit = float(clear_of_culet(situation[stones.PAVILION_DEPTH], rules.culet_clearance_mm))
    is_made = situation.job.head.made is not None
    if round(height - limit, 6) >= (-_READ_MM if is_made else 0):
        return [_call(OK, height, limit, None, "")]
    whole = math.ceil((limit + situation[stones.GIRDLE] + rules.tube_rim_mm) * 100) / 100
    if is_made:
        return [_call(STOP, height, limit, {"head": {"made": None}}, "Make another collet")]
    given = situation.job.head.height_mm is not None
    remedy: dict[str, object] = {"head": {"height_mm": whole}} if given else {"fit": {"height": "lowest"}}
    return [_call(STOP, height, limit, remedy, f"Tube {whole:.2f} mm long")]


def _call(level: str, height: float, limit: float, remedy: dict[str, object] | None, label: str) -> Diagnostic:
    return Diagnostic(
        code=CODE,
        level=level,
        title="Wall below the seat",
        message="Where the wall is lower than the pavilion is deep, the culet stands out below and reaches the finger.",
        figure=height,
        limit=limit,
        unit="mm",
        about="culet",
        of=style.height_mm,
        remedy=remedy,
        remedy_label=label,
    )
