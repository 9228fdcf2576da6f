"""Species: hardness, specific gravity, and what heat and cleaning do. Values from memory, typical."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from types import MappingProxyType

from msgspec import Struct
from msgspec.structs import asdict

from yarvel.figures.custom import CustomSpecies
from yarvel.figures.rules import HouseRules

_OWN_SHARE = 0.03


class Species(Struct, frozen=True):
    """One kind of stone.

    ``hardness`` on Mohs' scale, ``gravity`` specific gravity; ``heat``, ``acid``, ``ultrasonic`` and ``steam``
    say what each does in a word the bench uses: "bears", "care" or "never". ``note`` is one more thing to know.
    """

    key: str
    label: str
    hardness: float
    gravity: float
    heat: str
    acid: str
    ultrasonic: str
    steam: str
    note: str = ""

    @property
    def gravity_share(self) -> float:
        """How far, as a share, the specific gravity of such stones lies from the table's either way; from memory."""
        return _GRAVITY_SHARE.get(self.key, 0.01 if self.key in SPECIES else _OWN_SHARE)


_ROWS = (
    ("diamond", "Diamond", 10, 3.52, "care", "bears", "care", "bears", "perfect cleavage; burns in an open flame"),
    ("ruby", "Ruby", 9, 4.00, "care", "care", "care", "care", "fillings may run out"),
    ("sapphire", "Sapphire", 9, 4.00, "care", "bears", "care", "care", "boric acid etches it when hot"),
    ("chrysoberyl", "Chrysoberyl", 8.5, 3.73, "care", "bears", "bears", "bears", ""),
    ("spinel", "Spinel", 8, 3.60, "care", "bears", "bears", "care", ""),
    ("topaz", "Topaz", 8, 3.53, "never", "bears", "never", "never", "perfect basal cleavage"),
    ("cubic-zirconia", "Cubic zirconia", 8.25, 5.80, "care", "bears", "bears", "bears", ""),
    ("moissanite", "Moissanite", 9.25, 3.22, "care", "bears", "bears", "bears", ""),
    ("emerald", "Emerald", 7.5, 2.72, "never", "never", "never", "never", "oiled as a rule"),
    ("aquamarine", "Aquamarine", 7.5, 2.70, "never", "bears", "care", "never", ""),
    ("morganite", "Morganite", 7.5, 2.70, "never", "bears", "care", "never", ""),
    ("almandine", "Almandine garnet", 7.5, 4.10, "never", "care", "care", "never", ""),
    ("rhodolite", "Rhodolite garnet", 7.25, 3.84, "never", "care", "care", "never", ""),
    ("tsavorite", "Tsavorite garnet", 7.25, 3.61, "never", "care", "care", "never", ""),
    ("demantoid", "Demantoid garnet", 7, 3.84, "never", "care", "care", "never", ""),
    ("tourmaline", "Tourmaline", 7.25, 3.06, "never", "care", "never", "never", ""),
    ("quartz", "Quartz", 7, 2.65, "never", "bears", "care", "never", "amethyst and citrine change colour"),
    ("iolite", "Iolite", 7.25, 2.61, "never", "never", "never", "never", ""),
    ("zircon", "Zircon", 7, 4.69, "never", "bears", "never", "never", "brittle facet edges"),
    ("peridot", "Peridot", 6.75, 3.34, "never", "never", "never", "never", ""),
    ("tanzanite", "Tanzanite", 6.5, 3.35, "never", "never", "never", "never", ""),
    ("kunzite", "Kunzite", 6.75, 3.18, "never", "care", "never", "never", "two perfect cleavages"),
    ("scapolite", "Scapolite", 5.75, 2.65, "never", "never", "never", "never", ""),
    ("moonstone", "Moonstone", 6.25, 2.60, "never", "care", "never", "never", "perfect cleavage"),
    ("labradorite", "Labradorite", 6.25, 2.70, "never", "care", "never", "never", "perfect cleavage"),
    ("opal", "Opal", 6, 2.10, "never", "never", "never", "never", "dries and cracks"),
    ("turquoise", "Turquoise", 5.5, 2.70, "never", "never", "never", "never", ""),
    ("lapis-lazuli", "Lapis lazuli", 5.25, 2.80, "never", "never", "never", "never", ""),
    ("sodalite", "Sodalite", 5.75, 2.30, "never", "never", "never", "never", ""),
    ("onyx", "Onyx", 6.75, 2.60, "never", "never", "care", "never", "dyed as a rule"),
    ("chalcedony", "Chalcedony", 6.75, 2.60, "never", "care", "care", "never", "often dyed"),
    ("jade", "Jade (jadeite)", 6.75, 3.33, "never", "never", "care", "never", "often filled with wax or resin"),
    ("nephrite", "Nephrite", 6.25, 2.95, "never", "never", "care", "never", ""),
    ("andalusite", "Andalusite", 7.25, 3.16, "never", "care", "never", "never", ""),
    ("sphene", "Sphene", 5.25, 3.52, "never", "never", "never", "never", "brittle"),
    ("fluorite", "Fluorite", 4, 3.18, "never", "never", "never", "never", "perfect cleavage in four directions"),
    ("malachite", "Malachite", 4, 3.95, "never", "never", "never", "never", ""),
    ("hematite", "Hematite", 6, 5.20, "never", "care", "care", "never", ""),
    ("glass", "Glass", 5.5, 2.50, "never", "bears", "care", "never", "cracks where it is warmed unevenly"),
    ("pearl", "Pearl", 3, 2.72, "never", "never", "never", "never", "drilled and cemented, or set with no pressure"),
    ("coral", "Coral", 3.5, 2.65, "never", "never", "never", "never", ""),
    ("shell", "Shell", 3.5, 2.75, "never", "never", "never", "never", "in layers that part"),
    ("amber", "Amber", 2.25, 1.08, "never", "never", "never", "never", "scratched by a fingernail's grit"),
    ("apatite", "Apatite", 5, 3.19, "never", "never", "never", "never", ""),
)

