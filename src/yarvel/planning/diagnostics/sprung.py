"""Sprung instead of cut out: the size that the ring would become."""

from __future__ import annotations

import math

from yarvel.planning.diagnostics.diagnostic import OK, Diagnostic, Situation
from yarvel.shanks import inset, sizes
from yarvel.shanks.sizes import SYSTEMS

CODE = "size-changes-if-sprung"
CODES = (CODE,)
SAWN_OUT = "Saw out the whole piece between both marks. Cut once and sprung open over the head, the ring would become"
CUT_SHORT = "Cut the blank short by the gap. As long as a whole ring and sprung open over the head, it would become"


def examine(situation: Situation) -> list[Diagnostic]:
    """Examined for every inset head: the piece is sawn out, or never was there; no ring is sprung over its head."""
    if not situation.has(inset.size_if_sprung_mm) or situation.job.shank is None:
        return []
    sprung, wanted = situation[inset.size_if_sprung_mm], situation[sizes.inside_circumference_mm]
    system = SYSTEMS[situation.job.shank.size.system]
    became = system.name(sprung / math.pi)
    return [
        Diagnostic(
            code=CODE,
            level=OK,
            title="Length short by the gap" if situation.open_ring else "Cut the piece out",
            message=f"{CUT_SHORT if situation.open_ring else SAWN_OUT} {system.label} {became}.",
            figure=sprung,
            limit=wanted,
            unit="mm",
            about="gap",
            of=inset.size_if_sprung_mm,
        )
    ]
