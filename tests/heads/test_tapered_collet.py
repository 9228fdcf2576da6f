"""Tapered collets: the handbook's gap, the pattern against the cone it rolls into, what must hold at any setting."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import BASE
from tests.strategies import tubes
from yarvel.exchange.job_file import checked_job
from yarvel.figures.errors import JobError
from yarvel.figures.figure import FigureKey
from yarvel.figures.rules import HouseRules
from yarvel.heads import driven_tube
from yarvel.heads import tapered_collet as collet
from yarvel.planning.diagnostics.diagnostic import Diagnostic
from yarvel.planning.job import merge_patch, to_document
from yarvel.planning.plan import Plan, plan
from yarvel.planning.weighing import weighed
from yarvel.route.running import route_of
from yarvel.shanks import inset

COLLET: dict[str, Any] = {"style": "tapered-collet", "claw_mm": None, "notch_ratio": None}


def called(plan: Plan, code: str) -> Diagnostic:
    return next(call for call in plan.diagnostics if call.code == code)


def test_the_handbooks_gap_of_seventeen_degrees(planned: Callable[..., Plan]) -> None:
    """Handbook check value: a foot of 4.06 is 4.66 two millimetres up."""
    up = collet.foot_diameter_mm(4.06, -2.0, 17 / 2)
    assert float(up) == pytest.approx(4.66, abs=0.005)
    plan = planned(head=COLLET, fit={"method": "inset"})
    assert plan[FigureKey("head.included_angle")] == 17
    widening = 2 * 2.0 * math.tan(math.radians(8.5))
    assert plan[FigureKey("shank.gap_outside")] - plan[FigureKey("shank.gap_inside")] == pytest.approx(widening)
    assert plan[FigureKey("shank.gap_inside")] == plan[FigureKey("collet.foot_diameter")]


@given(st.floats(2, 14), st.floats(4, 60), st.floats(0.4, 1.0))
def test_the_pattern_rolls_into_the_cone(planned: Callable[..., Plan], stone: float, angle: float, wall: float) -> None:
    """A sector's arcs are the mid-wall circles, its breadth the slant height: geometry by arc lengths."""
    plan = planned(
        samples=0,
        stone={"diameters_mm": [stone], "depth_mm": None},
        shank=None,
        fit=None,
        head={**COLLET, "included_angle_deg": angle, "wall_mm": min(wall, 0.4 + 0.2 * stone)},
    )
    turn = math.radians(plan[FigureKey("collet.pattern_angle_deg")])
    across = plan[FigureKey("head.wall_across")]
    for radius, diameter in (("inner", "foot"), ("outer", "top")):
        arc = turn * plan[FigureKey(f"collet.pattern_{radius}_radius")]
        assert arc == pytest.approx(math.pi * (plan[FigureKey(f"collet.{diameter}_diameter")] - across))
    slant = plan[FigureKey("collet.pattern_outer_radius")] - plan[FigureKey("collet.pattern_inner_radius")]
    rise = plan[FigureKey("collet.height")]
    run = (plan[FigureKey("collet.top_diameter")] - plan[FigureKey("collet.foot_diameter")]) / 2
    assert slant == pytest.approx(math.hypot(rise, run))


@given(st.floats(2, 14), st.floats(4, 60))
def test_the_foot_stays_open_and_the_pavilion_lies_inside(
    planned: Callable[..., Plan], stone: float, angle: float
) -> None:
    plan = planned(
        samples=0,
        stone={"diameters_mm": [stone], "depth_mm": None},
        fit={"method": "inset"},
        head={**COLLET, "included_angle_deg": angle},
    )
    assert plan[FigureKey("collet.foot_diameter")] >= 0.45 * plan[FigureKey("head.collet_outer")] - 1e-9
    assert plan[FigureKey("head.height")] >= plan[FigureKey("stone.pavilion_depth")] + 0.3 - 1e-9
    assert (
        plan[FigureKey("collet.top_diameter")]
        >= plan[FigureKey("head.collet_outer")]
        >= plan[FigureKey("collet.foot_diameter")]
    )


