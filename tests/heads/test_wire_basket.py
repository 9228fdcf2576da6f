"""The wire basket: geometry, common practice, and what must hold at any setting."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from manifold3d import CrossSection, OpType

from tests.conftest import BASE
from yarvel.exchange.job_file import checked_job
from yarvel.figures.errors import JobError
from yarvel.figures.figure import FigureKey, Ledger
from yarvel.figures.rules import HouseRules, with_drawer
from yarvel.heads import basket, claws, notches, rings, style, wire_basket
from yarvel.heads.places import ClawPosition, numbers
from yarvel.heads.style import INNER_OPENING, HeadChoice, StoneFacts
from yarvel.planning.bodies import bodies
from yarvel.planning.job import merge_patch
from yarvel.planning.plan import Plan, plan
from yarvel.planning.weighing import weighed
from yarvel.route.balance import balances
from yarvel.route.running import route_of
from yarvel.shanks import basket_point, inset
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
    places = [ClawPosition(np.cos(np.radians(az)), np.sin(np.radians(az)), az) for az in azimuths]
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
        stone = Stone(
            length_mm=diameter,
            width_mm=diameter,
            depth_mm=0.61 * diameter,
            crown_height_mm=0.15 * diameter,
            girdle_mm=0.03 * diameter,
            pavilion_depth_mm=0.43 * diameter,
            table_share=0.57,
        )
        ledger = Ledger()
        ledger.enter(circumference_mm, diameter)
        facts = StoneFacts(
            stone=stone,
            cut=CUT,
            outline=outline_of(CUT, Girth(6.5, 6.5)),
            along_band=False,
            run=1.13,
            crown_angle_deg=34.5,
            nominal_diameter_mm=6.5,
        )
        from yarvel.metals.alloys import ALLOYS

        head = wire_basket.begin(ledger, HeadChoice(style="wire-basket", claws=4, orientation="square"), facts, rules)
        head.enter(ledger, 0.45 * diameter + 0.5, 0.45 * diameter + 0.5, ALLOYS["sterling-silver"])
        return {key: entry.value for key, entry in ledger.entries.items()}

    many = head_of(sizes)
    for place, size in enumerate(sizes.tolist()):
        for key, value in head_of(size).items():
            assert np.broadcast_to(many[key], 3)[place] == pytest.approx(value), key


@given(st.floats(1.5, 16), st.floats(0.0, 0.2), st.integers(3, 8), st.booleans())
def test_a_hair_more_stone_never_makes_a_step_more_wire(
    size: float, more: float, claws_wanted: int, soft: bool
) -> None:
    """Wire grows with the stone and by no more than one hole of 0.05, wherever the house's sizes change."""
    rules = HouseRules()
    small, large = (claws.usual_wire_mm(stone, claws_wanted, rules, soft=soft) for stone in (size, size + more))
    assert small <= large <= small + 0.05 + 1e-9 + 0.11 * more


def test_soft_metals_get_thicker_claws_and_wire_goes_through_the_plate(rules: HouseRules) -> None:
    """Platinum and 22k: never thinner (common practice, no source); the plate decides what can be drawn."""
    assert claws.usual_wire_mm(7.0, 4, rules, soft=True) > claws.usual_wire_mm(7.0, 4, rules)
    plate = with_drawer(rules, (), (0.8, 0.92, 1.03, 1.16))
    assert claws.usual_wire_mm(7.0, 4, plate) == 1.03 and claws.usual_wire_mm(12.0, 4, plate) == 1.16
    assert claws.through_plate_mm(2.0, plate) == 2.0, "no hole near: drawn elsewhere"


@pytest.mark.parametrize("claws_wanted", [4, 6])
def test_one_ring_has_a_joint_a_claw_and_a_seam(planned: Callable[..., Plan], claws_wanted: int) -> None:
    """Check piece C, common practice: four claws on one ring are four joints and a seam."""
    made = planned(samples=0, head={"claws": claws_wanted, "rings": 1})
    groups = Counter(joint.group for joint in made.joints)
    assert (groups["claws-to-ring"], groups["ring-seam"]) == (claws_wanted, 1)
    assert not {"upper-ring-seam", "lower-ring-seam", "claws-to-lower-ring"} & set(groups)
    assert not [key for key in made.figures if "lower_ring" in key.key]
    assert made.figures[rings.upper_ring_outer_mm].label == "Ring, outside"


