"""Heads for stones that are not round: Vs, pairs, cast claws, strips, rings; against Shapely and closed forms."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pytest
import shapely
from hypothesis import assume, given
from hypothesis import strategies as st
from manifold3d import Manifold, OpType
from shapely import Polygon

from tests.strategies import jobs
from yarvel.figures.errors import JobError
from yarvel.figures.figure import FigureKey
from yarvel.figures.rules import HouseRules
from yarvel.heads import notches, vees
from yarvel.heads.shape import reach_at, uncut
from yarvel.heads.styles import STYLES, styles_for
from yarvel.planning.bodies import bodies
from yarvel.planning.job import Job
from yarvel.planning.plan import Plan, plan
from yarvel.planning.weighing import weighed
from yarvel.route.balance import balances, taken
from yarvel.route.running import route_of
from yarvel.solids.measure import volume_mm3
from yarvel.stones.cuts import CUTS

RULES = HouseRules()
OVAL = {"cut": "oval", "diameters_mm": None, "length_mm": 8.6, "width_mm": 6.3, "depth_mm": 3.9}
PRINCESS = {"cut": "princess", "diameters_mm": None, "length_mm": 5.4, "width_mm": 5.4, "depth_mm": 3.8}
DOME = {"cut": "oval-cabochon", "diameters_mm": None, "length_mm": 12.0, "width_mm": 9.0, "depth_mm": 4.4}


def test_rings_of_an_oval_are_shapelys_offset(planned: Callable[..., Plan]) -> None:
    made = planned(stone=OVAL, head={"claws": None})
    inset = made[FigureKey("head.ring_hidden_by")]
    edge = shapely.Polygon(made.shape.outline.points)
    outer = edge.buffer(-inset)
    left, low, right, high = outer.bounds
    assert made[FigureKey("head.upper_ring_outer")] == pytest.approx(right - left, rel=1e-3)
    assert made[FigureKey("head.upper_ring_long")] == pytest.approx(high - low, rel=1e-3)
    middle = edge.buffer(-inset - made[FigureKey("head.ring_wire")] / 2)
    assert made[FigureKey("head.upper_ring_wire_length")] == pytest.approx(middle.length, rel=2e-3)
    assert made[FigureKey("head.upper_ring_former")] == pytest.approx(
        made[FigureKey("head.upper_ring_wire_length")] / np.pi - made[FigureKey("head.ring_wire")]
    )


def test_a_strip_round_a_pear_is_the_mid_line(planned: Callable[..., Plan]) -> None:
    made = planned(stone={**OVAL, "cut": "pear"}, head={"style": "tube", "claw_mm": None, "notch_ratio": None})
    lip = (made[FigureKey("head.tube_outer")] - 6.3) / 2
    middle = shapely.Polygon(made.shape.outline.points).buffer(
        lip - made[FigureKey("head.wall")] / 2, join_style="mitre", mitre_limit=20
    )
    assert made[FigureKey("head.strip_length")] == pytest.approx(middle.length, rel=3e-3)
    assert next(joint.group for joint in made.joints) in ("strip-seam", "shank-seam")


def test_openings_and_outsides_both_ways(planned: Callable[..., Plan]) -> None:
    made = planned(stone=OVAL, head={"claws": None, "claw_mm": 1.0, "notch_ratio": 0.3})
    assert made[FigureKey("head.inner_opening")] == pytest.approx(6.3 - 0.6)
    assert made[FigureKey("head.opening_long")] == pytest.approx(8.6 - 0.6)
    assert made[FigureKey("head.outer_long")] - made[FigureKey("head.opening_long")] == pytest.approx(2.0)


def test_turning_the_stone_swaps_what_lies_along_the_band(planned: Callable[..., Plan]) -> None:
    along = weighed(planned(stone=OVAL, head={"claws": None, "stone_axis": "along-band"}))
    across = weighed(planned(stone=OVAL, head={"claws": None, "stone_axis": "along-finger"}))
    assert along[FigureKey("head.width_at_foot")] - across[FigureKey("head.width_at_foot")] == pytest.approx(
        2.3, abs=0.35
    )
    assert along[FigureKey("head.mass")] == pytest.approx(across[FigureKey("head.mass")], rel=0.05)


def test_a_v_over_a_right_corner(planned: Callable[..., Plan]) -> None:
    """Geometry of a right angle: what lies s square to the sides lies s·√2 off along the bisector."""
    made = planned(stone=PRINCESS, head={"style": "v-claw", "claw_mm": 1.0, "notch_ratio": 0.33, "claws": None})
    assert made[FigureKey("head.v_angle")] == pytest.approx(90)
    assert made[FigureKey("head.v_apex")] == pytest.approx(0.33 * np.sqrt(2))
    assert made[FigureKey("head.left_behind_relief")] == pytest.approx(0.67 * np.sqrt(2) - 0.15)
    assert made[FigureKey("head.keel_cut")] == pytest.approx(
        0.33 * np.sqrt(2) * made[FigureKey("stone.pavilion_depth")] / (5.4 / np.sqrt(2))
    )
    assert made[FigureKey("head.guide_line")] == pytest.approx(0.25)
    assert made[FigureKey("head.open_arc_one_lost")] == pytest.approx(90)


def test_both_schools_of_v_and_what_the_tabs_cost(planned: Callable[..., Plan]) -> None:
    fold, tabs = (
        planned(stone=PRINCESS, head={"style": "v-claw", "claw_mm": 1.0, "claws": None, "school": school})
        for school in ("fold", "tabs")
    )
    assert FigureKey("head.tab_strength") not in fold.figures
    assert tabs[FigureKey("head.tab_strength")] == pytest.approx(1.0 / (1.5 * np.cos(np.radians(45))))
    assert tabs[FigureKey("head.tab_strength")] < 1


def test_a_relief_that_would_show_is_called_and_its_remedy_helps(planned: Callable[..., Plan]) -> None:
    """Common practice: at least 0.3 mm stays outside the corner's relief."""
    thin = planned(stone=PRINCESS, head={"style": "v-claw", "claw_mm": 0.45, "notch_ratio": 0.4, "claws": None})
    call = next(call for call in thin.diagnostics if call.code == "corner-touches-metal")
    assert call.level == "caution" and call.limit == 0.3 and call.remedy is not None
    mended = planned(stone=PRINCESS, head={"style": "v-claw", "notch_ratio": 0.4, "claws": None, **call.remedy["head"]})
    assert {call.code: call.level for call in mended.diagnostics}["corner-touches-metal"] == "ok"


