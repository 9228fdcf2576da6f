"""Top-heavy: a high head on a narrow band rolls over on the finger."""

from __future__ import annotations

from yarvel.heads import heights
from yarvel.planning.calls.call import NOTE, OK, Call, Situation

CODE = "top-heavy"
CODES = (CODE,)


def examine(situation: Situation) -> list[Call]:
    """Height of the table above the finger over the band's width, against the house's limit."""
    if not situation.has(heights.table_above_finger_mm) or situation.job.shank is None:
        return []
    table = situation[heights.table_above_finger_mm]
    ratio, limit = table / situation.job.shank.width_mm, situation.rules.top_heavy_ratio
    level = OK if ratio <= limit else NOTE
    wider = round(min(table / limit + 0.05, 15), 1)
    return [
        Call(
            CODE,
            level,
            "Height to width",
            "A high head on a narrow band rolls to the side in wear.",
            ratio,
            limit,
            "",
            "band",
            heights.table_above_finger_mm,
            None if level == OK else {"shank": {"width_mm": wider}},
            "" if level == OK else f"Band {wider:.1f} mm wide",
        )
    ]