def test_one_ring_sits_lower_where_the_gallery_decides(planned: Callable[..., Plan]) -> None:
    """A low dome: the second ring and its daylight are what makes the head high."""
    dome = {"cut": "round-cabochon", "diameters_mm": [5.2], "depth_mm": 2.0, "table_percent": None}
    one, two = (
        planned(samples=0, stone=dome, head={"style": "cast-claw", "claws": 4, "rings": count}) for count in (1, 2)
    )
    wire = two[rings.RING_WIRE]
    saved = two[style.height_mm] - one[style.height_mm]
    assert saved == pytest.approx(wire * (1 + HouseRules().rings_apart_share), abs=0.02)
    assert len(one.shape.rings) == 1 and one.shape.on_legs


def test_legs_beside_the_band_hold_nothing(planned: Callable[..., Plan]) -> None:
    """An inset on one ring: turned square its legs come down beside a narrow band; in line two of them meet its
    ends."""
    square = planned(
        samples=0,
        head={"claws": 4, "rings": 1, "orientation": "square"},
        fit={"method": "inset"},
        shank={"width_mm": 2},
    )
    call = next(call for call in square.diagnostics if call.code == "legs-beside-band")
    assert call.level == "stop" and call.remedy == {"head": {"orientation": "in-line"}}
    turned = planned(
        samples=0,
        head={"claws": 4, "rings": 1, "orientation": "in-line"},
        fit={"method": "inset"},
        shank={"width_mm": 2},
    )
    assert next(call.level for call in turned.diagnostics if call.code == "legs-beside-band") == "ok"
    assert turned[inset.MARK_HALF] == pytest.approx(turned[inset.gap_inside_mm] / 2), "ends are sawn straight"
    assert turned[inset.hollow_mm] == pytest.approx(0.0, abs=1e-9)


def test_a_sharp_cone_wants_a_hole_of_about_one() -> None:
    """Check piece M, common practice: legs of 6.0 to a sharp cone 1.0 deep, a hole of about 1 (never of a whole
    wire)."""
    angle = float(basket_point.point_angle_deg(6.0, 2.6))
    assert float(basket_point.hole_mm(1.0, angle)) == pytest.approx(0.96, abs=0.01)


@pytest.mark.parametrize("metal", [0.8, 0.6])
def test_a_v_that_covers_most_of_each_side_is_too_heavy(planned: Callable[..., Plan], metal: float) -> None:
    """Legs of 1.2 mm at both ends of a side of 4.1 cover 58 % of it; found by the trade too heavy."""
    stone = {"cut": "princess", "diameters_mm": None, "width_mm": 4.1, "length_mm": 4.15}
    made = planned(samples=0, stone=stone, head={"style": "v-claw", "claws": None, "claw_mm": metal})
    call = next(call for call in made.diagnostics if call.code == "v-too-heavy")
    assert call.figure == pytest.approx(0.585 if metal == 0.8 else 0.439, abs=0.002)
    assert call.level == ("caution" if metal == 0.8 else "ok")
    if call.remedy is not None:
        assert call.remedy == {"head": {"claw_mm": 0.6}}


@given(st.floats(3.6, 6.2))
def test_a_splay_that_is_offered_stands_in_the_slot(slot: float) -> None:
    """Check piece H, common practice: the splay is solved for the old slot."""
    document = {
        "format": "yarvel-job/1",
        "stone": {"cut": "round", "diameters_mm": [7.33]},
        "head": {"claws": 4, "claw_mm": 1.0, "metal": "18k-white"},
        "shank": {"size": {"system": "ISO", "value": "53"}, "width_mm": 2.6},
        "fit": {"method": "inset", "slot": {"inside_mm": round(slot, 2)}},
    }
    made = plan(checked_job(document, HouseRules()), HouseRules(), samples=0)
    call = next(call for call in made.diagnostics if call.code == "slot-and-head")
    if call.remedy is not None and "splay_deg" in call.remedy["head"]:
        solved = plan(checked_job(merge_patch(document, call.remedy), HouseRules()), HouseRules(), samples=0)
        assert next(one.level for one in solved.diagnostics if one.code == "slot-and-head") == "ok"
    else:
        assert call.level == "ok" or call.remedy is None


