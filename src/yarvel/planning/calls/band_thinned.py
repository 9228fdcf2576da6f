"""Band thinned by the flat under the head."""

from __future__ import annotations

import math

from yarvel.planning.calls.call import CAUTION, OK, STOP, Call, Situation
from yarvel.shanks import blanks, on_flat

CODE = "band-thinned"
CODES = (CODE,)


def examine(situation: Situation) -> list[Call]:
    """What stays under the flat against the house's least; nothing left is a stop."""
    if not situation.has(on_flat.left_under_flat_mm) or situation.job.shank is None:
        return []
    left, limit = round(situation[on_flat.left_under_flat_mm], 6), situation.rules.band_least_mm
    level = STOP if left <= 0.3 else CAUTION if left < limit else OK
    thicker = math.ceil((situation[blanks.THICKNESS] + limit - left + 0.02) * 10) / 10
    remedy = None if level == OK or thicker > 5 else situation.thicker_band(thicker)
    return [
        Call(
            CODE,
            level,
            "Band under the flat",
            "A flat takes metal where the ring bends most in wear.",
            left,
            limit,
            "mm",
            "band",
            on_flat.left_under_flat_mm,
            remedy,
            f"Band {thicker:.1f} mm thick" if remedy else "",
        )
    ]
