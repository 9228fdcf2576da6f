"""Signs and sides that a formula's own test does not see: each figure against another way to the same length."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest

from yarvel.figures.figure import FigureKey
from yarvel.planning.plan import Plan

PlanMaker = Callable[..., Plan]
COLLET: dict[str, Any] = {"style": "tapered-collet", "notch_ratio": None}
TUBE: dict[str, Any] = {"style": "tube", "notch_ratio": None, "claw_mm": None}
LINE = FigureKey("seat.line_from_top"), FigureKey("seat.line_from_foot")


def test_the_girdles_line_divides_a_collet_as_its_pattern_is_wide(planned: PlanMaker) -> None:
    """From the tops and from the foot, along the wall: together the width of the ring-shaped strip that is cut."""
    made = planned(samples=0, head=COLLET)
    pattern = made[FigureKey("collet.pattern_outer_radius")] - made[FigureKey("collet.pattern_inner_radius")]
    assert sum(made[key] for key in LINE) == pytest.approx(pattern, abs=1e-6)
    assert made[LINE[1]] > made[FigureKey("head.height")], "along the slope it is farther than straight down"


def test_the_girdles_line_divides_a_tube_as_long_as_it_is_cut(planned: PlanMaker) -> None:
    made = planned(samples=0, head=TUBE, fit={"method": "inset"})
    assert sum(made[key] for key in LINE) == pytest.approx(made[FigureKey("head.tube_length")], abs=1e-6)


def test_a_collet_let_in_deep_is_sawn_to_the_bands_top(planned: PlanMaker) -> None:
    """What stands in the band holds, and is not sawn: of a head as high, the deeper it is let in, the less."""
    head = {**COLLET, "cut": "claws", "claws": 4}
    sawn = []
    for let in (0.6, 1.8, 2.0):
        made = planned(
            samples=0,
            head=head,
            fit={"method": "let-in", "let_mm": let, "height": 6.0 - let},
            shank={"thickness_mm": 3.0},
        )
        assert made[FigureKey("head.height")] == pytest.approx(3.0, abs=1e-6)
        sawn.append(made[FigureKey("collet.saw_depth")])
    assert sawn[0] > sawn[1] > sawn[2]
    assert sawn[1:] == [pytest.approx(3.0 - let) for let in (1.8, 2.0)], sawn


def test_a_stone_as_deep_as_its_weight_says_weighs_that(planned: PlanMaker) -> None:
    """The depth that is told, read as a depth, gives the declared weight back; nearly, for the crown grows with it."""
    for carats in (0.9, 1.0, 1.2):
        stone: dict[str, Any] = {"declared_ct": carats, "depth_mm": None}
        deep = planned(samples=0, stone=stone)[FigureKey("stone.depth_by_weight")]
        read = planned(samples=0, stone={"depth_mm": round(deep, 6)})
        assert read[FigureKey("stone.weight_model")] == pytest.approx(carats, rel=0.012), carats


def test_a_band_bends_where_it_is_thickest(planned: PlanMaker) -> None:
    """Outer fibre of a thickness bent round the finger: of a tapered band the thick end, whichever that is; a thinner
    back makes it no easier."""
    even = planned(samples=0, shank={"thickness_mm": 2.0})
    strain = FigureKey("shank.bend_strain")
    inside = even[FigureKey("shank.inside_diameter")]
    assert even[strain] == pytest.approx(2.0 / (inside + 2.0), rel=1e-6)
    for head, back in ((2.0, 1.4), (1.4, 2.0)):
        made = planned(samples=0, shank={"thickness_mm": back, "head_thickness_mm": head})
        assert made[strain] == pytest.approx(2.0 / (inside + 2.0), rel=1e-6), (head, back)