DOME = {"cut": "oval-cabochon", "diameters_mm": None, "length_mm": 13.0, "width_mm": 9.0, "depth_mm": 4.6}


def test_claws_over_a_dome_may_go_without_a_notch(planned: Callable[..., Plan]) -> None:
    """Check piece E, common practice: no notch; curved to the dome; annealed before that and again before closing."""
    made = planned(samples=0, stone=DOME, head={"style": "cast-claw", "claws": 4, "notch_ratio": 0.0})
    assert made[notches.SEAT_DEPTH] == 0
    assert next(call.level for call in made.diagnostics if call.code == "notch-too-shallow") == "ok"
    assert not [call for call in made.diagnostics if call.code == "bend-at-the-notch"], "the dome is asked instead"
    steps = [step.operation for step in route_of(made).steps]
    on_head = [one.kind.key for one in steps if set(one.on) & {"head", "claws"}]
    assert on_head.count("anneal") == 2 and on_head.index("curve-claws") < on_head.index("close-claws")
    assert "guide-cut" not in on_head and not [step.unmet for step in route_of(made).steps if step.unmet]
    seat = next(one for one in steps if one.kind.key == "cut-seat")
    assert "No notch" in seat.text


@pytest.mark.parametrize(
    ("head", "stone"), [({"notch_ratio": 0.0}, {}), ({"style": "cast-claw", "notch_ratio": 0.03}, DOME)]
)
def test_a_notch_that_holds_nothing_is_refused(head: dict[str, Any], stone: dict[str, Any]) -> None:
    with pytest.raises(JobError) as refused:
        checked_job(merge_patch(BASE, {"head": head, "stone": stone}), HouseRules())
    assert [problem.path for problem in refused.value.problems] == ["head.notch_ratio"]


@pytest.mark.parametrize("section", ["round", "square"])
@pytest.mark.parametrize("posts", ["grooved", "drilled"])
@pytest.mark.parametrize("count", [1, 2])
def test_rings_of_every_kind_are_whole_and_weigh_as_told(
    planned: Callable[..., Plan], section: str, posts: str, count: int
) -> None:
    """One piece of metal; each ring's body is its wire's section along its mid-line; dust and stock add up."""
    made = weighed(
        planned(samples=0, head={"rings": count, "ring_section": section, "posts": posts, "claw_mm": None}, shank=None)
    )
    built = bodies(made)
    assert len(built.parts["head"].decompose()) == 1 and len(built.rings) == count
    wire = made[rings.RING_WIRE]
    area = wire**2 * (1.0 if section == "square" else math.pi / 4)
    long = made[rings.upper_ring_wire_length_mm]
    assert built.rings[0].volume() == pytest.approx(area * long, rel=0.01)
    for metal in balances(route_of(made)).values():
        assert metal.issue_g - metal.finished_g - metal.back_g - metal.filings_g == pytest.approx(0.0, abs=0.01)
    kinds = [step.operation.kind.key for step in route_of(made).steps if "ring" in " ".join(step.operation.on)]
    assert ("drill" in kinds) == (posts == "drilled") and ("cut-grooves" in kinds) == (posts == "grooved")
    if posts == "drilled":
        axis = made[rings.ring_hidden_by_mm] + wire / 2
        deep = made[rings.RING_DROP] + wire / 2
        lean = math.tan(math.radians(made[basket.splay_deg]))
        assert axis == pytest.approx(made[notches.SEAT_DEPTH] - made[claws.CLAW] / 2 + deep * lean), (
            "post in the middle"
        )
        assert wire >= made[claws.CLAW] + rings.ROUND_A_POST_MM - 1e-9


