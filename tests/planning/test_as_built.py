"""What the ring that gets made is like: intervals by an independent simulation, gaps and feet by coordinates.

A head is made once, to the plan; the stone is any that its readings allow. The simulation draws such stones with
NumPy's own generator and knows nothing of the program but the cut's typical proportions and the plan's nominal figures.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarvel.figures.figure import FigureKey
from yarvel.planning.bodies import bodies, seating_of
from yarvel.planning.plan import Plan
from yarvel.planning.weighing import weighed
from yarvel.shanks.band import CROWN
from yarvel.stones.cuts import CUTS

PlanMaker = Callable[..., Plan]
MANY = 40_000
WALL: dict[str, Any] = {"style": "tube", "claw_mm": None, "notch_ratio": None}


def evenly(middle: float, half: float, seed: int) -> np.ndarray[Any, np.dtype[np.float64]]:
    return np.random.default_rng(seed).uniform(middle - half, middle + half, MANY)


def stones(cut: str, width: float, depth: float | None) -> dict[str, Any]:
    """Stones of a cut that are read as this wide (± 0.01), their depth read or not: girdle, crown, pavilion; mm."""
    known = CUTS[cut]
    wide = evenly(width, 0.01, 1)
    girdle = evenly(known.girdle, known.spread["girdle"], 2) * wide
    crown = evenly(known.crown, known.spread["crown"], 3) * wide
    pavilion = evenly(known.pavilion, known.spread["pavilion"], 4) * wide
    if depth is not None:
        deep = evenly(depth, 0.01, 5) - girdle
        crown, pavilion = deep * crown / (crown + pavilion), deep * pavilion / (crown + pavilion)
    return {"width": wide, "girdle": girdle, "crown": crown, "pavilion": pavilion}


def covered(plan: Plan, key: str, true: Any) -> float:
    figure = plan.figures[FigureKey(key)]
    return float(np.mean(np.abs(true - figure.value) <= figure.plus_minus + 1e-9))


@pytest.mark.parametrize(
    ("cut", "size", "depth"),
    [
        ("round", {"diameters_mm": [7.3]}, None),
        ("round", {"diameters_mm": [7.3]}, 4.5),
        ("oval", {"diameters_mm": None, "length_mm": 9.4, "width_mm": 7.3}, None),
        ("emerald", {"diameters_mm": None, "length_mm": 9.0, "width_mm": 7.3}, None),
        ("cushion", {"diameters_mm": None, "length_mm": 7.4, "width_mm": 7.3}, 4.8),
    ],
)
@pytest.mark.parametrize("method", ["inset", "on-flat"])
def test_intervals_hold_nineteen_of_twenty_rings_as_built(
    cut: str, size: dict[str, Any], depth: float | None, method: str, planned: PlanMaker
) -> None:
    plan = planned(
        samples=2000,
        stone={"cut": cut, "depth_mm": depth, **size},
        head={"claws": None, "claw_mm": None},
        fit={"method": method, "height": "lowest"},
    )
    made = stones(cut, 7.3, depth)
    base = (
        plan[FigureKey("seat.culet_clearance")] + plan[FigureKey("stone.pavilion_depth")]
    )  # of the head as it is made
    opening, claw = plan[FigureKey("head.inner_opening")], plan[FigureKey("head.claw")]
    depth_of_notch = (made["width"] - opening) / 2
    angle = np.arctan(2 * made["pavilion"] / made["width"])
    true = {
        "seat.culet_clearance": base - made["pavilion"],
        "seat.depth": depth_of_notch,
        "seat.notch_ratio": depth_of_notch / claw,
        "seat.remaining": claw - depth_of_notch,
        "seat.bur_gap": np.abs(depth_of_notch) * np.abs(np.tan(angle) - 1.0),
        "stone.pavilion_depth": made["pavilion"],
    }
    for key, values in true.items():
        assert covered(plan, key, values) == pytest.approx(0.95, abs=0.01), key


@pytest.mark.parametrize("readings", [[6.4, 6.4], [6.42, 6.45, 6.4], [6.4]])
def test_intervals_of_one_sided_figures_hold_too(readings: list[float], planned: PlanMaker) -> None:
    """Largest and out of round can only be off to one side where readings are alike."""
    plan = planned(samples=2000, stone={"diameters_mm": readings, "resolution_mm": 0.05})
    true = np.array([evenly(value, 0.05, 10 + place) for place, value in enumerate(readings)])
    if len(readings) > 1:
        assert covered(plan, "stone.largest_diameter", true.max(axis=0)) == pytest.approx(0.95, abs=0.01)
        mean = (true.max(axis=0) + true.min(axis=0)) / 2 if len(readings) == 2 else true.mean(axis=0)
        off = (true.max(axis=0) - true.min(axis=0)) / mean
        assert covered(plan, "stone.out_of_round", off) == pytest.approx(0.95, abs=0.01)


def culet(plan: Plan) -> Any:
    return next(call for call in plan.diagnostics if call.code == "culet-reaches-finger")


def test_a_culet_that_may_reach_the_finger_is_a_caution(planned: PlanMaker) -> None:
    oval = {"cut": "oval", "diameters_mm": None, "length_mm": 9.4, "width_mm": 7.3, "depth_mm": None}
    parts: dict[str, Any] = {"stone": oval, "head": {"claws": None, "claw_mm": None}, "fit": {"method": "inset"}}
    call = culet(planned(samples=2000, **parts))
    assert call.level == "caution" and "Read the depth: that leaves" in call.message and call.remedy is not None
    higher = {**parts, "fit": {"method": "inset", **call.remedy["fit"]}}
    assert culet(planned(samples=2000, **higher)).level == "ok"
    read = {**oval, "depth_mm": 4.5, "pavilion_depth_mm": 3.1}
    assert culet(planned(samples=2000, **{**parts, "stone": read})).level == "ok"
    low = {**parts, "fit": {"method": "inset", "height": 2.4}}
    assert culet(planned(samples=2000, **low)).level == "stop"


@given(st.floats(3.5, 8.0), st.floats(1.5, 3.4))
def test_a_saw_mark_is_where_the_bands_edge_meets_a_round_foot(planned: PlanMaker, stone: float, width: float) -> None:
    """By coordinates: a circle of the foot's width and a straight edge half a band out."""
    plan = planned(
        samples=0,
        stone={"diameters_mm": [round(stone, 2)], "depth_mm": None},
        head=WALL,
        shank={"width_mm": round(width, 2)},
        fit={"method": "inset"},
    )
    for mark, gap in (("mark_half", "gap_inside"), ("mark_half_outside", "gap_outside")):
        at = (plan[FigureKey(f"shank.{mark}")], round(width, 2) / 2)
        assert math.hypot(*at) == pytest.approx(plan[FigureKey(f"shank.{gap}")] / 2)
    assert plan[FigureKey("shank.hollow")] == pytest.approx(
        plan[FigureKey("shank.gap_inside")] / 2 - plan[FigureKey("shank.mark_half")]
    )


