"""Round cabochon: a dome on a round base."""

from __future__ import annotations

from yarvel.stones import domes
from yarvel.stones.cut import Cut, Girth
from yarvel.stones.outline import Outline
from yarvel.stones.shapes import superellipse
from yarvel.stones.weight import cabochon_by_box, constant


def outline(girth: Girth) -> Outline:
    """A circle."""
    return superellipse(girth, 2.0)


CUT = Cut(
    "round-cabochon",
    "Round cabochon",
    0.0,
    0.42,
    0.02,
    0.0,
    outline,
    domes.dome,
    cabochon_by_box,
    constant(0.0026),
    spread={"table": 0.0, "crown": 0.06, "girdle": 0.01, "pavilion": 0.0},
    is_round=True,
    domed=True,
    smooth=True,
)
