"""Band over the seat: in a gap, a thick band can stand higher than the stone's girdle."""

from __future__ import annotations

import math

from yarvel.planning.compatibility import seat_at
from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, STOP, Diagnostic, Situation
from yarvel.shanks import fitting, inset

CODE = "band-over-seat"
CODES = (CODE,)

CLEAR_MM = 0.5
"""The girdle should stand this far above the band, so that claws can be closed; from memory."""


def examine(situation: Situation) -> list[Diagnostic]:
    """Seat above the finger against the band's top at the gap."""
    if not situation.has(inset.band_at_gap_mm):
        return []
    seat, top = situation[fitting.PLANE_ABOVE_FINGER], situation[inset.band_at_gap_mm]
    limit = top + CLEAR_MM
    level = STOP if seat < top else CAUTION if round(seat - limit, 6) < 0 else OK
    higher = math.ceil((limit + 0.1) * 10) / 10
    fixed = level == OK or higher > 25 or situation.job.head.height_mm is not None
    remedy = None if fixed else seat_at(situation.job, higher)
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title="Seat above the band",
            message="Where the band stands higher than the girdle, no tool reaches the claws and the stone "
            "looks sunken.",
            figure=seat,
            limit=limit,
            unit="mm",
            about="gap",
            of=fitting.PLANE_ABOVE_FINGER,
            remedy=remedy,
            remedy_label=f"Seat {higher:.1f} mm up" if remedy else "",
        )
    ]
