"""The register of fit methods: one module a method, one line here."""

from __future__ import annotations

from yarvel.shanks import basket_point, cast_on, fish_mouth, inset, let_in, on_flat, peg, pendant, split_shoulder
from yarvel.shanks.fitting import FitMethod

METHODS: dict[str, FitMethod] = {
    inset.METHOD: inset,
    on_flat.METHOD: on_flat,
    let_in.METHOD: let_in,
    fish_mouth.METHOD: fish_mouth,
    peg.METHOD: peg,
    basket_point.METHOD: basket_point,
    split_shoulder.METHOD: split_shoulder,
    cast_on.METHOD: cast_on,
}

PENDANT = pendant.METHOD
"""A head without a shank: the fit of one that hangs."""


def methods_for(stands_on: str) -> tuple[str, ...]:
    """Methods that take heads of this foot."""
    return tuple(key for key, method in METHODS.items() if stands_on in method.FEET)
