"""Pendants: the centre of mass by an independent library, straight hanging, the chain's opening."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
import trimesh

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
    assert figures["bail.height"] == pytest.approx(centre[2] + made["head.height"], abs=1e-6)
    assert figures["bail.tilt"] == pytest.approx(0, abs=1e-9)
    assert next(call.level for call in report.calls if call.code == "hangs-straight") == "ok"
    assert len(built.parts["head"].decompose()) == 1


def test_a_ring_elsewhere_leans_and_says_so(planned: Callable[..., Plan], rules: HouseRules) -> None:
    made = planned(samples=0, shank=None, fit={"method": "pendant", "height": None, "bail": {"height_mm": 0.4}})
    report = judge(made, bodies(made), rules)
    call = next(call for call in report.calls if call.code == "hangs-straight")
    figures = {figure.key: figure.value for figure in report.figures}
    lean = math.degrees(math.atan((figures["bail.centre"] - 0.4) / (figures["bail.reach"] + 1.5)))
    assert call.level == "caution" and call.figure == pytest.approx(lean, abs=0.05) and "looks up" in call.message
    assert call.remedy == {"fit": {"bail": {"height_mm": None}}}


def test_the_chains_end_has_to_go_through(planned: Callable[..., Plan]) -> None:
    def level(inside: float, end: float) -> str:
        made = planned(
            samples=0,
            shank=None,
            fit={"method": "pendant", "height": None, "bail": {"inside_mm": inside, "chain_end_mm": end}},
        )
        return next(call.level for call in made.calls if call.code == "chain-opening")

    assert (level(4.0, 3.2), level(3.4, 3.2), level(3.0, 3.4)) == ("ok", "caution", "stop")


def test_a_pendants_joints_come_before_the_stone(planned: Callable[..., Plan]) -> None:
    made = planned(samples=0, **PENDANT)
    last = made.joints[-1]
    assert last.what == "hanging ring to the head" and "before the stone is set" in last.shield
    assert made["bail.wire_length"] == pytest.approx(math.pi * 3.9)


def test_a_ring_between_claws_has_nothing_to_hold_to(planned: Callable[..., Plan], rules: HouseRules) -> None:
    fit = {"method": "pendant", "height": None, "bail": {"height_mm": 1.25, "wire_mm": 0.4}}
    made = planned(samples=0, head={"orientation": "square"}, shank=None, fit=fit)
    call = next(call for call in judge(made, bodies(made), rules).calls if call.code == "ring-meets-nothing")
    assert call.level == "caution" and call.remedy == {"head": {"orientation": "in-line", "claw_places_deg": None}}
    turned = planned(samples=0, shank=None, fit=fit)
    assert "ring-meets-nothing" not in {call.code for call in judge(turned, bodies(turned), rules).calls}
