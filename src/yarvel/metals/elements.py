"""Elements that alloys are made of: densities, and the density of a mixture."""

from __future__ import annotations

from collections.abc import Mapping

DENSITIES: dict[str, float] = {
    "Au": 19.3,
    "Ag": 10.5,
    "Cu": 8.96,
    "Zn": 7.14,
    "Pt": 21.45,
    "Pd": 12.02,
    "Ru": 12.37,
    "Ni": 8.91,
    "Ge": 5.32,
}
"""g/cm³ at room temperature; from memory, held against an independent library in the tests."""


def mixture_density(parts: Mapping[str, float]) -> float:
    """Density in g/cm³ of a mixture by mass shares (that add up to 1): volumes add, 1/ρ = Σ w/ρ (rule of mixtures)."""
    return 1 / sum(share / DENSITIES[element] for element, share in parts.items())
