"""Oval cabochon: a dome on an oval base."""

from __future__ import annotations

from yarvel.stones import domes
from yarvel.stones.cut import Cut
from yarvel.stones.round_cabochon import outline
from yarvel.stones.weight import cabochon_by_box, constant

CUT = Cut(
    "oval-cabochon",
    "Oval cabochon",
    0.0,
    0.42,
    0.02,
    0.0,
    outline,
    domes.dome,
    cabochon_by_box,
    constant(0.0026),
    spread={"table": 0.0, "crown": 0.06, "girdle": 0.01, "pavilion": 0.0},
    domed=True,
    aspect=(1.0, 3.0),
    smooth=True,
)