def test_mass_is_that_of_the_developed_sheet(planned: Callable[..., Plan]) -> None:
    """The pattern's area times the sheet, less the seat."""
    plan = weighed(planned(head={**COLLET, "metal": "sterling-silver"}, fit={"method": "on-flat"}))
    outer, inner = plan[FigureKey("collet.pattern_outer_radius")], plan[FigureKey("collet.pattern_inner_radius")]
    area = math.radians(plan[FigureKey("collet.pattern_angle_deg")]) / 2 * (outer**2 - inner**2)
    sheet = area * plan[FigureKey("head.wall")] * 10.36 / 1000
    assert 0.75 * sheet < plan[FigureKey("head.mass")] < sheet, "less what the seat takes and the thinned rim"


def test_cut_to_claws_it_is_judged_as_claws(planned: Callable[..., Plan]) -> None:
    plan = planned(head={**COLLET, "cut": "claws", "claws": 6})
    assert plan[FigureKey("head.open_arc_one_lost")] == 120
    assert plan[FigureKey("seat.notch_ratio")] == pytest.approx(0.33)
    assert len(plan.claw_azimuths_deg) == 6
    bezel = planned(head=COLLET)
    assert bezel.claw_azimuths_deg == ()
    assert "notch-too-deep" not in {call.code for call in bezel.diagnostics}


def test_an_opening_wider_than_the_stone_is_refused_and_mended(planned: Callable[..., Plan]) -> None:
    """Common practice: the stone sits on the collet, slightly proud, before the seat is cut."""
    head = {**COLLET, "wall_mm": 0.4, "included_angle_deg": 50, "notch_ratio": 0.1}
    call = called(planned(samples=0, head=head), "collet-opening-too-wide")
    assert (call.level, call.figure is not None and call.figure > 6.5) == ("stop", True)
    assert call.remedy is not None
    after = planned(samples=0, head={**head, **call.remedy["head"]})
    assert called(after, "collet-opening-too-wide").level == "ok"
    assert after[FigureKey("collet.top_opening")] <= 6.5


def test_driving_from_tube_warns_and_names_the_stretch_left(planned: Callable[..., Plan]) -> None:
    gentle = called(planned(head={**COLLET, "included_angle_deg": 10}), "collet-overdriven")
    steep = called(planned(head={**COLLET, "included_angle_deg": 45}), "collet-overdriven")
    assert (gentle.level, steep.level) == ("ok", "caution")
    assert "cannot be undone" in gentle.message
    assert steep.limit == 0.38


TUBE_IN_HAND = {"outside_mm": 4.8, "wall_mm": 0.8, "length_mm": 4.0}
FOR_FOUR = {"diameters_mm": [4.0], "depth_mm": 2.45}


def test_a_tube_driven_to_its_foot_ends_as_the_trade_says(planned: Callable[..., Plan]) -> None:
    """Check piece P, common practice: 4.8 outside, 4 long, in a 17° block ends near 4.06 at the foot and 5 at the rim
    when about 3.1 of its height is left; hole 5.5 or 6; the stone sits on it and does not drop in."""
    made = planned(
        samples=0, stone=FOR_FOUR, head=COLLET | {"tube": TUBE_IN_HAND | {"foot_mm": 4.06}}, fit={"method": "inset"}
    )
    assert made[collet.top_diameter_mm] == pytest.approx(5.0, abs=0.01)
    assert made[collet.collet_height_mm] == pytest.approx(3.1, abs=0.06)
    assert made[driven_tube.BLOCK_HOLE] in (5.5, 6.0)
    assert made[collet.top_opening_mm] < 4.0 and called(made, "collet-opening-too-wide").level == "ok"
    assert made[driven_tube.rim_stretch] == pytest.approx(made[collet.top_diameter_mm] / 4.8 - 1), "at the rim alone"
    punched = next(step.operation for step in route_of(made).steps if step.operation.kind.key == "punch-rim")
    assert "to 5.00 mm outside" in punched.text, "the rim's own measure, not the outside at the girdle"
    assert made[inset.hollow_limit_mm] == pytest.approx(4.06 / 2), "half the foot is the hollow's limit"


