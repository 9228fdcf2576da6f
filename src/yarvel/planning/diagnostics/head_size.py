"""Bought head against the stone: too small is overcut, too large does not hold."""

from __future__ import annotations

from typing import Any

from yarvel.heads import bought, notches
from yarvel.planning.diagnostics.diagnostic import OK, STOP, Diagnostic, Situation
from yarvel.stones import stone as stones

SMALL, LARGE = "head-too-small", "head-too-large"
CODES = (SMALL, LARGE)


def examine(situation: Situation) -> list[Diagnostic]:
    """The notch that this stone takes in the head, against the house's stop and least."""
    if not situation.has(bought.MADE_FOR):
        return []
    rules, ratio = situation.rules, round(situation[notches.notch_ratio], 6)
    shallow = situation.shallowest
    least = round(situation[shallow], 6)
    remedy, label = _another(situation)
    small, large = (STOP if wrong else OK for wrong in (ratio > rules.notch_stop, least < rules.notch_least))
    return [
        Diagnostic(
            code=SMALL,
            level=small,
            title="Head for a smaller stone",
            message="The claws would be cut past half to let the stone in; they fail sideways later.",
            figure=ratio,
            limit=rules.notch_stop,
            unit="",
            about="notch",
            of=notches.notch_ratio,
            remedy=remedy if small == STOP else None,
            remedy_label=label if small == STOP else "",
        ),
        Diagnostic(
            code=LARGE,
            level=large,
            title="Head for a larger stone",
            message="Too little of the claw lies over the girdle; pressed in, the claws lean and the stone sits low.",
            figure=least,
            limit=rules.notch_least,
            unit="",
            about="notch",
            of=shallow,
            remedy=remedy if large == STOP else None,
            remedy_label=label if large == STOP else "",
        ),
    ]


def _another(situation: Situation) -> tuple[dict[str, Any], str]:
    """The patch to a head that is made for this very stone."""
    head: dict[str, Any] = {"opening_mm": None, "label_ct": None}
    if situation.facts.cut.is_round:
        size = round(situation.diameter, 1)
        return {"head": {**head, "made_for_mm": size}}, f"A head for {size:.1f} mm"
    length, width = (round(situation[key], 1) for key in (stones.LENGTH, stones.WIDTH))
    return (
        {"head": {**head, "made_for_mm": length, "made_for_width_mm": width}},
        f"A head for {length:.1f} by {width:.1f} mm",
    )
