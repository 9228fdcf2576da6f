"""Tapered collet: an opening wider than the stone, and the stretch of driving it from tube."""

from __future__ import annotations

from yarvel.heads import tapered_collet
from yarvel.planning.calls.call import CAUTION, OK, STOP, Call, Situation

OPENING, OVERDRIVEN = "collet-opening-too-wide", "collet-overdriven"
CODES = (OPENING, OVERDRIVEN)


def examine(situation: Situation) -> list[Call]:
    """The top opening must not pass the stone; the stretch is held against the annealed metal's elongation."""
    if not situation.has(tapered_collet.top_opening_mm):
        return []
    opening, stone = round(situation[tapered_collet.top_opening_mm], 6), situation.diameter
    wide = STOP if opening > stone else OK
    strain, limit = situation[tapered_collet.stretch], situation.alloy.elongation_annealed
    driven = CAUTION if strain > limit else OK
    more = " Anneal between, or make it from sheet." if driven == CAUTION else ""
    return [
        Call(
            OPENING,
            wide,
            "Collet's opening",
            "The stone must sit on the rim, slightly proud, before the seat is cut.",
            opening,
            stone,
            "mm",
            "notch",
            tapered_collet.top_opening_mm,
            {"head": {"wall_mm": None, "notch_ratio": None, "included_angle_deg": None}} if wide == STOP else None,
            "Wall, ledge and angle as usual" if wide == STOP else "",
        ),
        Call(
            OVERDRIVEN,
            driven,
            "Driven from tube",
            f"Overdriving a collet cannot be undone: stop early and look.{more}",
            strain,
            limit,
            "",
            "claw",
            tapered_collet.stretch,
        ),
    ]
