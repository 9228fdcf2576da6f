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
    limit = situation.rules.level_within_deg
    if lean.unsteady_mm >= MOVED_MM:
        return [
            Diagnostic(
                code=CODE,
                level=CAUTION,
                title="Level of the table",
                message=moved_words(lean),
                figure=lean.tilt_deg,
                limit=limit,
                unit="°",
                about="stone",
            )
        ]
    if lean.tilt_deg <= limit:
        return [
            Diagnostic(
                code=CODE,
                level=OK,
                title="Level of the table",
                message="The table is level.",
                figure=lean.tilt_deg,
                limit=limit,
                unit="°",
                about="stone",
            )
        ]
    down = ", ".join(
        f"claw {number} by {take:.2f} mm"
        for number, take in sorted(zip(numbers(places), lean.take_off_mm, strict=True), key=lambda pair: -pair[1])
        if take >= 0.02
    )
    return [
        Diagnostic(
            code=CODE,
            level=CAUTION,
            title="Level of the table",
            message=f"The stone lies low towards {towards(lean.low_deg)}. Ease the claw there, take the seats "
            f"down at {down}, "
            "and close the claw across last.",
            figure=lean.tilt_deg,
            limit=limit,
            unit="°",
            about="stone",
        )
    ]
