"""Routes of whole pieces: in the order of the trade, sound on good work, and aloud where a person breaks them."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.strategies import jobs
from yarvel.exchange.plan_file import plan_document
from yarvel.figures.errors import JobError
from yarvel.figures.rules import HouseRules
from yarvel.metals.alloys import head_mass_g
from yarvel.operations.joint_groups import FORMER_NAMES, GROUP_KEYS, GROUPS, key_of
from yarvel.operations.operation import HEAT
from yarvel.operations.stone_state import ABSENT, HELD
from yarvel.planning.diagnostics.diagnostic import STOP
from yarvel.planning.job import Job, from_document, merge_patch, to_document
from yarvel.planning.plan import Plan, plan
from yarvel.planning.weighing import weighed
from yarvel.route.balance import balances, taken
from yarvel.route.diagnostics import route_diagnostics
from yarvel.route.running import Route, route_of

RULES = HouseRules()
PlanMaker = Callable[..., Plan]
COLLET: dict[str, Any] = {"style": "tapered-collet", "claw_mm": None, "notch_ratio": None, "cut": "claws", "claws": 4}
BOUGHT: dict[str, Any] = {"style": "bought", "made_for_mm": 6.5, "height_mm": 5.1, "notch_ratio": None}
SLOT: dict[str, Any] = {"method": "inset", "height": None, "slot": {"inside_mm": 4.6, "outside_mm": 4.9}}
CABOCHON: dict[str, Any] = {
    "cut": "oval-cabochon",
    "species": "moonstone",
    "diameters_mm": None,
    "length_mm": 14.6,
    "width_mm": 10.9,
    "depth_mm": 6.2,
}


def keys(made: Plan) -> list[str]:
    return [step.operation.key for step in route_of(made).steps]


def comes(found: list[str], *wanted: str) -> None:
    """These occur, in this order."""
    places = [found.index(key) for key in wanted]
    assert places == sorted(places), [found[place] for place in sorted(places)]


def test_two_u_pieces_two_rings_inset(planned: PlanMaker) -> None:
    """Shank whole and on size; rings, then U by U; sawn off; annealed, marked, sawn; head in; seat; stone: common
    practice."""
    found = keys(planned(samples=0, fit={"method": "inset"}))
    comes(
        found,
        "bend-to-shape-shank",
        "fit-seam-shank",
        "solder-shank-seam",
        "pickle-shank-seam",
        "round-up-shank",
        "check-size-shank",
        "anneal-before-sawing",
        "mark-out-gap",
        "saw-gap-gap",
        "fit-ends-gap",
        "solder-head-to-shank",
        "level-tops-head",
        "scribe-girdle-head",
        "guide-cut-head",
        "cut-seat-stone",
        "clean-up-seat",
        "seat-stone-stone",
        "level-stone-stone",
        "close-claws-claws",
        "round-tips-claws",
        "polish-piece",
        "release-piece",
    )
    comes(
        found,
        "bend-u-claws",
        "solder-claws-to-upper-ring",
        "straighten-claws-claws",
        "solder-claws-to-lower-ring",
        "saw-off-stays-claws",
        "polish-hidden-head",
        "offer-part-head",
    )


def test_a_driven_collet_is_sawn_to_claws_once_it_is_in_the_ring(planned: PlanMaker) -> None:
    """Measured before the ring is marked by it; claws only after the soldering: common practice."""
    found = keys(planned(samples=0, head=COLLET, fit={"method": "inset"}))
    comes(found, "anneal-collet", "drive-collet-collet", "punch-rim-collet", "measure-part-collet", "mark-out-gap")
    comes(found, "solder-head-to-shank", "saw-claws-collet", "level-tops-head", "seat-stone-stone")


def test_an_old_head_goes_before_anything_is_made_for_its_slot(planned: PlanMaker) -> None:
    """Measured, out, slot cleaned; nothing of the shank is cut, bent or closed anew: common practice."""
    found = keys(planned(samples=0, head=BOUGHT, fit=SLOT))
    comes(found, "measure-part-old-head", "unsolder-old-head", "clean-slot-old-head", "fit-ends-slot")
    comes(found, "offer-part-head", "solder-head-to-shank", "seat-stone-stone")
    assert not {"cut-length-shank", "bend-to-shape-shank", "solder-shank-seam", "saw-gap-gap"} & set(found)


@pytest.mark.parametrize("joint", ["pinched", "soldered"])
def test_a_bought_bail_is_closed_by_its_joint_before_the_stone(joint: str, planned: PlanMaker) -> None:
    """Common practice: no flame and no pliers at the bail once the stone is in; its joint is the easiest of them."""
    bail = {"opening_mm": 3.6, "wire_mm": 0.8, "mass_g": 0.41, "joint": joint}
    made = planned(
        samples=0,
        shank=None,
        fit={"method": "pendant", "height": None, "bail": {"chain_end_mm": 2.9, "inside_mm": 2.0, "bought": bail}},
    )
    route = route_of(made)
    keys = [step.operation.key for step in route.steps]
    order = ["pick-bought-bail", "solder-hanging-ring", "close-bail-bail", "seat-stone-stone"]
    assert [key for key in keys if key in order] == order
    soldered = [step.operation.key for step in route.steps if "bail-joint" in step.operation.joints]
    assert bool(soldered) == (joint == "soldered")
    if soldered:
        assert keys.index("close-bail-bail") < keys.index(soldered[0]) < keys.index("seat-stone-stone")
        assert next(one.grade for one in made.joints if one.group == "bail-joint") == "easy"
    levels = {call.code: (call.level, call.figure) for call in made.diagnostics}
    assert levels["chain-opening"] == ("ok", pytest.approx(0.7)), (
        "the chain goes through the bail, not through the ring"
    )
    assert levels["bail-in-ring"] == ("ok", pytest.approx(1.2))
    bought = next(lot for lot in taken(route) if lot.part == "bail")
    assert bought.grams == pytest.approx(0.41)
    heavy = weighed(made)
    balance = balances(route_of(heavy))[made.job.head.metal]
    assert abs(balance.open) < 1e-9
    assert balance.finished_g == pytest.approx(heavy[head_mass_g] + 0.41, abs=0.01), "bail and pendant together"


def test_a_bail_too_thick_for_its_ring_asks_for_a_larger_one(planned: PlanMaker) -> None:
    fit = {"method": "pendant", "height": None, "bail": {"inside_mm": 1.0, "bought": {"opening_mm": 3, "wire_mm": 0.9}}}
    made = planned(samples=0, shank=None, fit=fit)
    call = next(call for call in made.diagnostics if call.code == "bail-in-ring")
    assert call.level == "caution" and call.remedy == {"fit": {"bail": {"inside_mm": 1.2}}}
    assert not [lot for lot in taken(route_of(made)) if lot.part == "bail"], "what nobody weighed is not booked"


def test_a_pendants_ring_is_closed_before_the_stone_goes_in(planned: PlanMaker) -> None:
    made = planned(samples=0, shank=None, fit={"method": "pendant", "height": None})
    comes(keys(made), "solder-hanging-ring-seam", "solder-hanging-ring", "look-three-ways-hanging", "seat-stone-stone")


def test_cast_claws_are_annealed_before_they_are_curved(planned: PlanMaker) -> None:
    head = {"style": "cast-claw", "claw_mm": 1.4, "notch_ratio": None}
    found = keys(planned(samples=0, stone=CABOCHON, head=head))
    comes(found, "cast-part-head", "clean-up-casting", "anneal-casting", "curve-claws-head", "seat-stone-stone")
    assert not any(key.startswith(("draw-wire", "bend-u")) for key in found)


def test_like_joints_of_one_heat_are_one_operation(planned: PlanMaker) -> None:
    made = planned(samples=0, head={"claws": 6})
    joined = [step.operation for step in route_of(made).steps if step.operation.key == "solder-claws-to-upper-ring"]
    assert [(one.count, one.joints) for one in joined] == [(6, ("claws-to-upper-ring",))]
    assert joined[0].minutes == pytest.approx(3 + 1.5 * 6)


def untouched(route: Route) -> list[str]:
    return [f"{step.operation.key}: {line}" for step in route.steps for line in step.unmet]


@given(jobs())
def test_no_sound_work_is_cried_at(job: Job) -> None:
    """Over random jobs that have no stop: every need is met where it stands, no stone is in a torch's heat, no joint is
    opened, every joint of the plan that is soldered is in the route once, and in the end the stone is held."""
    made = plan(job, RULES, samples=0)
    route = route_of(made)
    if any(call.level == STOP for call in made.diagnostics):
        return
    assert untouched(route) == [] and route_diagnostics(route) == ()
    found = [step.operation.key for step in route.steps]
    assert len(set(found)) == len(found)
    assert all(step.piece.stone == ABSENT for step in route.steps if step.operation.kind.temper == HEAT)
    assert route.done.stone == HELD
    groups = [group for step in route.steps for group in step.operation.closes]
    assert len(set(groups)) == len(groups) and set(groups) <= {joint.group for joint in made.joints}
    assert not any(re.search(r"−\d+\.\d+ mm", step.operation.text + step.operation.look) for step in route.steps)
    assert all(not set("{}") & set(step.operation.text + step.operation.look) for step in route.steps)


@given(jobs(), st.data())
def test_a_move_taken_back_changes_nothing(job: Job, data: st.DataObject) -> None:
    """Any operation moved anywhere still gives a route of the same operations, and without the move the old one."""
    before = keys(plan(job, RULES, samples=0))
    one, other = data.draw(st.sampled_from(before)), data.draw(st.sampled_from(before))
    if one == other:
        return
    document = to_document(job)
    moved = keys(plan(from_document(merge_patch(document, {"route": {"after": [[one, other]]}})), RULES, samples=0))
    assert sorted(moved) == sorted(before) and moved.index(one) == moved.index(other) + 1
    back = merge_patch(merge_patch(document, {"route": {"after": [[one, other]]}}), {"route": None})
    assert keys(plan(from_document(back), RULES, samples=0)) == before


@pytest.mark.parametrize(
    ("changed", "at", "told"),
    [
        ({"without": ["anneal-shank"]}, "bend-to-shape-shank", "anneal first"),
        ({"after": [["solder-head-to-shank", "seat-stone-stone"]]}, "solder-head-to-shank", "the stone is in-seat"),
        ({"after": [["solder-head-to-shank", "close-claws-claws"]]}, "solder-head-to-shank", "the stone is held"),
        ({"without": ["anneal-before-sawing"]}, "saw-gap-gap", "not annealed yet"),
        ({"without": ["solder-shank-seam"]}, "round-up-shank", "not closed yet"),
        ({"without": ["solder-upper-ring-seam"]}, "cut-grooves-upper-ring", "not closed yet"),
        ({"without": ["level-stone-stone"]}, "close-claws-claws", "not level yet"),
        ({"without": ["seat-stone-stone"]}, "lean-claws-claws", "the stone is absent"),
        ({"after": [["cut-seat-stone", "offer-part-head"]]}, "cut-seat-stone", "not girdle scribed yet"),
        ({"without": ["mark-out-gap"]}, "saw-gap-gap", "not marked yet"),
    ],
)
def test_what_a_person_breaks_is_said_at_that_operation(
    changed: dict[str, Any], at: str, told: str, planned: PlanMaker
) -> None:
    route = route_of(planned(samples=0, fit={"method": "inset"}, route=changed))
    step = next(one for one in route.steps if one.operation.key == at)
    assert any(told in line for line in step.unmet), untouched(route)
    call = next(one for one in route_diagnostics(route) if told in one.message)
    assert (call.code, call.level) == ("route-order", "caution")


def test_a_collet_sawn_too_early_is_said(planned: PlanMaker) -> None:
    early = {"after": [["saw-claws-collet", "punch-rim-collet"]]}
    route = route_of(planned(samples=0, head=COLLET, fit={"method": "inset"}, route=early))
    step = next(one for one in route.steps if one.operation.key == "saw-claws-collet")
    assert step.unmet == ("collet: not soldered yet",)


@pytest.mark.parametrize("changed", [{"without": ["fly"]}, {"after": [["fly", "release-piece"]]}])
def test_what_the_route_has_not_is_refused_with_what_it_has(changed: dict[str, Any], planned: PlanMaker) -> None:
    with pytest.raises(JobError, match=r"this work has no operation 'fly': one of: roll-shank, .*release-piece"):
        plan_document(planned(samples=0, route=changed))


def test_former_names_of_joints_are_read() -> None:
    """Job files of before named groups of joints by sentences; each is still one of the keys."""
    assert set(FORMER_NAMES.values()) <= set(GROUP_KEYS) and {key_of(group) for group in GROUPS} == set(GROUP_KEYS)
    since = {"ring-seam", "claws-to-ring", "claws-to-collet", "peg", "crossing"}
    assert {key_of(name) for name in FORMER_NAMES} | since == set(GROUP_KEYS)
