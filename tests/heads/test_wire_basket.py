"""The wire basket: geometry, common practice, and what must hold at any setting."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarvel.figures.figure import FigureKey, Ledger
from yarvel.figures.rules import HouseRules
from yarvel.heads import basket, claws, notches, rings, wire_basket
from yarvel.heads.places import Place, numbers
from yarvel.heads.style import INNER_OPENING, HeadChoice, StoneFacts
from yarvel.planning.plan import Plan
from yarvel.stones.cut import Girth, outline_of
from yarvel.stones.round_brilliant import CUT
from yarvel.stones.stone import Stone, circumference_mm


def test_opening_and_outside_by_the_handbooks_formulas(planned: Callable[..., Plan]) -> None:
    plan = planned(head={"claw_mm": 0.95, "notch_ratio": 0.35}, stone={"diameters_mm": [7.14]})
    assert plan[FigureKey("head.inner_opening")] == pytest.approx(7.14 - 2 * 0.35 * 0.95)
    assert plan[FigureKey("head.outer_over_claws")] == pytest.approx(7.14 + 2 * 0.95 * 0.65)
    assert plan[FigureKey("head.outer_over_claws")] - plan[FigureKey("head.inner_opening")] == pytest.approx(2 * 0.95)


@pytest.mark.parametrize(("made_for", "ratio"), [(6.0, 0.27), (5.5, 0.55)])
def test_a_stone_of_five_nine_in_heads_made_for_other_stones(made_for: float, ratio: float) -> None:
    """Common practice: in a head for 6.0 (wire 0.9, notch 0.33) it sits; in one for 5.5 it is overcut."""
    opening = notches.claw_opening_mm(made_for, 0.33, 0.9)
    assert float(notches.notch_ratio(5.9, opening, 0.9)) == pytest.approx(ratio, abs=0.006)


@pytest.mark.parametrize(
    ("stone", "low", "high"),
    [(2.5, 0.7, 0.7), (4.0, 0.8, 0.8), (5.0, 0.9, 1.0), (7.0, 1.0, 1.1), (9.0, 1.1, 1.2), (12.0, 1.0, 1.2)],
)
def test_claw_wire_by_stone_size(stone: float, low: float, high: float, rules: HouseRules) -> None:
    """Common practice for four claws, no source."""
    assert low <= claws.usual_wire_mm(stone, 4, rules) <= high


def test_four_claws_want_chunkier_wire_than_six(rules: HouseRules) -> None:
    assert claws.usual_wire_mm(7.0, 4, rules) > claws.usual_wire_mm(7.0, 6, rules)


def test_four_claws_and_two_rings_make_ten_joints(planned: Callable[..., Plan]) -> None:
    """Common practice: N × rings, and one seam a ring."""
    assert len(planned(shank=None, fit=None).joints) == 10
    assert len(planned(shank=None, fit=None, head={"claws": 6}).joints) == 14


def test_a_u_piece_for_a_six_millimetre_stone_is_about_forty(planned: Callable[..., Plan]) -> None:
    """Common practice, no source."""
    plan = planned(stone={"diameters_mm": [6.0], "depth_mm": 3.66}, head={"claw_mm": None})
    assert 36 <= plan[FigureKey("head.u_piece_length")] <= 44


@pytest.mark.parametrize("diameter", [2.0, 4.0, 6.0, 9.0, 14.0])
@pytest.mark.parametrize("count", [3, 4, 6, 8])
def test_by_the_house_rules_the_upper_ring_hides(diameter: float, count: int, planned: Callable[..., Plan]) -> None:
    plan = planned(
        stone={"diameters_mm": [diameter], "depth_mm": None},
        head={"claws": count, "claw_mm": None, "notch_ratio": None},
    )
    assert plan[FigureKey("head.ring_hidden_by")] >= 0.15


def test_ring_wire_is_the_mid_line(planned: Callable[..., Plan]) -> None:
    plan = planned()
    assert plan[FigureKey("head.upper_ring_wire_length")] == pytest.approx(
        np.pi * (plan[FigureKey("head.upper_ring_outer")] - plan[FigureKey("head.ring_wire")])
    )


def test_azimuths_of_both_schools() -> None:
    assert claws.azimuths_deg(4, "in-line") == (0, 90, 180, 270)
    assert claws.azimuths_deg(4, "square") == (45, 135, 225, 315)
    assert claws.azimuths_deg(3, "square") == (60, 180, 300)


@pytest.mark.parametrize(("azimuth", "clock"), [(90, "12"), (0, "3"), (270, "6"), (180, "9"), (47, "1"), (60, "1")])
def test_directions_by_the_hour(azimuth: float, clock: str) -> None:
    assert claws.towards(azimuth) == f"{clock} o'clock"


@pytest.mark.parametrize(
    ("azimuths", "called"),
    [((0, 90, 180, 270), (2, 1, 4, 3)), ((45, 135, 225, 315), (1, 4, 3, 2)), ((90, 210, 330), (1, 3, 2))],
)
def test_claws_are_numbered_clockwise_from_twelve(azimuths: tuple[float, ...], called: tuple[int, ...]) -> None:
    """Clockwise as the plan view shows it; a claw at 12 is 1; stored places keep their order."""
    places = [Place(np.cos(np.radians(az)), np.sin(np.radians(az)), az) for az in azimuths]
    assert numbers(places) == called


def test_open_arcs(planned: Callable[..., Plan]) -> None:
    """Geometry: four less one leaves 180°, six less one leaves 120°."""
    assert planned()[FigureKey("head.open_arc_one_lost")] == 180
    assert planned(head={"claws": 6})[FigureKey("head.open_arc_one_lost")] == 120


@given(st.floats(2, 15), st.floats(0.01, 3), st.floats(0.05, 0.6), st.floats(0.4, 0.65))
def test_a_larger_stone_never_gets_a_smaller_opening(
    planned: Callable[..., Plan], diameter: float, more: float, ratio: float, claw: float
) -> None:
    head = {"notch_ratio": ratio, "claw_mm": claw}
    small, large = (
        planned(samples=0, stone={"diameters_mm": [size], "depth_mm": None}, head=head)
        for size in (diameter, diameter + more)
    )
    for key in (
        INNER_OPENING,
        notches.outer_over_claws_mm,
        rings.upper_ring_outer_mm,
        claws.claw_length_mm,
    ):
        assert large[key] >= small[key], key


@given(st.floats(1.5, 18), st.floats(0, 30), st.floats(2, 20))
def test_the_foot_never_closes_up(diameter: float, splay: float, height: float) -> None:
    radius = diameter / 2
    eased = float(basket.splay_deg(splay, 0.45, radius, height))
    assert eased <= splay
    assert radius - height * np.tan(np.radians(eased)) >= 0.45 * radius - 1e-9


def test_arrays_and_scalars_agree_through_the_whole_head(rules: HouseRules) -> None:
    sizes = np.array([4.0, 6.5, 9.0])

    def head_of(diameter: object) -> dict[str, object]:
        stone = Stone(diameter, diameter, 0.61 * diameter, 0.15 * diameter, 0.03 * diameter, 0.43 * diameter, 0.57)
        ledger = Ledger()
        ledger.enter(circumference_mm, diameter)
        facts = StoneFacts(stone, CUT, outline_of(CUT, Girth(6.5, 6.5)), False, 1.13, 34.5, 6.5)
        from yarvel.metals.alloys import ALLOYS

        head = wire_basket.begin(ledger, HeadChoice("wire-basket", 4, "square"), facts, rules)
        head.enter(ledger, 0.45 * diameter + 0.5, ALLOYS["sterling-silver"])
        return {key: entry.value for key, entry in ledger.entries.items()}

    many = head_of(sizes)
    for place, size in enumerate(sizes.tolist()):
        for key, value in head_of(size).items():
            assert np.broadcast_to(many[key], 3)[place] == pytest.approx(value), key
