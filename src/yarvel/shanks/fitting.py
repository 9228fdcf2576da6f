"""What every fit method is asked and answers, and the solving that they share."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from yarvel.figures.figure import Number

WidthAt = Callable[[Number], Number]
"""Width of the head along the band, in mm, at a depth below the seat plane, in mm."""


@dataclass(frozen=True)
class FitRequest:
    """What a head asks of a fit; lengths in mm.

    ``plane_above_finger`` is the seat height asked for, None for "as low as possible"; ``fixed_height`` is the
    height from foot to seat of a head that is already made; ``least_height`` the lowest that can be drawn at all.
    """

    pavilion: Number
    gallery_height: Number
    least_height: Number
    plane_above_finger: Number | None
    fixed_height: Number | None


@dataclass(frozen=True)
class Fitted:
    """``height`` from the head's foot to the seat plane, ``foot_width`` along the band at the foot, in mm."""

    height: Number
    foot_width: Number


_SETTLED_MM = 1e-10


def settle(step: Callable[[Number], Number], start: Number, rounds: int = 60) -> Number:
    """Fixed point of a contraction by repeated steps (each gains about a digit for heads and bands)."""
    value = start
    for _ in range(rounds):
        following = step(value)
        if np.max(np.abs(following - value)) < _SETTLED_MM:
            return following
        value = following
    return value
