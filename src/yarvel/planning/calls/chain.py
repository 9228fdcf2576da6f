"""A pendant's ring and the end of the chain that has to go through it."""

from __future__ import annotations

import math

from yarvel.planning.calls.call import CAUTION, OK, STOP, Call, Situation
from yarvel.shanks import hanging

CODE, HOOK = "chain-opening", "bail-in-ring"
CODES = (CODE, HOOK)


def examine(situation: Situation) -> list[Call]:
    """Room round the chain's end, and round the bail in its ring, against the house's least."""
    return [*_chain(situation), *_hook(situation)]


def _hook(situation: Situation) -> list[Call]:
    if not situation.has(hanging.hook_room_mm):
        return []
    room, limit = round(situation[hanging.hook_room_mm], 6), situation.rules.chain_room_mm
    level = OK if room >= limit else STOP if room < 0 else CAUTION
    wider = math.ceil((situation[hanging.BAIL_WIRE] + limit) * 10 - 1e-6) / 10
    remedy = {"fit": {"bail": {"inside_mm": wider}}} if level != OK and wider <= 12 else None
    return [
        Call(
            HOOK,
            level,
            "Bail in its ring",
            "A bail that fills its ring binds in it: the pendant hangs askew, and ring and bail wear.",
            room,
            limit,
            "mm",
            "stone",
            hanging.hook_room_mm,
            remedy,
            f"Ring {wider:.1f} mm inside" if remedy else "",
        )
    ]


def _chain(situation: Situation) -> list[Call]:
    if not situation.has(hanging.chain_room_mm):
        return []
    room, limit = round(situation[hanging.chain_room_mm], 6), situation.rules.chain_room_mm
    level = OK if room >= limit else STOP if room < 0 else CAUTION
    wider = math.ceil((situation[hanging.CHAIN_END] + limit) * 10 - 1e-6) / 10
    own = not situation.has(hanging.BAIL_OPENING)  # a bought bail is as wide as it is: another one
    remedy = {"fit": {"bail": {"inside_mm": wider}}} if own and level != OK and wider <= 12 else None
    return [
        Call(
            CODE,
            level,
            "Chain through the ring" if own else "Chain through the bail",
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