@pytest.mark.parametrize(
    ("stone", "head"),
    [
        ({}, WALL),
        ({}, {}),
        ({}, {"claws": 6, "orientation": "in-line"}),
        ({"cut": "oval", "diameters_mm": None, "length_mm": 8.2, "width_mm": 6.6, "depth_mm": None}, {"claws": None}),
        ({"cut": "emerald", "diameters_mm": None, "length_mm": 7.8, "width_mm": 6.1, "depth_mm": None}, WALL),
        (
            {"cut": "princess", "diameters_mm": None, "length_mm": 5.3, "width_mm": 5.3, "depth_mm": None},
            {"style": "v-claw", "claws": None},
        ),
    ],
)
def test_ends_meet_the_head_without_air_and_the_finger_without_metal(
    stone: dict[str, Any], head: dict[str, Any], planned: PlanMaker
) -> None:
    """The shank's body beside the head's: no overlap, no gap over 0.05 mm at the saw cut's edges; nothing of the head
    in the finger's cylinder."""
    plan = planned(samples=0, stone=stone, head=head, fit={"method": "inset"})
    made, seating = bodies(plan), seating_of(plan)
    assert seating is not None and plan.band is not None
    assert (made.parts["head"] ^ made.parts["shank"]).volume() < 1e-6
    assert made.parts["shank"].min_gap(made.parts["head"], 1.0) < 0.05
    points = np.asarray(made.parts["head"].to_mesh64().vert_properties)[:, :3]
    away = np.hypot(points[:, 0], points[:, 2] - seating.centre)
    assert away.min() > plan.band.inside_radius * 0.998
    ends = np.asarray(made.parts["shank"].to_mesh64().vert_properties)[:, :3]
    ends = ends[ends[:, 2] > seating.finger_mm - 0.9]
    inside = ends[np.hypot(ends[:, 0], ends[:, 2] - seating.centre) < plan.band.inside_radius + 1e-3]
    assert np.abs(inside[:, 0]).min() == pytest.approx(plan[FigureKey("shank.mark_half")], abs=0.06), (
        "figure and body agree"
    )


