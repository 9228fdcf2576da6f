"""Tapered collet: an opening wider than the stone, and the stretch of driving it from tube."""

from __future__ import annotations

from yarvel.heads import driven_tube, tapered_collet
from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, STOP, Diagnostic, Situation

OPENING, OVERDRIVEN, CLOSED = "collet-opening-too-wide", "collet-overdriven", "collet-foot-closed"
CODES = (OPENING, OVERDRIVEN, CLOSED)

_LEAST_BORE_MM = 0.3
"""What a three-square file still gets into from below; from memory."""


def examine(situation: Situation) -> list[Diagnostic]:
    """The top opening must not pass the stone; the stretch is held against the annealed metal's elongation."""
    if not situation.has(tapered_collet.top_opening_mm):
        return []
    opening, stone = round(situation[tapered_collet.top_opening_mm], 6), situation.diameter
    wide = STOP if opening > stone else OK
    strain, limit = situation[tapered_collet.stretch], situation.alloy.elongation_annealed
    driven = CAUTION if strain > limit else OK
    more = " Anneal between, or make it from sheet." if driven == CAUTION else ""
    return [
        *_foot(situation),
        Diagnostic(
            code=OPENING,
            level=wide,
            title="Collet's opening",
            message="The stone must sit on the rim, slightly proud, before the seat is cut.",
            figure=opening,
            limit=stone,
            unit="mm",
            about="notch",
            of=tapered_collet.top_opening_mm,
            remedy={"head": {"wall_mm": None, "notch_ratio": None, "included_angle_deg": None}}
            if wide == STOP
            else None,
            remedy_label="Wall, ledge and angle as usual" if wide == STOP else "",
        ),
        Diagnostic(
            code=OVERDRIVEN,
            level=driven,
            title="Driven from tube",
            message=f"Overdriving a collet cannot be undone: stop early and look.{more}",
            figure=strain,
            limit=limit,
            unit="",
            about="claw",
            of=tapered_collet.stretch,
        ),
    ]


def _foot(situation: Situation) -> list[Diagnostic]:
    """The bore that is left at the foot of a driven tube: its metal goes inwards as the block closes it."""
    if not situation.has(driven_tube.foot_closed):
        return []
    bore = situation[tapered_collet.foot_diameter_mm] - 2 * situation[tapered_collet.wall_across_mm]
    level = STOP if bore < _LEAST_BORE_MM else OK
    message = (
        "The foot stays open."
        if level == OK
        else "So much metal in so short a cone closes the foot: a shorter tube, a thinner wall, or not so deep."
    )
    return [
        Diagnostic(
            code=CLOSED,
            level=level,
            title="Bore at the foot",
            message=message,
            figure=bore,
            limit=_LEAST_BORE_MM,
            unit="mm",
            about="foot",
            of=tapered_collet.foot_diameter_mm,
        )
    ]
