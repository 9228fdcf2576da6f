"""The metal of a job: what to cut, what to draw and roll it from, what to issue and what comes back."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from yarvel.figures.figure import Figure, Ledger
from yarvel.metals.alloys import Alloy, alloy_of
from yarvel.metals.drawing_down import (
    PLATE_MM,
    Pass,
    drawn_over_mm,
    holes,
    passes,
    rod_length_mm,
    roll_from_length_mm,
    rolled,
)
from yarvel.planning.plan import Plan, finished
from yarvel.planning.weighing import weighed

WIRE, SHEET, TUBE, STRIP, STOCK = "wire", "sheet", "tube", "strip", "bar"


@dataclass(frozen=True)
class Piece:
    """One line of the cutting list: ``count`` pieces of this length in mm (allowance included) from stock of this form
    and section, with their mass in g together."""

    part: str
    form: str
    metal: str
    section: str
    length_mm: float
    count: int
    mass_g: float


@dataclass(frozen=True)
class DownTo:
    """How stock is brought to a size: what for, from what, the passes, and the figures of its length."""

    part: str
    start: str
    passes: tuple[Pass, ...]
    figures: tuple[Figure, ...]
    rolled: bool


@dataclass(frozen=True)
class Material:
    """Cutting list, drawing and rolling, and the balance in g by metal: issued, in the finished piece, to come back."""

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
        done[key] = done.get(key, 0.0) + plan["shank.mass"] + _shoulder_mass(plan)
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
    found = []
    if "head.claw" in figures:
        found += _claw_pieces(plan, metal)
    for key, part in (("head.upper_ring_wire_length", "Upper ring"), ("head.lower_ring_wire_length", "Lower ring")):
        if key in figures:
            wire = plan["head.ring_wire"]
            found.append(_piece(plan, part, WIRE, metal, f"round {wire:.2f}", _round(wire), plan[key], 1))
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


def _claw_pieces(plan: Plan, metal: str) -> list[Piece]:
    claw, figures = plan["head.claw"], plan.figures
    points = 0 if plan.shape.vees is None else len(plan.shape.vees.places)
    rest = len(plan.shape.places) - points
    found = []
    below = _value(plan, "head.below_ring")
    if "head.u_piece_length" in figures and rest and not below:
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
        found.append(
            _piece(
                plan, "Claws", WIRE, metal, f"round {claw:.2f}", _round(claw), plan["head.claw_length"] + below, rest
            )
        )
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
                plan["head.claw_length"] + below,
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
    found = [
        _piece(
            plan, "Shank", STOCK, shank.metal, f"{wide:.2f} by {thick:.2f}", wide * thick, plan["shank.blank_length"], 1
        )
    ]
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


def _shoulder_mass(plan: Plan) -> float:
    """Little bezels end in the shank: what of them stays is counted as they are cut."""
    return sum(piece.mass_g for piece in _shank_pieces(plan) if piece.part == "Little bezels")


def _downs(plan: Plan, pieces: list[Piece]) -> list[DownTo]:
    """Every wire drawn from rod, the shank rolled from square stock."""
    found = []
    rules = plan.rules
    wires: dict[float, float] = {}
    for piece in pieces:
        if piece.form == WIRE:
            size = float(piece.section.split()[-1])
            wires[size] = wires.get(size, 0.0) + piece.length_mm * piece.count
    alloy = alloy_of(plan.job.head.metal, rules)
    for size, length in wires.items():
        found.append(_drawn(plan, alloy, size, length))
    for piece in pieces:
        if piece.form == STOCK:
            found.append(_rolled(plan, piece))
    return found


def _drawn(plan: Plan, alloy: Alloy, wire: float, length: float) -> DownTo:
    rules, ledger = plan.rules, Ledger()
    start = max(rules.draw_from_mm, wire * 1.2)
    sizes = holes(start, wire, rules.plate_mm or PLATE_MM, rules.draw_over)
    ledger.enter(drawn_over_mm, rules.draw_over, wire)
    ledger.enter(rod_length_mm, length, wire, start)
    return DownTo(
        f"Wire of {wire:.2f}, {length:.0f} mm",
        f"rod of {start:.2f}",
        tuple(passes(sizes, alloy.anneal_loss, 2)),
        _figures(ledger),
        False,
    )


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
    """Passes in one line, anneals where they belong."""
    if not down.passes:
        return f"{down.part}: as it is, from {down.start}."
    steps = "".join(f"{' – anneal –' if one.anneal else ' →'} {one.size:.2f}" for one in down.passes)
    length = down.figures[-1]
    end = "" if down.rolled else f", stretch straight to {float(down.part.split()[2].rstrip(',')):.2f}"
    return f"{down.part}: {down.start}, {length.text()} long{steps}{end}."


def piece_text(piece: Piece) -> str:
    """One line of the cutting list."""
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
