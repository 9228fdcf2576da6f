"""What a docket takes of metal against the lots in the drawer: which suits, what is short, what comes back."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Callable, Iterable, Sequence

from msgspec import Struct

from yarvel.operations.lot import BAR, BOUGHT, MELT, ROUND, SOLDER, STRIP, TUBE, Lot
from yarvel.workshop.drawer.stock import LOT, StockItem

_FORMS = {ROUND: "round", BAR: "bar", STRIP: "strip", TUBE: "tube", MELT: "melt"}
"""How a route's forms are called in the drawer."""
_ENOUGH_G, _AS_THICK = 0.0005, 0.98

LEAST_BACK_G = 0.02
"""Less than this goes to the filings."""


class Need(Struct, frozen=True, kw_only=True):
    """A piece that is cut from stock: what it is, of which part and metal, its form, section (mm²), length in mm of all
    of it, and grams; ``source`` what it is usually cut, drawn or rolled from."""

    piece: str
    part: str
    metal: str
    form: str
    across_mm: float
    down_mm: float
    wall_mm: float
    area_mm2: float
    length_mm: float
    mass_g: float
    source: str = ""

    @property
    def measured(self) -> str:
        """Its section and length in words."""
        if not self.length_mm:
            return self.form
        if self.form == ROUND:
            section = f"Ø {self.across_mm:.2f}"
        elif self.form == TUBE:
            section = f"Ø {self.across_mm:.2f}, wall {self.wall_mm:.2f}"
        else:
            section = f"{self.across_mm:.2f} × {self.down_mm:.2f}"
        return f"{section}, {self.length_mm:.1f} mm"


def needs_of(lots: Iterable[Lot]) -> tuple[Need, ...]:
    """What is cut from stock, without what is bought ready and solder."""
    needs = []
    for lot in lots:
        if lot.form in (BOUGHT, SOLDER) or lot.grams <= 0:
            continue
        length = lot.length_mm * lot.count
        area = lot.volume_mm3 / length if length else 0.0
        needs.append(
            Need(
                piece=lot.piece,
                part=lot.part,
                metal=lot.metal,
                form=lot.form,
                across_mm=lot.across_mm,
                down_mm=lot.down_mm,
                wall_mm=lot.wall_mm,
                area_mm2=area,
                length_mm=length,
                mass_g=lot.grams,
                source=lot.source,
            )
        )
    return tuple(needs)


def section_mm2(item: StockItem) -> float | None:
    """A lot's section in mm²; None where it was not measured."""
    if item.size_mm is None:
        return None
    if item.shape == "tube":
        return None if item.wall_mm is None else math.pi * (item.size_mm - item.wall_mm) * item.wall_mm
    if item.shape == "round":
        return math.pi / 4 * item.size_mm**2
    return item.size_mm * (item.size_mm if item.thickness_mm is None else item.thickness_mm)


def suits(need: Need, item: StockItem, left_g: float) -> bool:
    """Whether a piece can be cut, drawn or rolled from a lot of which so many grams are left: metal only becomes
    thinner at the bench, and tube is cut from tube of its own outside and wall."""
    if item.kind != LOT or item.metal != need.metal or left_g < need.mass_g - _ENOUGH_G:
        return False
    if need.form == MELT or item.shape == "melt":
        return need.form == MELT
    if need.form == TUBE or item.shape == "tube":
        close = item.size_mm is not None and abs(item.size_mm - need.across_mm) <= 0.05
        wall = item.wall_mm is None or abs(item.wall_mm - need.wall_mm) <= 0.05
        return need.form == TUBE and item.shape == "tube" and close and wall
    area = section_mm2(item)
    thick = item.size_mm if item.thickness_mm is None else min(item.thickness_mm, item.size_mm or item.thickness_mm)
    if need.form in (STRIP, BAR) and thick is not None and thick < _AS_THICK * min(need.across_mm, need.down_mm):
        return False
    return area is None or area >= _AS_THICK * need.area_mm2


def suiting(need: Need, items: Sequence[StockItem], taken_g: dict[int, float] | None = None) -> list[StockItem]:
    """The lots that suit, those that want least drawing and rolling first; ``taken_g`` grams that others take."""
    taken = taken_g or {}
    stock_items = [item for item in items if suits(need, item, (item.mass_g or 0.0) - taken.get(item.id, 0.0))]
    form = _FORMS.get(need.form, "")

    def order(item: StockItem) -> tuple[bool, bool, float, float]:
        area = section_mm2(item)
        return item.owner != "", item.shape not in (form, ""), (area or 1e9) - need.area_mm2, item.mass_g or 0.0

    return sorted(stock_items, key=order)


def proposed(needs: Sequence[Need], items: Sequence[StockItem]) -> list[StockItem | None]:
    """A lot for each need, the heaviest first so that what is long finds one; None where none has enough left. What a
    customer owns is proposed only where nothing else suits."""
    taken: dict[int, float] = defaultdict(float)
    lots_proposed: list[StockItem | None] = [None] * len(needs)
    for place in sorted(range(len(needs)), key=lambda place: -needs[place].mass_g):
        suiting_lots = suiting(needs[place], items, taken)
        if suiting_lots:
            lots_proposed[place] = suiting_lots[0]
            taken[suiting_lots[0].id] += needs[place].mass_g
    return lots_proposed


def cut_length_mm(need: Need, item: StockItem, mass_g: float) -> float | None:
    """How long a piece of that mass is in the lot's own section; None where the lot's length is not known."""
    if item.length_mm is None or not item.mass_g:
        return None
    return min(item.length_mm * mass_g / item.mass_g, item.length_mm)


def order_text(needs: Sequence[Need], chosen: Sequence[StockItem | None], label: Callable[[str], str]) -> str:
    """What is short, a line a piece, to be ordered; ``label`` what an alloy is called."""
    return "\n".join(
        f"{label(need.metal)}, {need.source or need.form}: {need.mass_g:.2f} g for {need.piece.lower()} "
        f"({need.measured})"
        for need, item in zip(needs, chosen, strict=True)
        if item is None
    )


def back_as_lots(lots: Iterable[Lot], number: str, owners: dict[str, str]) -> list[StockItem]:
    """What a docket's work gives back, as lots for the drawer: by its number and a letter; whose its metal was."""
    whole = [lot for lot in lots if lot.form not in (BOUGHT, SOLDER) and lot.grams >= LEAST_BACK_G]
    return [
        StockItem(
            LOT,
            f"{number}-{chr(97 + place % 26)}",
            lot.metal,
            round(lot.across_mm, 2) or None,
            thickness_mm=round(lot.down_mm, 2) or None,
            wall_mm=lot.wall_mm or None,
            length_mm=round(lot.length_mm * lot.count, 1) or None,
            mass_g=round(lot.grams, 3),
            shape=_FORMS.get(lot.form, ""),
            owner=owners.get(lot.metal, ""),
            note=lot.piece,
        )
        for place, lot in enumerate(whole)
    ]