def test_pairs_stand_beside_the_corners_not_on_them(planned: Callable[..., Plan]) -> None:
    made = planned(
        stone={**OVAL, "cut": "emerald", "corner_mm": 1.7},
        head={"style": "paired-corner", "claw_mm": 0.8, "claws": None},
    )
    assert len(made.shape.places) == 8
    assert {round(place.normal_deg) % 90 for place in made.shape.places} == {0}
    assert made[FigureKey("head.corner_free")] > 0.8


def test_a_cast_claw_is_curved_to_the_dome(planned: Callable[..., Plan]) -> None:
    """Radius of curvature of an ellipse by the textbook's formula."""
    made = planned(stone=DOME, head={"style": "cast-claw", "claws": None, "claw_mm": 1.2, "metal": "sterling-silver"})
    a, b, cosine = 4.5, made[FigureKey("stone.crown_height")], 0.76
    assert made[FigureKey("head.dome_radius")] == pytest.approx(
        (a**2 * (1 - cosine**2) + b**2 * cosine**2) ** 1.5 / (a * b)
    )
    assert made[FigureKey("head.least_bend_radius")] == pytest.approx(0.3 * (1 / 0.41 - 1))
    assert {call.code for call in made.diagnostics} >= {"bend-to-dome", "anneal-before-bending"}
    assert FigureKey("stone.pavilion_angle") not in made.figures and made[FigureKey("stone.pavilion_depth")] == 0


