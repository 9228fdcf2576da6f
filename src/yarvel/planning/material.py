"""The metal of a job: what to cut, what to draw and roll it from, what to issue and what comes back."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from yarvel.figures.figure import Figure, Ledger
from yarvel.heads import cast_claw
from yarvel.metals.alloys import alloy_of
from yarvel.metals.drawing_down import (
    PLATE_MM,
    Drawn,
    Pass,
    drawn_down,
    passes,
    rod_length_mm,
    rod_spare_mm,
    roll_from_length_mm,
    rolled,
    squared,
)
from yarvel.planning.plan import Plan, finished
from yarvel.planning.weighing import weighed

_NOT_ROLLED: tuple[float, ...] = ()
_FIRST_HOLE_SHARE = 0.7
"""A thick rod is rolled square to about this share of itself, then drawn; from memory."""
WIRE, SHEET, TUBE, STRIP, STOCK, MELT = "wire", "sheet", "tube", "strip", "bar", "melt"


@dataclass(frozen=True)
class Piece:
    """One line of the cutting list: ``count`` pieces of this length in mm (allowance included) from stock of this form
    and section, with their mass in g together; a melt has neither section nor length."""

    part: str
    form: str
    metal: str
    section: str
    length_mm: float
    count: int
    mass_g: float


@dataclass(frozen=True)
class DownTo:
    """How stock is brought to a size: what for, from what, the passes, and the figures of its length; for wire the
    sizes on the way (``drawn``), and the sides in mm of a rod that is rolled ``square`` first."""

    part: str
    start: str
    passes: tuple[Pass, ...]
    figures: tuple[Figure, ...]
    rolled: bool
    drawn: tuple[Drawn, ...] = ()
    square: tuple[float, ...] = ()


@dataclass(frozen=True)
class Material:
    """Cutting list, drawing and rolling, and the balance in g by metal: issued, in the finished piece, to come back. Of
    a ring that is there already only what is added, or taken out, counts."""

    pieces: tuple[Piece, ...]
    downs: tuple[DownTo, ...]
    issued: dict[str, float]
    finished: dict[str, float]

    @property
    def back(self) -> dict[str, float]:
        """Offcuts and filings to come back in g, by metal."""
        return {key: max(mass - self.finished.get(key, 0.0), 0.0) for key, mass in self.issued.items()}


def material(plan: Plan) -> Material:
    """Everything a job takes of metal, from its finished plan."""
    plan = weighed(plan)
    pieces = [*_head_pieces(plan), *_shank_pieces(plan)]
    issued: dict[str, float] = {}
    for piece in pieces:
        issued[piece.metal] = issued.get(piece.metal, 0.0) + piece.mass_g
    done = {plan.job.head.metal: plan["head.mass"]}
    if plan.job.shank is not None:
        key = plan.job.shank.metal
        made = _resized_g(plan) if plan.job.ring_exists else plan["shank.mass"]
        done[key] = done.get(key, 0.0) + made + _shoulder_mass(plan)
        if made < 0:  # nothing is issued, and yet something comes back
            issued.setdefault(key, 0.0)
    if plan.job.head.style == "bought":
        issued[plan.job.head.metal] = issued.get(plan.job.head.metal, 0.0) + plan["head.mass"]
    return Material(tuple(pieces), tuple(_downs(plan, pieces)), issued, done)


def _value(plan: Plan, key: str) -> float:
    return plan.figures[key].value if key in plan.figures else 0.0


def _piece(
    plan: Plan, part: str, form: str, metal: str, section: str, area_mm2: float, length: float, count: int
) -> Piece:
    cut = length + plan.rules.saw_allowance_mm
    density = alloy_of(metal, plan.rules).density
    return Piece(part, form, metal, section, cut, count, area_mm2 * cut * count * density / 1000)


def _round(wire: float) -> float:
    return float(np.pi) / 4 * wire**2


def _head_pieces(plan: Plan) -> list[Piece]:
    figures, metal = plan.figures, plan.job.head.metal
    if plan.job.head.style == "bought":
        return []
    if plan.job.head.style == cast_claw.STYLE:
        return [Piece("Head, cast", MELT, metal, "", 0.0, 1, plan.rules.cast_melt_share * plan["head.mass"])]
    found = _wire_pieces(plan, metal)
    wall = _value(plan, "head.wall")
    if "collet.blank_length" in figures:
        outer = plan["collet.blank_outer"]
        found.append(
            _piece(
                plan,
                "Collet, driven from tube",
                TUBE,
                metal,
                f"{outer:.2f} outside, wall {wall:.2f}",
                np.pi * (outer - wall) * wall,
                plan["collet.blank_length"],
                1,
            )
        )
    elif "head.strip_length" in figures:
        high = plan["head.tube_length"]
        found.append(
            _piece(
                plan,
                "Strip of the bezel",
                STRIP,
                metal,
                f"{high:.2f} by {wall:.2f}",
                high * wall,
                plan["head.strip_length"],
                1,
            )
        )
    elif "head.tube_length" in figures:
        outer = plan["head.tube_outer"]
        found.append(
            _piece(
                plan,
                "Tube",
                TUBE,
                metal,
                f"{outer:.2f} outside, wall {wall:.2f}",
                np.pi * (outer - wall) * wall,
                plan["head.tube_length"],
                1,
            )
        )
    if "bail.wire_length" in figures:
        wire = plan["bail.wire"]
        found.append(
            _piece(plan, "Hanging ring", WIRE, metal, f"round {wire:.2f}", _round(wire), plan["bail.wire_length"], 1)
        )
    return found


def _wire_pieces(plan: Plan, metal: str) -> list[Piece]:
    """Claws and rings."""
    found = _claw_pieces(plan, metal) if "head.claw" in plan.figures else []
    for key, part in (("head.upper_ring_wire_length", "Upper ring"), ("head.lower_ring_wire_length", "Lower ring")):
        if key in plan.figures:
            wire = plan["head.ring_wire"]
            found.append(_piece(plan, part, WIRE, metal, f"round {wire:.2f}", _round(wire), plan[key], 1))
    return found


def _claw_pieces(plan: Plan, metal: str) -> list[Piece]:
    claw, figures = plan["head.claw"], plan.figures
    points = 0 if plan.shape.vees is None else len(plan.shape.vees.places)
    rest = len(plan.shape.places) - points
    found = []
    if "head.u_piece_length" in figures and rest:
        found.append(
            _piece(
                plan,
                "Claws as U-pieces",
                WIRE,
                metal,
                f"round {claw:.2f}",
                _round(claw),
                plan["head.u_piece_length"],
                -(-rest // 2),
            )
        )
    elif rest:
        key = "head.claw_piece_length" if "head.claw_piece_length" in figures else "head.claw_length"
        found.append(_piece(plan, "Claws", WIRE, metal, f"round {claw:.2f}", _round(claw), plan[key], rest))
    if points:
        wide = plan["head.v_width"]
        found.append(
            _piece(
                plan,
                "Vs",
                STRIP,
                metal,
                f"{wide:.2f} by {claw:.2f}",
                wide * claw,
                plan["head.claw_length"] + _value(plan, "head.below_ring"),
                points,
            )
        )
    return found


def _shank_pieces(plan: Plan) -> list[Piece]:
    shank, band = plan.job.shank, plan.band
    if shank is None or band is None or "shank.blank_length" not in plan.figures:
        return []
    wide = max(band.width, float(band.width_at(180.0)))
    thick = max(band.thickness, float(band.thickness_at(180.0)))
    section = f"{wide:.2f} by {thick:.2f}"
    if not plan.job.ring_exists:
        found = [_piece(plan, "Shank", STOCK, shank.metal, section, wide * thick, plan["shank.blank_length"], 1)]
    elif _value(plan, "resize.change") > 0:
        found = [
            _piece(plan, "Piece for the size", STOCK, shank.metal, section, wide * thick, plan["resize.change"], 1)
        ]
    else:
        found = []
    if "shoulder.outer" in plan.figures:
        outer, lip = plan["shoulder.outer"], plan.rules.shoulder_lip_mm
        long = plan["shoulder.sink"] + plan.rules.shoulder_lip_mm + 1.0
        found.append(
            _piece(
                plan,
                "Little bezels",
                TUBE,
                shank.metal,
                f"{outer:.2f} outside, wall {lip:.2f}",
                np.pi * (outer - lip) * lip,
                long,
                2 * round(plan["shoulder.count"]),
            )
        )
    return found


def _resized_g(plan: Plan) -> float:
    """What another size adds to a ring that is there, or takes out of it (negative), g."""
    shank, band = plan.job.shank, plan.band
    if shank is None or band is None:
        return 0.0
    return band.section_mm2 * _value(plan, "resize.change") * alloy_of(shank.metal, plan.rules).density / 1000


def _shoulder_mass(plan: Plan) -> float:
    """Little bezels end in the shank: what of them stays is counted as they are cut."""
    return sum(piece.mass_g for piece in _shank_pieces(plan) if piece.part == "Little bezels")


def _downs(plan: Plan, pieces: list[Piece]) -> list[DownTo]:
    """All wires of the head drawn from one rod, the shank rolled from square stock."""
    wires: dict[float, float] = {}
    for piece in pieces:
        if piece.form == WIRE:
            size = float(piece.section.split()[-1])
            wires[size] = wires.get(size, 0.0) + piece.length_mm * piece.count
    found = [_drawn(plan, wires)] if wires else []
    return found + [_rolled(plan, piece) for piece in pieces if piece.form == STOCK]


def _drawn(plan: Plan, wires: dict[float, float]) -> DownTo:
    rules, ledger, alloy = plan.rules, Ledger(), alloy_of(plan.job.head.metal, plan.rules)
    start = max(rules.draw_from_mm, max(wires) * 1.2)
    sizes = [(size, length + rules.point_and_tongs_mm) for size, length in wires.items()]
    used = sum(length * size**2 for size, length in sizes)
    rod = float(ledger.enter(rod_length_mm, np.pi / 4 * used, start, rules.rod_least_mm))
    thinnest = min(wires)
    ledger.enter(rod_spare_mm, rod, start, used, thinnest)
    plate = rules.plate_mm or PLATE_MM
    begin, square = start, _NOT_ROLLED
    if start >= rules.square_from_mm:
        first = max((hole for hole in plate if hole <= _FIRST_HOLE_SHARE * start), default=start)
        square = tuple(squared(start, first, rules.roll_loss))
        begin = square[-1]
    drawn = drawn_down(begin, list(wires.items()), plate, rules.draw_over, alloy.anneal_loss, alloy.elongation_drawn)
    names = " and ".join(f"{one.size:.2f}" for one in drawn)
    passes_made = tuple(made for one in drawn for made in one.passes)
    return DownTo(f"Wire of {names}", f"rod of {start:.2f}", passes_made, _figures(ledger), False, tuple(drawn), square)


def _rolled(plan: Plan, piece: Piece) -> DownTo:
    rules, ledger = plan.rules, Ledger()
    band, shank = plan.band, plan.job.shank
    if band is None or shank is None:
        raise ValueError("a plan without a shank has nothing to roll")
    wide, thick = (float(text) for text in piece.section.split(" by "))
    side = max(rules.roll_from_share * wide, thick)
    ledger.enter(roll_from_length_mm, wide * thick, piece.length_mm, side)
    made = passes(rolled(side, thick, rules.roll_loss), alloy_of(shank.metal, rules).anneal_loss, 1)
    return DownTo(
        f"Band of {wide:.2f} by {thick:.2f}, {piece.length_mm:.1f} mm",
        f"square stock of {side:.2f}",
        tuple(made),
        _figures(ledger),
        True,
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
    for one in down.drawn:
        text += _passes_text(one.passes)
        anneal = "anneal and " if one.anneal_before else ""
        text += f"; cut {one.length:.0f} mm off, {anneal}stretch it straight to {one.size:.2f}"
        if one is not down.drawn[-1]:
            text += "; the rest on"
    spare = down.figures[1]
    return f"{text}. About {spare.text()} of {down.drawn[-1].size:.2f} is left: keep it as stock."


def _passes_text(passes_made: tuple[Pass, ...]) -> str:
    return "".join(f"{' – anneal –' if one.anneal else ' →'} {one.size:.2f}" for one in passes_made)


def piece_text(piece: Piece) -> str:
    """One line of the cutting list."""
    if piece.form == MELT:
        return f"{piece.part}: melt {piece.mass_g:.2f} g; sprue and button come back."
    many = f"{piece.count} × " if piece.count > 1 else ""
    return f"{piece.part}: {many}{piece.form} {piece.section}, {piece.length_mm:.1f} mm long, {piece.mass_g:.2f} g."


def balance_text(made: Material, plan: Plan) -> str:
    """What to issue and what comes back, by metal."""
    parts = [
        f"{alloy_of(key, plan.rules).label}: issue {mass:.2f} g, about {made.back[key]:.2f} g of offcuts and "
        "filings "
        "come back"
        for key, mass in made.issued.items()
    ]
    return "; ".join(parts) + "."
