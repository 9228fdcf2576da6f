"""How wide a head is within a band: what a gap is marked, sawn and hollowed by."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from msgspec import Struct

from yarvel.heads.shape import HeadShape, Polygon, reach_at

_LEVELS, _CIRCLE = 49, 48

_SHARES = np.linspace(-1, 1, _LEVELS) * (1 - 1e-9)
"""Where across half a band's width a head is looked at."""
_TURN = np.arange(_CIRCLE) * 2 * np.pi / _CIRCLE
_ROUND = np.column_stack([np.cos(_TURN), np.sin(_TURN)])
LEAST_MM = 0.02
_PASSES_MM = 1e-6


class Envelope(Struct, frozen=True):
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


def envelope(shape: HeadShape, height_mm: float, width_mm: float) -> Envelope:
    """What a band of this ``width_mm`` in mm meets of a head at a height over the seat: its claws and walls there, and
    the foot's ring, which has to pass."""
    return envelopes(shape, (height_mm,), width_mm)[0]


@lru_cache(maxsize=64)
def envelopes(shape: HeadShape, heights_mm: tuple[float, ...], width_mm: float) -> tuple[Envelope, ...]:
    """An :func:`envelope` at each of these heights over the seat, mm."""
    across = width_mm / 2 * _SHARES
    envelopes_found = []
    for height, along in zip(heights_mm, _over_claws(shape, heights_mm, across), strict=True):
        for loop in _vees_and_walls(shape, height):
            np.maximum(along, _reach_along(loop, across), out=along)
        if on_legs(shape, height):  # ends are sawn straight, and the legs stand against them
            along[:] = along.max() or whole(shape, height)[0]
        elif shape.rings:
            np.maximum(along, _ring_along(shape, width_mm), out=along)
        both = np.maximum(along, along[::-1])  # the gap is marked alike on both sides of the middle
        envelopes_found.append(Envelope(across, both))
    return tuple(envelopes_found)


@lru_cache(maxsize=64)
def _ring_along(shape: HeadShape, width_mm: float) -> Polygon:
    """How far the lowest ring's outside reaches along a band of this width, as in :func:`_reach_along`."""
    return _reach_along(_ring_outside(shape), width_mm / 2 * _SHARES)


def _reach_along(loop: Polygon, across_mm: Polygon) -> Polygon:
    """How far a loop (n, 2) reaches along the band, to the farther side, at ``across_mm`` (k,) ways from its middle,
    (k,) in mm; 0 where it does not reach so far across."""
    low, high = int(loop[:, 1].argmin()), int(loop[:, 1].argmax())
    inside = (across_mm >= loop[low, 1]) & (across_mm <= loop[high, 1])
    up, down = (_part(loop, *ends) for ends in ((low, high), (high, low)))
    upwards = up, down[::-1]
    if all((upward[1:, 1] >= upward[:-1, 1]).all() for upward in upwards):  # each side is met once at every way across
        ends = [np.abs(np.interp(across_mm, upward[:, 1], upward[:, 0])) for upward in upwards]
        return np.where(inside, np.maximum(*ends), 0.0)
    bits = np.zeros(len(across_mm))
    if inside.any():
        least, most = reach_at(loop, across_mm[inside])
        bits[inside] = np.maximum(np.abs(least), np.abs(most))
    return bits


def _part(loop: Polygon, first: int, last: int) -> Polygon:
    """A loop's points from one to another, both with them."""
    return loop[first : last + 1] if first <= last else np.concatenate((loop[first:], loop[: last + 1]))


