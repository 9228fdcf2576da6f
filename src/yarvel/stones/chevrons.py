"""Square cuts with chevrons below: facets in pairs that start steep at the girdle and flatten towards the culet."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from yarvel.stones.facets import (
    Body,
    Heights,
    PlaneBody,
    Tiers,
    chevron_planes,
    girdle_planes,
    step_planes,
    table_plane,
)
from yarvel.stones.outline import Outline

SIDES_DEG = (0.0, 90.0, 180.0, 270.0)


def chevroned(crown: Tiers, turns: Sequence[tuple[float, float]]) -> Callable[[Outline, Heights], tuple[Body, ...]]:
    """A maker of cuts with a stepped crown and chevron pairs below: (turn from the side in degrees, reach below the
    girdle as a share of the depth)."""

    def make(shape: Outline, heights: Heights) -> tuple[Body, ...]:
        planes = [
            *girdle_planes(shape),
            *table_plane(heights),
            *step_planes(shape, shape.inradius * (1 - heights.table), heights.crown, heights.girdle, crown, up=True),
            *chevron_planes(shape, heights.pavilion, SIDES_DEG, turns),
        ]
        return (PlaneBody(planes, (0.0, 0.0, heights.girdle / 2)),)

    return make