@pytest.mark.parametrize(
    ("stone", "points"),
    [
        ({"cut": "pear", "length_mm": 11.0, "width_mm": 7.0}, 1),
        ({"cut": "marquise", "length_mm": 12.0, "width_mm": 6.0}, 2),
        ({"cut": "trillion", "length_mm": 8.0, "width_mm": 8.0}, 3),
        ({"cut": "pear", "length_mm": 17.5, "width_mm": 14.0}, 1),
        ({"cut": "baguette", "length_mm": 4.0, "width_mm": 2.4, "depth_mm": None}, 4),
    ],
)
@pytest.mark.parametrize("count", [1, 2])
def test_a_v_stands_in_a_slot_and_not_in_a_hole(
    planned: Callable[..., Plan], stone: dict[str, Any], points: int, count: int
) -> None:
    """Where posts are drilled in: at a point the ring is sawn open from outside, and nothing of it is left outside the
    V; inside it stays what stays beside a post. As many holes as round claws."""
    head = {"rings": count, "ring_section": "square", "posts": "drilled", "claw_mm": None}
    made = planned(samples=0, stone={"diameters_mm": None, "depth_mm": None, **stone}, head=head, shank=None)
    shape, built = made.shape, bodies(made)
    assert shape.vees is not None and len(shape.vees.places) == points
    assert len(built.parts["head"].decompose()) == 1
    for part in shape.rings:
        level = CrossSection.batch_boolean([built.bare.slice(part.z_mm)], OpType.Add)
        for place, body in zip(shape.vees.places, built.claws[-points:], strict=True):
            way = np.array([math.cos(math.radians(place.normal_deg)), math.sin(math.radians(place.normal_deg))])
            corners = np.vstack(level.to_polygons())
            near = corners[np.hypot(*(corners - (place.x_mm, place.y_mm)).T) < part.across_mm * 2]
            v = np.vstack(body.slice(part.z_mm).to_polygons())
            assert (near @ way).max() == pytest.approx((v @ way).max(), abs=0.02), "nothing outside the V"
    texts = {step.operation.key: step.operation for step in route_of(made).steps}
    target = "upper-ring" if count == 2 else "ring"
    assert (
        texts[f"cut-grooves-{target}"].count == points
        and "a V goes into no hole" in texts[f"cut-grooves-{target}"].text
    )
    if len(shape.places) > points:
        assert texts[f"drill-{target}"].count == len(shape.places) - points
        assert "at every round claw" in texts[f"drill-{target}"].text
    else:
        assert f"drill-{target}" not in texts
    assert made[rings.v_slot_mm] == pytest.approx(made[rings.RING_WIRE] - rings.ROUND_A_POST_MM / 2)


@pytest.mark.parametrize("posts", ["grooved", "drilled"])
@pytest.mark.parametrize("size", [1.6, 2.4, 3.0, 3.4, 4.5, 5.5, 9.0])
def test_the_ring_of_a_small_heart_is_a_whole_ring(planned: Callable[..., Plan], size: float, posts: str) -> None:
    """However thick its wire is for it: its body is the wire's section along its mid-line, less what the wire overlaps
    itself by at the cleft; one piece of metal."""
    made = planned(
        samples=0,
        stone={"cut": "heart", "diameters_mm": None, "depth_mm": None, "length_mm": size, "width_mm": size},
        head={"rings": 1, "ring_section": "square", "posts": posts, "claw_mm": None},
        shank=None,
    )
    built = bodies(made)
    part = made.shape.rings[0]
    path = made.shape.outline.inset(part.inset_mm)
    along = float(np.hypot(*(np.roll(path, -1, axis=0) - path).T).sum())
    assert 0.75 * part.area_mm2 * along < built.rings[0].volume() < 1.02 * part.area_mm2 * along
    assert len(built.parts["head"].decompose()) == 1
    assert "falls-apart" not in {call.code for call in weighed(made).diagnostics if call.level == "stop"}


def test_a_ring_too_narrow_for_its_posts_is_refused() -> None:
    """Common practice: the band is at least 0.6 wider than the posts."""
    narrow = {"posts": "drilled", "claw_mm": 1.3, "ring_mm": 1.6}
    with pytest.raises(JobError) as refused:
        checked_job(merge_patch(BASE, {"head": narrow}), HouseRules())
    assert [problem.path for problem in refused.value.problems] == ["head.ring_mm"]
    assert "1.90" in refused.value.problems[0].accepted
