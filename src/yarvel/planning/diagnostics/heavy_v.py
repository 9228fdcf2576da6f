"""A V too heavy for its stone: legs that cover most of the sides they meet on hide the stone and cannot be folded."""

from __future__ import annotations

from yarvel.heads import vees
from yarvel.heads.basket import LEAST_V_MM
from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, Diagnostic, Situation

CODE = "v-too-heavy"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """The share of the shortest side between two points that their legs cover, against the house's most."""
    sides = vees.point_sides_mm(situation.facts.outline, situation.shape.places)
    if not sides or not situation.has(vees.leg_mm):
        return []
    side, leg, limit = min(sides), situation[vees.leg_mm], situation.rules.v_cover_most_share
    covered = 2 * leg / side
    level = OK if covered <= limit else CAUTION
    lighter = vees.most_metal_mm(situation.facts.outline, situation.shape.places, situation.rules)
    can = level != OK and lighter >= LEAST_V_MM and situation.can_set("claw_mm")
    remedy = {"head": {"claw_mm": lighter}} if can else None
    message = "The legs leave the stone's sides open."
    if level != OK:
        message = (
            f"Its legs of {leg:.2f} mm cover {covered:.0%} of each side of {side:.1f} mm: metal hides the stone, and "
            "so much of it cannot be folded down evenly."
        )
    label = f"V of {lighter:.2f} mm" if remedy else ""
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title="Weight of the Vs",
            message=message,
            figure=covered,
            limit=limit,
            unit="",
            about="claw",
            of=vees.leg_mm,
            remedy=remedy,
            remedy_label=label,
        )
    ]
