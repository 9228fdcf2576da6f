"""Metal on the bench that is no part yet, or no more: what is taken from stock, what comes back."""

from __future__ import annotations

from dataclasses import dataclass

ROUND, BAR, STRIP, TUBE, MELT, BOUGHT, SOLDER = "wire", "bar", "strip", "tube", "melt", "bought", "solder"


@dataclass(frozen=True)
class Lot:
    """``count`` pieces of one form and section, each ``length`` long, in mm; ``across`` and ``down`` the section's
    width and thickness, for wire and tube both the outside; ``wall`` of a tube. ``volume`` of all together in mm³,
    ``density`` in g/cm³, ``metal`` an alloy's key. ``source`` says what it is taken from. A melt, a bought piece and
    solder have no length."""

    piece: str
    part: str
    metal: str
    form: str
    source: str
    volume: float
    density: float
    count: int = 1
    length: float = 0.0
    across: float = 0.0
    down: float = 0.0
    wall: float = 0.0

    @property
    def grams(self) -> float:
        """Mass of all of it, g."""
        return self.volume * self.density / 1000
