"""The table as read at the claws: level, or leaning, and which seat to take down."""

from __future__ import annotations

import numpy as np

from yarvel.heads.claws import towards
from yarvel.heads.levelling import MOVED_MM, moved_words, table_lean
from yarvel.heads.places import numbers
from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, Diagnostic, Situation

CODE = "stone-not-level"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """Lean of the plane through the heights read, against the house's limit."""
    setting, places = situation.job.setting, situation.shape.places
    if setting is None or setting.table_heights_mm is None or len(places) != len(setting.table_heights_mm):
        return []
    spots = np.array([(place.x_mm, place.y_mm) for place in places])
    lean = table_lean(spots, np.array(setting.table_heights_mm))
    limit, steady = situation.rules.level_within_deg, lean.unsteady_mm < MOVED_MM
    low = lean.tilt_deg > limit
    down = ", ".join(
        f"claw {number} by {take:.2f} mm"
        for number, take in sorted(zip(numbers(places), lean.take_off_mm, strict=True), key=lambda pair: -pair[1])
        if take >= 0.02
    )
    said = [
        f"The stone lies low towards {towards(lean.low_deg)}. Ease the claw there, take the seats down at {down}, and "
        "close the claw across last."
        if low
        else "",
        "" if steady else moved_words(lean),
    ]
    return [
        Diagnostic(
            code=CODE,
            level=CAUTION if low or not steady else OK,
            title="Level of the table",
            message=" ".join(filter(None, said)) or "The table is level.",
            figure=lean.tilt_deg,
            limit=limit,
            unit="°",
            about="stone",
        )
    ]
