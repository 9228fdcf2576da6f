"""The register of cuts: one module a cut, one line here."""

from __future__ import annotations

from yarvel.stones import (
    baguette,
    cushion,
    emerald,
    heart,
    marquise,
    oval,
    oval_cabochon,
    pear,
    princess,
    radiant,
    round_brilliant,
    round_cabochon,
    square_step,
    tapered_baguette,
    trillion,
)
from yarvel.stones.cut import Cut

CUTS: dict[str, Cut] = {
    cut.key: cut
    for cut in (
        round_brilliant.CUT,
        oval.CUT,
        pear.CUT,
        marquise.CUT,
        heart.CUT,
        cushion.CUT,
        princess.CUT,
        emerald.CUT,
        square_step.CUT,
        radiant.CUT,
        trillion.CUT,
        baguette.CUT,
        tapered_baguette.CUT,
        round_cabochon.CUT,
        oval_cabochon.CUT,
    )
}