def test_a_ring_eaten_by_the_finger_is_called_and_lifted(planned: PlanMaker) -> None:
    parts: dict[str, Any] = {
        "stone": {"diameters_mm": [7.4], "depth_mm": 4.5},
        "head": {"claws": 6, "claw_mm": None},
        "shank": {"size": {"value": "52"}},
        "fit": {"method": "inset"},
    }

    def called(plan: Plan) -> Any:
        return next(call for call in plan.diagnostics if call.code == "foot-cut-by-finger")

    plan = planned(samples=0, **parts)
    call = called(plan)
    assert call.level in ("stop", "caution") and call.remedy is not None
    ring = plan.shape.rings[-1]
    left = bodies(plan).rings[-1] - _finger(plan)
    middle = left.trim_by_plane((1, 0, 0), -0.1).trim_by_plane((-1, 0, 0), -0.1).bounding_box()
    assert middle[5] - middle[2] == pytest.approx(call.figure, abs=0.06), "what the body has left of the ring"
    after = planned(samples=0, **{**parts, "head": {**parts["head"], **call.remedy["head"]}})
    assert called(after).level == "ok" and called(after).figure == pytest.approx(ring.across_mm)
    assert weighed(after)[FigureKey("head.mass")] > weighed(plan)[FigureKey("head.mass")]


def _finger(plan: Plan) -> Any:
    from yarvel.solids.bodies import FINE
    from yarvel.solids.shank import finger_rod

    seating = seating_of(plan)
    assert seating is not None
    return finger_rod(seating, FINE)


@pytest.mark.parametrize("profile", list(CROWN))
def test_a_profile_is_one_shape_in_figure_and_body(profile: str, planned: PlanMaker) -> None:
    """The body's own section in the plane through the finger's axis, measured by another library's cut."""
    plan = planned(samples=0, shank={"profile": profile, "thickness_mm": 1.7, "width_mm": 3.1})
    shank = bodies(plan).parts["shank"]
    seating = seating_of(plan)
    assert seating is not None and plan.band is not None
    turned = shank.translate((0, 0, -seating.centre)).rotate((90, 0, 0)).rotate((0, 0, 0))
    area = float(turned.rotate((0, 90, 0)).slice(0.0).area())
    level = float(shank.slice(seating.centre).area())  # both sides of the ring at the height of the finger's axis
    assert level / 2 == pytest.approx(plan.band.section_mm2, rel=0.01)
    assert area > 0


def test_a_gap_that_takes_too_much_of_a_ring_is_called(planned: PlanMaker) -> None:
    big = {"cut": "oval", "diameters_mm": None, "length_mm": 19.0, "width_mm": 13.5, "depth_mm": None}
    plan = planned(
        samples=0, stone=big, head={**WALL, "claws": None}, shank={"size": {"value": "46"}}, fit={"method": "inset"}
    )
    call = next(call for call in plan.diagnostics if call.code == "gap-too-wide")
    assert call.level == "stop" and call.remedy is not None and call.remedy["fit"]["method"] == "on-flat"
