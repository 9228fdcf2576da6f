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
    key="round-cabochon",
    label="Round cabochon",
    table=0.0,
    crown=0.42,
    girdle=0.02,
    pavilion=0.0,
    outline=outline,
    bodies=domes.dome,
    weight_formula=cabochon_by_box,
    weight_factor=constant(0.0026),
    spread={"table": 0.0, "crown": 0.06, "girdle": 0.01, "pavilion": 0.0},
    is_round=True,
    domed=True,
    smooth=True,
)
