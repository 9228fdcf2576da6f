"""A made-up drawer: heads of a maker that does not exist, burs, wire, sheet, tube and solder."""

from __future__ import annotations

from yarvel.shanks.pendant import PINCHED, SOLDERED
from yarvel.workshop.drawer.stock import (
    BAIL,
    BEZEL,
    BUR,
    HART,
    HEAD,
    LOT,
    MOUNT,
    NOTCHED,
    SEATED,
    SETTING,
    SHEET,
    SOLDER,
    TUBE,
    WIRE,
    StockItem,
)

_METALS = (("18k-yellow", "Y"), ("18k-white", "W"), ("platinum-950", "P"))
_SIZES = (3.2, 3.7, 4.3, 4.8, 5.2, 5.7, 6.2, 6.7, 6.9, 7.3, 7.8, 8.4)

_LONG = (
    ("oval", 6.9, 5.1, 4, 0.95, "18k-yellow", 3.0),
    ("oval", 7.7, 5.6, 4, 1.0, "18k-white", 2.0),
    ("oval", 9.2, 7.1, 4, 1.05, "18k-yellow", 1.0),
    ("oval", 9.2, 7.1, 6, 0.95, "sterling-silver", 0.0),
    ("pear", 7.4, 4.9, 5, 0.9, "18k-yellow", 1.0),
    ("pear", 8.7, 5.8, 5, 0.95, "platinum-950", 2.0),
    ("princess", 5.2, 5.2, 4, 0.9, "18k-white", 2.0),
    ("emerald", 7.3, 5.3, 4, 0.95, "18k-yellow", 1.0),
)
"""Heads for other outlines: cut, length and width, claws and their wire in mm, metal, how many."""
_MOUNTS = (
    ("", 5.2, 4, 0.9, 3.9, 15.6, 2.6, 1.5, "18k-yellow", 1.0),
    ("", 6.9, 6, 0.95, 4.9, 16.5, 2.2, 1.7, "18k-yellow", 2.0),
    ("", 6.9, 4, 1.05, 5.0, 17.8, 2.2, 1.7, "platinum-950", 1.0),
    ("oval", 7.7, 4, 1.0, 5.3, 17.2, 2.4, 1.6, "18k-yellow", 1.0),
)
"""Mounts: cut, size of the stone, claws and their wire, foot to seat, the ring's inside, width and thickness, metal,
how many."""
_BEZELS = ((4.4, 0.6, 3.4, ""), (5.6, 0.75, 4.2, SEATED), (7.6, 0.8, 5.6, ""), (7.7, 0.85, 4.6, SEATED))
"""Bezels: outside, wall and height in mm, seated or not."""
_BAILS = (
    ("9k-yellow", 2.6, 1.2, 0.14, PINCHED, 4),
    ("9k-yellow", 3.4, 1.4, 0.21, PINCHED, 2),
    ("18k-yellow", 3.4, 1.4, 0.26, SOLDERED, 5),
    ("18k-yellow", 4.3, 2.9, 0.48, SOLDERED, 1),
    ("sterling-silver", 3.8, 1.5, 0.17, PINCHED, 9),
    ("platinum-950", 3.4, 1.3, 0.37, SOLDERED, 0),
)
"""Bails: metal, opening for the chain and what goes through the ring in mm, mass in g, how they close, how many."""
_SETTING_BURS = (
    "1.1 1.3 1.5 1.7 2.0 2.2 2.4 2.6 2.8 3.0 3.2 3.4 3.6 3.8 4.1 4.4 4.6 4.9 5.1 5.4 5.6 5.9 6.1 6.4 6.6 6.8 7.1 7.4 "
    "7.6 7.9 8.3 8.8 9.2"
)
"""Diameters, mm."""


