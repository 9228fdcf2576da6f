"""A pendant's ring and the end of the chain that has to go through it."""

from __future__ import annotations

import math

from yarvel.planning.calls.call import CAUTION, OK, STOP, Call, Situation
from yarvel.shanks import hanging

CODE = "chain-opening"
CODES = (CODE,)


def examine(situation: Situation) -> list[Call]:
    """Room round the chain's end against the house's least."""
    if not situation.has(hanging.chain_room_mm):
        return []
    room, limit = round(situation[hanging.chain_room_mm], 6), situation.rules.chain_room_mm
    level = OK if room >= limit else STOP if room < 0 else CAUTION
    wider = math.ceil((situation[hanging.CHAIN_END] + limit) * 10 - 1e-6) / 10
    remedy = {"fit": {"bail": {"inside_mm": wider}}} if level != OK and wider <= 12 else None
    return [
        Call(
            CODE,
            level,
            "Chain through the ring",
            "The end of the chain has to go through freely, or it is forced and the ring opens.",
            room,
            limit,
            "mm",
            "stone",
            hanging.chain_room_mm,
            remedy,
            f"Ring {wider:.1f} mm inside" if remedy else "",
        )
    ]
