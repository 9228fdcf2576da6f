"""Heart brilliant: two convex halves that meet in the plane through cleft and point; the point lies at −y."""

from __future__ import annotations

import numpy as np
from msgspec import Struct

from yarvel.stones.brilliants import STAR_REACH
from yarvel.stones.cut import Cut, Girth
from yarvel.stones.facets import (
    NAMES,
    Body,
    FacetSolid,
    Heights,
    PlaneBody,
    brilliant_crown,
    brilliant_pavilion,
    girdle_planes,
    table_plane,
)
from yarvel.stones.outline import Outline, Points, curve
from yarvel.stones.shapes import PARTS, boxed
from yarvel.stones.weight import by_box, constant

CLEFT, LOBE, POINT = 0.30, 0.50, -0.50
"""Height of cleft, lobes and point over the middle, shares of the length; from memory."""
_LOBE_FROM = 0.12
_CREST = 0.26
_INTO_CLEFT_DEG = 62.0
"""``_CREST``, ``_INTO_CLEFT_DEG``: each lobe is highest this far out, and falls into the cleft as an arc of this
angle: each half stays convex."""
_BELLY = 2.1
HALF_LENGTH = 0.88


def _half() -> Points:
    """The right half from the point round the lobe to the cleft, on a unit box."""
    share = np.linspace(0, 1, PARTS // 4 + 1)
    side = np.column_stack([0.5 * (1 - (1 - share) ** _BELLY), POINT + (_LOBE_FROM - POINT) * share])
    turn = np.linspace(0, np.pi / 2, PARTS // 6 + 1)
    lobe = np.column_stack([_CREST + (0.5 - _CREST) * np.cos(turn), _LOBE_FROM + (LOBE - _LOBE_FROM) * np.sin(turn)])
    inner = np.linspace(0, np.radians(_INTO_CLEFT_DEG), PARTS // 6 + 1)
    wide, high = _CREST / np.sin(inner[-1]), (LOBE - CLEFT) / (1 - np.cos(inner[-1]))
    fall = np.column_stack([_CREST - wide * np.sin(inner), LOBE - high * (1 - np.cos(inner))])
    fall[-1, 0] = 0.0
    run: Points = np.vstack([side, lobe[1:], fall[1:]])
    return run


def outline(girth: Girth) -> Outline:
    """Both halves."""
    half = _half()
    return Outline(curve(boxed(np.vstack([half, half[1:-1][::-1] * (-1, 1)]), girth)), cleft=True)


def right_half(whole: Outline) -> Outline:
    """The half at x ≥ 0, closed by the joint."""
    right = whole.points[whole.points[:, 0] >= -1e-9]
    start = int(np.argmin(right[:, 1]))
    return Outline(np.roll(right, -start, axis=0))


class Mirrored(Struct, frozen=True):
    """A body seen in the plane x = 0."""

    body: Body

    @property
    def volume(self) -> float:
        """Volume in mm³."""
        return self.body.volume

    def solid(self) -> FacetSolid:
        """Its facets."""
        right = self.body.solid()
        facets = tuple((name, loop[::-1]) for name, loop in right.facets)
        return FacetSolid(right.points * (-1, 1, 1), facets, right.edges)


def _half_body(half: Outline, heights: Heights) -> Body:
    joint = (-1.0, 0.0, 0.0, 0.0, float(NAMES.index("joint")))
    mains = (-52.0, -18.0, 12.0, 45.0, 75.0, 105.0)
    facing = [
        plane
        for plane in (
            *brilliant_crown(half, heights, mains, STAR_REACH),
            *brilliant_pavilion(half, heights, mains, HALF_LENGTH),
        )
        if plane[0] > -0.45
    ]
    upright = [plane for plane in girdle_planes(half) if plane[0] > -0.95]
    inside = (0.25 * float(half.points[:, 0].max()), 0.0, heights.girdle / 2)
    return PlaneBody([*upright, *table_plane(heights), *facing, joint], inside)


def bodies(whole: Outline, heights: Heights) -> tuple[Body, ...]:
    """Both halves, mirror images of each other."""
    right = _half_body(right_half(whole), heights)
    return right, Mirrored(right)


CUT = Cut(
    key="heart",
    label="Heart brilliant",
    table=0.56,
    crown=0.14,
    girdle=0.035,
    pavilion=0.43,
    outline=outline,
    bodies=bodies,
    weight_formula=by_box,
    weight_factor=constant(0.0059),
    aspect=(0.8, 1.4),
    claws=5,
)
