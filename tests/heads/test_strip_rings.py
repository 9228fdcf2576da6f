"""Rings of strip on edge: how thick and how high they are is counted apart, in every figure and in the body."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import BASE
from tests.strategies import BUILT
from yarvel.desk.session.edits import posts_patch, section_patch
from yarvel.exchange.job_file import checked_job
from yarvel.exchange.plan_file import plan_document
from yarvel.figures.errors import JobError
from yarvel.figures.rules import HouseRules
from yarvel.heads import claws, legs, notches, rings, style
from yarvel.planning.bodies import bodies
from yarvel.planning.job import merge_patch
from yarvel.planning.plan import Plan
from yarvel.planning.weighing import weighed
from yarvel.route.running import route_of
from yarvel.shanks import split_shoulder

RULES = HouseRules()
STRIP: dict[str, Any] = {"rings": 1, "ring_section": "strip", "ring_mm": 0.7, "ring_high_mm": 1.3, "splay_deg": 8}


def level_of(made: Plan, code: str) -> str:
    return next(call.level for call in made.diagnostics if call.code == code)


@pytest.mark.parametrize("count", [1, 2])
@pytest.mark.parametrize("stone", ["round", "oval", "pear", "emerald"])
def test_a_strip_is_built_as_thick_and_as_high_as_it_is_told(
    planned: Callable[..., Plan], count: int, stone: str
) -> None:
    """Each ring's body against its own two measures and its length; head in one piece; grams add up."""
    size = {} if stone == "round" else {"cut": stone, "diameters_mm": None, "length_mm": 7.6, "width_mm": 5.9}
    made = weighed(planned(samples=0, stone=size, head={**STRIP, "rings": count, "claws": None}, fit=None, shank=None))
    built = bodies(made)
    assert len(built.parts["head"].decompose()) == 1 and len(built.rings) == count
    for body, key in zip(built.rings, (rings.upper_ring_wire_length_mm, rings.lower_ring_wire_length_mm), strict=False):
        low, high = np.array(body.bounding_box()).reshape(2, 3)
        assert high[2] - low[2] == pytest.approx(1.3)
        assert body.volume() == pytest.approx(0.7 * 1.3 * made[key], rel=0.01)
    top = np.array(built.rings[0].bounding_box())[5]
    assert top == pytest.approx(-made[rings.RING_DROP]), "its top lies as far below the girdle as told"
    balance = plan_document(made)["balance"]
    left = balance["issue_g"] - balance["finished_g"] - balance["back_g"] - balance["filings_g"]
    assert left == pytest.approx(0, abs=1e-4) and balance["filings_g"] >= 0


def test_what_is_along_the_claw_counts_its_height_and_what_is_across_it_its_thickness(
    planned: Callable[..., Plan],
) -> None:
    """The same figures by hand, on a straight line of the claw's inner face."""
    made = planned(samples=0, head=STRIP, shank=None)
    lean = math.tan(math.radians(made[style.SPLAY]))
    middle = made[notches.SEAT_DEPTH] + (made[rings.RING_DROP] + 0.65) * lean
    assert made[rings.ring_hidden_by_mm] == pytest.approx(middle - RULES.groove_share * 0.7)
    outside = made.stone.diameter - 2 * made[rings.ring_hidden_by_mm]
    assert made[rings.upper_ring_wire_length_mm] == pytest.approx(math.pi * (outside - 0.7))
    assert made[rings.ring_groove_mm] == pytest.approx(RULES.groove_share * 0.7)
    assert made[rings.deepest_groove_mm] == pytest.approx(RULES.groove_share * 0.7 + 0.65 * lean)
    assert rings.RING_HIGH not in planned(samples=0, head={"rings": 1}, shank=None).figures


def test_square_wire_is_a_strip_as_high_as_it_is_thick(planned: Callable[..., Plan]) -> None:
    square = planned(samples=0, head={**STRIP, "ring_section": "square", "ring_high_mm": None})
    strip = planned(samples=0, head={**STRIP, "ring_high_mm": 0.7})
    for key, entry in square.figures.items():
        assert strip[key] == pytest.approx(entry.value), key


def test_its_height_follows_the_house_where_nobody_gives_it(planned: Callable[..., Plan]) -> None:
    made = planned(samples=0, head={**STRIP, "ring_high_mm": None})
    assert made[rings.RING_HIGH] == pytest.approx(RULES.ring_strip_high_share * 0.7)


