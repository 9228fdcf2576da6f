"""Wire drawn down and stock rolled: holes, passes, anneals, lengths. Volume is kept throughout."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from yarvel.figures.figure import COMMON_PRACTICE, GEOMETRY, Number, figure

PLATE_MM = (
    3.0,
    2.85,
    2.7,
    2.57,
    2.44,
    2.31,
    2.2,
    2.09,
    1.98,
    1.88,
    1.79,
    1.7,
    1.61,
    1.53,
    1.46,
    1.38,
    1.31,
    1.25,
    1.19,
    1.13,
    1.07,
    1.02,
    0.97,
    0.92,
    0.87,
    0.83,
    0.79,
    0.75,
    0.71,
    0.67,
    0.64,
    0.61,
    0.58,
    0.55,
    0.52,
    0.5,
)
"""Holes of a usual round plate, each about a tenth less in area; from memory. The workshop's own plate counts."""


@dataclass(frozen=True)
class Pass:
    """One hole or one pass between the rolls: ``size`` after it in mm, ``loss`` of area since the one before,
    ``worked`` loss of area since the last anneal; ``anneal`` before it."""

    size: float
    loss: float
    worked: float
    anneal: bool


def passes(sizes: list[float], anneal_at: float, power: int) -> list[Pass]:
    """Passes through ascending reductions: ``sizes`` from the start on, largest first; area goes with the ``power``-th
    power of the size (2 for round wire, 1 for a strip of even width). Annealed before a pass that would bring the loss
    since the last anneal over ``anneal_at``."""
    made: list[Pass] = []
    soft = sizes[0]
    for before, after in zip(sizes[:-1], sizes[1:], strict=True):
        worked = 1 - (after / soft) ** power
        anneal = worked > anneal_at + 1e-9 and before < soft
        if anneal:
            soft = before
            worked = 1 - (after / soft) ** power
        made.append(Pass(after, 1 - (after / before) ** power, worked, anneal))
    return made


def holes(start: float, wanted: float, plate: tuple[float, ...], over: float) -> list[float]:
    """Sizes from ``start`` through the plate's holes down to the last one at or above the wire wanted, not far over it:
    wire is drawn a touch over and stretched straight to size. ``over`` is that touch, as 1.03."""
    usable = sorted((hole for hole in plate if wanted - 1e-9 <= hole < start - 1e-9), reverse=True)
    last = [hole for hole in usable if hole <= wanted * over + 1e-9]
    through = [hole for hole in usable if hole > wanted * over + 1e-9]
    return [start, *through, *(last[:1] if last else [])]


def rolled(start: float, wanted: float, loss: float) -> list[float]:
    """Thicknesses from ``start`` down to the one wanted, each pass taking about ``loss`` of it."""
    if start <= wanted + 1e-9:
        return [start]
    count = int(np.ceil(np.log(wanted / start) / np.log(1 - loss) - 1e-9))
    return [start * (wanted / start) ** (step / count) for step in range(count + 1)]


@figure(
    "metal.rod_length",
    "Rod to draw from, length",
    "mm",
    "l·(d/d_0)²",
    GEOMETRY,
    places=1,
    length="l",
    wire="d",
    rod="d_0",
)
def rod_length_mm(length: Number, wire: Number, rod: Number) -> Number:
    """Length in mm of rod that gives this length of wire."""
    return length * (wire / rod) ** 2


@figure("metal.drawn_over", "Last hole, before stretching", "mm", "k·d", COMMON_PRACTICE, over="k", wire="d")
def drawn_over_mm(over: Number, wire: Number) -> Number:
    """Diameter in mm to draw to: a touch over, stretched straight to size."""
    return over * wire


@figure(
    "metal.roll_from_length",
    "Square stock to roll from, length",
    "mm",
    "A·l/s²",
    GEOMETRY,
    places=1,
    section="A",
    length="l",
    side="s",
)
def roll_from_length_mm(section: Number, length: Number, side: Number) -> Number:
    """Length in mm of square stock of this side that holds the metal of a strip of this section in mm² and length."""
    return section * length / side**2


def mean_section_mm2(side: float, length: float, rolled_length: float) -> float:
    """Mean section in mm² of square stock of this side and length, rolled to another length: volume is kept."""
    return side**2 * length / rolled_length
