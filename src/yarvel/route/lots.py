"""Metal that a route takes from stock, as lots with their section and length; a workshop's usual sources of it."""

from __future__ import annotations

import math

from yarvel.heads import claws, rings
from yarvel.metals.alloys import alloy_of
from yarvel.operations.lot import BAR, BOUGHT, MELT, ROUND, SOLDER, STRIP, TUBE, Lot
from yarvel.planning.plan import Plan
from yarvel.shanks import pendant

_THICKER = 1.2
"""A rod is this much thicker than the thickest wire that is drawn from it, at least."""


__all__ = ["BAR", "BOUGHT", "MELT", "ROUND", "SOLDER", "STRIP", "TUBE"]


def round_mm2(diameter_mm: float) -> float:
    """Section of round wire."""
    return math.pi / 4 * diameter_mm**2


def square_wire(plan: Plan, piece: str, part: str, side_mm: float, length_mm: float, count: int = 1) -> Lot:
    """Square wire of the head's metal, with the saw allowance."""
    cut = length_mm + plan.rules.saw_allowance_mm
    source = f"square wire of {side_mm:.2f} mm"
    return _lot(plan, piece, part, plan.job.head.metal, BAR, source, side_mm**2, cut, count, side_mm, side_mm)


def drawn_from_mm(plan: Plan, thickest_mm: float) -> float:
    """Diameter of the rod that a head's wires are drawn from."""
    return max(plan.rules.draw_from_mm, thickest_mm * _THICKER)


def rolled_from_mm(plan: Plan, across_mm: float, down_mm: float) -> float:
    """Side of the square stock that a band is rolled from."""
    return max(plan.rules.roll_from_share * across_mm, down_mm)


def wire(
    plan: Plan, piece: str, part: str, diameter_mm: float, length_mm: float, count: int = 1, metal: str = ""
) -> Lot:
    """Round wire of the head's metal (or of ``metal``), each piece with the saw allowance."""
    wires = [plan[key] for key in (claws.CLAW, rings.RING_WIRE, pendant.WIRE) if key in plan.figures]
    thickest = max(wires, default=diameter_mm)
    cut = length_mm + plan.rules.saw_allowance_mm
    source = f"rod of {drawn_from_mm(plan, thickest):.2f} mm"
    return _lot(
        plan,
        piece,
        part,
        metal or plan.job.head.metal,
        ROUND,
        source,
        round_mm2(diameter_mm),
        cut,
        count,
        diameter_mm,
        diameter_mm,
    )


def bar(plan: Plan, piece: str, metal: str, across_mm: float, down_mm: float, length_mm: float) -> Lot:
    """Rolled stock of the shank; ``length_mm`` as cut."""
    stock = None if plan.job.shank is None else plan.job.shank.stock
    source = f"square stock of {rolled_from_mm(plan, across_mm, down_mm):.2f} mm"
    if stock is not None:
        source = f"stock in hand, {stock.across_mm:.2f} by {stock.down_mm:.2f} mm"
    return _lot(plan, piece, "shank", metal, BAR, source, across_mm * down_mm, length_mm, 1, across_mm, down_mm)


def strip(plan: Plan, piece: str, part: str, across_mm: float, down_mm: float, length_mm: float, count: int = 1) -> Lot:
    """Strip cut from sheet of the head's metal, with the saw allowance."""
    cut = length_mm + plan.rules.saw_allowance_mm
    source = f"sheet of {down_mm:.2f} mm"
    return _lot(
        plan, piece, part, plan.job.head.metal, STRIP, source, across_mm * down_mm, cut, count, across_mm, down_mm
    )


def tube(
    plan: Plan, piece: str, part: str, metal: str, outside_mm: float, wall_mm: float, length_mm: float, count: int = 1
) -> Lot:
    """Lengths of tube, with the saw allowance."""
    area, cut = math.pi * (outside_mm - wall_mm) * wall_mm, length_mm + plan.rules.saw_allowance_mm
    source = f"tube of {outside_mm:.2f} mm, wall {wall_mm:.2f}"
    return _lot(plan, piece, part, metal, TUBE, source, area, cut, count, outside_mm, outside_mm, wall_mm)


def _lot(
    plan: Plan,
    piece: str,
    part: str,
    metal: str,
    form: str,
    source: str,
    area: float,
    length: float,
    count: int,
    across: float,
    down: float,
    wall: float = 0.0,
) -> Lot:
    density = alloy_of(metal, plan.rules).density
    return Lot(
        piece=piece,
        part=part,
        metal=metal,
        form=form,
        source=source,
        volume_mm3=area * length * count,
        density_g_cm3=density,
        count=count,
        length_mm=length,
        across_mm=across,
        down_mm=down,
        wall_mm=wall,
    )


def melt(plan: Plan, piece: str, part: str, volume_mm3: float) -> Lot:
    """Clean metal to be molten for a casting."""
    metal = plan.job.head.metal
    return Lot(
        piece=piece,
        part=part,
        metal=metal,
        form=MELT,
        source="clean metal",
        volume_mm3=volume_mm3,
        density_g_cm3=alloy_of(metal, plan.rules).density,
    )


def bought(plan: Plan, piece: str, part: str, volume_mm3: float) -> Lot:
    """A piece from the drawer, as it is sold."""
    metal = plan.job.head.metal
    return Lot(
        piece=piece,
        part=part,
        metal=metal,
        form=BOUGHT,
        source="drawer",
        volume_mm3=volume_mm3,
        density_g_cm3=alloy_of(metal, plan.rules).density,
    )


def solder(plan: Plan, part: str, metal: str, grade: str, many: int) -> Lot:
    """Chips of solder, as heavy as the alloy that they are for."""
    density = alloy_of(metal, plan.rules).density
    volume = many * plan.rules.solder_chip_g * 1000 / density
    return Lot(
        piece=f"Solder, {grade}",
        part=part,
        metal=metal,
        form=SOLDER,
        source=f"{grade} solder",
        volume_mm3=volume,
        density_g_cm3=density,
        count=many,
    )


def back(piece: str, lot: Lot, volume_mm3: float, count: int = 1) -> tuple[Lot, ...]:
    """What comes back of a lot; none where nothing is left."""
    if volume_mm3 <= 0:
        return ()
    return (
        Lot(
            piece=piece,
            part=lot.part,
            metal=lot.metal,
            form=lot.form,
            source="",
            volume_mm3=volume_mm3,
            density_g_cm3=lot.density_g_cm3,
            count=count,
        ),
    )