@given(jobs())
def test_every_possible_head_is_whole(job: Job) -> None:
    """No number missing or endless, as many places as the plan tells."""
    made = plan(job, RULES, samples=0)
    assert all(np.isfinite(figure.value) for figure in made.figures.values())
    assert len(made.claw_azimuths_deg) == len(made.shape.places)
    assert all(np.isfinite(profile).all() for profile in made.shape.profiles)


@given(jobs(), st.sampled_from([1e-7, -1e-7]))
def test_calls_are_stable_under_tiny_changes_away_from_limits(job: Job, change: float) -> None:
    from dataclasses import replace

    before = plan(job, RULES, samples=0)
    stone = job.stone
    nudged = (
        replace(stone, diameters_mm=tuple(value + change for value in stone.diameters_mm))
        if stone.diameters_mm
        else replace(stone, width_mm=(stone.width_mm or 0) + change)
    )
    after = {call.code: call for call in plan(replace(job, stone=nudged), RULES, samples=0).diagnostics}
    for call in before.diagnostics:
        near = call.figure is not None and call.limit is not None and abs(call.figure - call.limit) < 1e-4
        if not near and call.code not in ("bur-between-sizes", "notch-too-deep"):
            assert after[call.code].level == call.level, call.code


@pytest.mark.parametrize("key", CUTS)
def test_each_cut_has_styles_and_each_style_names_what_it_suits(key: str) -> None:
    assert {"wire-basket", "tube"} <= set(styles_for(CUTS[key]))
    assert set(styles_for(CUTS[key])) <= set(STYLES)


@given(st.floats(25, 150), st.floats(0.8, 4), st.floats(0.3, 1.2))
def test_a_v_fits_into_the_square_wire_that_it_is_filed_from(angle: float, leg: float, metal: float) -> None:
    """Held against Shapely: the V of two legs lies in the square, and in none that is smaller and stands the same
    way."""
    assume(metal <= leg * np.tan(np.radians(angle) / 2))  # else its legs are one block, and the square only larger
    turned = np.radians(angle)
    way, inwards = np.array([np.cos(turned), np.sin(turned)]), np.array([np.sin(turned), -np.cos(turned)])
    between = Polygon([(0, 0), (9 * leg, 0), 9 * leg * way + (9 * leg, 0), 9 * leg * way])
    one = Polygon([(0, 0), (leg, 0), (leg, metal), (0, metal)]).intersection(between)
    other = Polygon([np.zeros(2), leg * way, leg * way + metal * inwards, metal * inwards]).intersection(between)
    west, south, east, north = one.union(other).bounds
    found = float(vees.solid_mm(leg, metal, angle))
    assert south == pytest.approx(0, abs=1e-9)
    assert found >= max(east - west, north) - 1e-9
    assert found <= max(leg + max(-leg * np.cos(turned), 0), east - west, north) + 1e-9


def test_the_strip_of_a_v_is_the_bodys_section_and_its_score(planned: Callable[..., Plan]) -> None:
    """The V's section of its closed body, below the seat, is its two legs with a mitred corner; scoring takes the
    triangle inside the fold out of the strip: w²/tan(γ/2)."""
    made = planned(stone=PRINCESS, head={"style": "v-claw", "claw_mm": 1.0, "claws": None}, samples=0)
    wide, leg, seat = made[vees.flat_width_mm], made[vees.leg_mm], made[notches.SEAT_DEPTH]
    assert wide == pytest.approx(2 * (leg + 1.0 - seat)), "a right angle has a mitre as long as it is thick"
    assert made.shape.vees is not None
    inner, outer = -seat, 1.0 - seat
    place = made.shape.vees.places[0]
    edge = made.shape.vees.stations(place, np.array([inner, outer]), np.zeros(2))
    section = Polygon([*edge[:, 0], *edge[::-1, 1]]).area
    assert section == pytest.approx(wide * 1.0 - 1.0 * 1.0, rel=0.002)


