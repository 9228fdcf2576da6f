"""A ring of strip on edge: claws lean in past it, and their grooves grow deeper towards its foot."""

from __future__ import annotations

import math

from yarvel.heads import rings, style
from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, STOP, Diagnostic, Situation

CODE = "strip-groove-deep"
CODES = (CODE,)

_MOST_SHARE, _LEAST_LEFT_MM, _LEAST_HIGH_MM = 2 / 3, 0.1, 0.5
"""Of the strip's thickness, what a groove takes at the most; what has to be left behind it, mm; how low a strip is
still one, mm; from memory."""


def examine(situation: Situation) -> list[Diagnostic]:
    """The deepest that a groove gets against what the strip's thickness bears."""
    if not situation.has(rings.deepest_groove_mm):
        return []
    deep, wall = situation[rings.deepest_groove_mm], situation[rings.RING_WIRE]
    limit = _MOST_SHARE * wall
    level = OK if deep <= limit + 1e-9 else CAUTION if deep <= wall - _LEAST_LEFT_MM else STOP
    message = (
        "The grooves leave the strip whole down to its foot."
        if level == OK
        else "The claws lean in, the strip stands: towards its foot the grooves cut it "
        + ("thin." if level == CAUTION else "through. A lower strip, or less splay.")
    )
    remedy = None if level == OK else _lower(situation, limit)
    label = "" if remedy is None else f"Strip {remedy:.2f} mm high"
    patch = None if remedy is None else {"head": {"ring_high_mm": remedy}}
    key = rings.deepest_groove_mm
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title="Grooves in the strip",
            message=message,
            figure=deep,
            limit=limit,
            unit="mm",
            about="upper-ring",
            of=key,
            remedy=patch,
            remedy_label=label,
        )
    ]


def _lower(situation: Situation, limit_mm: float) -> float | None:
    """The height in mm at which the grooves stay within the limit; None where that is no strip any more."""
    lean = math.tan(math.radians(situation[style.SPLAY]))
    high = math.floor(2 * (limit_mm - situation[rings.ring_groove_mm]) / max(lean, 1e-6) * 20) / 20
    return high if high >= _LEAST_HIGH_MM else None
