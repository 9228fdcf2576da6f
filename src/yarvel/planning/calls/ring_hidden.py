"""Upper ring seen from above: it should hide under the stone."""

from __future__ import annotations

import math

from yarvel.planning.calls.call import CAUTION, OK, Call, Situation

CODE = "ring-shows-from-above"


def examine(situation: Situation) -> list[Call]:
    """How far the ring stays inside the stone's edge, against the house's least."""
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


def _remedy(situation: Situation, missing: float) -> tuple[dict[str, object], str]:
    lean = math.tan(math.radians(situation["head.splay"]))
    if lean > 0.05:
        drop = math.ceil((situation["head.ring_drop"] + missing / lean) * 20) / 20
        if drop <= situation["head.ring_drop"] + 1.0:
            return {"head": {"ring_drop_mm": drop}}, f"Ring {drop:.2f} mm below the girdle"
    ratio = math.ceil((situation["seat.notch_ratio"] + missing / situation["head.claw"]) * 100) / 100
    return {"head": {"notch_ratio": min(ratio, situation.rules.notch_stop)}}, f"Notch {ratio:.2f} of the claw"
