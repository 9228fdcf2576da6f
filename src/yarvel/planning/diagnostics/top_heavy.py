"""Top-heavy: a high head on a narrow band rolls over on the finger."""

from __future__ import annotations

from typing import Any

from yarvel.heads import heights
from yarvel.planning.diagnostics.diagnostic import NOTE, OK, Diagnostic, Situation
from yarvel.planning.diagnostics.legs import one_ring
from yarvel.shanks.fitting import GALLERY

CODE = "top-heavy"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """Height of the table above the finger over the band's width, against the house's limit."""
    if not situation.has(heights.table_above_finger_mm) or situation.job.shank is None:
        return []
    table = situation[heights.table_above_finger_mm]
    ratio, limit = table / situation.job.shank.width_mm, situation.rules.top_heavy_ratio
    level = OK if ratio <= limit else NOTE
    remedy, label = (None, "") if level == OK else _remedy(situation, table / limit)
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title="Height to width",
            message="A high head on a narrow band rolls to the side in wear.",
            figure=ratio,
            limit=limit,
            unit="",
            about="band",
            of=heights.table_above_finger_mm,
            remedy=remedy,
            remedy_label=label,
        )
    ]


def _remedy(situation: Situation, width: float) -> tuple[dict[str, Any], str]:
    """One ring where the second makes the head as high as it is; else a wider band."""
    decides = max(situation.conditions, key=lambda name: situation.conditions[name], default="")
    if decides == GALLERY and situation.can_set("rings") and situation.job.head.rings > 1:
        return one_ring(situation), "One ring, under the girdle"
    wider = round(min(width + 0.05, 15), 1)
    return {"shank": {"width_mm": wider}}, f"Band {wider:.1f} mm wide"
