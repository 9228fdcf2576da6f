"""How wide a head is within a band: what a gap is marked, sawn and hollowed by."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from yarvel.heads.shape import HeadShape, Polygon, reach_at

_LEVELS, _CIRCLE = 49, 48
LEAST_MM = 0.02
_PASSES_MM = 1e-6


@dataclass(frozen=True)
class Envelope:
    """The head's outline as far as a band covers it: ``across`` (n,) ways from the middle of the band, ``along`` (n,)
    how far the head reaches along the band there, to the farther side, mm; 0 where there is no metal."""

    across: Polygon
    along: Polygon

    @property
    def least(self) -> float:
        """How far out a straight saw cut may lie at the most, mm: where the head reaches least."""
        return float(self.along.min())

    @property
    def most(self) -> float:
        """How far out hollowing may reach, mm: where the head reaches farthest."""
        return float(self.along.max())

    @property
    def loop(self) -> Polygon:
        """The outline as a closed loop, (2n, 2) in mm, counter-clockwise, both sides alike."""
        along = np.maximum(self.along, LEAST_MM)
        right = np.column_stack([along, self.across])
        return np.vstack([right, (right * (-1, 1))[::-1]])


@lru_cache(maxsize=64)
def envelope(shape: HeadShape, height_mm: float, width_mm: float) -> Envelope:
    """What a band of this ``width_mm`` in mm meets of a head at a height over the seat: its claws and walls there, and
    the foot's ring, which has to pass."""
    half = width_mm / 2
    across = np.linspace(-half, half, _LEVELS) * (1 - 1e-9)
    along = np.zeros(_LEVELS)
    for loop in sections(shape, height_mm):
        inside = (across >= loop[:, 1].min()) & (across <= loop[:, 1].max())
        if inside.any():
            least, most = reach_at(loop, across[inside])
            along[inside] = np.maximum(along[inside], np.maximum(np.abs(least), np.abs(most)))
    if on_legs(shape, height_mm):  # ends are sawn straight, and the legs stand against them
        along[:] = along.max() or whole(shape, height_mm)[0]
    both = np.maximum(along, along[::-1])  # the gap is marked alike on both sides of the middle
    return Envelope(across, both)


def on_legs(shape: HeadShape, height_mm: float) -> bool:
    """Whether only free claws stand at this height over the seat: the one ring lies above, and has not to pass."""
    ring = shape.rings[-1] if shape.rings else None
    return shape.on_legs and (ring is None or ring.foot_mm > height_mm + _PASSES_MM)


def legs_within(shape: HeadShape, width_mm: float) -> tuple[int, int]:
    """How many free claws stand between the ends of a band ``width_mm`` wide at the foot, on its left and its right:
    those whose metal lies within the band and reaches as far as its sawn end."""
    loops = [loop for loop in sections(shape, -shape.height_mm) if np.abs(loop[:, 1]).min() < width_mm / 2]
    reach = max((float(np.abs(loop[:, 0]).max()) for loop in loops), default=0.0)
    near = reach - _TOUCH_SHARE * (float(np.ptp(loops[0][:, 0])) if loops else 0.0)
    left = sum(float(loop[:, 0].min()) <= -near for loop in loops)
    return left, sum(float(loop[:, 0].max()) >= near for loop in loops)


_TOUCH_SHARE = 0.25
"""A leg whose face lies this share of its width behind the outermost still takes solder from the same straight end;
from memory."""


@lru_cache(maxsize=64)
def whole(shape: HeadShape, height_mm: float) -> tuple[float, float]:
    """How far a head reaches along and across the band at a height over the seat, mm."""
    loops = sections(shape, height_mm)
    return tuple(max(float(np.abs(loop[:, axis]).max()) for loop in loops) for axis in (0, 1))  # type: ignore[return-value]


@lru_cache(maxsize=64)
def sections(shape: HeadShape, height_mm: float) -> list[Polygon]:
    """Outlines of a head's parts at a height in mm over the seat, seen straight down, each (n, 2) in mm in the head's
    frame (x along the band): claws, Vs, walls; and the outside of its lowest ring, which has to pass."""
    found: list[Polygon] = []
    level = np.array([height_mm])
    turn = np.arange(_CIRCLE) * 2 * np.pi / _CIRCLE
    circle = np.column_stack([np.cos(turn), np.sin(turn)])
    if shape.claws is not None:
        inner, outer = (float(side[0]) for side in reach_at(shape.claws.profile, level))
        depth, half = (outer - inner) / 2, shape.claws.width_mm / 2
        for place in shape.claws.places:
            normal = np.array(place.normal)
            side = np.array([-normal[1], normal[0]])
            middle = np.array([place.x_mm, place.y_mm]) + normal * (inner + outer) / 2
            found.append(middle + circle[:, :1] * depth * normal + circle[:, 1:] * half * side)
    if shape.vees is not None:
        inner, outer = (float(side[0]) for side in reach_at(shape.vees.profile, level))
        for place in shape.vees.places:
            near, far = shape.vees.stations(place, np.array([inner, outer]), level).swapaxes(0, 1)
            found.append(np.vstack([near, far[::-1]]))
    for wall in shape.walls:
        found.append(shape.outline.inset(-float(reach_at(wall.profile, level)[1][0])))
    if shape.rings and not on_legs(shape, height_mm):
        ring = shape.rings[-1]
        found.append(shape.outline.inset(ring.outside_inset_mm))
    return found
