"""Claws on a hidden collet: nothing of it seen from above, one piece, claws after the collet is in its ring."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import Point, Polygon

from tests.strategies import BUILT
from yarvel.figures.rules import HouseRules
from yarvel.heads import applied_collet as applied
from yarvel.heads import claws, notches, rings, seats, tapered_collet
from yarvel.planning.bodies import bodies
from yarvel.planning.plan import Plan
from yarvel.planning.proving import proven
from yarvel.planning.weighing import weighed
from yarvel.route.balance import balances
from yarvel.route.running import route_of
from yarvel.stones import stone as stones

HEAD: dict[str, Any] = {"style": "applied-collet", "claws": 4, "claw_mm": 1.1, "notch_ratio": None}
EIGHT = {"diameters_mm": [8.3], "depth_mm": 5.1}
PlanMaker = Callable[..., Plan]


def test_the_collet_is_unseen_from_above(planned: PlanMaker) -> None:
    """Check piece I, common practice: an 8.3 round on a low hidden collet with four claws of 1.1."""
    made = planned(samples=0, stone=EIGHT, head=HEAD, shank={"width_mm": 4.2}, fit={"method": "inset"})
    built = bodies(made)
    stone = Point(0, 0).buffer(8.3 / 2, quad_segs=90)
    for wall in built.walls:
        above = Polygon(max(wall.project().to_polygons(), key=len))
        assert above.within(stone.buffer(-HouseRules().ring_hidden_mm + 0.01))
    assert next(call.level for call in made.diagnostics if call.code == "ring-shows-from-above") == "ok"
    assert [call.code for call in proven(weighed(made)).diagnostics if call.open] == ["claw-loss"]


def test_claws_come_after_the_collet_is_in(planned: PlanMaker) -> None:
    """Common practice: the collet in hard, the claws after it with medium."""
    made = planned(samples=0, stone=EIGHT, head=HEAD, shank={"width_mm": 4.2}, fit={"method": "inset"})
    grades = {joint.group: joint.grade for joint in made.joints}
    assert (grades["ends-to-head"], grades["claws-to-collet"]) == ("hard", "medium")
    assert sum(joint.group == "claws-to-collet" for joint in made.joints) == 4
    keys = [step.operation.key for step in route_of(made).steps]
    order = ("cut-grooves-collet", "saw-gap-gap", "solder-head-to-shank", "solder-claws-to-collet", "level-tops-head")
    assert [keys.index(key) for key in order] == sorted(keys.index(key) for key in order)
    assert not [step.unmet for step in route_of(made).steps if step.unmet]


@BUILT
@given(st.floats(2.2, 13.0), st.integers(3, 6), st.sampled_from(["on-flat", "inset", "fish-mouth", "split-shoulder"]))
def test_it_is_one_piece_and_its_metal_adds_up(planned: PlanMaker, size: float, count: int, method: str) -> None:
    made = weighed(
        planned(
            samples=0,
            stone={"diameters_mm": [round(size, 2)], "depth_mm": None},
            head=HEAD | {"claws": count, "claw_mm": None},
            shank={"width_mm": 4.5},
            fit={"method": method},
        )
    )
    assert len(bodies(made).parts["head"].decompose()) == 1
    for metal in balances(route_of(made)).values():
        assert metal.issue_g - metal.finished_g - metal.back_g - metal.filings_g == pytest.approx(0.0, abs=0.01)


@given(st.floats(3.0, 12.0))
def test_dividers_are_set_by_what_stands_over_the_girdle(planned: PlanMaker, size: float) -> None:
    """From the levelled tops to the girdle's line: girdle, cover, bend and file allowance, wherever the claw ends
    below."""
    made = planned(samples=0, stone={"diameters_mm": [round(size, 2)], "depth_mm": None}, head=HEAD | {"claw_mm": None})
    rules = HouseRules()
    over = made[claws.tip_cover_mm] / math.cos(math.radians(made[stones.crown_angle_deg]))
    wanted = made.stone.girdle_mm + over + rules.bend_allowance_mm + rules.file_allowance_mm
    assert made[seats.line_from_top_mm] == pytest.approx(wanted)


def test_the_collet_lies_in_the_grooves_of_its_claws(planned: PlanMaker) -> None:
    """Its outside at the top is the claws' inner face there, and a groove's depth more."""
    made = planned(samples=0, stone=EIGHT, head=HEAD)
    drop, lean = HouseRules().ring_drop_mm, math.tan(math.radians(made[tapered_collet.half_angle_deg]))
    face = made[notches.SEAT_DEPTH] + drop * lean
    assert made[rings.ring_hidden_by_mm] == pytest.approx(face - made[rings.ring_groove_mm])
    assert made[applied.top_diameter_mm] == pytest.approx(8.3 - 2 * made[rings.ring_hidden_by_mm])
