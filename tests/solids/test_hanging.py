"""Pendants: the centre of mass by an independent library, straight hanging, the chain's opening."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
import trimesh
from manifold3d import Manifold

from yarvel.figures.errors import JobError
from yarvel.figures.figure import FigureKey
from yarvel.figures.rules import HouseRules
from yarvel.metals.alloys import ALLOYS
from yarvel.planning.bodies import bodies, judge
from yarvel.planning.plan import Plan
from yarvel.solids.measure import centre_of_mass

PENDANT: dict[str, Any] = {"shank": None, "fit": {"method": "pendant", "height": None}}


def mesh(body: Any) -> trimesh.Trimesh:
    made = body.to_mesh64()
    return trimesh.Trimesh(np.asarray(made.vert_properties)[:, :3], np.asarray(made.tri_verts), process=False)


@pytest.mark.parametrize(
    "stone", [{}, {"cut": "pear", "diameters_mm": None, "length_mm": 8.8, "width_mm": 5.9, "depth_mm": None}]
)
def test_the_ring_sits_at_the_centre_of_mass(
    stone: dict[str, Any], planned: Callable[..., Plan], rules: HouseRules
) -> None:
    """trimesh's centres of mass of both bodies, weighed by density."""
    made = planned(samples=0, stone=stone, head={"claws": None}, **PENDANT)
    built = bodies(made)
    weights, centres = [], []
    for body, density in ((built.bare_head, ALLOYS["18k-yellow"].density), (built.parts["stone"], 3.60)):
        shape = mesh(body)
        weights.append(shape.volume * density)
        centres.append(shape.center_mass)
    centre = np.average(centres, axis=0, weights=weights)
    assert centre_of_mass([(built.bare_head, ALLOYS["18k-yellow"].density), (built.parts["stone"], 3.60)]) == (
        pytest.approx(centre, abs=1e-6)
    )
    report = judge(made, built, rules)
    figures = {figure.key: figure.value for figure in report.figures}
    assert figures["bail.height"] == pytest.approx(centre[2] + made[FigureKey("head.height")], abs=1e-6)
    assert figures["bail.tilt"] == pytest.approx(0, abs=1e-9)
    assert next(call.level for call in report.diagnostics if call.code == "hangs-straight") == "ok"
    assert len(built.parts["head"].decompose()) == 1


def test_a_ring_elsewhere_leans_and_says_so(planned: Callable[..., Plan], rules: HouseRules) -> None:
    made = planned(samples=0, shank=None, fit={"method": "pendant", "height": None, "bail": {"height_mm": 0.4}})
    report = judge(made, bodies(made), rules)
    call = next(call for call in report.diagnostics if call.code == "hangs-straight")
    figures = {figure.key: figure.value for figure in report.figures}
    top = figures["bail.reach"] + 3.0 + 0.8 * 0.9  # the chain bears on the inside of the ring's top
    lean = math.degrees(math.atan((figures["bail.centre"] - 0.4) / top))
    assert call.level == "caution" and call.figure == pytest.approx(lean, abs=0.05)
    # statics: the pendant turns until its weight hangs plumb under where the chain bears; seen from the side, the
    # first axis the way that the face looks, the second up
    plumb = np.array([figures["bail.centre"] - 0.4, -top]) / math.hypot(figures["bail.centre"] - 0.4, top)
    turn = np.array([[-plumb[1], plumb[0]], [-plumb[0], -plumb[1]]])
    assert turn @ plumb == pytest.approx([0.0, -1.0]), "plumb"
    assert (turn @ [1.0, 0.0])[1] < 0, "hung from behind its weight, the face looks down"
    assert "looks down" in call.message and figures["bail.tilt"] == pytest.approx(lean, abs=0.05)
    assert call.remedy == {"fit": {"bail": {"height_mm": None}}}


def test_the_chains_end_has_to_go_through(planned: Callable[..., Plan]) -> None:
    def level(inside: float, end: float) -> str:
        made = planned(
            samples=0,
            shank=None,
            fit={"method": "pendant", "height": None, "bail": {"inside_mm": inside, "chain_end_mm": end}},
        )
        return next(call.level for call in made.diagnostics if call.code == "chain-opening")

    assert (level(4.0, 3.2), level(3.4, 3.2), level(3.0, 3.4)) == ("ok", "caution", "stop")


