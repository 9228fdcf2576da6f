"""Hollowing a made head's base to the band: its ring must not be cut through."""

from __future__ import annotations

from yarvel.planning.calls.call import CAUTION, OK, Call, Situation
from yarvel.shanks import fish_mouth

CODE = "base-cut-through"
CODES = (CODE,)


def examine(situation: Situation) -> list[Call]:
    """Depth of the hollow against the base ring's wire."""
    if not situation.has(fish_mouth.saddle_depth_mm) or not situation.shape.rings:
        return []
    deep, limit = (
        situation[fish_mouth.saddle_depth_mm],
        situation.rules.base_cut_share * situation.shape.rings[-1].wire_mm,
    )
    level = OK if deep <= limit else CAUTION
    remedy = {"fit": {"method": "on-flat"}} if level != OK else None
    return [
        Call(
            CODE,
            level,
            "Base on the curve",
            "The band's curve takes most of the base ring: put the head on a flat instead."
            if level != OK
            else "The base ring bears being hollowed to the band.",
            deep,
            limit,
            "mm",
            "band",
            fish_mouth.saddle_depth_mm,
            remedy,
            "Head on a flat" if remedy else "",
        )
    ]
