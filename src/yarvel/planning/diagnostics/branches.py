"""Split shoulders: a ring has to lie between the underside and the top of their branches; two branches need room side
by side at the head."""

from __future__ import annotations

from typing import Any

from yarvel.heads.style import UNDER
from yarvel.planning.diagnostics.diagnostic import NOTE, OK, STOP, Diagnostic, Situation
from yarvel.planning.job import LOWEST, FitJob
from yarvel.shanks import split_shoulder

CODE, CROWDED = "ring-over-branches", "branches-crowded"
CODES = (CODE, CROWDED)

_LEAST_SHARE = 0.4
"""Of the ring's wire; from memory: less is no notch, and no solder holds it."""


def examine(situation: Situation) -> list[Diagnostic]:
    """How much of the lowest ring lies within the notches; whether the branches' tips lie beside one another."""
    return [*_ring(situation), *_side_by_side(situation)]


def _side_by_side(situation: Situation) -> list[Diagnostic]:
    key = split_shoulder.tip_side_mm
    if not situation.has(key):
        return []
    side, half = situation[key], situation[split_shoulder.branch_mm] / 2
    over = half - side
    level = OK if round(over, 6) <= 0 else NOTE
    return [
        Diagnostic(
            code=CROWDED,
            level=level,
            title="Branches beside one another",
            message="The branches have room beside one another at the head."
            if level == OK
            else f"The head is narrow for branches this wide: file {over:.2f} mm off the inside of each at its tip, or "
            "they meet before they reach it.",
            figure=side,
            limit=half,
            unit="mm",
            about="band",
            of=key,
        )
    ]


def _ring(situation: Situation) -> list[Diagnostic]:
    key = split_shoulder.ring_gripped_mm
    if not situation.has(key) or not situation.shape.rings:
        return []
    gripped, limit = situation[key], _LEAST_SHARE * situation.shape.rings[-1].high_mm
    level = OK if round(gripped - limit, 6) >= 0 else STOP
    message = (
        "The notches hold the ring."
        if level == OK
        else "The ring lies over the branches: nothing of it stands in their notches. Bring it down, or take a second "
        "ring at the foot."
    )
    head, fit = situation.job.head, situation.job.fit or FitJob()
    remedy: dict[str, Any] | None = None
    label = ""
    if level != OK and situation.can_set("rings") and head.rings == 1:
        plain = head.legs is None and situation.shape.vees is None and head.ring_drop_mm is None
        if plain and fit.height == LOWEST and situation.can_set("legs"):
            remedy, label = {"head": {"legs": UNDER}}, "Legs bent in under the ring"
        else:
            remedy, label = {"head": {"rings": 2}}, "Two rings"
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title="Ring in the notches",
            message=message,
            figure=gripped,
            limit=limit,
            unit="mm",
            about="gap",
            of=key,
            remedy=remedy,
            remedy_label=label,
        )
    ]
