"""Weight of a stone, two ways: by the handbooks' estimation formula and from the model's volume."""

from __future__ import annotations

from yarvel.figures.figure import GEOMETRY, Number, figure, published

REFERENCE_SG = 3.52
ROUND_FACTOR = 0.0061


@figure("stone.weight_formula", "Weight by formula", "ct", "D²·d·0.0061·SG/3.52",
        published("standard gemmological estimation formulas"), diameter="D", depth="d", gravity="SG")
def weight_formula_ct(diameter: Number, depth: Number, gravity: Number) -> Number:
    """Weight of a round brilliant in carats, from mean diameter and depth in mm and specific gravity."""
    return diameter**2 * depth * ROUND_FACTOR * gravity / REFERENCE_SG


@figure("stone.weight_model", "Weight by model", "ct", "V·SG/200", GEOMETRY, volume="V", gravity="SG")
def weight_model_ct(volume: Number, gravity: Number) -> Number:
    """Weight in carats from volume in mm³ and specific gravity (1 ct = 0.2 g, 1 g/cm³ = 1 mg/mm³)."""
    return volume * gravity / 200