def test_a_pendants_joints_come_before_the_stone(planned: Callable[..., Plan]) -> None:
    made = planned(samples=0, **PENDANT)
    last = made.joints[-1]
    assert last.what == "hanging ring to the head" and "before the stone is set" in last.shield
    assert made[FigureKey("bail.wire_length")] == pytest.approx(math.pi * 3.9)


def test_a_ring_between_claws_has_nothing_to_hold_to(planned: Callable[..., Plan], rules: HouseRules) -> None:
    fit = {"method": "pendant", "height": None, "bail": {"height_mm": 1.25, "wire_mm": 0.4}}
    made = planned(samples=0, head={"orientation": "square"}, shank=None, fit=fit)
    call = next(call for call in judge(made, bodies(made), rules).diagnostics if call.code == "ring-meets-nothing")
    wanted = {"claws": 4, "orientation": "in-line", "claw_places_deg": None}
    assert call.level == "caution" and call.remedy == {"head": wanted}
    turned = planned(samples=0, shank=None, fit=fit)
    assert "ring-meets-nothing" not in {call.code for call in judge(turned, bodies(turned), rules).diagnostics}


PEAR: dict[str, Any] = {"cut": "pear", "diameters_mm": None, "length_mm": 12.6, "width_mm": 7.4, "depth_mm": None}


def test_a_pendant_that_turns_in_its_own_plane_is_called(planned: Callable[..., Plan], rules: HouseRules) -> None:
    """By trimesh's centres of mass: the angle of the plumb line from where the chain bears."""
    head = {"claws": None, "claw_mm": None, "stone_axis": "along-band"}
    made = planned(samples=0, stone=PEAR, head=head, **PENDANT)
    built = bodies(made)
    shapes = [(mesh(built.bare_head), ALLOYS["18k-yellow"].density), (mesh(built.parts["stone"]), 3.60)]
    centre = np.average([shape.center_mass for shape, _ in shapes], axis=0, weights=[s.volume * d for s, d in shapes])
    assert built.hanging_ring is not None
    _, high = mesh(built.hanging_ring).bounds
    top = high[1] - made[FigureKey("bail.wire")]
    report = judge(made, built, rules)
    call = next(call for call in report.diagnostics if call.code == "hangs-turned")
    assert call.figure == pytest.approx(math.degrees(math.atan(abs(centre[0]) / (top - centre[1]))), abs=0.1)
    assert call.level == "caution" and call.remedy == {"head": {"stone_axis": "along-finger"}}


@pytest.mark.parametrize(
    "stone",
    [
        {},
        PEAR,
        {**PEAR, "cut": "oval", "length_mm": 9.1},
        {**PEAR, "cut": "heart", "length_mm": 7.0},
        {**PEAR, "cut": "emerald", "length_mm": 8.7},
        {**PEAR, "cut": "trillion", "length_mm": 7.4},
    ],
)
@pytest.mark.parametrize("claws", [3, 4, 6])
def test_a_ring_in_the_stone_or_on_nothing_is_never_quiet(
    stone: dict[str, Any], claws: int, planned: Callable[..., Plan], rules: HouseRules
) -> None:
    made = planned(samples=0, stone=stone, head={"claws": claws, "claw_mm": None}, **PENDANT)
    built = bodies(made)
    calls = {call.code: call.level for call in judge(made, built, rules).diagnostics}
    assert built.hanging_ring is not None
    inside = (built.hanging_ring ^ built.parts["stone"]).volume()
    assert (inside > 2e-3) <= (calls["ring-through-stone"] == "stop")
    loose = len(built.parts["head"].decompose()) > 1
    assert loose <= ("ring-meets-nothing" in calls)


