"""Fits: the handbook's check values, geometry by other means, and what must hold at any setting."""

from __future__ import annotations

import math
from collections.abc import Callable

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from yarvel.figures.figure import FigureKey
from yarvel.planning.plan import Plan
from yarvel.planning.weighing import weighed
from yarvel.shanks import blanks, inset, on_flat
from yarvel.shanks.sizes import inside_diameter_mm


@pytest.mark.parametrize(("thickness", "length"), [(2.0, 59.4), (2.5, 61.0)])
def test_blank_for_m_and_a_half(thickness: float, length: float) -> None:
    """Common practice: "about 60"."""
    blank = blanks.blank_length_mm(inside_diameter_mm("UK", "M½"), thickness, 0.0)
    assert float(blank) == pytest.approx(length, abs=0.05)


def test_a_flat_of_four_on_a_radius_of_ten_forty_six() -> None:
    """Handbook check value: it costs 0.19."""
    assert float(on_flat.flat_depth_mm(10.46, 4.0)) == pytest.approx(0.19, abs=0.005)


def test_the_gap_of_a_collet_of_seventeen_degrees() -> None:
    """Handbook check value: 4.06 inside is 4.66 two millimetres up; hollowed to 2.03 each side at the most, and sawn at
    √(b² − w²)/2 in a band 2 wide (handbook section 10), where its edges meet the round foot."""
    widening = 2 * 2.0 * math.tan(math.radians(17 / 2))
    assert float(inset.gap_outside_mm(4.06, widening)) == pytest.approx(4.66, abs=0.005)
    assert float(inset.hollow_limit_mm(4.06)) == 2.03
    assert float(inset.mark_round_mm(4.06, 2.0)) == pytest.approx(math.sqrt(2.03**2 - 1.0))


def test_a_basket_of_half_that_angle_widens_the_same(planned: Callable[..., Plan]) -> None:
    plan = planned(head={"splay_deg": 8.5, "orientation": "in-line"}, fit={"method": "inset"})
    widening = 2 * 2.0 * math.tan(math.radians(8.5))
    assert plan[FigureKey("shank.gap_outside")] - plan[FigureKey("shank.gap_inside")] == pytest.approx(widening)


@given(st.floats(45, 68), st.floats(1.0, 3.5), st.floats(3, 9), st.floats(0, 20))
def test_inset_removes_exactly_what_it_measures(
    planned: Callable[..., Plan], size: float, thickness: float, stone: float, splay: float
) -> None:
    plan = planned(
        samples=0,
        stone={"diameters_mm": [stone], "depth_mm": None},
        fit={"method": "inset"},
        head={"claw_mm": None, "splay_deg": splay},
        shank={"size": {"value": f"{size:.1f}"}, "thickness_mm": thickness},
    )
    assert plan[FigureKey("shank.blank_length")] == plan[FigureKey("shank.full_length")], (
        "the ring is closed whole, then sawn"
    )
    if FigureKey("shank.removed_arc_deg") not in plan.figures:
        assert plan[FigureKey("shank.beside_head")] >= 0, "a band wider than the head is bored, not sawn"
        return
    chord = (
        2
        * plan[FigureKey("shank.inside_diameter")]
        / 2
        * math.sin(math.radians(plan[FigureKey("shank.removed_arc_deg")] / 2))
    )
    assert chord == pytest.approx(plan[FigureKey("shank.gap_inside")])
    assert plan[FigureKey("shank.size_if_sprung")] == pytest.approx(
        plan[FigureKey("shank.inside_circumference")] + chord
    )
    assert plan[FigureKey("shank.hollow_limit")] * 2 == plan[FigureKey("shank.gap_inside")]
    assert 0 <= plan[FigureKey("shank.mark_half")] <= plan[FigureKey("shank.hollow_limit")]


@given(st.floats(45, 68), st.floats(2, 12), st.sampled_from(["inset", "on-flat"]))
def test_lowest_just_clears_culet_or_gallery(
    planned: Callable[..., Plan], size: float, stone: float, method: str
) -> None:
    plan = planned(
        samples=0,
        stone={"diameters_mm": [stone], "depth_mm": None},
        fit={"method": method},
        head={"claw_mm": None},
        shank={"size": {"value": f"{size:.1f}"}},
    )
    assert plan[FigureKey("seat.culet_clearance")] >= 0.3 - 1e-9
    gallery = 0.5 + 2.5 * plan[FigureKey("head.ring_wire")]
    by_culet = plan[FigureKey("seat.culet_clearance")] == pytest.approx(0.3)
    by_gallery = plan[FigureKey("head.height")] == pytest.approx(gallery)
    assert by_culet or by_gallery


@given(st.floats(4.5, 12), st.sampled_from(["inset", "on-flat"]), st.sampled_from(["in-line", "square"]))
def test_a_height_asked_for_is_the_height_made(
    planned: Callable[..., Plan], height: float, method: str, turned: str
) -> None:
    plan = planned(samples=0, head={"orientation": turned}, fit={"method": method, "height": height})
    assert plan[FigureKey("seat.plane_above_finger")] == pytest.approx(height, abs=1e-6)


def test_the_foot_on_the_finger_side_follows_its_curve(planned: Callable[..., Plan]) -> None:
    """A circle through the foot's edges and the finger's top, by coordinates."""
    plan = planned(fit={"method": "inset"})
    radius, half = plan[FigureKey("shank.inside_diameter")] / 2, plan[FigureKey("head.width_at_foot")] / 2
    edge = math.sqrt(radius**2 - half**2)
    assert plan[FigureKey("seat.finger_sagitta")] == pytest.approx(radius - edge)
    assert plan[FigureKey("head.height")] == pytest.approx(plan[FigureKey("seat.plane_above_finger")] + radius - edge)
    outer = radius + 2.0
    assert plan[FigureKey("shank.band_at_gap")] == pytest.approx(
        math.sqrt(outer**2 - (plan[FigureKey("shank.gap_outside")] / 2) ** 2) - radius
    )


@pytest.mark.parametrize(
    ("profile", "share"),
    [
        ("flat", 1.0),
        ("square", 1.0),
        ("half-round", 0.2 + 0.8 * math.pi / 4),
        ("court", 0.65 + 0.35 * math.pi / 4),
    ],
)
def test_mass_of_a_band_is_section_times_length(profile: str, share: float, planned: Callable[..., Plan]) -> None:
    """Pappus for the whole ring, less what the flat takes: a lens that is small beside it."""
    shank = {"profile": profile, "metal": "sterling-silver", "width_mm": 2.8}
    plan = weighed(planned(shank=shank, fit={"method": "on-flat"}))
    whole = 2.8 * 2.0 * share * plan[FigureKey("shank.blank_length")] * 10.36 / 1000
    assert plan[FigureKey("shank.mass")] < whole * 1.001
    assert plan[FigureKey("shank.mass")] == pytest.approx(whole, rel=0.06)


@given(st.floats(5.0, 20), st.floats(0.1, 30))
def test_a_wider_gap_takes_a_longer_arc(radius: float, width: float) -> None:
    assume(width < 1.9 * radius)
    arc = float(blanks.gap_arc_mm(radius, width))
    assert width <= arc <= math.pi * radius
    assert float(blanks.gap_arc_mm(radius, width * 1.01)) > arc
