"""How stock is brought to its section: wires drawn hole by hole from one rod, a band rolled, annealed between."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
from msgspec import Struct

from yarvel.figures.figure import Figure, Ledger
from yarvel.metals.alloys import alloy_of
from yarvel.metals.drawing_down import (
    PLATE_MM,
    DrawnWire,
    Pass,
    drawn_down,
    passes,
    rod_length_mm,
    rod_spare_mm,
    roll_from_length_mm,
    rolled,
    squared,
)
from yarvel.operations.lot import ROUND, Lot
from yarvel.planning.plan import Plan, finished
from yarvel.route import lots

_NOT_ROLLED: tuple[float, ...] = ()

_FIRST_HOLE_SHARE = 0.7
"""A thick rod is rolled square to about this share of itself, then drawn; from memory."""


class DownTo(Struct, frozen=True, kw_only=True):
    """How stock is brought to a size: what for, from what, the passes, and the figures of its length; for wire the
    sizes on the way (``drawn``), and the sides in mm of a rod that is rolled ``square`` first."""

    part: str
    start: str
    passes: tuple[Pass, ...]
    figures: tuple[Figure, ...]
    rolled: bool
    drawn: tuple[DrawnWire, ...] = ()
    square: tuple[float, ...] = ()


def drawn(plan: Plan, found: Iterable[Lot]) -> DownTo | None:
    """All wires of a head drawn from one rod; None where none is drawn."""
    wires: dict[float, float] = {}
    for lot in found:
        if lot.form == ROUND:
            wires[lot.across_mm] = wires.get(lot.across_mm, 0.0) + lot.length_mm * lot.count
    return _drawn(plan, wires) if wires else None


def _drawn(plan: Plan, wires: dict[float, float]) -> DownTo:
    rules, ledger, alloy = plan.rules, Ledger(), alloy_of(plan.job.head.metal, plan.rules)
    start = lots.drawn_from_mm(plan, max(wires))
    sizes = [(size, length + rules.point_and_tongs_mm) for size, length in wires.items()]
    used = sum(length * size**2 for size, length in sizes)
    rod = float(ledger.enter(rod_length_mm, np.pi / 4 * used, start, rules.rod_least_mm))
    thinnest = min(wires)
    ledger.enter(rod_spare_mm, rod, start, used, thinnest)
    plate = rules.custom.plate_mm or PLATE_MM
    begin, square = start, _NOT_ROLLED
    if start >= rules.square_from_mm:
        first = max((hole for hole in plate if hole <= _FIRST_HOLE_SHARE * start), default=start)
        square = tuple(squared(start, first, rules.roll_loss))
        begin = square[-1]
    drawn = drawn_down(begin, list(wires.items()), plate, rules.draw_over, alloy.anneal_loss, alloy.elongation_drawn)
    names = " and ".join(f"{drawn_wire.size_mm:.2f}" for drawn_wire in drawn)
    passes_made = tuple(draw_pass for drawn_wire in drawn for draw_pass in drawn_wire.passes)
    return DownTo(
        part=f"Wire of {names}",
        start=f"rod of {start:.2f}",
        passes=passes_made,
        figures=_figures(ledger),
        rolled=False,
        drawn=tuple(drawn),
        square=square,
    )


def rolled_from(plan: Plan, lot: Lot) -> DownTo:
    """How the shank's stock is rolled: from stock in hand, or from square stock of the house's choice.

    Raises
    ------
    ValueError : the plan has no shank.
    """
    rules, ledger, shank = plan.rules, Ledger(), plan.job.shank
    if shank is None:
        raise ValueError("a plan without a shank has nothing to roll")
    wide, thick = lot.across_mm, lot.down_mm
    side = lots.rolled_from_mm(plan, wide, thick)
    start = f"square stock of {side:.2f}"
    if (stock := shank.stock) is not None:
        side = (stock.across_mm * stock.down_mm) ** 0.5
        start = f"the stock in hand, {stock.across_mm:.2f} by {stock.down_mm:.2f}"
    ledger.enter(roll_from_length_mm, wide * thick, lot.length_mm, side)
    roll_passes = passes(rolled(max(side, thick), thick, rules.roll_loss), alloy_of(shank.metal, rules).anneal_loss, 1)
    return DownTo(
        part=f"Band of {wide:.2f} by {thick:.2f}, {lot.length_mm:.1f} mm",
        start=start,
        passes=tuple(roll_passes),
        figures=_figures(ledger),
        rolled=True,
    )


def _figures(ledger: Ledger) -> tuple[Figure, ...]:
    return tuple(finished(entry, 0.0) for entry in ledger.entries.values())


def down_text(down: DownTo) -> str:
    """Passes in one line, anneals and stretches where they belong."""
    if not down.passes and not down.drawn:
        return f"{down.part}: as it is, from {down.start}."
    length = down.figures[0] if down.drawn else down.figures[-1]
    text = f"{down.part}: {down.start}, {length.text()} long"
    if down.square:
        text += f", rolled square to {' → '.join(f'{side:.2f}' for side in down.square[1:])}, then drawn"
    if not down.drawn:
        return f"{text}{_passes_text(down.passes)}."
    for drawn_wire in down.drawn:
        text += _passes_text(drawn_wire.passes)
        anneal = "anneal and " if drawn_wire.anneal_before else ""
        text += f"; cut {drawn_wire.length_mm:.0f} mm off, {anneal}stretch it straight to {drawn_wire.size_mm:.2f}"
        if drawn_wire is not down.drawn[-1]:
            text += "; the rest on"
    spare = down.figures[1]
    return f"{text}. About {spare.text()} of {down.drawn[-1].size_mm:.2f} is left: keep it as stock."


def _passes_text(passes_made: tuple[Pass, ...]) -> str:
    return "".join(
        f"{' – anneal –' if draw_pass.anneal else ' →'} {draw_pass.size_mm:.2f}" for draw_pass in passes_made
    )


def lot_text(lot: Lot) -> str:
    """One line of the cutting list."""
    many = f"{lot.count} × " if lot.count > 1 else ""
    if not lot.length_mm:
        return f"{lot.piece}: {many}{lot.grams:.2f} g from {lot.source}"
    section = (
        f"{lot.across_mm:.2f} outside, wall {lot.wall_mm:.2f}"
        if lot.wall_mm
        else f"{lot.across_mm:.2f} by {lot.down_mm:.2f}"
    )
    if lot.form == ROUND:
        section = f"round {lot.across_mm:.2f}"
    return f"{lot.piece}: {many}{lot.form} {section}, {lot.length_mm:.1f} mm long, {lot.grams:.2f} g"
