"""Pavilion and gallery: whether the upper ring lifts the stone, and how much to countersink it."""

from __future__ import annotations

from yarvel.heads import rings
from yarvel.planning.compatibility import ring_at
from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, Diagnostic, Situation

CODE = "pavilion-touches-gallery"
CODES = (CODE,)


def examine(situation: Situation) -> list[Diagnostic]:
    """Countersink needed against half the ring wire: more than that weakens the ring, drop it instead."""
    if not situation.has(rings.countersink_mm):
        return []
    cut, limit = situation[rings.countersink_mm], situation[rings.RING_WIRE] / 2
    level = OK if cut <= limit else CAUTION
    remedy = None
    dropped = round(situation[rings.RING_DROP] + 0.1 + 1.4 * max(cut - limit, 0), 2)
    if level == CAUTION:
        remedy = ring_at(situation.job, dropped)
    message = (
        "The pavilion would ride on the ring's inner edge: countersink it to the pavilion's angle, or the ring lifts "
        "the stone off its seats."
        if cut >= 0.005
        else "The pavilion passes the ring freely."
    )
    return [
        Diagnostic(
            code=CODE,
            level=level,
            title="Pavilion over the upper ring",
            message=message,
            figure=cut,
            limit=limit,
            unit="mm",
            about="upper-ring",
            of=rings.countersink_mm,
            remedy=remedy,
            remedy_label=f"Ring {dropped:.2f} mm below the girdle" if remedy else "",
        )
    ]
