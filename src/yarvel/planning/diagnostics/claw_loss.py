"""Holding: the open arc as built, and what happens when any one claw is lost."""

from __future__ import annotations

from typing import Any

from yarvel.heads import claws, vees
from yarvel.heads.claws import MOST_CLAWS
from yarvel.heads.holding import holding
from yarvel.heads.places import places, usual_claws
from yarvel.planning.diagnostics.diagnostic import NOTE, OK, STOP, Diagnostic, Situation

OPEN, LOSS = "open-arc", "claw-loss"
CODES = (OPEN, LOSS)


def examine(situation: Situation) -> list[Diagnostic]:
    """The claws hold while no open arc between their pushes reaches half the circle."""
    if not situation.has(claws.open_arc_deg):
        return []
    limit = situation.rules.open_arc_deg
    arc, lost = round(situation[claws.open_arc_deg], 6), round(situation[claws.open_arc_one_lost_deg], 6)
    now = OK if arc < limit else STOP
    after = OK if lost < limit else NOTE
    usual = {"head": {"claw_places_deg": None}} if situation.job.head.claw_places_deg is not None else None
    remedy, label = (None, "") if after == OK else _more_claws(situation)
    message = (
        "If one claw goes, the stone stays."
        if after == OK
        else "If the claw that matters most goes, the stone can leave sideways"
        + (f": {label.lower()} would still hold it." if label else ".")
    )
    return [
        Diagnostic(
            code=OPEN,
            level=now,
            title="Open arc",
            message="The stone leaves through an open arc of half the circle or more.",
            figure=arc,
            limit=limit,
            unit="°",
            about="plan",
            of=claws.open_arc_deg,
            remedy=usual if now == STOP else None,
            remedy_label="Claws back to their usual places" if now == STOP and usual else "",
        ),
        Diagnostic(
            code=LOSS,
            level=after,
            title="One claw lost",
            message=message,
            figure=lost,
            limit=limit,
            unit="°",
            about="plan",
            of=claws.open_arc_one_lost_deg,
            remedy=remedy,
            remedy_label=label,
        ),
    ]


_WORDS = {4: "Four claws", 5: "Five claws", 6: "Six claws", 7: "Seven claws", 8: "Eight claws"}


def _more_claws(situation: Situation) -> tuple[dict[str, Any] | None, str]:
    """The fewest claws more that would bear the loss of one, where the style counts its claws: in pairs beside what the
    cut usually has, for a stone is held alike on both sides (common practice)."""
    if not situation.can_set("claws"):
        return None, ""
    facts, count_now = situation.facts, len(situation.shape.places)
    if facts.cut.is_round:
        return ({"head": {"claws": 6, "claw_places_deg": None}}, "Six claws") if count_now < 6 else (None, "")
    leg = situation[vees.leg_mm] if situation.has(vees.leg_mm) else 0.0
    usual = usual_claws(facts.cut)
    for count in range(count_now + 1, MOST_CLAWS + 1):
        if (count - usual) % 2:
            continue
        positions = places(facts.outline, count, situation.job.head.orientation, facts.cut.cornered)
        if holding(positions, leg, turning=False).worst_loss_deg < situation.rules.open_arc_deg - 1e-6:
            return {"head": {"claws": count, "claw_places_deg": None}}, _WORDS[count]
    return None, ""
