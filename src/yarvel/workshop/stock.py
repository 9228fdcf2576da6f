"""The drawer: bought heads, burs, wire, sheet, tube and solder as records."""

from __future__ import annotations

from dataclasses import dataclass, fields

from yarvel.stones.cuts import CUTS

HEAD, BUR, WIRE, SHEET, TUBE, SOLDER, PLATE = "head", "bur", "wire", "sheet", "tube", "solder", "plate"
SETTING, HART, TAPER = "setting", "hart", "taper"
NOTCHED, SEATED = "notched", "seated"


@dataclass(frozen=True)
class StockItem:
    """One thing in the drawer; None or "" where it has no such measure. Lengths in mm.

    ``size_mm``: the diameter or length of the stone that a head is made for (``made_for_width_mm`` beside it;
    ``label_ct`` where it is sold by weight), a bur's or wire's diameter, a sheet's thickness, a tube's outside. ``cut``
    the stone of a head, round where it is empty; ``state`` notched, of a head whose notches are cut, or seated, of a
    tube.
    ``id`` is 0 until it is stored.
    """

    kind: str
    code: str = ""
    metal: str = ""
    size_mm: float | None = None
    claws: int | None = None
    claw_mm: float | None = None
    opening_mm: float | None = None
    height_mm: float | None = None
    wall_mm: float | None = None
    made_for_width_mm: float | None = None
    height_tip_mm: float | None = None
    foot_mm: float | None = None
    rail_mm: float | None = None
    label_ct: float | None = None
    cut: str = ""
    state: str = ""
    shape: str = ""
    grade: str = ""
    quantity: float | None = None
    price: float | None = None
    note: str = ""
    id: int = 0


@dataclass(frozen=True)
class Measure:
    """A measure of a kind of stock: how people call it, and what it may be."""

    name: str
    label: str
    low: float
    high: float
    required: bool = False


@dataclass(frozen=True)
class Kind:
    """A kind of stock: its name, its measures, which of its texts take one of a list, and of which measures exactly one
    is needed."""

    key: str
    label: str
    measures: tuple[Measure, ...]
    words: tuple[tuple[str, str, tuple[str, ...]], ...] = ()
    one_of: tuple[tuple[str, ...], ...] = ()


_QUANTITY = Measure("quantity", "Held", 0, 1e6)
_PRICE = Measure("price", "Price", 0, 1e6)
KINDS: dict[str, Kind] = {
    kind.key: kind
    for kind in (
        Kind(
            HEAD,
            "Bought heads",
            (
                Measure("size_mm", "Made for", 0.5, 40),
                Measure("made_for_width_mm", "Width", 0.5, 40),
                Measure("label_ct", "Label, ct", 0.01, 100),
                Measure("claws", "Claws", 3, 8, True),
                Measure("claw_mm", "Claw wire", 0.3, 3, True),
                Measure("opening_mm", "Opening", 0.3, 40),
                Measure("height_mm", "Foot to seat", 1, 30),
                Measure("height_tip_mm", "Foot to tip", 1, 40),
                Measure("foot_mm", "Foot", 0.5, 40),
                Measure("rail_mm", "Rail", 0.3, 30),
                _QUANTITY,
                _PRICE,
            ),
            (("cut", "Cut", tuple(CUTS)), ("state", "Notches", (NOTCHED,))),
            (("size_mm", "label_ct"), ("height_mm", "height_tip_mm")),
        ),
        Kind(
            BUR,
            "Burs",
            (Measure("size_mm", "Diameter", 0.3, 20, True), _QUANTITY, _PRICE),
            (("shape", "Shape", (SETTING, HART, TAPER)),),
        ),
        Kind(WIRE, "Wire", (Measure("size_mm", "Diameter", 0.2, 8, True), _QUANTITY, _PRICE)),
        Kind(SHEET, "Sheet", (Measure("size_mm", "Thickness", 0.1, 6, True), _QUANTITY, _PRICE)),
        Kind(
            TUBE,
            "Tube",
            (
                Measure("size_mm", "Outside", 0.8, 30, True),
                Measure("wall_mm", "Wall", 0.15, 4, True),
                _QUANTITY,
                _PRICE,
            ),
            (("state", "Seat", (SEATED,)),),
        ),
        Kind(PLATE, "Draw plate holes", (Measure("size_mm", "Hole", 0.2, 8, True),)),
        Kind(SOLDER, "Solder", (_QUANTITY, _PRICE), (("grade", "Grade", ("hard", "medium", "easy")),)),
    )
}
"""Quantity is counted for heads and burs, in mm for wire and tube, in g for sheet and solder."""

UNITS = {HEAD: "", BUR: "", WIRE: "mm", SHEET: "g", TUBE: "mm", SOLDER: "g", PLATE: ""}
NAMES = tuple(item.name for item in fields(StockItem) if item.name != "id")


def bur_sizes(items: list[StockItem]) -> tuple[float, ...]:
    """Diameters of the setting burs in the drawer, ascending; empty where none is kept there."""
    return tuple(
        sorted(
            {
                item.size_mm
                for item in items
                if item.kind == BUR and item.shape in ("", SETTING) and item.size_mm is not None
            }
        )
    )


def plate_holes(items: list[StockItem]) -> tuple[float, ...]:
    """Holes of the draw plates in the drawer, descending; empty where none is kept there."""
    return tuple(
        sorted({item.size_mm for item in items if item.kind == PLATE and item.size_mm is not None}, reverse=True)
    )
