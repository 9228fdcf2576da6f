"""Oval cabochon: a dome on an oval base."""

from __future__ import annotations

from yarvel.stones import domes
from yarvel.stones.cut import Cut
from yarvel.stones.round_cabochon import outline
from yarvel.stones.weight import cabochon_by_box, constant

CUT = Cut(
    key="oval-cabochon",
    label="Oval cabochon",
    table=0.0,
    crown=0.42,
    girdle=0.02,
    pavilion=0.0,
    outline=outline,
    bodies=domes.dome,
    weight_formula=cabochon_by_box,
    weight_factor=constant(0.0026),
    spread={"table": 0.0, "crown": 0.06, "girdle": 0.01, "pavilion": 0.0},
    domed=True,
    aspect=(1.0, 3.0),
    smooth=True,
)
