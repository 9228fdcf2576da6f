"""Step cuts: tiers on every side, three above and three below, steepest at the girdle."""

from __future__ import annotations

from collections.abc import Callable

from yarvel.stones.facets import Body, Heights, PlaneBody, Tiers, girdle_planes, step_planes, table_plane
from yarvel.stones.outline import Outline

CROWN: Tiers = ((0.0, 0.0), (0.24, 0.40), (0.58, 0.75), (1.0, 1.0))
PAVILION: Tiers = ((0.0, 0.0), (0.23, 0.34), (0.56, 0.70), (1.0, 1.0))
SLIGHT: Tiers = ((0.0, 0.0), (0.335, 0.34), (0.69, 0.70), (1.0, 1.0))
"""``CROWN``, ``PAVILION``, ``SLIGHT``: tier corners, set so that typical proportions meet the published weight
factors."""


def stepped(pavilion: Tiers) -> Callable[[Outline, Heights], tuple[Body, ...]]:
    """A maker of step cuts with these tiers below: the crown comes in to the table, the pavilion to a keel or point."""
    return lambda outline, heights: _bodies(outline, heights, pavilion)


def _bodies(outline: Outline, heights: Heights, pavilion: Tiers) -> tuple[Body, ...]:
    inside = outline.widest_mm
    planes = [
        *girdle_planes(outline),
        *table_plane(heights),
        *step_planes(outline, inside * (1 - heights.table), heights.crown, heights.girdle, CROWN, up=True),
        *step_planes(outline, inside, heights.pavilion, 0.0, pavilion, up=False),
    ]
    return (PlaneBody(planes, (0.0, 0.0, heights.girdle / 2)),)
