"""Notch too deep or too shallow: how much of the claw the stone takes."""

from __future__ import annotations

from typing import Any

from yarvel.heads import claws, notches, tapered_collet
from yarvel.planning.compatibility import goes_uncut
from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, STOP, Diagnostic, Situation

TOO_DEEP, TOO_SHALLOW = "notch-too-deep", "notch-too-shallow"
CODES = (TOO_DEEP, TOO_SHALLOW)


def _other(situation: Situation) -> tuple[dict[str, Any] | None, str]:
    """Another notch; a collet whose ledge is what its tube gives is rolled over instead of sawn."""
    target = situation.rules.notch_target
    if situation.can_set("notch_ratio"):
        return {"head": {"notch_ratio": target}}, f"Notch {target:.2f} of the claw"
    if situation.job.head.tube is not None:
        return {"head": {"cut": tapered_collet.BEZEL, "claws": None, "claw_places_deg": None}}, "Roll its rim over"
    return None, ""


def examine(situation: Situation) -> list[Diagnostic]:
    """Against the house's caution and stop above, and the least that holds below."""
    if not situation.has(claws.open_arc_deg):
        return []
    rules, ratio = situation.rules, round(situation[notches.notch_ratio], 6)
    target, label = _other(situation)
    deep_level = STOP if ratio > rules.notch_stop else CAUTION if ratio > rules.notch_caution else OK
    limit = rules.notch_stop if deep_level == STOP else rules.notch_caution
    deep = Diagnostic(
        code=TOO_DEEP,
        level=deep_level,
        title="Notch depth",
        message="A claw cut past half fails sideways months later: cloth catches the thin side and the stone goes.",
        figure=ratio,
        limit=limit,
        unit="",
        about="notch",
        of=notches.notch_ratio,
        remedy=target if deep_level != OK else None,
        remedy_label=label if deep_level != OK and target else "",
    )
    uncut = goes_uncut(situation.job.head)
    least = situation.shallowest
    least_notch = round(situation[least], 6)
    shallow_level = STOP if least_notch < rules.notch_least and not uncut else OK
    shallow = Diagnostic(
        code=TOO_SHALLOW,
        level=shallow_level,
        title="Hold of the notch",
        message="No notch: claws curved along the dome hold it."
        if uncut
        else "Too little of the girdle lies in the claw to hold the stone against a knock.",
        figure=least_notch,
        limit=rules.notch_least,
        unit="",
        about="notch",
        of=least,
        remedy=target if shallow_level != OK else None,
        remedy_label=label if shallow_level != OK and target else "",
    )
    return [deep, shallow]