def test_a_driven_collet_sawn_to_claws_agrees_with_the_trade_when_as_low_as_it_goes(
    planned: Callable[..., Plan],
) -> None:
    """Check piece P, common practice: sawn down to the shank's top, with claw enough to bend, on a band of 1.8; nobody
    gave its foot here. A wall that driving makes too thick for claws is rolled over instead."""
    head = {**COLLET, "claws": 4, "cut": "claws"}
    band = {"width_mm": 2.5, "thickness_mm": 1.8}
    thin = planned(
        samples=0,
        stone=FOR_FOUR,
        head=head | {"tube": TUBE_IN_HAND | {"wall_mm": 0.5}},
        fit={"method": "inset"},
        shank=band,
    )
    assert thin[collet.foot_diameter_mm] == pytest.approx(4.06, abs=0.05)
    assert thin[collet.collet_height_mm] == pytest.approx(3.1, abs=0.1)
    assert not [call.code for call in thin.diagnostics if call.level == "stop"]
    thick = planned(samples=0, stone=FOR_FOUR, head=head | {"tube": TUBE_IN_HAND}, fit={"method": "inset"}, shank=band)
    stop = called(thick, "notch-too-deep")
    assert stop.level == "stop" and stop.remedy is not None
    rolled = merge_patch(to_document(thick.job), stop.remedy)
    after = plan(checked_job(rolled, HouseRules()), HouseRules(), samples=0)
    assert not [call.code for call in after.diagnostics if call.level == "stop"]


@given(tubes(5.0), st.sampled_from(["bezel", "claws"]))
def test_driving_moves_metal_and_takes_none(planned: Callable[..., Plan], tube: dict[str, float], cut: str) -> None:
    """The cone's metal is the tube's, by Pappus' theorem over the cone's own section, as long as a bore is left."""
    document = merge_patch(
        BASE, {"stone": {"diameters_mm": [5.0]}, "head": {**COLLET, "claws": 4, "cut": cut, "tube": tube}}
    )
    made = plan(checked_job(document, HouseRules()), HouseRules(), samples=0)
    if called(made, "collet-foot-closed").level == "stop":
        return
    level = made[collet.wall_across_mm]
    middle = (made[collet.foot_diameter_mm] + made[collet.top_diameter_mm]) / 2 - level
    cone = level * made[collet.collet_height_mm] * math.pi * middle
    bar = math.pi * tube["wall_mm"] * (tube["outside_mm"] - tube["wall_mm"]) * tube["length_mm"]
    assert cone == pytest.approx(bar, rel=1e-6)
    if "foot_mm" in tube:
        assert made[collet.foot_diameter_mm] == pytest.approx(tube["foot_mm"], abs=1e-6)


@pytest.mark.parametrize(
    ("head", "fit", "path"),
    [
        ({"tube": TUBE_IN_HAND, "wall_mm": 0.6}, {}, "head.wall_mm"),
        ({"tube": TUBE_IN_HAND, "notch_ratio": 0.4}, {}, "head.notch_ratio"),
        ({"tube": TUBE_IN_HAND | {"foot_mm": 4.0, "rim_mm": 5.0}}, {}, "head.tube"),
        ({"tube": TUBE_IN_HAND | {"foot_mm": 4.8}}, {}, "head.tube.foot_mm"),
        ({"tube": TUBE_IN_HAND | {"rim_mm": 4.5}}, {}, "head.tube.rim_mm"),
        ({"tube": TUBE_IN_HAND | {"wall_mm": 2.4}}, {}, "head.tube.wall_mm"),
        ({"tube": TUBE_IN_HAND | {"foot_mm": 4.0}}, {"height": 5.0}, "fit.height"),
    ],
)
def test_what_contradicts_a_tube_in_hand_is_refused(head: dict[str, Any], fit: dict[str, Any], path: str) -> None:
    document = merge_patch(BASE, {"stone": FOR_FOUR, "head": {**COLLET, **head}, "fit": fit})
    with pytest.raises(JobError) as refused:
        checked_job(document, HouseRules())
    assert [problem.path for problem in refused.value.problems] == [path]
