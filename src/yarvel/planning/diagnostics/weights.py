"""Weights against each other: formula, model, and what was declared."""

from __future__ import annotations

from yarvel.planning.diagnostics.diagnostic import CAUTION, NOTE, OK, Diagnostic, Situation
from yarvel.shanks import fitting
from yarvel.stones import stone as stones
from yarvel.stones import weight

CODE, IMPLIED = "weight-mismatch", "depth-by-weight"
CODES = (CODE, IMPLIED)
_FORMULA, _MODEL = weight.WEIGHT_FORMULA, weight.weight_model_ct


def examine(situation: Situation) -> list[Diagnostic]:
    """Formula against model where the formula can be believed; a declared weight against what the readings allow; and
    the depth that a declared weight implies where none was read."""
    formula, model = situation.figures[_FORMULA], situation.figures[_MODEL]
    rules, facts = situation.rules, situation.facts
    declared = situation.job.stone.declared_ct
    aspect = float(facts.stone.length_mm) / float(facts.stone.width_mm)
    low, high = facts.cut.formula_holds
    believed = low <= aspect <= high
    gap, limit = abs(model.value / formula.value - 1) if believed else 0.0, rules.weight_gap
    message = "The weights agree." if gap <= limit else "Formula and model disagree: look again at the measurements."
    if not believed:
        message = "At this length over width the formula is known to part from the body: the body counts."
    if declared is not None:
        ways = (formula, model) if believed else (model,)
        off = min(max(abs(declared - way.value) - way.plus_minus, 0.0) / way.value for way in ways)
        if off > max(gap, limit):
            gap = off
            message = (
                f"Declared {declared:.2f} ct is outside what the readings allow: a mis-measure, another species, or a "
                "swapped stone."
            )
    level = OK if gap <= limit else CAUTION
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title="Weights",
            message=message,
            figure=gap,
            limit=limit,
            unit="",
            about="stone",
            of=_MODEL,
        ),
        *_implied(situation),
    ]


def _implied(situation: Situation) -> list[Diagnostic]:
    """The depth that the declared weight implies, and what it would make of the seat's height."""
    if not situation.has(weight.depth_by_weight_mm):
        return []
    depth, assumed = situation[weight.depth_by_weight_mm], situation.figures[stones.DEPTH]
    away = abs(depth - assumed.value)
    if away > assumed.plus_minus + 1e-9:
        return []  # another stone: its weight tells nothing of this one's depth
    pavilion = situation[stones.PAVILION_DEPTH] * depth / assumed.value
    said = f"The declared weight implies a depth of {depth:.2f} mm, {pavilion:.2f} of it under the girdle"
    if situation.has(fitting.PLANE_ABOVE_FINGER):
        lower = situation[fitting.PLANE_ABOVE_FINGER] - situation[stones.PAVILION_DEPTH] + pavilion
        said += f": the seat at {lower:.2f} mm above the finger then clears as it does now"
    level = NOTE if away > 0.005 else OK
    remedy = {"stone": {"depth_mm": round(depth, 2)}} if level == NOTE else None
    label = f"Take {depth:.2f} mm as its depth" if remedy else ""
    limit = assumed.plus_minus
    key = weight.depth_by_weight_mm
    return [
        Diagnostic(
            code=IMPLIED,
            level=level,
            title="Depth by weight",
            message=f"{said}.",
            figure=depth,
            limit=limit,
            unit="mm",
            about="stone",
            of=key,
            remedy=remedy,
            remedy_label=label,
        )
    ]