def drawer() -> list[StockItem]:
    """Everything in it, always the same."""
    items = []
    for size in _SIZES:
        for metal, letter in _METALS:
            for claws in (4, 6):
                wire = round(0.62 + 0.06 * size - (0.08 if claws == 6 else 0), 2)
                items.append(
                    StockItem(
                        kind=HEAD,
                        code=f"TB-{letter}{claws}{round(size * 10):03d}",
                        metal=metal,
                        size_mm=size,
                        claws=claws,
                        claw_mm=wire,
                        height_mm=round(1.9 + 0.44 * size, 1),
                        quantity=float((round(size * 7) + claws) % 5),
                        price=round(14 + size * (9 if letter == "P" else 6), 2),
                    )
                )
    items += [_long(*stock_row, number) for number, stock_row in enumerate(_LONG)]
    items += [
        StockItem(BUR, f"S{size}", size_mm=float(size), shape=SETTING, quantity=2.0) for size in _SETTING_BURS.split()
    ]
    items += [StockItem(BUR, f"H{size:.1f}", size_mm=size, shape=HART, quantity=1.0) for size in (0.8, 1.3, 2.1)]
    items += [
        StockItem(WIRE, f"RD{size:.2f}", "18k-yellow", size, quantity=length)
        for size, length in ((0.85, 310.0), (0.95, 140.0), (1.05, 455.0), (1.15, 90.0))
    ]
    items += [
        StockItem(SHEET, "SH0.80", "18k-yellow", 0.8, quantity=11.4, note="offcut from the bezel job"),
        StockItem(SHEET, "SH1.00", "sterling-silver", 1.0, quantity=26.0),
        StockItem(TUBE, "TU4.8", "platinum-950", 4.8, wall_mm=0.75, quantity=38.0),
        StockItem(TUBE, "TU6.0", "18k-yellow", 6.0, wall_mm=0.8, quantity=52.0),
    ]
    items += _ready()
    items += [
        StockItem(LOT, "L-031", "18k-yellow", 2.2, thickness_mm=2.2, length_mm=118.0, mass_g=8.85, shape="bar"),
        StockItem(LOT, "L-032", "platinum-950", 2.0, length_mm=46.0, mass_g=2.99, shape="round", owner="Orrery House"),
    ]
    grams = {"hard": 3.1, "medium": 2.2, "easy": 0.9}
    items += [
        StockItem(SOLDER, f"{metal}-{grade}", metal, grade=grade, quantity=kept_g)
        for metal in ("18k-yellow", "18k-white")
        for grade, kept_g in grams.items()
    ]
    return items


def _ready() -> list[StockItem]:
    """Mounts, bezels and bails, as they are sold."""
    stock_items = [
        StockItem(
            kind=MOUNT,
            code=f"MT{number:02d}-{size:.1f}",
            metal=metal,
            size_mm=size,
            claws=claws,
            claw_mm=wire,
            height_mm=tall,
            inside_mm=inside,
            width_mm=width,
            thickness_mm=thick,
            cut=cut,
            quantity=count,
            price=round(60 + 21 * size, 2),
        )
        for number, (cut, size, claws, wire, tall, inside, width, thick, metal, count) in enumerate(_MOUNTS, start=1)
    ]
    stock_items += [
        StockItem(
            BEZEL, f"BZ{outside:.1f}", "18k-yellow", outside, wall_mm=wall, height_mm=high, state=state, quantity=3.0
        )
        for outside, wall, high, state in _BEZELS
    ]
    stock_items += [
        StockItem(
            BAIL,
            f"BL{opening * 10:.0f}-{number}",
            metal,
            opening,
            thickness_mm=through,
            mass_g=mass,
            state=joint,
            quantity=float(count),
            price=round(6 + mass * 70, 2),
        )
        for number, (metal, opening, through, mass, joint, count) in enumerate(_BAILS, start=1)
    ]
    return stock_items


def _long(
    cut: str, length_mm: float, width_mm: float, claws: int, claw_mm: float, metal: str, held: float, number: int
) -> StockItem:
    """A head for another outline, sold foot to tip; every second one with its foot and its rail measured."""
    tall = round(2.7 + 0.47 * width_mm, 1)
    return StockItem(
        kind=HEAD,
        code=f"TL-{cut[:2].upper()}{claws}{round(length_mm * 10):03d}",
        metal=metal,
        size_mm=length_mm,
        claws=claws,
        claw_mm=claw_mm,
        made_for_width_mm=width_mm,
        height_tip_mm=tall,
        foot_mm=round(0.68 * width_mm, 1) if number % 2 else None,
        rail_mm=round(0.36 * tall, 1) if number % 2 else None,
        cut=cut,
        state=NOTCHED if number % 3 == 2 else "",
        quantity=held,
        price=round(19 + 5.5 * length_mm, 2),
    )
