"""A pendant's ring and the end of the chain that has to go through it."""

from __future__ import annotations

from yarvel.figures.figure import FigureKey
from yarvel.planning.diagnostics.diagnostic import CAUTION, OK, STOP, Diagnostic, Situation
from yarvel.shanks import pendant

CODE, HOOK = "chain-opening", "bail-in-ring"
CODES = (CODE, HOOK)


def examine(situation: Situation) -> list[Diagnostic]:
    """Room round the chain's end, and round the bail in its ring, against the house's least."""
    bail = situation.has(pendant.BAIL_OPENING)  # a bought one is as wide as it is: a chain too thick wants another
    through = "bail" if bail else "ring"
    return [
        *_room(
            situation,
            CODE,
            f"Chain through the {through}",
            f"The end of the chain has to go through freely, or it is forced and the {through} opens.",
            (pendant.chain_room_mm, pendant.CHAIN_END),
            not bail,
        ),
        *_room(
            situation,
            HOOK,
            "Bail in its ring",
            "A bail that fills its ring binds in it: the pendant hangs askew, and ring and bail wear.",
            (pendant.hook_room_mm, pendant.BAIL_WIRE),
            True,
        ),
    ]


def _room(
    situation: Situation, code: str, title: str, why: str, keys: tuple[FigureKey, FigureKey], by_ring: bool
) -> list[Diagnostic]:
    """Room (the first of ``keys``) round what goes through (the second); ``by_ring`` where a wider ring settles it."""
    if not situation.has(keys[0]):
        return []
    room, limit = round(situation[keys[0]], 6), situation.rules.chain_room_mm
    level = OK if room >= limit else STOP if room < 0 else CAUTION
    wider = pendant.ring_for_mm(float(situation[keys[1]]), limit)
    settles = by_ring and level != OK and wider <= 12
    remedy = {"fit": {"bail": {"inside_mm": wider}}} if settles else None
    label = f"Ring {wider:.1f} mm inside" if settles else ""
    return [
        Diagnostic(
            code=code,
            level=level,
            title=title,
            message=why,
            figure=room,
            limit=limit,
            unit="mm",
            about="stone",
            of=keys[0],
            remedy=remedy,
            remedy_label=label,
        )
    ]