def _over_claws(shape: HeadShape, heights_mm: tuple[float, ...], across_mm: Polygon) -> Polygon:
    """How far round claws reach along the band at heights (k,), to the farther side, at ``across_mm`` (n,) ways from
    its middle, (k, n) in mm; 0 where none stands: their sections are ellipses."""
    if shape.claws is None:
        return np.zeros((len(heights_mm), len(across_mm)))
    middles, normals, (depth, half) = _ellipses(shape, heights_mm)
    (nx, ny), flat, wide = normals.T[:, :, None], depth[:, None, None] ** -2, half**-2
    square = nx**2 * flat + ny**2 * wide
    up = across_mm - middles[:, :, 1:]
    slope = up * (nx * ny * (flat - wide))
    left = slope**2 - square * (up**2 * (ny**2 * flat + nx**2 * wide) - 1)
    ends = np.abs(middles[:, :, :1] - slope / square) + np.sqrt(np.maximum(left, 0.0)) / square
    reached: Polygon = np.where(left >= 0, ends, 0.0).max(axis=1)
    return reached


@lru_cache(maxsize=64)
def _ellipses(shape: HeadShape, heights_mm: tuple[float, ...]) -> tuple[Polygon, Polygon, tuple[Polygon, float]]:
    """Middles (k, n, 2) of round claws at heights (k,) over the seat and their outward normals (n, 2), and the half
    axes of their sections outwards (k,) and along the stone's edge; mm."""
    claws = shape.claws
    assert claws is not None
    inner, outer = reach_at(claws.profile, np.array(heights_mm))
    normals = np.array([place.normal for place in claws.places])
    stand = np.array([(place.x_mm, place.y_mm) for place in claws.places])
    middles = stand + normals * ((inner + outer) / 2)[:, None, None]
    return middles, normals, ((outer - inner) / 2, claws.width_mm / 2)


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
    reached = [np.abs(loop).max(axis=0) for loop in _not_claws(shape, height_mm)]
    if shape.claws is not None:
        (middles,), normals, (depth, half) = _ellipses(shape, (height_mm,))
        reached.append((np.abs(middles) + np.hypot(depth * normals, half * normals[:, ::-1])).max(axis=0))
    along, across = np.max(reached, axis=0)
    return float(along), float(across)


@lru_cache(maxsize=64)
def sections(shape: HeadShape, height_mm: float) -> list[Polygon]:
    """Outlines of a head's parts at a height in mm over the seat, seen straight down, each (n, 2) in mm in the head's
    frame (x along the band): claws, Vs, walls; and the outside of its lowest ring, which has to pass."""
    polygons: list[Polygon] = []
    if shape.claws is not None:
        (middles,), normals, (depth, half) = _ellipses(shape, (height_mm,))
        sides = normals[:, ::-1] * (-1, 1)
        for middle, normal, side in zip(middles, normals, sides, strict=True):
            polygons.append(middle + _ROUND[:, :1] * depth * normal + _ROUND[:, 1:] * half * side)
    return [*polygons, *_not_claws(shape, height_mm)]


@lru_cache(maxsize=64)
def _not_claws(shape: HeadShape, height_mm: float) -> list[Polygon]:
    """As :func:`sections`, without round claws."""
    vees_and_walls = _vees_and_walls(shape, height_mm)
    return [*vees_and_walls, _ring_outside(shape)] if shape.rings and not on_legs(shape, height_mm) else vees_and_walls


@lru_cache(maxsize=64)
def _ring_outside(shape: HeadShape) -> Polygon:
    """The outside of the lowest ring, seen straight down."""
    return shape.outline.inset(shape.rings[-1].outside_inset_mm)


@lru_cache(maxsize=64)
def _vees_and_walls(shape: HeadShape, height_mm: float) -> list[Polygon]:
    """As :func:`sections`, without round claws and rings."""
    polygons: list[Polygon] = []
    level = np.array([height_mm])
    if shape.vees is not None:
        inner, outer = (float(side[0]) for side in reach_at(shape.vees.profile, level))
        for place in shape.vees.places:
            near, far = shape.vees.stations(place, np.array([inner, outer]), level).swapaxes(0, 1)
            polygons.append(np.vstack([near, far[::-1]]))
    for wall in shape.walls:
        polygons.append(shape.outline.inset(-float(reach_at(wall.profile, level)[1][0])))
    return polygons
