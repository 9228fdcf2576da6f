"""How a basket's claws end below: bent in under the ring, closed on a peg; and rings that split shoulders grip."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import job_with
from tests.strategies import BUILT
from yarvel.desk.session.edits import method_patch
from yarvel.exchange.plan_file import plan_document
from yarvel.figures.errors import JobError
from yarvel.figures.figure import FigureKey
from yarvel.figures.rules import HouseRules
from yarvel.heads import claws, legs, rings, style
from yarvel.planning.bodies import bodies
from yarvel.planning.checking import check
from yarvel.planning.plan import Plan
from yarvel.planning.weighing import weighed
from yarvel.route.running import route_of
from yarvel.shanks import fitting, peg, split_shoulder

RULES = HouseRules()
UNDER: dict[str, Any] = {"rings": 1, "legs": "under"}


def call_of(made: Plan, code: str) -> Any:
    return next(call for call in made.diagnostics if call.code == code)


def parts(made: Plan) -> tuple[int, ...]:
    return tuple(len(body.decompose()) for name, body in bodies(made).parts.items() if name != "stone")


def adds_up(made: Plan) -> bool:
    balance = plan_document(made)["balance"]
    left = balance["issue_g"] - balance["finished_g"] - balance["back_g"] - balance["filings_g"]
    return abs(left) < 1e-4 and balance["filings_g"] >= 0


@pytest.mark.parametrize("count", [1, 2])
def test_legs_bent_in_are_the_foot(count: int, planned: Callable[..., Plan]) -> None:
    """The lowest ring lies on them: a wire's thickness over the foot; each ends at the ring's inside."""
    made = planned(samples=0, head={**UNDER, "rings": count})
    ring, hooks = made.shape.rings[-1], made.shape.hooks
    assert hooks is not None and len(hooks.bars) == 4
    assert ring.foot_mm == pytest.approx(-made[style.height_mm] + made[claws.CLAW])
    inside = made.shape.outline.size[0] / 2 - ring.inset_mm - ring.across_mm / 2
    for start, end in hooks.bars:
        assert np.hypot(*end) == pytest.approx(inside, abs=0.12), "they end at the ring's inside"
        assert np.hypot(*end) < np.hypot(*start)


def test_the_only_rings_drop_follows_the_height_or_decides_it(planned: Callable[..., Plan]) -> None:
    high = planned(samples=0, head=UNDER, fit={"height": 5.0})
    assert high[fitting.PLANE_ABOVE_FINGER] == pytest.approx(5.0)
    assert high[rings.RING_DROP] == pytest.approx(high[style.height_mm] - high[claws.CLAW] - high[rings.RING_WIRE])
    chosen = planned(samples=0, head={**UNDER, "ring_drop_mm": 1.2})
    assert chosen[style.height_mm] == pytest.approx(1.2 + chosen[claws.CLAW] + chosen[rings.RING_WIRE])
    with pytest.raises(JobError, match=r"fit\.height: the ring's drop and the legs under it decide"):
        check(job_with(head={**UNDER, "ring_drop_mm": 1.2}, fit={"height": 5.0}), RULES)


@BUILT
@given(
    st.floats(2.0, 11.0),
    st.sampled_from([1, 2]),
    st.sampled_from(["round", "square"]),
    st.sampled_from(["on-flat", "inset", "split-shoulder", "peg"]),
    st.sampled_from(["in-line", "square"]),
)
def test_every_head_on_such_legs_is_one_piece(
    planned: Callable[..., Plan], size: float, count: int, section: str, method: str, turned: str
) -> None:
    """No loose piece, metal adds up, and nothing of the work is out of order, where no call says stop."""
    made = weighed(
        planned(
            samples=0,
            stone={"diameters_mm": [round(size, 2)], "depth_mm": round(0.62 * size, 2)},
            head={
                "claw_mm": None,
                "rings": count,
                "legs": None if method == "peg" else "under",
                "ring_section": section,
                "orientation": turned,
            },
            shank={"width_mm": 3.4},
            fit={"method": method},
        )
    )
    assert not [step.unmet for step in route_of(made).steps if step.unmet]
    assert adds_up(made)
    if not any(call.level == "stop" for call in made.diagnostics):
        assert parts(made) == (1, 1)


def test_legs_that_close_on_a_peg(planned: Callable[..., Plan]) -> None:
    """Common practice: hole as the peg; each leg is soldered to it, and the culet stays clear of them."""
    made = weighed(planned(head={"rings": 1}, fit={"method": "peg"}, shank={"width_mm": 3.4}))
    assert sum(joint.group == "peg" for joint in made.joints) == 4
    assert made[fitting.CULET_CLEARANCE] == pytest.approx(
        made[style.height_mm] - made[claws.CLAW] - float(made.stone.pavilion_depth_mm)
    )
    assert made[fitting.CULET_CLEARANCE] >= RULES.culet_clearance_mm - 1e-6
    reach = made[legs.under_length_mm] + (made[claws.CLAW] + made[peg.PEG]) / 2
    assert made.shape.hooks is not None
    assert np.hypot(*made.shape.hooks.bars[0][0]) == pytest.approx(reach, abs=0.12)
    told = [step.operation for step in route_of(made).steps]
    assert any("it closes on the peg" in one.text for one in told)
    assert any(lot.piece == "Peg" for one in told for lot in one.takes)


@pytest.mark.parametrize(
    ("parts", "told"),
    [
        ({"head": {"legs": "point"}}, "head.legs: point: only into a hole"),
        ({"head": {"legs": "peg"}}, "head.legs: peg: only into a hole"),
        ({"head": {"legs": "under"}, "fit": {"method": "peg"}}, "head.legs: under: peg in a hole takes no such legs"),
        ({"head": {"style": "cast-claw"}, "fit": {"method": "peg"}}, "fit.method: peg in a hole: not for cast claws"),
        (
            {
                "stone": {"cut": "princess", "diameters_mm": None, "length_mm": 6.5, "width_mm": 6.5},
                "head": {"legs": "under"},
            },
            "a V over a point of the stone is not bent in below",
        ),
    ],
)
def test_legs_that_a_fit_cannot_take_are_refused(parts: dict[str, Any], told: str) -> None:
    if parts["head"].get("style"):
        parts = {**parts, "stone": {"cut": "round-cabochon", "depth_mm": 3.0}}
    with pytest.raises(JobError) as caught:
        check(job_with(**parts), RULES)
    assert told in str(caught.value)


def test_another_fit_gives_up_legs_that_it_cannot_take() -> None:
    document = {"head": {"style": "wire-basket", "legs": "point"}, "fit": {"method": "basket-point"}}
    assert method_patch(document, "inset")["head"] == {"legs": None}
    assert "head" not in method_patch({"head": {"legs": "under"}, "fit": {}}, "on-flat")


def test_a_ring_between_the_ends_holds_where_no_leg_does(planned: Callable[..., Plan]) -> None:
    """Legs beside a narrow band hold nothing; bent in below they bring the ring down between the ends."""
    stone = {"cut": "emerald", "diameters_mm": None, "depth_mm": 4.3, "length_mm": 8.0, "width_mm": 6.0}
    parts: dict[str, Any] = {
        "stone": stone,
        "head": {"style": "paired-corner", "claws": None, "rings": 1, "orientation": None},
        "shank": {"width_mm": 2.4, "thickness_mm": 1.8},
        "fit": {"method": "inset"},
    }
    call = call_of(planned(samples=0, **parts), "legs-beside-band")
    assert call.level == "stop" and call.remedy == {"head": {"legs": "under"}}
    parts["head"] |= {"legs": "under"}
    assert call_of(planned(samples=0, **parts), "legs-beside-band").level == "ok"


OVAL = {"cut": "oval", "diameters_mm": None, "depth_mm": 2.7, "length_mm": 6.4, "width_mm": 4.8}


def test_split_shoulders_grip_the_ring(planned: Callable[..., Plan]) -> None:
    """Check piece, common practice: an oval on one ring in split shoulders; branches of 1.5 and more before filing,
    split about 5 from the middle, the legs under the ring, which is held by the notches."""
    made = weighed(
        planned(
            stone=OVAL,
            head=UNDER,
            shank={"width_mm": 3.4, "thickness_mm": 1.5},
            fit={"method": "split-shoulder", "split_mm": 5.0},
        )
    )
    assert made[split_shoulder.branch_mm] >= 1.5
    assert made[split_shoulder.split_from_mm] == pytest.approx(5.0)
    assert not [call.code for call in made.diagnostics if call.level == "stop"]
    assert parts(made) == (1, 1) and adds_up(made)
    gripped = made[split_shoulder.ring_gripped_mm]
    assert gripped > 0.4 * made[rings.RING_WIRE]
    assert sum(joint.group == "branches-to-bezel" for joint in made.joints) == 4
    assert any("to the ring's curve" in step.operation.text for step in route_of(made).steps)
    # measured on the bodies: the branches reach the ring's mid-line at the height that the ring lies at, not inside it
    shank, ring = bodies(made).parts["shank"], made.shape.rings[-1]
    level = shank.slice(ring.z_mm)
    least = min(float(np.hypot(*loop.T).min()) for loop in level.to_polygons())
    across = made.shape.outline.inset(ring.inset_mm)
    assert least >= float(np.hypot(*across.T).min()) - 0.02


def test_a_ring_over_the_branches_is_a_stop_with_a_way_out(planned: Callable[..., Plan]) -> None:
    parts: dict[str, Any] = {
        "head": {"rings": 1},
        "shank": {"width_mm": 3.4, "thickness_mm": 1.2},
        "fit": {"method": "split-shoulder"},
    }
    call = call_of(planned(samples=0, **parts), "ring-over-branches")
    assert call.level == "stop" and call.remedy is not None
    parts["head"] |= call.remedy["head"]
    mended = call_of(planned(samples=0, **parts), "ring-over-branches")
    if mended.level == "stop":
        assert mended.remedy == {"head": {"rings": 2}}
        parts["head"] = {"rings": 2}
        mended = call_of(planned(samples=0, **parts), "ring-over-branches")
    assert mended.level == "ok"


def test_the_metal_of_the_legs_is_in_the_pieces_that_are_cut(planned: Callable[..., Plan]) -> None:
    """U's give back less of their bottoms by what stays under the ring."""
    flush, under = (
        planned(samples=0, head={"rings": 2, "legs": legs, "ring_lift_mm": lift}, fit={"height": 6.0})
        for legs, lift in (("flush", 1.0), ("under", None))
    )
    assert flush[FigureKey("head.u_piece_length")] == pytest.approx(under[FigureKey("head.u_piece_length")])
    mass = [plan_document(weighed(made))["balance"] for made in (flush, under)]
    assert mass[1]["finished_g"] > mass[0]["finished_g"] and mass[1]["back_g"] < mass[0]["back_g"]
