"""Crossed wires: two U's halved into each other under the culet, without a ring."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from manifold3d import CrossSection

from tests.conftest import job_with
from tests.strategies import BUILT
from yarvel.desk.session.edits import rings_patch
from yarvel.exchange.plan_file import plan_document
from yarvel.figures.errors import JobError
from yarvel.figures.figure import FigureKey
from yarvel.figures.rules import HouseRules
from yarvel.heads import basket, claws, crossed, style
from yarvel.operations.lot import ROUND
from yarvel.planning.bodies import bodies
from yarvel.planning.checking import check
from yarvel.planning.effects import without_effect
from yarvel.planning.plan import Plan
from yarvel.planning.weighing import weighed
from yarvel.route.running import route_of
from yarvel.shanks import fitting, inset

RULES = HouseRules()
HEAD: dict[str, Any] = {"rings": 0, "claws": 4}


@pytest.mark.parametrize("method", ["inset", "on-flat"])
def test_two_us_and_one_joint(method: str, planned: Callable[..., Plan]) -> None:
    """Common practice: two U's crossing below the culet, halved into each other and soldered; the crossing counts in
    height and in clearance; the legs in the gap, flush with the finger."""
    made = weighed(planned(head=HEAD, fit={"method": method}))
    own = [joint for joint in made.joints if joint.group == "crossing"]
    assert len(own) == 1 and not made.shape.rings
    claw = made[claws.CLAW]
    assert made[crossed.halved_mm] == pytest.approx(claw / 2)
    assert made[style.height_mm] >= float(made.stone.pavilion_depth_mm) + RULES.culet_clearance_mm + claw - 1e-9
    clear = made[style.height_mm] - claw - float(made.stone.pavilion_depth_mm)
    assert made[fitting.CULET_CLEARANCE] == pytest.approx(clear)
    steps = [step.operation for step in route_of(made).steps]
    assert not [step.unmet for step in route_of(made).steps if step.unmet]
    wires = [lot for one in steps for lot in one.takes if lot.part == "claws" and lot.form == ROUND]
    assert [lot.count for lot in wires] == [2]
    assert wires[0].length_mm == pytest.approx(made[FigureKey("head.u_piece_length")] + RULES.saw_allowance_mm)
    assert "File each bar half through" in " ".join(one.text for one in steps)
    assert FigureKey("head.ring_wire") not in made.figures


@BUILT
@given(
    st.floats(2.0, 10.0),
    st.sampled_from([1.0, 1.3, 1.7]),
    st.sampled_from(["round", "oval", "cushion", "emerald"]),
    st.sampled_from(["inset", "on-flat"]),
)
def test_every_one_is_of_one_piece(
    planned: Callable[..., Plan], width: float, long: float, cut: str, method: str
) -> None:
    """The bars meet in the middle at one height, the wire is all accounted for, figures are those of the body."""
    size = {"diameters_mm": [round(width, 2)], "depth_mm": round(0.6 * width, 2)}
    if cut != "round":
        size = {"diameters_mm": None, "depth_mm": None, "width_mm": round(width, 2)}  # type: ignore[dict-item]
        size["length_mm"] = round(width * max(long, 1.1), 2)  # type: ignore[assignment]
    made = weighed(
        planned(
            samples=0,
            stone={"cut": cut, **size},
            head={**HEAD, "claw_mm": None, "orientation": "in-line"},
            shank={"width_mm": 3.6},
            fit={"method": method},
        )
    )
    balance = plan_document(made)["balance"]
    left = balance["issue_g"] - balance["finished_g"] - balance["back_g"] - balance["filings_g"]
    assert abs(left) < 1e-4 and balance["filings_g"] > 0
    if any(call.level == "stop" for call in made.diagnostics):
        return
    head = bodies(made).parts["head"]
    assert len(head.decompose()) == 1
    claw = made[claws.CLAW]
    cut = made[inset.finger_sagitta_mm] if inset.finger_sagitta_mm in made.figures else 0.0
    level = max(0.75 * claw, (cut + claw) / 2)  # within what the finger's curve leaves of them
    middle = head.slice(-made[style.height_mm] + level) ^ CrossSection.circle(claw * 0.45)
    assert middle.area() > 0, "metal where they cross"
    if method == "on-flat":
        low, _, high, _ = head.slice(-made[style.height_mm] + 0.01).bounds()
        assert made[style.WIDTH_AT_FOOT] == pytest.approx(2 * max(-low, high), abs=0.02)
    assert made[basket.bridge_mm] > 0


@pytest.mark.parametrize(
    ("parts", "told"),
    [
        ({"head": {"rings": 0, "claws": 6}}, "head.claws: two U's that cross have four claws"),
        ({"head": HEAD, "fit": {"method": "basket-point"}}, "fit.method: crossed wires stand in a gap or on a flat"),
        (
            {
                "stone": {"cut": "pear", "diameters_mm": None, "length_mm": 9.0, "width_mm": 6.5},
                "head": {"rings": 0, "claws": 4},
            },
            "head.rings: crossed wires: a V over a point",
        ),
        ({"stone": {"cut": "round-cabochon"}, "head": HEAD}, "head.rings: crossed wires: a dome needs a ring"),
    ],
)
def test_what_two_us_cannot_hold_is_refused(parts: dict[str, Any], told: str) -> None:
    with pytest.raises(JobError) as caught:
        check(job_with(**parts), RULES)
    assert told in str(caught.value)


@pytest.mark.parametrize("field", ["ring_mm", "ring_drop_mm", "posts", "legs"])
def test_fields_of_rings_do_nothing_without_one(field: str) -> None:
    value: Any = {"posts": "drilled", "legs": "under"}.get(field, 0.9)
    assert [one.path for one in without_effect(job_with(head={**HEAD, field: value}))] == [f"head.{field}"]


def test_taking_the_rings_away_drops_what_they_had() -> None:
    document = {
        "head": {"style": "wire-basket", "claws": 6, "ring_mm": 0.8, "legs": "peg", "posts": "drilled"},
        "fit": {"method": "peg"},
    }
    patch = rings_patch(document, 0)
    assert patch["head"] == {
        "rings": 0,
        "ring_mm": None,
        "legs": None,
        "posts": None,
        "claws": 4,
        "claw_places_deg": None,
    }
    assert patch["fit"]["method"] == "on-flat"
