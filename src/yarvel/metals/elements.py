"""Elements that alloys are made of: densities, and the density of a mixture."""

from __future__ import annotations

import re
from collections.abc import Mapping

_PART = re.compile(r"([A-Z][a-z]?)\s*[:=]?\s*(\d+(?:[.,]\d+)?)")

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
    "Ir": 22.5,
    "Rh": 12.41,
    "Co": 8.90,
    "Ga": 5.91,
    "In": 7.31,
    "Fe": 7.87,
    "Sn": 7.29,
    "Mn": 7.30,
    "Cd": 8.65,
    "Ti": 4.52,
    "Si": 2.33,
    "W": 19.3,
}
"""g/cm³ at room temperature; from memory, held against an independent library in the tests."""


def shares_of(text: str) -> dict[str, float]:
    """Mass shares from what stands on a supplier's sheet: ``Au 75, Ag 12.5, Cu 12.5``, in hundredths or thousandths.

    Raises
    ------
    ValueError : an element that nothing is known of, one named twice, or parts that make up neither 100 nor 1000.
    """
    shares: dict[str, float] = {}
    for element, number in _PART.findall(text):
        if element not in DENSITIES:
            raise ValueError(f"nothing is known of {element}: of {', '.join(DENSITIES)}")
        if element in shares:
            raise ValueError(f"{element} stands there twice: each element once")
        shares[element] = float(number.replace(",", "."))
    if not shares or re.sub(_PART, "", text).strip(" ,;/+%‰"):
        raise ValueError("parts are an element and a number each: Au 75, Ag 12.5, Cu 12.5")
    whole = sum(shares.values())
    for full in (100.0, 1000.0):
        if abs(whole - full) <= 0.0005 * full:
            return {element: part / whole for element, part in shares.items() if part > 0}
    raise ValueError(f"they make up {whole:g}: 100 or 1000")


def mixture_density(parts: Mapping[str, float]) -> float:
    """Density in g/cm³ of a mixture by mass shares (that add up to 1): volumes add, 1/ρ = Σ w/ρ (rule of mixtures)."""
    return 1 / sum(share / DENSITIES[element] for element, share in parts.items())
