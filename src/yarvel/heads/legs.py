"""Legs of a basket that are bent in below: under its ring, or to a peg."""

from __future__ import annotations

import numpy as np

from yarvel.figures.figure import GEOMETRY, Ledger, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.heads import rings, style
from yarvel.heads.places import ClawPosition
from yarvel.heads.shape import Hooks
from yarvel.heads.style import HeadChoice


@figure(
    "head.under_length",
    "Bent in under the ring",
    "mm",
    "max(0, (1 − k)·v − (u + w)/2·tan(σ))",
    GEOMETRY,
    share="k",
    wire_mm="v",
    high_mm="u",
    claw_mm="w",
    splay_deg="σ",
    shown_in="head",
)
def under_length_mm(share: Number, wire_mm: Number, high_mm: Number, claw_mm: Number, splay_deg: Number) -> Number:
    """How far in mm a leg that is bent in under its ring reaches beyond the claw's inner side: to the ring's inside,
    which lies half of both wires higher on a claw that leans."""
    return np.maximum(0.0, (1 - share) * wire_mm - (high_mm + claw_mm) / 2 * np.tan(np.radians(splay_deg)))


@figure(
    "head.under_length",
    "Bent in to the peg",
    "mm",
    "r − (w + d_p)/2",
    GEOMETRY,
    circle_mm="r",
    claw_mm="w",
    peg_mm="d_p",
    shown_in="head",
)
def to_peg_mm(circle_mm: Number, claw_mm: Number, peg_mm: Number) -> Number:
    """How far in mm a leg that closes on a peg reaches beyond the claw's inner side."""
    return circle_mm - (claw_mm + peg_mm) / 2


@figure(
    "head.claw_piece_length",
    "Claw with its foot",
    "mm",
    "l + u",
    GEOMETRY,
    places=1,
    claw_mm="l",
    under_mm="u",
)
def footed_length_mm(claw_mm: Number, under_mm: Number) -> Number:
    """Wire in mm for one claw that is bent in below."""
    return claw_mm + under_mm


@figure(
    rings.RING_DROP,
    "Ring's top below the girdle",
    "mm",
    "H − w − v",
    GEOMETRY,
    height_mm="H",
    claw_mm="w",
    wire_mm="v",
)
def drop_by_height_mm(height_mm: Number, claw_mm: Number, wire_mm: Number) -> Number:
    """How far in mm the only ring's top lies below the girdle where it stands on legs that are bent in under it."""
    return height_mm - claw_mm - wire_mm


def hooks_of(
    ledger: Ledger,
    choice: HeadChoice,
    places: tuple[ClawPosition, ...],
    rules: HouseRules,
    claw: float,
    seat: float,
    height: float,
    lean: float,
) -> Hooks | None:
    """The part of every leg that is bent in below; None where they end in their own line."""
    if under_length_mm not in ledger.entries:
        return None
    middle = claw / 2 - seat - (height - claw / 2) * lean
    reach = float(ledger.value(under_length_mm)) + claw / 2
    bars = []
    for place in places:
        x, y = place.normal
        start = (place.x_mm + middle * x, place.y_mm + middle * y)
        if choice.legs == style.PEG_LEGS:  # into the peg, so that metal meets metal
            peg = rules.peg_mm if choice.peg_mm is None else choice.peg_mm
            stays = peg / 4 / max(float(np.hypot(*start)), 1e-6)
            bars.append((start, (start[0] * stays, start[1] * stays)))
        else:
            bars.append((start, (start[0] - reach * x, start[1] - reach * y)))
    return Hooks(tuple(bars), -height + claw / 2, claw)
