"""Metal on the bench that is no part yet, or no more: what is taken from stock, what comes back."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec import Struct
from msgspec.structs import replace

ROUND, BAR, STRIP, TUBE, MELT, BOUGHT, SOLDER = "wire", "bar", "strip", "tube", "melt", "bought", "solder"


class Lot(Struct, frozen=True, kw_only=True):
    """``count`` pieces of one form and section, each ``length_mm`` long, in mm; ``across_mm`` and ``down_mm`` the
    section's width and thickness, for wire and tube both the outside; ``wall_mm`` of a tube. ``volume_mm3`` of all
    together in mm³, ``density_g_cm3`` in g/cm³, ``metal`` an alloy's key. ``source`` says what it is taken from. A
    melt, a bought piece and solder have no length."""

    piece: str
    part: str
    metal: str
    form: str
    source: str
    volume_mm3: float
    density_g_cm3: float
    count: int = 1
    length_mm: float = 0.0
    across_mm: float = 0.0
    down_mm: float = 0.0
    wall_mm: float = 0.0

    @property
    def grams(self) -> float:
        """Mass of all of it, g."""
        return self.volume_mm3 * self.density_g_cm3 / 1000


def poured_together(lots: Iterable[Lot]) -> tuple[Lot, ...]:
    """The same lots as they lie on the bench: head and band cast in one are two parts, yet one melt and one button."""
    lots_by_melt: dict[object, Lot] = {}
    for number, lot in enumerate(lots):
        key = (lot.piece, lot.metal) if lot.form == MELT else number
        known = lots_by_melt.get(key)
        lots_by_melt[key] = lot if known is None else replace(known, volume_mm3=known.volume_mm3 + lot.volume_mm3)
    return tuple(lots_by_melt.values())
