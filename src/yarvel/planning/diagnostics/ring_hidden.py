"""Upper ring seen from above: it should hide under the stone."""

from __future__ import annotations

import math

from yarvel.heads import applied_collet, basket, claws, notches, rings, style, tapered_collet
from yarvel.planning.compatibility import ring_at
from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, Diagnostic, Situation

CODE = "ring-shows-from-above"
CODES = (CODE,)
_LEAST_WALL_MM, _LEAST_RING_MM = 0.3, 0.5


def examine(situation: Situation) -> list[Diagnostic]:
    """How far the ring stays inside the stone's edge, against the house's least."""
    if situation.has(tapered_collet.hidden_by_mm):
        return [_between_claws(situation)]
    if not situation.has(rings.ring_hidden_by_mm):
        return []
    hidden, limit = round(situation[rings.ring_hidden_by_mm], 6), situation.rules.ring_hidden_mm
    if situation.facts.cut.domed:
        limit = 0.0
    level = OK if hidden >= limit else CAUTION
    remedy, label = None, ""
    if level != OK:
        on_collet = situation.has(applied_collet.claw_down_mm)
        remedy, label = (_under_stone if on_collet else _remedy)(situation, limit - hidden)
    if situation.has(applied_collet.claw_down_mm):
        return [_hidden_collet(level, hidden, limit, remedy, label)]
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title="Ring from above" if situation.job.head.rings == 1 else "Upper ring from above",
            message="Seen straight down, the ring would show as a bright line round the stone.",
            figure=hidden,
            limit=limit,
            unit="mm",
            about="upper-ring",
            of=rings.ring_hidden_by_mm,
            remedy=remedy,
            remedy_label=label,
        )
    ]


def _hidden_collet(level: str, hidden: float, limit: float, remedy: dict[str, object] | None, label: str) -> Diagnostic:
    """A collet with applied claws: all of it lies under the stone."""
    title, message = "Collet from above", "Seen straight down, the collet would show as a bright line round the stone."
    return Diagnostic(
        code=CODE,
        level=level,
        title=title,
        message=message,
        figure=hidden,
        limit=limit,
        unit="mm",
        about="upper-ring",
        of=rings.ring_hidden_by_mm,
        remedy=remedy,
        remedy_label=label,
    )


def _under_stone(situation: Situation, missing: float) -> tuple[dict[str, object] | None, str]:
    """Deeper notches, which bring the claws and the collet in; else a steeper collet, or a thicker wall to groove."""
    rules = situation.rules
    deeper = math.ceil((situation[notches.notch_ratio] + missing / situation[claws.CLAW]) * 100) / 100
    if deeper <= rules.notch_caution:
        return {"head": {"notch_ratio": deeper}}, f"Notch {deeper:.2f} of the claw"
    lean = math.tan(math.radians(situation[tapered_collet.half_angle_deg])) + missing / rules.ring_drop_mm
    angle = math.ceil(2 * math.degrees(math.atan(lean)))
    if angle <= _STEEPEST_DEG:
        return {"head": {"included_angle_deg": float(angle)}}, f"Collet of {angle}°"
    wall = math.floor((situation[style.HEAD_WALL] - missing / rules.groove_share) * 20) / 20
    return ({"head": {"wall_mm": wall}}, f"Wall of {wall:.2f} mm") if wall >= _LEAST_WALL_MM else (None, "")


_STEEPEST_DEG = 40


def _between_claws(situation: Situation) -> Diagnostic:
    """A collet cut to claws, seen between them."""
    hidden, limit = round(situation[tapered_collet.hidden_by_mm], 6), situation.rules.ring_hidden_mm
    level = OK if hidden >= limit else CAUTION
    message = "Seen straight down, the sawn wall would show as a bright line between the claws."
    title, key = "Collet between its claws, from above", tapered_collet.hidden_by_mm
    remedy: dict[str, object] | None = None
    label = ""
    if level != OK:
        lean = (situation[notches.collet_outer_mm] / 2 - situation.diameter / 2 + limit) / situation[
            tapered_collet.saw_depth_mm
        ]
        angle = math.ceil(2 * math.degrees(math.atan(lean)) + 0.5)
        ratio = (
            math.ceil(
                (situation[notches.notch_ratio] + (limit - hidden) / situation[tapered_collet.wall_across_mm]) * 100
            )
            / 100
        )
        if ratio <= situation.rules.notch_caution:
            remedy, label = {"head": {"notch_ratio": ratio}}, f"Ledge {ratio:.2f} of the wall"
        elif angle <= 60 and _can_lean(situation, angle):
            remedy, label = {"head": {"included_angle_deg": float(angle)}}, f"Collet of {angle}°"
        else:
            wall = math.floor((situation[style.HEAD_WALL] - (limit - hidden) * 2) * 20) / 20
            if wall >= _LEAST_WALL_MM:
                remedy, label = {"head": {"wall_mm": wall}}, f"Wall of {wall:.2f} mm"
    return Diagnostic(
        code=CODE,
        level=level,
        title=title,
        message=message,
        figure=hidden,
        limit=limit,
        unit="mm",
        about="upper-ring",
        of=key,
        remedy=remedy,
        remedy_label=label,
    )


def _can_lean(situation: Situation, angle: float) -> bool:
    """Whether the foot stays open at this angle."""
    most = (1 - situation.rules.foot_share) * situation[notches.collet_outer_mm] / 2
    return situation[style.height_mm] * math.tan(math.radians(angle / 2)) <= most


def _remedy(situation: Situation, missing: float) -> tuple[dict[str, object] | None, str]:
    """Grooves instead of holes; the ring dropped where the claws lean; else notch and ring wire chosen together."""
    rules, head = situation.rules, situation.job.head
    if head.posts == rings.DRILLED and situation.can_set("posts"):
        return {"head": {"posts": rings.GROOVED, "ring_mm": None}}, "Claws in grooves"
    lean = math.tan(math.radians(situation[basket.splay_deg]))
    if lean > 0.05:
        drop = math.ceil((situation[rings.RING_DROP] + missing / lean) * 20) / 20
        if drop <= situation[rings.RING_DROP] + 1.0:
            return ring_at(situation.job, drop), f"Ring {drop:.2f} mm below the girdle"
    claw, ratio = situation[claws.CLAW], situation[notches.notch_ratio]
    deeper = math.ceil((ratio + missing / claw) * 100) / 100
    if deeper <= rules.notch_caution:
        return {"head": {"notch_ratio": deeper}}, f"Notch {deeper:.2f} of the claw"
    ratio = max(ratio, rules.notch_caution)
    limit = situation[rings.ring_hidden_by_mm] + missing
    high, inside = 1.0, ratio * claw + situation[rings.RING_DROP] * lean - limit
    if head.ring_section == rings.STRIP:
        high = rules.ring_strip_high_share if head.ring_high_mm is None else 0.0
        inside += (head.ring_high_mm or 0.0) / 2 * lean
    wire = math.floor(inside / (rules.groove_share - high * lean / 2) * 20 + 1e-9) / 20
    if wire < _LEAST_RING_MM:
        return None, ""
    return {"head": {"notch_ratio": ratio, "ring_mm": wire}}, f"Notch {ratio:.2f} of the claw, ring wire {wire:.2f} mm"