@pytest.mark.parametrize("fit", ["inset", "on-flat"])
@pytest.mark.parametrize("rings", [1, 2])
def test_a_v_that_is_thin_low_and_thick_high(rings: int, fit: str, planned: Callable[..., Plan]) -> None:
    """By the bodies: level sections of a V are as thick at the foot as asked, whole at the girdle; the figures of foot
    and gap are those of the thinned V, and what is filed off it is gone from the head."""
    head = {"style": "v-claw", "claw_mm": 1.0, "claws": None, "v_from": "solid", "rings": rings, "notch_ratio": 0.3}
    made, full = (
        planned(stone=PRINCESS, head={**head, **more}, fit={"method": fit}, samples=0)
        for more in ({"v_foot_mm": 0.6}, {})
    )
    made_vees = made.shape.vees
    assert made_vees is not None and made[FigureKey("head.v_foot")] == 0.6
    for depth in (0.01, 0.5, 1.0):
        level = np.array([-depth * made.shape.height_mm])
        inner, outer = (float(side[0]) for side in reach_at(uncut(made_vees.profile), level))
        assert outer - inner == pytest.approx(1.0 - 0.4 * depth, abs=1e-3)
    foot, height = made[FigureKey("head.width_at_foot")], -made.shape.height_mm
    built = bodies(made)
    box = Manifold.batch_boolean([*built.claws, *built.rings], OpType.Add).slice(height + 1e-4).bounds()
    assert foot == pytest.approx(box[2] - box[0], abs=0.02) and foot <= full[FigureKey("head.width_at_foot")]
    head_mm3 = [volume_mm3(one.parts["head"]) for one in (built, bodies(full))]
    assert head_mm3[0] < head_mm3[1], "less metal"
    route = route_of(weighed(made))
    text = next(step.operation.text for step in route.steps if step.operation.key == "make-v-claw-claws")
    assert "1.00 mm thick at the top and 0.60 mm at the foot" in text
    assert abs(balances(route)[made.job.head.metal].open) < 0.01


def test_a_v_thicker_at_its_foot_is_refused(planned: Callable[..., Plan]) -> None:
    head = {"style": "v-claw", "claw_mm": 0.8, "v_from": "solid", "v_foot_mm": 0.9}
    with pytest.raises(JobError, match="thicker at the foot"):
        planned(stone=PRINCESS, head=head, samples=0)


def test_a_v_from_solid_has_no_fold_to_solder_and_more_filings(planned: Callable[..., Plan]) -> None:
    """Common practice: a V filed out of square wire has no seam in its corner; what is filed away comes of the wire."""
    head = {"style": "v-claw", "claw_mm": 1.0, "claws": None}
    folded, solid = (
        weighed(planned(stone=PRINCESS, head={**head, "v_from": way}, samples=0)) for way in ("folded", "solid")
    )
    assert [joint.group for joint in folded.joints].count("v-folds") == 4
    assert "v-folds" not in {joint.group for joint in solid.joints}
    ways = {name: route_of(made) for name, made in (("folded", folded), ("solid", solid))}
    keys = {step.operation.key for step in ways["solid"].steps}
    assert "make-v-claw-claws" in keys and "solder-folds" not in keys
    metal = solid.job.head.metal
    held = {name: balances(route)[metal] for name, route in ways.items()}
    assert held["solid"].filings_g > held["folded"].filings_g and abs(held["solid"].open) < 0.01
    assert held["solid"].finished_g == pytest.approx(held["folded"].finished_g, abs=0.05), "the same V in the end"
    wire = next(lot for lot in taken(ways["solid"]) if lot.piece == "Vs")
    assert wire.across_mm == wire.down_mm == pytest.approx(1.5 + 0.67) and wire.count == 4
