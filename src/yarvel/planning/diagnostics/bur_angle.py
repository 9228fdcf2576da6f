"""Bur angle against the pavilion: a bur of another angle leaves a gap under the stone at the seat's lip."""

from __future__ import annotations

from yarvel.heads import seats
from yarvel.planning.diagnostics.diagnostic import NOTE, OK, Diagnostic, Situation
from yarvel.stones import stone as stones

CODE = "bur-angle-gap"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """The gap at the lip against what the eye lets pass."""
    if not situation.has(seats.bur_gap_mm):
        return []
    gap, limit = situation[seats.bur_gap_mm], situation.rules.lip_gap_mm
    level = OK if round(gap - limit, 6) <= 0 else NOTE
    message = (
        "The bur's angle meets the pavilion closely enough."
        if level == OK
        else f"A bur of {situation.rules.bur_angle_deg:g}° under a pavilion of "
        f"{situation[stones.pavilion_angle_deg]:.1f}° leaves light at the lip: dress the seat with a hart bur "
        "laid to the pavilion."
    )
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title="Seat's angle",
            message=message,
            figure=gap,
            limit=limit,
            unit="mm",
            about="notch",
            of=seats.bur_gap_mm,
        )
    ]
