"""Upper ring seen from above: it should hide under the stone."""

from __future__ import annotations

import math

from yarvel.planning.calls.call import CAUTION, OK, Call, Situation

CODE = "ring-shows-from-above"
CODES = (CODE,)
_LEAST_WALL_MM = 0.3


def examine(situation: Situation) -> list[Call]:
    """How far the ring stays inside the stone's edge, against the house's least."""
    if situation.has("collet.hidden_by"):
        return [_between_claws(situation)]
    if not situation.has("head.ring_hidden_by"):
        return []
    hidden, limit = round(situation["head.ring_hidden_by"], 6), situation.rules.ring_hidden_mm
    if situation.facts.cut.domed:
        limit = 0.0
    level = OK if hidden >= limit else CAUTION
    remedy, label = _remedy(situation, limit - hidden) if level != OK else (None, "")
    return [
        Call(
            CODE,
            level,
            "Upper ring from above",
            "Seen straight down, the ring would show as a bright line round the stone.",
            hidden,
            limit,
            "mm",
            "upper-ring",
            "head.ring_hidden_by",
            remedy,
            label,
        )
    ]


def _between_claws(situation: Situation) -> Call:
    """A collet cut to claws, seen between them."""
    hidden, limit = round(situation["collet.hidden_by"], 6), situation.rules.ring_hidden_mm
    level = OK if hidden >= limit else CAUTION
    message = "Seen straight down, the sawn wall would show as a bright line between the claws."
    title, key = "Collet between its claws, from above", "collet.hidden_by"
    remedy: dict[str, object] | None = None
    label = ""
    if level != OK:
        lean = (situation["head.collet_outer"] / 2 - situation.diameter / 2 + limit) / situation["collet.saw_depth"]
        angle = math.ceil(2 * math.degrees(math.atan(lean)) + 0.5)
        ratio = (
            math.ceil((situation["seat.notch_ratio"] + (limit - hidden) / situation["head.wall_across"]) * 100) / 100
        )
        if ratio <= situation.rules.notch_caution:
            remedy, label = {"head": {"notch_ratio": ratio}}, f"Ledge {ratio:.2f} of the wall"
        elif angle <= 60 and _can_lean(situation, angle):
            remedy, label = {"head": {"included_angle_deg": float(angle)}}, f"Collet of {angle}°"
        else:
            wall = math.floor((situation["head.wall"] - (limit - hidden) * 2) * 20) / 20
            if wall >= _LEAST_WALL_MM:
                remedy, label = {"head": {"wall_mm": wall}}, f"Wall of {wall:.2f} mm"
    return Call(CODE, level, title, message, hidden, limit, "mm", "upper-ring", key, remedy, label)


def _can_lean(situation: Situation, angle: float) -> bool:
    """Whether the foot stays open at this angle."""
    most = (1 - situation.rules.foot_share) * situation["head.collet_outer"] / 2
    return situation["head.height"] * math.tan(math.radians(angle / 2)) <= most


def _remedy(situation: Situation, missing: float) -> tuple[dict[str, object], str]:
    lean = math.tan(math.radians(situation["head.splay"]))
    if lean > 0.05:
        drop = math.ceil((situation["head.ring_drop"] + missing / lean) * 20) / 20
        if drop <= situation["head.ring_drop"] + 1.0:
            return {"head": {"ring_drop_mm": drop}}, f"Ring {drop:.2f} mm below the girdle"
    ratio = math.ceil((situation["seat.notch_ratio"] + missing / situation["head.claw"]) * 100) / 100
    return {"head": {"notch_ratio": min(ratio, situation.rules.notch_stop)}}, f"Notch {ratio:.2f} of the claw"