@pytest.mark.parametrize(
    "stone",
    [
        {},
        PEAR,
        {**PEAR, "cut": "oval", "length_mm": 9.1},
        {**PEAR, "cut": "heart", "length_mm": 7.0},
        {**PEAR, "cut": "princess", "length_mm": 6.4, "width_mm": 6.3},
        {**PEAR, "cut": "round-cabochon", "length_mm": None, "width_mm": None, "diameters_mm": [11.2]},
    ],
)
@pytest.mark.parametrize("style", ["wire-basket", "tube"])
def test_a_hidden_ring_shows_nowhere_and_lets_the_chain_through(
    stone: dict[str, Any], style: str, planned: Callable[..., Plan], rules: HouseRules
) -> None:
    """By the bodies: seen from the front it lies within the stone, its opening is free, metal holds it; or it is
    said."""
    fit = {"method": "pendant", "height": None, "bail": {"inside_mm": 1.5, "wire_mm": 0.6, "place": "behind"}}
    head = {"style": style, "claws": None, "claw_mm": None, "orientation": None}
    made = planned(samples=0, stone=stone, head=head, shank=None, fit=fit)
    built = bodies(made)
    ring = built.hanging_ring
    assert ring is not None
    report = judge(made, built, rules)
    calls = {call.code: call for call in report.diagnostics}
    outside = ring.project() - built.parts["stone"].project()
    assert outside.area() == pytest.approx(0, abs=1e-6), "hidden by the stone"
    assert (ring ^ built.parts["stone"]).volume() <= 1e-3
    if "ring-meets-nothing" in calls:
        assert calls["ring-meets-nothing"].remedy == {"fit": {"bail": {"place": None}}}
        return
    assert len(built.parts["head"].decompose()) == 1
    figures = {figure.key: figure.value for figure in report.figures}
    middle = figures["bail.reach"] + 0.75 + 0.8 * 0.6
    chain = Manifold.cylinder(0.6 + 0.75, 0.7, center=True).rotate((0, 90, 0))
    chain = chain.translate((0, middle, figures["bail.height"] - made[FigureKey("head.height")]))
    metal = built.bare_head + built.parts["stone"]
    assert (chain ^ metal).volume() == pytest.approx(0, abs=1e-6), "the chain goes through freely"
    _, high = mesh(ring).bounds
    top = high[1] - 0.6  # where the chain bears
    shapes = [(mesh(built.bare_head), ALLOYS["18k-yellow"].density), (mesh(built.parts["stone"]), 3.60)]
    centre = np.average([one.center_mass for one, _ in shapes], axis=0, weights=[one.volume * d for one, d in shapes])
    low = figures["bail.height"] - made[FigureKey("head.height")]
    lean = math.degrees(math.atan2(centre[2] - low, top - centre[1]))
    assert calls["hangs-straight"].figure == pytest.approx(abs(lean), abs=0.2)
    assert (calls["hangs-straight"].level == "ok") == (abs(lean) <= rules.hangs_within_deg)


def test_a_hidden_ring_has_no_height_of_its_own(planned: Callable[..., Plan]) -> None:
    bail = {"place": "behind", "height_mm": 1.2, "bought": {"opening_mm": 3.0}}
    with pytest.raises(JobError) as refused:
        planned(samples=0, shank=None, fit={"method": "pendant", "height": None, "bail": bail})
    assert {problem.path for problem in refused.value.problems} == {"fit.bail.height_mm", "fit.bail.bought"}


def test_the_side_view_hangs_a_pear_by_its_point(planned: Callable[..., Plan]) -> None:
    """The drawn ring stands at the end where the body's ring is: the view's right is towards 6 o'clock."""
    from yarvel.drawing.sheet import sheet
    from yarvel.planning.weighing import weighed

    made = weighed(planned(samples=0, stone=PEAR, head={"claws": None, "claw_mm": None}, **PENDANT))
    drawn = sheet(made, 220, 150)
    scale, reach = drawn.scale, made[FigureKey("bail.reach")]
    wide = (made[FigureKey("bail.inside")] + 2 * made[FigureKey("bail.wire")]) * scale
    rings = [
        item.points
        for item in drawn.items
        if hasattr(item, "points") and getattr(item, "fill", "") == "metal" and len(item.points) == 82
    ]
    assert len(rings) == 1 and np.ptp(rings[0][:, 0]) == pytest.approx(wide, abs=0.01)
    axis = next(
        item.points[0][0]
        for item in drawn.items
        if getattr(item, "stroke", "") == "centre"
        and abs(item.points[0][0] - item.points[-1][0]) < 1e-6
        and 0 < item.points[0][0] - rings[0][:, 0].mean() < 4 * reach * scale
    )
    assert axis - rings[0][:, 0].max() == pytest.approx((reach - 0.2 * made[FigureKey("bail.wire")]) * scale, abs=0.05)
