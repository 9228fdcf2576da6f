"""Wire drawn down and stock rolled: holes, passes, anneals, lengths. Volume is kept throughout."""

from __future__ import annotations

import numpy as np
from msgspec import Struct

from yarvel.figures.figure import GEOMETRY, Number, figure

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


class Pass(Struct, frozen=True):
    """One hole or one pass between the rolls: ``size_mm`` after it in mm, ``loss`` of area since the one before,
    ``worked`` loss of area since the last anneal; ``anneal`` before it."""

    size_mm: float
    loss: float
    worked: float
    anneal: bool


def passes(sizes: list[float], anneal_at: float, power: int) -> list[Pass]:
    """Passes through ascending reductions: ``sizes`` from the start on, largest first; area goes with the ``power``-th
    power of the size (2 for round wire, 1 for a strip of even width). Annealed before a pass that would bring the loss
    since the last anneal over ``anneal_at``."""
    passes_made: list[Pass] = []
    soft = sizes[0]
    for before, after in zip(sizes[:-1], sizes[1:], strict=True):
        worked = 1 - (after / soft) ** power
        anneal = worked > anneal_at + 1e-9 and before < soft
        if anneal:
            soft = before
            worked = 1 - (after / soft) ** power
        passes_made.append(Pass(after, 1 - (after / before) ** power, worked, anneal))
    return passes_made


def holes(start_mm: float, wanted_mm: float, plate_mm: tuple[float, ...], over: float) -> list[float]:
    """Sizes in mm from ``start_mm`` through the plate's holes down to the last one at or above the wire wanted, not far
    over it: wire is drawn a touch over and stretched straight to size. ``over`` is that touch, as 1.03."""
    usable = sorted((hole for hole in plate_mm if wanted_mm - 1e-9 <= hole < start_mm - 1e-9), reverse=True)
    last = [hole for hole in usable if hole <= wanted_mm * over + 1e-9]
    through = [hole for hole in usable if hole > wanted_mm * over + 1e-9]
    return [start_mm, *through, *(last[:1] if last else [])]


class DrawnWire(Struct, frozen=True):
    """One size of wire on its way down: the passes to it, its ``size_mm`` and ``length_mm`` in mm, how much the last
    hole leaves to stretch as a strain, and whether that takes an anneal first."""

    passes: tuple[Pass, ...]
    size_mm: float
    length_mm: float
    stretch: float
    anneal_before: bool


def drawn_down(
    start_mm: float,
    wanted: list[tuple[float, float]],
    plate_mm: tuple[float, ...],
    over: float,
    anneal_at: float,
    bears: float,
) -> list[DrawnWire]:
    """One rod drawn down once for several sizes, (size, length) in mm, the thickest first: each is cut off where it is
    reached, stretched straight to size, and the rest goes on. A stretch beyond what the drawn metal ``bears`` (a
    strain) is made after an anneal."""
    ways: list[DrawnWire] = []
    size, soft = start_mm, start_mm
    for wire, length in sorted(wanted, reverse=True):
        sizes = holes(size, wire, plate_mm, over)
        passes_made: list[Pass] = []
        for before, after in zip(sizes[:-1], sizes[1:], strict=True):
            worked = 1 - (after / soft) ** 2
            anneal = worked > anneal_at + 1e-9 and before < soft
            soft = before if anneal else soft
            passes_made.append(Pass(after, 1 - (after / before) ** 2, 1 - (after / soft) ** 2, anneal))
        size = sizes[-1]
        stretch = max((size / wire) ** 2 - 1, 0.0)
        ways.append(DrawnWire(tuple(passes_made), wire, length, stretch, stretch > bears + 1e-9))
    return ways


def squared(start_mm: float, until_mm: float, loss: float) -> list[float]:
    """Sides in mm of a round rod rolled in square grooves, from a square of its own section down to about
    ``until_mm``."""
    return rolled(start_mm * np.sqrt(np.pi) / 2, until_mm, 1 - np.sqrt(1 - loss))


def rolled(start_mm: float, wanted_mm: float, loss: float) -> list[float]:
    """Thicknesses in mm from ``start_mm`` down to the one wanted, each pass taking about ``loss`` of it."""
    if start_mm <= wanted_mm + 1e-9:
        return [start_mm]
    count = int(np.ceil(np.log(wanted_mm / start_mm) / np.log(1 - loss) - 1e-9))
    return [start_mm * (wanted_mm / start_mm) ** (step / count) for step in range(count + 1)]


@figure(
    "metal.rod_length",
    "Rod to draw from, length",
    "mm",
    "max(V/(π/4·d_0²), l_0)",
    GEOMETRY,
    places=0,
    volume_mm3="V",
    rod_mm="d_0",
    least_mm="l_0",
)
def rod_length_mm(volume_mm3: Number, rod_mm: Number, least_mm: Number) -> Number:
    """Length in mm of rod that gives this volume of wire, points and tongs' ends counted; never a stub."""
    return np.maximum(volume_mm3 / (np.pi / 4 * rod_mm**2), least_mm)


@figure(
    "metal.rod_spare",
    "Wire left over, kept as stock",
    "mm",
    "max(l_r·d_0² − U, 0)/d²",
    GEOMETRY,
    places=0,
    rod_length_mm="l_r",
    rod_mm="d_0",
    used_mm3="U",
    wire_mm="d",
)
def rod_spare_mm(rod_length_mm: Number, rod_mm: Number, used_mm3: Number, wire_mm: Number) -> Number:
    """Length in mm of the thinnest wire that is left; ``used_mm3``: lengths times squared sizes, summed."""
    return np.maximum(rod_length_mm * rod_mm**2 - used_mm3, 0.0) / wire_mm**2


@figure(
    "metal.roll_from_length",
    "Square stock to roll from, length",
    "mm",
    "A·l/s²",
    GEOMETRY,
    places=1,
    section_mm2="A",
    length_mm="l",
    side_mm="s",
)
def roll_from_length_mm(section_mm2: Number, length_mm: Number, side_mm: Number) -> Number:
    """Length in mm of square stock of this side that holds the metal of a strip of this section in mm² and length."""
    return section_mm2 * length_mm / side_mm**2
