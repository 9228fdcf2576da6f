"""Bought heads as they are sold: foot to tip, notched or not; the seat is chosen on them, with claw enough above it."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import BASE
from yarvel.exchange.job_file import checked_job
from yarvel.figures.errors import JobError
from yarvel.figures.rules import HouseRules
from yarvel.heads import bought, claws, style
from yarvel.planning.job import merge_patch
from yarvel.planning.plan import Plan
from yarvel.route.running import route_of
from yarvel.stones import stone as stones

HEAD: dict[str, Any] = {"style": "bought", "made_for_mm": 6.4, "claws": 4, "claw_mm": 1.0, "notch_ratio": None}
STONE = {"diameters_mm": [6.3], "depth_mm": 3.9}


@given(st.floats(4.5, 9.0), st.floats(0.0, 1.0))
def test_the_seat_leaves_claw_enough_above_it(planned: Callable[..., Plan], tip: float, trim: float) -> None:
    """Foot to seat and what has to stand above it are the head's whole height; trimming takes from the foot."""
    made = planned(samples=0, stone=STONE, head={**HEAD, "height_tip_mm": tip, "trim_mm": trim}, shank=None)
    above = made[bought.above_seat_mm]
    assert made[style.height_mm] + trim + above == pytest.approx(max(tip, made[claws.CLAW] + trim + above), abs=1e-9)
    rules, stone = HouseRules(), made.stone
    over = made[claws.tip_cover_mm]
    assert above > stone.girdle_mm + over, "at least up the girdle and over the crown"
    along = over / math.cos(math.radians(made[stones.crown_angle_deg]))
    assert above == pytest.approx(stone.girdle_mm + along + rules.bend_allowance_mm + rules.file_allowance_mm)


def test_a_head_sold_notched_sees_no_bur(planned: Callable[..., Plan]) -> None:
    """Check piece O, common practice: notched claws, no bur; the stone is tried in them."""
    kinds = {}
    for notched in (False, True):
        made = planned(samples=0, stone=STONE, head={**HEAD, "height_tip_mm": 6.6, "notched": notched})
        steps = [step.operation for step in route_of(made).steps]
        kinds[notched] = [one.kind.key for one in steps]
        assert not [step.unmet for step in route_of(made).steps if step.unmet]
        told = " ".join(one.text for one in steps)
        assert ("no bur" in told) == notched and ("Burs:" in told) != notched
    assert "guide-cut" in kinds[False] and "guide-cut" not in kinds[True]


def test_one_height_is_enough() -> None:
    with pytest.raises(JobError) as refused:
        checked_job(
            merge_patch(BASE, {"stone": STONE, "head": {**HEAD, "height_mm": 4.0, "height_tip_mm": 6.0}}), HouseRules()
        )
    assert [problem.path for problem in refused.value.problems] == ["head.height_tip_mm"]
