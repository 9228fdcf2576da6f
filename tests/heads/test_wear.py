"""Worn claws: verdicts by the trade's limits, wear by two dates, heads by their claws."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarvel.figures.figure import FigureKey
from yarvel.figures.rules import HouseRules, WorkshopData
from yarvel.heads.wear import (
    BENT,
    CRACKED,
    FINDINGS,
    LEAVE,
    MISSING,
    NEIGHBOUR,
    NEW_CLAW,
    RE_TIP,
    SOUND,
    THIN_SIDE,
    TIGHTEN,
    WORK,
    WORN_TIP,
    ClawFound,
    judge_claw,
    least_tip_mm,
    next_inspection,
    wear_mm_a_year,
)
from yarvel.planning.plan import Plan
from yarvel.planning.repair import KNOCKED, MEND, NEIGHBOUR_BAND, REPLACE, TOO_SMALL, WORN, judge_head
from yarvel.planning.weighing import weighed
from yarvel.route.ways import ways_out
from yarvel.workshop.dockets.claw_chart import chart_with, found_on, inspect_next, wear_since
from yarvel.workshop.dockets.records import Docket

RULES = HouseRules()


@pytest.mark.parametrize(
    ("found", "work"),
    [
        (ClawFound(SOUND), LEAVE),
        (ClawFound(BENT), TIGHTEN),
        (ClawFound(CRACKED), NEW_CLAW),
        (ClawFound(MISSING), NEW_CLAW),
        (ClawFound(WORN_TIP, tip=0.38), RE_TIP),
        (ClawFound(WORN_TIP, tip=0.5), LEAVE),
        (ClawFound(WORN_TIP), RE_TIP),
        (ClawFound(THIN_SIDE, behind=0.45), NEW_CLAW),
        (ClawFound(THIN_SIDE, behind=0.55), LEAVE),
        (ClawFound(SOUND, behind=0.3), NEW_CLAW),
        (ClawFound(NEIGHBOUR, tip=0.2), RE_TIP),
        (ClawFound(THIN_SIDE), NEW_CLAW),
    ],
)
def test_what_a_claw_of_one_millimetre_calls_for(found: ClawFound, work: str) -> None:
    """Common practice: re-tip under a third of the width or 0.4; cut past half it fails sideways."""
    assert judge_claw(found, 1.0, RULES).work == work


@given(st.sampled_from(sorted(FINDINGS)), st.floats(0.5, 1.6), st.floats(0.05, 1.5), st.floats(0.05, 1.5))
def test_less_metal_never_calls_for_less(finding: str, width: float, tip: float, behind: float) -> None:
    more = judge_claw(ClawFound(finding, width, tip, behind), 1.0, RULES)
    less = judge_claw(ClawFound(finding, width, tip * 0.7, behind * 0.7), 1.0, RULES)
    assert tuple(WORK).index(less.work) >= tuple(WORK).index(more.work) and less.reason


def test_the_least_tip_is_a_third_or_the_house_s_least() -> None:
    assert least_tip_mm(0.9, RULES) == 0.4 and least_tip_mm(1.5, RULES) == pytest.approx(0.5)


@given(st.integers(14, 4000), st.floats(0.3, 1.2), st.floats(0, 0.3))
def test_wear_is_what_was_lost_over_the_years(days: int, tip: float, lost: float) -> None:
    start = date(2030, 1, 1)
    rate = wear_mm_a_year(start, tip, start + timedelta(days=days), tip - lost)
    assert rate == pytest.approx(lost / (days / 365.25))
    assert wear_mm_a_year(start, tip, start + timedelta(days=3), tip) is None


@given(st.floats(0.41, 1.2), st.floats(0.01, 0.5))
def test_a_head_is_looked_at_before_its_tip_is_gone(tip: float, wear: float) -> None:
    today = date(2031, 3, 1)
    following = next_inspection(today, tip, 0.4, wear, RULES)
    gone = today + timedelta(days=(tip - 0.4) / wear * 365.25)
    assert today < following <= today + timedelta(days=366)
    assert following <= max(gone, today + timedelta(days=1))


def found(*claws: ClawFound) -> tuple[ClawFound, ...]:
    return (*claws, *[ClawFound()] * (4 - len(claws)))


def test_a_head_too_small_is_replaced_whatever_its_claws(planned: Callable[..., Plan]) -> None:
    """Handbook case: a 5.9 stone in a head made for 5.5, w 0.9: ρ ≈ 0.55, overcut."""
    made = planned(
        samples=0,
        stone={"diameters_mm": [5.9], "depth_mm": None},
        head={"style": "bought", "made_for_mm": 5.5, "claw_mm": 0.9},
    )
    repair = judge_head(made, found(), RULES)
    assert (repair.verdict, repair.cause) == (REPLACE, TOO_SMALL) and "0.55" in repair.reason


@pytest.mark.parametrize(
    ("claws", "verdict", "cause", "first"),
    [
        (found(ClawFound(WORN_TIP, tip=0.3)), MEND, WORN, "Re-tip"),
        (found(ClawFound(BENT)), MEND, KNOCKED, "Tighten"),
        (found(ClawFound(CRACKED)), MEND, KNOCKED, "New claws"),
        (found(*[ClawFound(WORN_TIP, tip=0.3)] * 3), REPLACE, WORN, "New head from the drawer"),
        (found(ClawFound(NEIGHBOUR, tip=0.3), ClawFound(NEIGHBOUR, tip=0.35)), MEND, NEIGHBOUR_BAND, "Re-tip"),
        (found(ClawFound(THIN_SIDE, behind=0.3), ClawFound(THIN_SIDE, behind=0.3)), MEND, TOO_SMALL, "New claws"),
    ],
)
def test_heads_by_their_claws(
    claws: tuple[ClawFound, ...], verdict: str, cause: str, first: str, planned: Callable[..., Plan]
) -> None:
    repair = judge_head(planned(samples=0), claws, RULES)
    assert (repair.verdict, repair.cause) == (verdict, cause)
    assert ways_out(planned(samples=0), claws, RULES)[0].name == first
    assert "spinel" in repair.before_heat


def test_a_way_out_costs_its_minutes_and_its_metal(planned: Callable[..., Plan]) -> None:
    rules = HouseRules(hour_rate=90, custom=WorkshopData(alloys=(("18k-yellow", "price_per_g", 70.0),)))
    made = planned(samples=0, house=rules)
    way = ways_out(made, found(ClawFound(MISSING)), rules)[0]
    assert way.key == "new-claws" and way.priced and way.heat and way.minutes > 30
    assert way.cost == pytest.approx(way.minutes / 60 * 90 + way.metal_g * 70)
    assert weighed(made)[FigureKey("head.mass")] / 10 < way.metal_g < weighed(made)[FigureKey("head.mass")] / 2, (
        "about one claw of four"
    )
    assert not ways_out(planned(samples=0), found(ClawFound(MISSING)), RULES)[0].priced


def docket(number: str, seen: date, *tips: float) -> Docket:
    chart = chart_with({}, tuple(ClawFound(WORN_TIP, tip=tip) for tip in tips), seen)
    at = datetime(seen.year, seen.month, seen.day)
    return Docket(
        id=1,
        number=number,
        customer="",
        item="",
        promised_on=None,
        state="taken in",
        job_document={},
        drafts={},
        ticks=(),
        version=1,
        created_at=at,
        updated_at=at,
        claw_chart=chart,
    )


def test_the_same_ring_coming_back_tells_how_fast_it_wears() -> None:
    first = docket("29-0007", date(2029, 4, 1), 0.9, 0.9, 0.85, 0.9)
    again = docket("31-0003", date(2031, 4, 1), 0.7, 0.8, 0.55, 0.9)
    assert wear_since(again, [first], 4) == pytest.approx(0.15, rel=1e-3)
    following = inspect_next(again, [first], 4, 1.0, RULES)
    assert following is not None and date(2031, 8, 1) < following < date(2031, 11, 1)
    assert wear_since(first, [], 4) is None and inspect_next(docket("1", date(2031, 1, 1)), [], 4, 1.0, RULES) is None
    assert found_on(again, 6)[4:] == (ClawFound(), ClawFound())
