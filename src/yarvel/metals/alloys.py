"""Alloys: density, elongation by temper, and flow temperatures of their solders. Values from memory, typical."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from types import MappingProxyType

from msgspec import Struct
from msgspec.structs import replace

from yarvel.figures.custom import OwnMetal
from yarvel.figures.errors import JobError, Problem
from yarvel.figures.figure import FROM_MEMORY, GEOMETRY, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.metals.elements import DENSITIES, mixture_density

GRADES = ("hard", "medium", "easy")
_SOFT_SHARE = 0.9
HOUSE = "the workshop's own"
"""Origin of an alloy whose numbers the workshop has put in itself."""


class Alloy(Struct, frozen=True):
    """One alloy.

    ``density`` in g/cm³; ``elongation_drawn``, ``elongation_annealed`` and ``elongation_cast`` as fractions before it
    cracks; ``flow_c`` flow temperature in °C of its hard, medium and easy solder; ``parts`` mass shares of its
    elements; ``anneal_loss`` the loss of area at which it wants annealing; ``price_per_g`` in the workshop's
    money, 0 while it has not put one in.
    """

    key: str
    label: str
    density: float
    elongation_drawn: float
    elongation_annealed: float
    elongation_cast: float
    flow_c: tuple[float, float, float]
    parts: Mapping[str, float]
    anneal_loss: float = 0.5
    price_per_g: float = 0.0
    origin: str = FROM_MEMORY

    @property
    def soft(self) -> bool:
        """Nine tenths or more of platinum or gold: tips are left thick and burnished hard; common practice."""
        return any(self.parts.get(element, 0.0) >= _SOFT_SHARE for element in ("Au", "Pt"))

    def flow(self, grade: str) -> float:
        """Flow temperature in °C of the solder of this grade."""
        return self.flow_c[GRADES.index(grade)]


ALLOYS: dict[str, Alloy] = {
    alloy.key: alloy
    for alloy in (
        Alloy(
            "18k-yellow",
            "18k yellow gold",
            15.5,
            0.04,
            0.38,
            0.25,
            (825, 780, 715),
            {"Au": 0.75, "Ag": 0.125, "Cu": 0.125},
        ),
        Alloy(
            "18k-white",
            "18k white, Pd",
            15.8,
            0.04,
            0.34,
            0.20,
            (890, 835, 770),
            {"Au": 0.75, "Pd": 0.15, "Ag": 0.05, "Cu": 0.05},
            0.4,
        ),
        Alloy(
            "14k-yellow",
            "14k yellow gold",
            13.1,
            0.04,
            0.36,
            0.22,
            (800, 755, 700),
            {"Au": 0.585, "Ag": 0.20, "Cu": 0.185, "Zn": 0.03},
        ),
        Alloy(
            "9k-yellow",
            "9k yellow gold",
            11.3,
            0.04,
            0.33,
            0.20,
            (790, 750, 695),
            {"Au": 0.375, "Ag": 0.11, "Cu": 0.44, "Zn": 0.075},
        ),
        Alloy(
            "10k-yellow",
            "10k yellow gold",
            11.6,
            0.04,
            0.32,
            0.20,
            (795, 755, 700),
            {"Au": 0.417, "Ag": 0.12, "Cu": 0.40, "Zn": 0.063},
        ),
        Alloy(
            "22k-yellow",
            "22k yellow gold",
            17.8,
            0.05,
            0.40,
            0.28,
            (895, 850, 790),
            {"Au": 0.917, "Ag": 0.055, "Cu": 0.028},
        ),
        Alloy(
            "14k-rose",
            "14k rose gold",
            13.1,
            0.04,
            0.35,
            0.20,
            (805, 760, 710),
            {"Au": 0.585, "Ag": 0.08, "Cu": 0.335},
        ),
        Alloy(
            "18k-rose",
            "18k rose gold",
            15.1,
            0.04,
            0.36,
            0.22,
            (830, 785, 720),
            {"Au": 0.75, "Ag": 0.045, "Cu": 0.205},
        ),
        Alloy(
            "14k-white",
            "14k white, Ni",
            12.7,
            0.03,
            0.30,
            0.16,
            (830, 785, 725),
            {"Au": 0.585, "Ni": 0.11, "Cu": 0.225, "Zn": 0.08},
            0.4,
        ),
        Alloy(
            "18k-white-nickel",
            "18k white, Ni",
            14.8,
            0.03,
            0.30,
            0.16,
            (860, 805, 740),
            {"Au": 0.75, "Ni": 0.12, "Cu": 0.09, "Zn": 0.04},
            0.4,
        ),
        Alloy(
            "silver-germanium",
            "Tarnish-resisting silver",
            10.3,
            0.05,
            0.38,
            0.20,
            (775, 740, 705),
            {"Ag": 0.935, "Cu": 0.053, "Ge": 0.012},
        ),
        Alloy(
            "sterling-silver", "Sterling silver", 10.36, 0.05, 0.41, 0.20, (775, 740, 705), {"Ag": 0.925, "Cu": 0.075}
        ),
        Alloy(
            "platinum-950", "Platinum 950", 20.7, 0.03, 0.30, 0.20, (1500, 1300, 1100), {"Pt": 0.95, "Ru": 0.05}, 0.4
        ),
        Alloy(
            "palladium-950", "Palladium 950", 11.7, 0.03, 0.28, 0.18, (1300, 1150, 1050), {"Pd": 0.95, "Ru": 0.05}, 0.4
        ),
    )
}


def alloys_of(rules: HouseRules) -> Mapping[str, Alloy]:
    """All alloys that this workshop knows, by key: those of everybody with its own numbers in them, then its own."""
    return _known(rules.own.metals, rules.own.alloys)


def alloy_of(key: str, rules: HouseRules) -> Alloy:
    """An alloy as this workshop knows it: its own numbers in place of those from memory."""
    return alloys_of(rules)[key]


def alloy_label(key: str, rules: HouseRules) -> str:
    """What an alloy is called; the key itself where this workshop does not know it."""
    known = alloys_of(rules)
    return known[key].label if key in known else key


def own_alloy(metal: OwnMetal) -> Alloy:
    """An alloy of the workshop's own: its density by its elements, the rest as of the alloy that it is like.

    Raises
    ------
    JobError : an element that nothing is known of, or no alloy to be like.
    """
    place, elements = f"rules.metals.{metal.key}", dict(metal.parts)
    problems = [
        Problem(f"{place}.parts", f"nothing is known of {element}", f"of {', '.join(DENSITIES)}")
        for element in elements
        if element not in DENSITIES
    ]
    if metal.like not in ALLOYS:
        problems.append(Problem(f"{place}.like", f"unknown alloy {metal.like!r}", f"one of {', '.join(ALLOYS)}"))
    if problems:
        raise JobError(problems)
    return replace(
        ALLOYS[metal.like],
        key=metal.key,
        label=metal.label,
        density=round(mixture_density(elements), 2),
        parts=elements,
        origin=HOUSE,
    )


@lru_cache(maxsize=64)
def _known(metals: tuple[OwnMetal, ...], changes: tuple[tuple[str, str, float], ...]) -> Mapping[str, Alloy]:
    known = {**ALLOYS, **{metal.key: own_alloy(metal) for metal in metals}}
    return MappingProxyType({key: _changed(alloy, changes) for key, alloy in known.items()})


def _changed(alloy: Alloy, changes: tuple[tuple[str, str, float], ...]) -> Alloy:
    mine = {name: value for changed, name, value in changes if changed == alloy.key}
    if not mine:
        return alloy
    flows = tuple(mine.pop(f"flow_{grade}_c", alloy.flow(grade)) for grade in GRADES)
    return replace(alloy, flow_c=flows, origin=HOUSE, **mine)


@figure(
    "head.mass",
    "Head's mass",
    "g",
    "V·ρ_m/1000",
    GEOMETRY,
    volume_mm3="V",
    density_g_cm3="ρ_m",
    shown_in="head",
)
def head_mass_g(volume_mm3: Number, density_g_cm3: float) -> Number:
    """Mass in g of a head of the given volume in mm³ and density in g/cm³."""
    return volume_mm3 * density_g_cm3 / 1000


@figure(
    "shank.mass", "Shank's mass", "g", "A·l·ρ_m/1000", GEOMETRY, section_mm2="A", length_mm="l", density_g_cm3="ρ_m"
)
def shank_mass_g(section_mm2: Number, length_mm: Number, density_g_cm3: float) -> Number:
    """Mass in g of a shank from its section in mm², length in mm and density in g/cm³."""
    return section_mm2 * length_mm * density_g_cm3 / 1000