_GRAVITY_SHARE = {
    "diamond": 0.003,
    "cubic-zirconia": 0.035,
    "moissanite": 0.003,
    "almandine": 0.05,
    "rhodolite": 0.03,
    "tsavorite": 0.02,
    "tourmaline": 0.03,
    "emerald": 0.02,
    "morganite": 0.03,
    "zircon": 0.02,
    "scapolite": 0.04,
    "opal": 0.05,
    "turquoise": 0.06,
    "lapis-lazuli": 0.07,
    "labradorite": 0.015,
    "sodalite": 0.04,
    "nephrite": 0.02,
    "glass": 0.2,
    "pearl": 0.04,
    "coral": 0.03,
    "shell": 0.03,
    "amber": 0.03,
    "malachite": 0.05,
    "hematite": 0.02,
}
SPECIES: dict[str, Species] = {row[0]: Species(*row) for row in _ROWS}

ALIASES = {
    "cz": "cubic-zirconia",
    "lapis": "lapis-lazuli",
    "garnet": "almandine",
    "amethyst": "quartz",
    "citrine": "quartz",
    "rose-quartz": "quartz",
    "jadeite": "jade",
    "black-onyx": "onyx",
    "agate": "chalcedony",
    "carnelian": "chalcedony",
    "alexandrite": "chrysoberyl",
    "pyrope": "rhodolite",
    "mother-of-pearl": "shell",
    "paste": "glass",
}
"""Other words the bench uses, and the species they are read as."""


def all_species(rules: HouseRules) -> Mapping[str, Species]:
    """All species that this workshop knows, by key: those of everybody, then its own."""
    return _known(rules.custom.species)


def species_named(name: str, rules: HouseRules) -> Species:
    """The species of a key, or of another word for it."""
    return all_species(rules)[ALIASES.get(name, name)]


@lru_cache(maxsize=64)
def _known(own: tuple[CustomSpecies, ...]) -> Mapping[str, Species]:
    return MappingProxyType(
        {**SPECIES, **{custom_species.key: Species(**asdict(custom_species)) for custom_species in own}}
    )
