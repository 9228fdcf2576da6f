"""Alloys: density, elongation by temper, and flow temperatures of their solders. Values from memory, typical."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from types import MappingProxyType

from msgspec import Struct
from msgspec.structs import replace

from yarvel.figures.custom import CustomAlloy
from yarvel.figures.errors import JobError, Problem
from yarvel.figures.figure import FROM_MEMORY, GEOMETRY, Number, figure
from yarvel.figures.rules import HouseRules
from yarvel.metals.elements import DENSITIES, mixture_density

GRADES = ("hard", "medium", "easy")
_SOFT_SHARE = 0.9

HOUSE = "the workshop's own"
"""Origin of an alloy whose numbers the workshop has put in itself."""


class Alloy(Struct, frozen=True, kw_only=True):
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
            key="18k-yellow",
            label="18k yellow gold",
            density=15.5,
            elongation_drawn=0.04,
            elongation_annealed=0.38,
            elongation_cast=0.25,
            flow_c=(825, 780, 715),
            parts={"Au": 0.75, "Ag": 0.125, "Cu": 0.125},
        ),
        Alloy(
            key="18k-white",
            label="18k white, Pd",
            density=15.8,
            elongation_drawn=0.04,
            elongation_annealed=0.34,
            elongation_cast=0.20,
            flow_c=(890, 835, 770),
            parts={"Au": 0.75, "Pd": 0.15, "Ag": 0.05, "Cu": 0.05},
            anneal_loss=0.4,
        ),
        Alloy(
            key="14k-yellow",
            label="14k yellow gold",
            density=13.1,
            elongation_drawn=0.04,
            elongation_annealed=0.36,
            elongation_cast=0.22,
            flow_c=(800, 755, 700),
            parts={"Au": 0.585, "Ag": 0.20, "Cu": 0.185, "Zn": 0.03},
        ),
        Alloy(
            key="9k-yellow",
            label="9k yellow gold",
            density=11.3,
            elongation_drawn=0.04,
            elongation_annealed=0.33,
            elongation_cast=0.20,
            flow_c=(790, 750, 695),
            parts={"Au": 0.375, "Ag": 0.11, "Cu": 0.44, "Zn": 0.075},
        ),
        Alloy(
            key="10k-yellow",
            label="10k yellow gold",
            density=11.6,
            elongation_drawn=0.04,
            elongation_annealed=0.32,
            elongation_cast=0.20,
            flow_c=(795, 755, 700),
            parts={"Au": 0.417, "Ag": 0.12, "Cu": 0.40, "Zn": 0.063},
        ),
        Alloy(
            key="22k-yellow",
            label="22k yellow gold",
            density=17.8,
            elongation_drawn=0.05,
            elongation_annealed=0.40,
            elongation_cast=0.28,
            flow_c=(895, 850, 790),
            parts={"Au": 0.917, "Ag": 0.055, "Cu": 0.028},
        ),
        Alloy(
            key="14k-rose",
            label="14k rose gold",
            density=13.1,
            elongation_drawn=0.04,
            elongation_annealed=0.35,
            elongation_cast=0.20,
            flow_c=(805, 760, 710),
            parts={"Au": 0.585, "Ag": 0.08, "Cu": 0.335},
        ),
        Alloy(
            key="18k-rose",
            label="18k rose gold",
            density=15.1,
            elongation_drawn=0.04,
            elongation_annealed=0.36,
            elongation_cast=0.22,
            flow_c=(830, 785, 720),
            parts={"Au": 0.75, "Ag": 0.045, "Cu": 0.205},
        ),
        Alloy(
            key="14k-white",
            label="14k white, Ni",
            density=12.7,
            elongation_drawn=0.03,
            elongation_annealed=0.30,
            elongation_cast=0.16,
            flow_c=(830, 785, 725),
            parts={"Au": 0.585, "Ni": 0.11, "Cu": 0.225, "Zn": 0.08},
            anneal_loss=0.4,
        ),
        Alloy(
            key="18k-white-nickel",
            label="18k white, Ni",
            density=14.8,
            elongation_drawn=0.03,
            elongation_annealed=0.30,
            elongation_cast=0.16,
            flow_c=(860, 805, 740),
            parts={"Au": 0.75, "Ni": 0.12, "Cu": 0.09, "Zn": 0.04},
            anneal_loss=0.4,
        ),
        Alloy(
            key="silver-germanium",
            label="Tarnish-resisting silver",
            density=10.3,
            elongation_drawn=0.05,
            elongation_annealed=0.38,
            elongation_cast=0.20,
            flow_c=(775, 740, 705),
            parts={"Ag": 0.935, "Cu": 0.053, "Ge": 0.012},
        ),
        Alloy(
            key="sterling-silver",
            label="Sterling silver",
            density=10.36,
            elongation_drawn=0.05,
            elongation_annealed=0.41,
            elongation_cast=0.20,
            flow_c=(775, 740, 705),
            parts={"Ag": 0.925, "Cu": 0.075},
        ),
        Alloy(
            key="platinum-950",
            label="Platinum 950",
            density=20.7,
            elongation_drawn=0.03,
            elongation_annealed=0.30,
            elongation_cast=0.20,
            flow_c=(1500, 1300, 1100),
            parts={"Pt": 0.95, "Ru": 0.05},
            anneal_loss=0.4,
        ),
        Alloy(
            key="palladium-950",
            label="Palladium 950",
            density=11.7,
            elongation_drawn=0.03,
            elongation_annealed=0.28,
            elongation_cast=0.18,
            flow_c=(1300, 1150, 1050),
            parts={"Pd": 0.95, "Ru": 0.05},
            anneal_loss=0.4,
        ),
    )
}


def alloys_of(rules: HouseRules) -> Mapping[str, Alloy]:
    """All alloys that this workshop knows, by key: those of everybody with its own numbers in them, then its own."""
    return _known(rules.custom.metals, rules.custom.alloys)


def alloy_of(key: str, rules: HouseRules) -> Alloy:
    """An alloy as this workshop knows it: its own numbers in place of those from memory."""
    return alloys_of(rules)[key]


def alloy_label(key: str, rules: HouseRules) -> str:
    """What an alloy is called; the key itself where this workshop does not know it."""
    known = alloys_of(rules)
    return known[key].label if key in known else key


def custom_alloy(metal: CustomAlloy) -> Alloy:
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
def _known(metals: tuple[CustomAlloy, ...], changes: tuple[tuple[str, str, float], ...]) -> Mapping[str, Alloy]:
    known = {**ALLOYS, **{metal.key: custom_alloy(metal) for metal in metals}}
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
