"""Bought heads: the stone in hand decides."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarvel.exchange.job_file import checked_job
from yarvel.figures.errors import JobError
from yarvel.figures.figure import FigureKey
from yarvel.figures.rules import HouseRules
from yarvel.planning.diagnostics.diagnostic import Diagnostic
from yarvel.planning.plan import Plan


def bought(made_for: float, **more: Any) -> dict[str, Any]:
    return {"style": "bought", "made_for_mm": made_for, "claw_mm": 0.9, "notch_ratio": None, **more}


def called(plan: Plan, code: str) -> Diagnostic:
    return next(call for call in plan.diagnostics if call.code == code)


@pytest.mark.parametrize(("made_for", "ratio", "small"), [(6.0, 0.27, "ok"), (5.5, 0.55, "stop")])
def test_a_stone_of_five_nine(made_for: float, ratio: float, small: str, planned: Callable[..., Plan]) -> None:
    """Common practice: 5.9 in a head for 6.0 sits; in a head for 5.5 it is overcut: refuse."""
    plan = planned(stone={"diameters_mm": [5.9], "depth_mm": None}, head=bought(made_for))
    assert plan[FigureKey("seat.notch_ratio")] == pytest.approx(ratio, abs=0.006)
    assert called(plan, "head-too-small").level == small
    assert plan.figures[FigureKey("seat.notch_ratio")].plus_minus > 0


def test_a_head_too_large_does_not_hold(planned: Callable[..., Plan]) -> None:
    call = called(planned(head=bought(6.9)), "head-too-large")
    assert call.level == "stop"
    assert call.remedy_label == "A head for 6.5 mm"
    assert call.remedy is not None
    after = planned(head={**bought(6.9), **call.remedy["head"]})
    assert called(after, "head-too-large").level == called(after, "head-too-small").level == "ok"


@given(st.floats(5.6, 7.4), st.floats(5.6, 7.4))
def test_a_larger_head_takes_less_of_its_claws(planned: Callable[..., Plan], one: float, other: float) -> None:
    ratios = [planned(samples=0, head=bought(size))[FigureKey("seat.notch_ratio")] for size in sorted((one, other))]
    assert ratios[0] >= ratios[1] - 1e-12


def test_a_measured_opening_goes_before_the_size_on_the_packet(planned: Callable[..., Plan]) -> None:
    plan = planned(head=bought(6.5, opening_mm=5.8))
    assert plan[FigureKey("head.inner_opening")] == 5.8
    assert plan[FigureKey("seat.depth")] == pytest.approx(0.35)


@pytest.mark.parametrize("method", ["on-flat", "inset"])
def test_a_head_too_tall_is_trimmed_by_what_it_is_too_tall(method: str, planned: Callable[..., Plan]) -> None:
    head = bought(6.5, height_mm=5.0)
    before = planned(head=head, fit={"method": method})
    call = called(before, "trim-base")
    assert call.level == "note"
    assert call.remedy is not None
    after = planned(head={**head, **call.remedy["head"]}, fit={"method": method})
    assert called(after, "trim-base").level == "ok"
    assert 0.3 - 0.02 <= after[FigureKey("seat.culet_clearance")] <= 0.42
    assert after[FigureKey("head.height")] == pytest.approx(5.0 - call.remedy["head"]["trim_mm"])


def test_a_head_too_low_lets_the_culet_through(planned: Callable[..., Plan]) -> None:
    call = called(planned(head=bought(6.5, height_mm=2.5)), "culet-reaches-finger")
    assert call.level == "stop"


def test_a_notch_that_cannot_be_chosen_is_not_offered(planned: Callable[..., Plan]) -> None:
    assert called(planned(head=bought(5.9)), "notch-too-deep").remedy is None


@pytest.mark.parametrize(
    ("head", "told"),
    [
        (bought(2.0), "head.made_for_mm: 2 mm is for another stone altogether"),
        (bought(6.5, opening_mm=20), "head.opening_mm: 20 mm is for another stone"),
        (bought(6.5, height_mm=4.0, trim_mm=3.5), "head.trim_mm: 3.5 mm leaves less than 1 mm"),
        ({**bought(6.5), "claw_mm": 2.9}, "head.claw_mm: claw wire of 2.9 mm is too thick for a head made for 6.5 mm"),
    ],
)
def test_what_cannot_be_is_refused(head: dict[str, Any], told: str) -> None:
    stone = {"diameters_mm": [6.5]}
    kept = {name: value for name, value in head.items() if value is not None}
    with pytest.raises(JobError) as caught:
        checked_job({"format": "yarvel-job/1", "stone": stone, "head": kept}, HouseRules())
    assert told in str(caught.value)
