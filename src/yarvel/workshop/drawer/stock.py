"""The drawer: bought heads, burs, wire, sheet, tube and solder as records."""

from __future__ import annotations

from msgspec import Struct

from yarvel.shanks.pendant import BAIL_JOINTS
from yarvel.stones.cuts import CUTS

HEAD, BUR, WIRE, SHEET, TUBE, SOLDER, PLATE = "head", "bur", "wire", "sheet", "tube", "solder", "plate"

MOUNT, BEZEL, BAIL, LOT = "mount", "bezel", "bail", "lot"
"""Heads on their ring, ready to be set; bought lengths of tube as bezels; what a pendant's chain goes through; stock
and offcuts by weight, whoever owns them."""
SETTING, HART, TAPER = "setting", "hart", "taper"
NOTCHED, SEATED = "notched", "seated"


class StockItem(Struct, frozen=True):
    """One thing in the drawer; None or "" where it has no such measure. Lengths in mm.

    ``size_mm``: the diameter or length of the stone that a head is made for (``made_for_width_mm`` beside it;
    ``label_ct`` where it is sold by weight), a bur's or wire's diameter, a sheet's thickness, a tube's outside. ``cut``
    the stone of a head, round where it is empty; ``inside_mm``, ``width_mm``, ``thickness_mm`` the ring of a mount;
    ``length_mm`` and ``mass_g`` (g) of a lot, ``owner`` whose it is where it is not the workshop's; ``state`` notched,
    of a head whose notches are cut, or seated, of a tube, or how a bail is closed: pinched or soldered; ``size_mm`` of
    a bail is what the chain goes through, ``thickness_mm`` what goes through its ring.
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
    inside_mm: float | None = None
    width_mm: float | None = None
    thickness_mm: float | None = None
    length_mm: float | None = None
    mass_g: float | None = None
    owner: str = ""
    cut: str = ""
    state: str = ""
    shape: str = ""
    grade: str = ""
    quantity: float | None = None
    price: float | None = None
    note: str = ""
    id: int = 0


class Measure(Struct, frozen=True):
    """A measure of a kind of stock: how people call it, and what it may be."""

    name: str
    label: str
    low: float
    high: float
    required: bool = False


class StockKind(Struct, frozen=True):
    """A kind of stock: its name, its measures, which of its texts take one of a list, and of which measures exactly one
    is needed."""

    key: str
    label: str
    measures: tuple[Measure, ...]
    words: tuple[tuple[str, str, tuple[str, ...]], ...] = ()
    one_of: tuple[tuple[str, ...], ...] = ()


_QUANTITY = Measure("quantity", "Held", 0, 1e6)
_PRICE = Measure("price", "Price", 0, 1e6)
_OF_HEAD = (
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
)
_HEADS_WORDS = (("cut", "Cut", tuple(CUTS)), ("state", "Notches", (NOTCHED,)))
_HEADS_ONE_OF = (("size_mm", "label_ct"), ("height_mm", "height_tip_mm"))
FORMS = ("round", "bar", "strip", "tube", "melt")

KINDS: dict[str, StockKind] = {
    kind.key: kind
    for kind in (
        StockKind(
            HEAD,
            "Bought heads",
            (*_OF_HEAD, _QUANTITY, _PRICE),
            _HEADS_WORDS,
            _HEADS_ONE_OF,
        ),
        StockKind(
            MOUNT,
            "Mounts, ring and head",
            (
                *_OF_HEAD,
                Measure("inside_mm", "Ring, inside", 10, 30, True),
                Measure("width_mm", "Band, width", 0.8, 20, True),
                Measure("thickness_mm", "Band, thickness", 0.6, 6, True),
                _QUANTITY,
                _PRICE,
            ),
            _HEADS_WORDS,
            _HEADS_ONE_OF,
        ),
        StockKind(
            BEZEL,
            "Bezels, of tube",
            (
                Measure("size_mm", "Outside", 0.8, 30, True),
                Measure("wall_mm", "Wall", 0.3, 2, True),
                Measure("height_mm", "Height", 1, 30, True),
                _QUANTITY,
                _PRICE,
            ),
            (("state", "Seat", (SEATED,)),),
        ),
        StockKind(
            BAIL,
            "Bails",
            (
                Measure("size_mm", "Opening", 0.8, 15, True),
                Measure("thickness_mm", "Through the ring", 0.2, 5),
                Measure("mass_g", "Weighs, g", 0.01, 50),
                _QUANTITY,
                _PRICE,
            ),
            (("state", "Joint", BAIL_JOINTS),),
        ),
        StockKind(
            LOT,
            "Lots of metal",
            (
                Measure("size_mm", "Across", 0.1, 60),
                Measure("thickness_mm", "Down", 0.1, 60),
                Measure("wall_mm", "Wall", 0.15, 4),
                Measure("length_mm", "Length", 0.5, 5000),
                Measure("mass_g", "Weighs, g", 0.001, 20_000, True),
                _PRICE,
            ),
            (("shape", "Form", FORMS),),
        ),
        StockKind(
            BUR,
            "Burs",
            (Measure("size_mm", "Diameter", 0.3, 20, True), _QUANTITY, _PRICE),
            (("shape", "Shape", (SETTING, HART, TAPER)),),
        ),
        StockKind(WIRE, "Wire", (Measure("size_mm", "Diameter", 0.2, 8, True), _QUANTITY, _PRICE)),
        StockKind(SHEET, "Sheet", (Measure("size_mm", "Thickness", 0.1, 6, True), _QUANTITY, _PRICE)),
        StockKind(
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
        StockKind(PLATE, "Draw plate holes", (Measure("size_mm", "Hole", 0.2, 8, True),)),
        StockKind(SOLDER, "Solder", (_QUANTITY, _PRICE), (("grade", "Grade", ("hard", "medium", "easy")),)),
    )
}
"""Quantity is counted for heads, mounts, bezels, bails and burs, in mm for wire and tube, in g for sheet and solder."""

UNITS = {
    HEAD: "",
    MOUNT: "",
    BEZEL: "",
    BAIL: "",
    LOT: "",
    BUR: "",
    WIRE: "mm",
    SHEET: "g",
    TUBE: "mm",
    SOLDER: "g",
    PLATE: "",
}
NAMES = tuple(name for name in StockItem.__struct_fields__ if name != "id")


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
