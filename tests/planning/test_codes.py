"""Codes of calls: each in the register once, each call under one of them, none twice for a place."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest
from hypothesis import given

from tests.strategies import BUILT, jobs
from yarvel.figures.figure import FigureKey
from yarvel.figures.rules import HouseRules
from yarvel.planning import pendant
from yarvel.planning.bodies import BODY_JUDGEMENTS, bodies, judge
from yarvel.planning.diagnostics import CODES, JUDGEMENTS
from yarvel.planning.job import Job
from yarvel.planning.plan import Plan, plan
from yarvel.route.diagnostics import CODE as ROUTE_ORDER
from yarvel.route.diagnostics import all_diagnostics
from yarvel.route.running import route_of

RULES = HouseRules()
ALL = {*CODES, *BODY_JUDGEMENTS, *pendant.CODES, ROUTE_ORDER}


def test_each_code_has_one_judgement() -> None:
    from_plans = [code for judgement in JUDGEMENTS for code in judgement.CODES]
    everywhere = [*from_plans, *BODY_JUDGEMENTS, *pendant.CODES, ROUTE_ORDER]
    assert len(set(everywhere)) == len(everywhere) == len(ALL)


@given(jobs())
def test_a_code_is_unique_for_its_place(job: Job) -> None:
    made = plan(job, RULES, samples=0)
    found = [(call.code, call.place) for call in all_diagnostics(made, route_of(made))]
    assert {code for code, _ in found} <= ALL
    assert len(set(found)) == len(found)


@BUILT
@given(jobs())
def test_calls_of_bodies_have_codes_of_their_own(job: Job) -> None:
    made = plan(job, RULES, samples=0)
    told = judge(made, bodies(made, False), RULES).diagnostics
    assert {call.code for call in told} <= {*BODY_JUDGEMENTS, *pendant.CODES}
    both = [(call.code, call.place) for call in (*made.diagnostics, *told)]
    assert len(set(both)) == len(both)


@pytest.mark.parametrize("method", ["inset", "on-flat"])
@pytest.mark.parametrize("style", ["tube", "tapered-collet"])
def test_no_head_is_made_lower_than_it_can_be(style: str, method: str, planned: Callable[..., Plan]) -> None:
    """A height asked for under the least that can be made is the least, and is told as such."""
    head: dict[str, Any] = {"style": style, "claw_mm": None, "notch_ratio": None, "wall_mm": 0.9}
    low = planned(samples=0, head=head, fit={"method": method, "height": 0.2})
    assert low[FigureKey("head.height")] >= 2 * 0.9 - 1e-9
    assert low.conditions["least"] == pytest.approx(low[FigureKey("head.height")])
