"""Sprung instead of cut out: the size that the ring would become."""

from __future__ import annotations

import math

from yarvel.planning.calls.call import OK, Call, Situation
from yarvel.shanks import inset, sizes
from yarvel.shanks.sizes import SYSTEMS

CODE = "size-changes-if-sprung"
CODES = (CODE,)


def examine(situation: Situation) -> list[Call]:
    """Examined for every inset head: the step of sawing takes the whole piece out, never springs the ring over it."""
    if not situation.has(inset.size_if_sprung_mm) or situation.job.shank is None:
        return []
    sprung, wanted = situation[inset.size_if_sprung_mm], situation[sizes.inside_circumference_mm]
    system = SYSTEMS[situation.job.shank.size.system]
    became = system.name(sprung / math.pi)
    return [
        Call(
            CODE,
            OK,
            "Cut the piece out",
            f"Cut once and sprung open over the head, the ring would become {system.label} {became}. Saw out the whole "
            "piece between both marks.",
            sprung,
            wanted,
            "mm",
            "gap",
            inset.size_if_sprung_mm,
        )
    ]
