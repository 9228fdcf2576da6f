"""Alloys: density, elongation by temper, and flow temperatures of their solders. Values from memory, typical."""

from __future__ import annotations

from dataclasses import dataclass

from yarvel.figures.figure import FROM_MEMORY, GEOMETRY, Number, figure

GRADES = ("hard", "medium", "easy")


@dataclass(frozen=True)
class Alloy:
    """One alloy.

    ``density`` in g/cm³; ``elongation_drawn`` and ``elongation_annealed`` as fractions before it cracks;
    ``flow_c`` flow temperature in °C of its hard, medium and easy solder.
    """

    key: str
    label: str
    density: float
    elongation_drawn: float
    elongation_annealed: float
    flow_c: tuple[float, float, float]
    origin: str = FROM_MEMORY

    def flow(self, grade: str) -> float:
        """Flow temperature in °C of the solder of this grade."""
        return self.flow_c[GRADES.index(grade)]


ALLOYS: dict[str, Alloy] = {
    alloy.key: alloy
    for alloy in (
        Alloy("18k-yellow", "18k yellow gold", 15.5, 0.04, 0.38, (825, 780, 715)),
        Alloy("18k-white", "18k white, Pd", 15.8, 0.04, 0.34, (890, 835, 770)),
        Alloy("14k-yellow", "14k yellow gold", 13.1, 0.04, 0.36, (800, 755, 700)),
        Alloy("9k-yellow", "9k yellow gold", 11.3, 0.04, 0.33, (790, 750, 695)),
        Alloy("sterling-silver", "Sterling silver", 10.36, 0.05, 0.41, (775, 740, 705)),
        Alloy("platinum-950", "Platinum 950", 20.7, 0.03, 0.30, (1500, 1300, 1100)),
        Alloy("palladium-950", "Palladium 950", 11.7, 0.03, 0.28, (1300, 1150, 1050)),
    )
}


@figure("head.mass", "Head's mass", "g", "V·ρ_m/1000", GEOMETRY, volume="V", density="ρ_m")
def head_mass_g(volume: Number, density: float) -> Number:
    """Mass in g of a head of the given volume in mm³ and density in g/cm³."""
    return volume * density / 1000


@figure("shank.mass", "Shank's mass", "g", "A·l·ρ_m/1000", GEOMETRY, section="A", length="l", density="ρ_m")
def shank_mass_g(section: Number, length: Number, density: float) -> Number:
    """Mass in g of a shank from its section in mm², length in mm and density in g/cm³."""
    return section * length * density / 1000
