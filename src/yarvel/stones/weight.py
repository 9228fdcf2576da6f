"""Weight of a stone, two ways: by the handbooks' estimation formulas and from the model's volume."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from yarvel.figures.figure import FROM_MEMORY, GEOMETRY, FigureFunction, FigureKey, Number, figure, published

WEIGHT_FORMULA = FigureKey("stone.weight_formula")

REFERENCE_SG = 3.52
HANDBOOKS = published("standard gemmological estimation formulas")


def _round(length_mm: Number, width_mm: Number, depth_mm: Number, factor: Number, gravity: Number) -> Number:
    """Weight in carats from mean diameter and depth in mm and specific gravity."""
    return length_mm * width_mm * depth_mm * factor * gravity / REFERENCE_SG


def _oval(length_mm: Number, width_mm: Number, depth_mm: Number, factor: Number, gravity: Number) -> Number:
    """Weight in carats from the mean of length and width, and depth, in mm, and specific gravity."""
    return ((length_mm + width_mm) / 2) ** 2 * depth_mm * factor * gravity / REFERENCE_SG


def _box(length_mm: Number, width_mm: Number, depth_mm: Number, factor: Number, gravity: Number) -> Number:
    """Weight in carats from length, width and depth in mm, the cut's factor, and specific gravity."""
    return length_mm * width_mm * depth_mm * factor * gravity / REFERENCE_SG


def _cabochon(length_mm: Number, width_mm: Number, depth_mm: Number, factor: Number, gravity: Number) -> Number:
    """Weight in carats of a cabochon from length, width and depth in mm and specific gravity."""
    return length_mm * width_mm * depth_mm * gravity * factor


def _declared(function: Callable[..., Number], formula: str, source: str) -> FigureFunction[Any]:
    return figure(
        WEIGHT_FORMULA,
        "Weight by formula",
        "ct",
        formula,
        source,
        length_mm="L",
        width_mm="W",
        depth_mm="d",
        factor="f",
        gravity="SG",
    )(function)


by_diameter = figure(
    WEIGHT_FORMULA,
    "Weight by formula",
    "ct",
    "D·D·d·f·SG/3.52",
    HANDBOOKS,
    width_mm="D",
    depth_mm="d",
    factor="f",
    gravity="SG",
)(_round)
by_mean_diameter = _declared(_oval, "((L + W)/2)²·d·f·SG/3.52", HANDBOOKS)
by_box = _declared(_box, "L·W·d·f·SG/3.52", HANDBOOKS)
by_box_from_memory = _declared(_box, "L·W·d·f·SG/3.52", FROM_MEMORY)
cabochon_by_box = _declared(_cabochon, "L·W·d·SG·f", HANDBOOKS)


def constant(factor: float) -> Callable[[Number], Number]:
    """A weight factor (a number without unit) that is the same for every length over width."""
    return lambda aspect: factor + 0.0 * aspect


def interpolated(*rows: tuple[float, float]) -> Callable[[Number], Number]:
    """A weight factor (a number without unit) from rows of (length over width, factor); held beyond the first and the
    last."""
    aspects, factors = zip(*rows, strict=True)

    def factor(aspect: Number) -> Number:
        number: Number = np.interp(aspect, aspects, factors)
        return float(number) if np.ndim(number) == 0 else number

    return factor


@figure(
    "stone.depth_by_weight",
    "Depth that the declared weight implies",
    "mm",
    "d·w_d/w_m",
    GEOMETRY,
    depth_mm="d",
    declared_ct="w_d",
    model_ct="w_m",
)
def depth_by_weight_mm(depth_mm: Number, declared_ct: Number, model_ct: Number) -> Number:
    """Depth in mm of a stone that weighs as declared, for proportions as assumed: weight grows with depth."""
    return depth_mm * declared_ct / model_ct


@figure("stone.weight_model", "Weight by model", "ct", "V·SG/200", GEOMETRY, volume_mm3="V", gravity="SG")
def weight_model_ct(volume_mm3: Number, gravity: Number) -> Number:
    """Weight in carats from volume in mm³ and specific gravity (1 ct = 0.2 g, 1 g/cm³ = 1 mg/mm³)."""
    return volume_mm3 * gravity / 200