def test_legs_under_a_strip_and_branches_that_grip_it(planned: Callable[..., Plan]) -> None:
    """Its underside lies on the bent legs; notches hold it by its height."""
    made = planned(samples=0, head={**STRIP, "legs": "under"})
    ring = made.shape.rings[-1]
    assert ring.foot_mm == pytest.approx(-made[style.height_mm] + made[claws.CLAW])
    assert made[rings.RING_DROP] == pytest.approx(made[style.height_mm] - made[claws.CLAW] - 1.3)
    lean = math.tan(math.radians(made[style.SPLAY]))
    reach = (1 - RULES.groove_share) * 0.7 - (1.3 + made[claws.CLAW]) / 2 * lean
    assert made[legs.under_length_mm] == pytest.approx(max(0.0, reach))
    held = planned(
        samples=0, head={**STRIP, "rings": 2}, shank={"width_mm": 4.6}, fit={"method": "split-shoulder", "split_mm": 6}
    )
    assert 0 < held[split_shoulder.ring_gripped_mm] <= 1.3


def test_grooves_through_a_high_strip_are_called_and_mended(planned: Callable[..., Plan]) -> None:
    """A claw that leans cuts deeper towards the foot: first thin, then through; the offered height leaves it whole."""
    leaning = {**STRIP, "splay_deg": 22}
    levels = [level_of(planned(samples=0, head=leaning | {"ring_high_mm": high}), "strip-groove-deep") for high in (
        0.7, 1.3, 2.6)]  # fmt: skip
    assert levels == ["ok", "caution", "stop"]
    made = planned(samples=0, head={**leaning, "ring_high_mm": 2.6})
    call = next(one for one in made.diagnostics if one.code == "strip-groove-deep")
    assert call.remedy is not None
    assert level_of(planned(samples=0, head={**leaning, **call.remedy["head"]}), "strip-groove-deep") == "ok"


def test_the_route_takes_a_strip_from_sheet(planned: Callable[..., Plan]) -> None:
    route = route_of(weighed(planned(samples=0, head=STRIP)))
    taken = [lot for step in route.steps for lot in step.operation.takes if lot.part == "ring"]
    assert [(lot.form, lot.across_mm, lot.down_mm) for lot in taken][:1] == [("strip", 1.3, 0.7)]
    words = " ".join(step.operation.text for step in route.steps)
    assert "cut a strip 1.30 mm wide" in words and "square wire" not in words


@pytest.mark.parametrize(
    ("head", "path"),
    [
        ({**STRIP, "posts": "drilled", "ring_mm": None}, "head.posts"),
        ({**STRIP, "ring_high_mm": 9.0}, "head.ring_high_mm"),
    ],
)
def test_what_a_strip_cannot_be_is_refused(head: dict[str, Any], path: str) -> None:
    with pytest.raises(JobError) as refused:
        checked_job(merge_patch(BASE, {"head": head}), RULES)
    assert path in [problem.path for problem in refused.value.problems]


def test_the_window_leaves_nothing_behind_that_the_other_section_does_not_read() -> None:
    drilled = merge_patch(BASE, {"head": {"posts": "drilled", "claw_mm": None}})
    strip = merge_patch(drilled, section_patch(drilled, "strip"))
    assert "posts" not in strip["head"] and checked_job(strip, RULES).head.ring_section == "strip"
    high = merge_patch(strip, {"head": {"ring_high_mm": 1.2}})
    assert "ring_high_mm" not in merge_patch(high, section_patch(high, "round"))["head"]
    back = merge_patch(high, posts_patch(high, "drilled"))["head"]
    assert back["ring_section"] == "square" and "ring_high_mm" not in back


@BUILT
@given(
    st.floats(2.0, 14.0),
    st.sampled_from([1, 2]),
    st.sampled_from(["on-flat", "inset", "peg", "split-shoulder"]),
    st.floats(0.5, 1.2),
    st.floats(0.5, 3.0),
    st.floats(0.0, 25.0),
)
def test_every_strip_head_is_one_piece(
    planned: Callable[..., Plan], size: float, count: int, method: str, across: float, high: float, splay: float
) -> None:
    """No loose piece, no metal made or lost, where no call says stop."""
    parts: dict[str, Any] = {
        "stone": {"diameters_mm": [round(size, 2)], "depth_mm": round(0.62 * size, 2)},
        "head": {**STRIP, "claw_mm": None, "claws": None, "rings": count}
        | {"ring_mm": across, "ring_high_mm": high, "splay_deg": splay},
        "shank": {"width_mm": 3.4},
        "fit": {"method": method},
    }
    try:
        checked_job(merge_patch(BASE, parts), RULES)
    except JobError:
        return
    made = weighed(planned(samples=0, **parts))
    if not any(call.level == "stop" for call in made.diagnostics):
        assert [len(body.decompose()) for name, body in bodies(made).parts.items() if name != "stone"] == [1, 1]
