"""Band thinned by the flat, or by the recess, under the head."""

from __future__ import annotations

import math

from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, STOP, Diagnostic, Situation
from yarvel.shanks import blanks, let_in, on_flat

CODE = "band-thinned"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """What stays under the flat, or under what is let in, against the house's least; nothing left is a stop."""
    key = next((key for key in (on_flat.left_under_flat_mm, let_in.left_under_mm) if situation.has(key)), None)
    if key is None or situation.job.shank is None:
        return []
    left, limit = round(situation[key], 6), situation.rules.band_least_mm
    level = STOP if left <= 0.3 else CAUTION if left < limit else OK
    thicker = math.ceil((situation[blanks.THICKNESS] + limit - left + 0.02) * 10) / 10
    remedy = None if level == OK or thicker > 5 else situation.thicker_band(thicker)
    label = f"Band {thicker:.1f} mm thick" if remedy else ""
    fit, over = situation.job.fit, key == let_in.left_under_mm
    if level != OK and fit is not None and fit.let_mm is not None:
        remedy, label = {"fit": {"let_mm": None}}, "Let in as usual"
    title, takes = ("Band under the head", "A recess") if over else ("Band under the flat", "A flat")
    message = f"{takes} takes metal where the ring bends most in wear."
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title=title,
            message=message,
            figure=left,
            limit=limit,
            unit="mm",
            about="band",
            of=key,
            remedy=remedy,
            remedy_label=label,
        )
    ]
