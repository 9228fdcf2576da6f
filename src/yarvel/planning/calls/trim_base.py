"""Bought head that is too tall: its base can be trimmed."""

from __future__ import annotations

import math

from yarvel.planning.calls.call import NOTE, OK, Call, Situation

CODE = "trim-base"
_WORTH_MM = 0.1


def _fall(situation: Situation) -> float:
    """How much the seat falls for each mm trimmed: in a gap the foot grows wider and the finger rises into it."""
    if not situation.has("shank.gap_inside"):
        return 1.0
    half, radius = situation["shank.gap_inside"] / 2, situation["shank.inside_diameter"] / 2
    rise = half / math.sqrt(max(radius**2 - half**2, 1e-6)) * math.tan(math.radians(situation["head.splay"]))
    return 1 + 1.15 * rise


def examine(situation: Situation) -> list[Call]:
    """How much lower the head could sit and still clear its culet."""
    if not situation.has("head.fixed_height") or not situation.has("seat.culet_clearance"):
        return []
    spare = situation["seat.culet_clearance"] - situation.rules.culet_clearance_mm
    level = NOTE if spare >= _WORTH_MM else OK
    trim = math.floor((spare / _fall(situation) + (situation.job.head.trim_mm or 0.0)) * 100) / 100
    room = (situation.job.head.height_mm or 0.0) - 1
    remedy = {"head": {"trim_mm": trim}} if level == NOTE and trim <= room else None
    return [
        Call(
            CODE,
            level,
            "Height of the head",
            "Taller than this stone needs: the base can be trimmed, if nothing in the gallery is in the way.",
            spare,
            _WORTH_MM,
            "mm",
            "culet",
            "head.fixed_height",
            remedy,
            f"Trim the base by {trim:.2f} mm" if remedy else "",
        )
    ]
