"""Claws that are to meet in a point: long enough, and not too flat."""

from __future__ import annotations

import math

from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, STOP, Diagnostic, Situation
from yarvel.shanks import basket_point

CODE = "point-too-flat"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """The point's angle against the house's widest."""
    if not situation.has(basket_point.point_angle_deg):
        return []
    angle, limit = situation[basket_point.point_angle_deg], situation.rules.point_widest_deg
    level = OK if angle <= limit else STOP if angle >= 170 else CAUTION
    widest = max(situation[basket_point.claw_circle_mm], situation.diameter / 2)  # it may grow lower, and wider
    longer = math.ceil(widest / math.sin(math.radians(limit / 2)) * 10 + 0.5) / 10
    remedy = {"fit": {"below_ring_mm": longer}} if level != OK and longer <= 15 else None
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title="Angle of the point",
            message="Claws that run in so flat do not carry the head: leave them longer below the ring.",
            figure=angle,
            limit=limit,
            unit="°",
            about="claw",
            of=basket_point.point_angle_deg,
            remedy=remedy,
            remedy_label=f"{longer:.1f} mm below the ring" if remedy else "",
        )
    ]
