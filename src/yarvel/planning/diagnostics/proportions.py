"""Crown, girdle and pavilion against the measured depth."""

from __future__ import annotations

from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, Diagnostic, Situation
from yarvel.stones import stone as stones

CODE = "proportions-disagree"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """Only where depth, crown and pavilion were all measured."""
    stone = situation.job.stone
    if stone.depth_mm is None or stone.crown_height_mm is None or stone.pavilion_depth_mm is None:
        return []
    total = stone.crown_height_mm + stone.pavilion_depth_mm + situation[stones.GIRDLE]
    apart, limit = abs(total - stone.depth_mm), situation.rules.proportions_slack_mm
    level = OK if apart <= limit else CAUTION
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title="Parts against depth",
            message=f"Crown, girdle and pavilion add to {total:.2f} mm; the depth was read as "
            f"{stone.depth_mm:.2f} mm. The "
            "depth is kept and the parts are scaled to it.",
            figure=apart,
            limit=limit,
            unit="mm",
            about="stone",
            of=stones.DEPTH,
            remedy=None if level == OK else {"stone": {"crown_height_mm": None, "pavilion_depth_mm": None}},
            remedy_label="" if level == OK else "Keep the depth, drop both parts",
        )
    ]
