"""What a route says of work done too early, too late or not at all: each as it would be found at the bench."""

from __future__ import annotations

from collections.abc import Callable
from itertools import product
from typing import Any

import pytest
from hypothesis import given

from tests.strategies import jobs
from yarvel.exchange.plan_file import plan_document
from yarvel.figures.errors import JobError
from yarvel.figures.figure import FigureKey
from yarvel.figures.rules import HouseRules
from yarvel.heads import bought, tapered_collet
from yarvel.heads.styles import STYLES
from yarvel.operations.operation import HEAT
from yarvel.operations.stone_state import HELD
from yarvel.planning.compatibility import fits_of
from yarvel.planning.job import from_document, merge_patch, to_document
from yarvel.planning.plan import Plan, plan
from yarvel.route.card import sections
from yarvel.route.diagnostics import route_diagnostics
from yarvel.route.running import Route, route_of
from yarvel.route.ways import repair_lines

RULES = HouseRules()
PlanMaker = Callable[..., Plan]
TUBE: dict[str, Any] = {"style": "tube", "claw_mm": None, "notch_ratio": None}
INSET: dict[str, Any] = {"fit": {"method": "inset"}}


def unmet(made: Plan) -> dict[str, str]:
    return {step.operation.key: "; ".join(step.unmet) for step in route_of(made).steps if step.unmet}


@pytest.mark.parametrize(
    ("route", "where", "words"),
    [
        ({"after": [["round-up-shank", "pickle-head-to-shank"]]}, "round-up-shank", "in the shank"),
        ({"without": ["saw-off-stays-claws"]}, "release-piece", "stay still on"),
        ({"without": ["fit-seam-shank"]}, "solder-shank-seam", "not fitted without air yet"),
        ({"without": ["offer-part-head"]}, "solder-head-to-shank", "not fitted without air yet"),
        ({"without": ["mark-out-gap"]}, "saw-gap-gap", "not marked yet"),
        ({"after": [["round-up-shank", "mark-out-gap"]]}, "saw-gap-gap", "not marked yet"),
        ({"without": ["anneal-before-sawing"]}, "saw-gap-gap", "not annealed yet"),
        ({"after": [["cut-seat-stone", "seat-stone-stone"]]}, "seat-stone-stone", "no bearing for the girdle yet"),
        ({"after": [["solder-head-to-shank", "close-claws-claws"]]}, "solder-head-to-shank", "torch's heat"),
        ({"after": [["scribe-girdle-head", "cut-seat-stone"]]}, "cut-seat-stone", "not girdle scribed yet"),
    ],
)
def test_work_out_of_its_order_is_said_where_it_stands(
    route: dict[str, Any], where: str, words: str, planned: PlanMaker
) -> None:
    """Common practice, no source: route.md's rules, each broken by hand on a ring that is sound otherwise."""
    assert not unmet(planned(samples=0, **INSET))
    found = unmet(planned(samples=0, **INSET, route=route))
    assert words in found[where], found
    call = next(
        call for call in route_diagnostics(route_of(planned(samples=0, **INSET, route=route))) if call.at == where
    )
    assert call.level == "caution" and words in call.message


def test_tips_left_long_are_trimmed_before_release(planned: PlanMaker) -> None:
    late = {"setting": {"tips": "after"}}
    assert not unmet(planned(samples=0, **late))
    found = unmet(planned(samples=0, **late, route={"without": ["trim-tips-claws"]}))
    assert "tips left long" in found["release-piece"]


def test_soft_solder_first_melts_under_the_next(planned: PlanMaker) -> None:
    """What melts follows from the grades: easy claws under the medium head open, the other way round nothing does."""
    easy = unmet(planned(samples=0, **INSET, joints={"grades": {"claws-to-lower-ring": "easy"}}))
    assert "opens claws to the lower ring" in easy["solder-head-to-shank"]
    hard = {"head-to-shank": "medium", "claws-to-lower-ring": "hard", "claws-to-upper-ring": "hard"}
    assert not unmet(planned(samples=0, **INSET, joints={"grades": hard}))
    welded = planned(samples=0, **INSET, joints={"grades": {"claws-to-lower-ring": "easy", "head-to-shank": "welded"}})
    assert not unmet(welded), "a laser opens nothing"
    joint = next(one for one in plan_document(welded)["joints"] if one["group"] == "head-to-shank")
    assert (joint["grade"], joint["flow_c"]) == ("welded", None)


def test_a_fused_seam_is_no_solder(planned: PlanMaker) -> None:
    made = planned(samples=0, **INSET, joints={"grades": {"shank-seam": "fused"}})
    keys = [step.operation.key for step in route_of(made).steps]
    assert "fuse-shank-seam" in keys and "solder-shank-seam" not in keys and not unmet(made)
    assert keys.index("fuse-shank-seam") < keys.index("pickle-shank-seam") < keys.index("round-up-shank")


def test_an_open_c_is_never_closed_without_its_head(planned: PlanMaker) -> None:
    """Handbook: blank for the ring less the gap, ends filed to the head, never closed; a little short."""
    closed, made = (planned(samples=0, fit={"method": "inset", "ring": ring}) for ring in ("closed", "open"))
    keys = [step.operation.key for step in route_of(made).steps]
    assert not {"solder-shank-seam", "round-up-shank", "saw-gap-gap"} & set(keys) and "fit-ends-gap" in keys
    assert "shank-seam" not in {joint["group"] for joint in plan_document(made)["joints"]}
    gap = made[FigureKey("shank.gap_arc")]
    assert made[FigureKey("shank.cut_length")] == pytest.approx(closed[FigureKey("shank.cut_length")] - gap) and gap > 1
    assert made[FigureKey("shank.mark_half")] == pytest.approx(closed[FigureKey("shank.mark_half")])


def test_heat_on_a_ring_under_tension_is_said(planned: PlanMaker) -> None:
    """Common practice, no source: an open C closed over its head springs where it is annealed."""
    late = {"added": [["anneal", "shank", "pickle-head-to-shank"]]}
    for ring, words in (("closed", None), ("open", "sprung")):
        made = planned(samples=0, fit={"method": "inset", "ring": ring}, route=late)
        found = unmet(made)
        assert words in found["anneal-shank-added"] if words else "anneal-shank-added" not in found, found
        assert not unmet(planned(samples=0, fit={"method": "inset", "ring": ring}))


def test_the_laser_is_a_school(planned: PlanMaker) -> None:
    def tack(**setting: str) -> tuple[bool, bool]:
        made = planned(samples=0, **INSET, setting=setting)
        steps = {step.operation.key: step.operation for step in route_of(made).steps}
        loose = steps.get("tack-loose-head")
        return loose is not None and loose.maybe, "solder-head-to-shank" in steps

    assert tack() == (True, True), "only where it is loose"
    assert tack(tack="tack") == (False, True)
    assert tack(tack="weld") == (False, False)


@pytest.mark.parametrize(
    ("parts", "path"),
    [
        ({"setting": {"closing": "rocker"}}, "setting.closing"),
        ({"setting": {"closing": "block"}, "head": {"style": "tube", "claw_mm": None}}, "setting.closing"),
        ({"setting": {"closing": "pusher", "jaws": "brass"}}, "setting.jaws"),
        (
            {"head": {"style": "tube", "claw_mm": None, "notch_ratio": None}, "setting": {"tips": "after"}},
            "setting.tips",
        ),
        ({"fit": {"method": "on-flat", "ring": "open"}}, "fit.ring"),
        ({"stone": {"state": "held"}}, "stone.state"),
        ({"shank": {"exists": True, "stock": {"across_mm": 3, "down_mm": 3, "length_mm": 60}}}, "shank.stock"),
        ({"joints": {"grades": {"nonsense": "hard"}}}, "joints.grades.nonsense"),
        ({"joints": {"grades": {"shank-seam": "soft"}}}, "joints.grades.shank-seam"),
        ({"repair": {"claws": {"7": ["bent"]}, "way": "tighten"}}, "repair.claws.7"),
        ({"repair": {"claws": {"1": ["rusty"]}, "way": "tighten"}}, "repair.claws.1"),
        ({"accepted": [{"code": "wide-band-size", "by": "", "why": "so"}]}, "accepted.0"),
        ({"shank": None, "fit": {"method": "pendant"}, "setting": {"tack": "tack"}}, "setting.tack"),
    ],
)
def test_what_would_do_nothing_is_refused(parts: dict[str, Any], path: str, planned: PlanMaker) -> None:
    with pytest.raises(JobError) as caught:
        planned(samples=0, **parts)
    assert path in [problem.path for problem in caught.value.problems]


def test_a_ready_mount_is_only_set(planned: PlanMaker) -> None:
    """A ready mount with notched claws: nothing is made, nothing soldered, no metal taken."""
    head = {"style": "bought", "made_for_mm": 6.5, "height_mm": 5.1, "notch_ratio": None, "exists": True}
    route = route_of(planned(samples=0, head=head, shank={"exists": True}, fit={"method": "on-flat"}))
    kinds = [step.operation.kind for step in route.steps]
    assert not [kind.key for kind in kinds if kind.temper == HEAT] and route.done.stone == HELD
    assert kinds[0].key == "level-tops" and not [step for step in route.steps if step.operation.takes]


@pytest.mark.parametrize("style", STYLES)
def test_nothing_is_missing_in_the_work_on_what_exists(style: str) -> None:
    """A finished ring to another size, its stone gone, loose or held, mended or not: no step finds anything undone."""
    head = {"style": style, "exists": True, **({"made_for_mm": 6.2} if style == bought.STYLE else {})}
    shank = {
        "size": {"system": "ISO", "value": "54"},
        "width_mm": 3.0,
        "thickness_mm": 2.0,
        "resized_from": {"system": "ISO", "value": "53"},
    }
    stones = {"paired-corner": {"cut": "emerald"}, "v-claw": {"cut": "princess"}, "cast-claw": {"cut": "oval-cabochon"}}
    stone = {**stones[style], "length_mm": 7.4, "width_mm": 6.9} if style in stones else {"diameters_mm": [6.1]}
    looked = 0
    for state, fit, way in product(("absent", "loose", "held"), fits_of(style), (None, "tighten", "re-tip")):
        job = {
            "format": "yarvel-job/1",
            "stone": {**stone, "depth_mm": 3.7, "state": state},
            "head": head,
            "fit": {"method": fit},
            **({"shank": shank} if fit != "pendant" else {}),
            **({"repair": {"way": way}} if way else {}),
        }
        try:
            made = plan(from_document(job), RULES, samples=0)
        except JobError:
            continue
        looked += 1
        assert unmet(made) == {}, (state, fit, way)
    assert looked > 2


def test_a_ring_made_larger_with_its_head_in(planned: PlanMaker) -> None:
    """The stone out before the torch, the piece let in at the back, the stone back into its old seats."""
    head = {"style": "bought", "made_for_mm": 6.5, "height_mm": 5.1, "notch_ratio": None, "exists": True}
    resized = {"resized_from": {"system": "ISO", "value": "51"}}
    made = planned(samples=0, stone={"state": "held"}, head=head, shank=resized, fit={"method": "on-flat"})
    route = route_of(made)
    keys = [step.operation.key for step in route.steps]
    assert keys[0] == "take-stone-out-stone" and route.done.stone == HELD and not unmet(made)
    assert keys.index("saw-gap-back") < keys.index("solder-back-seam") < keys.index("seat-stone-stone")
    assert "round-up-shank" not in keys and "solder-head-to-shank" not in keys and "level-tops-head" not in keys


def test_an_order_of_joints_is_followed_where_it_can_be(planned: PlanMaker) -> None:
    def heats(route: Route) -> list[str]:
        return [step.operation.key for step in route.steps if step.operation.closes]

    usual = heats(route_of(planned(samples=0)))
    assert usual.index("solder-upper-ring-seam") < usual.index("solder-lower-ring-seam")
    turned = route_of(planned(samples=0, joints={"order": ["lower-ring-seam", "upper-ring-seam"]}))
    assert heats(turned).index("solder-lower-ring-seam") < heats(turned).index("solder-upper-ring-seam")
    never = planned(samples=0, joints={"order": ["head-to-shank", "claws-to-upper-ring"]})
    assert any("cannot be worked" in call.message for call in route_diagnostics(route_of(never)))


def test_operations_are_added_by_kind_and_part(planned: PlanMaker) -> None:
    made = planned(samples=0, route={"added": [["tumble", "claws", "pickle-head-to-shank"]]})
    keys = [step.operation.key for step in route_of(made).steps]
    assert keys.index("tumble-claws-added") == keys.index("pickle-head-to-shank") + 1
    for row in (["juggle", "claws", "release-piece"], ["tumble", "hat", "release-piece"], ["tumble", "claws", "x"]):
        with pytest.raises(JobError) as caught:
            plan_document(planned(samples=0, route={"added": [row]}))
        assert caught.value.problems[0].path == "route.added.0"


def test_changes_whose_operation_is_gone_are_said_and_lose_nothing(planned: PlanMaker) -> None:
    """A head of another style has other operations: what was moved before stands aside, and is there again with it."""
    route = {
        "after": [["saw-off-stays-claws", "release-piece"]],
        "without": ["thin-tips-claws"],
        "methods": {"anneal-claws": "pull-straight"},
    }
    plain, tube = planned(samples=0, head=TUBE), planned(samples=0, head=TUBE, route=route)
    keys = [[step.operation.key for step in route_of(made).steps] for made in (plain, tube)]
    assert keys[0] == keys[1] and not unmet(tube)
    (call,) = (one for one in route_diagnostics(route_of(tube)) if one.title.startswith("Changes without"))
    for word in ("saw-off-stays-claws", "thin-tips-claws", "anneal-claws"):
        assert word in call.message
    back = from_document(merge_patch(to_document(tube.job), call.remedy or {}))
    assert not route_diagnostics(route_of(plan(back, RULES, samples=0)))


def test_another_way_of_an_operation_is_chosen_and_what_follows_is_said(planned: PlanMaker) -> None:
    made = planned(samples=0, **INSET, route={"methods": {"level-tops-head": "clamp-level"}})
    step = next(step for step in route_of(made).steps if step.operation.key == "level-tops-head")
    assert step.operation.kind.key == "clamp-level" and "clamp" in step.operation.text and not unmet(made)
    for methods, words in (({"level-tops-head": "solder"}, "clamp-level"), ({"nothing-here": "drill"}, "one of")):
        with pytest.raises(JobError) as caught:
            plan_document(planned(samples=0, route={"methods": methods}))
        assert words in str(caught.value)


def test_a_collets_saw_cuts_end_above_its_joint(planned: PlanMaker) -> None:
    """Where they would not, it is a stop with a seat that lifts them, and said at the saw: the body's own heights."""
    head = {"style": "tapered-collet", "cut": "claws", "claws": 4, "claw_mm": None, "notch_ratio": None}
    for fit, thickness in ((None, 1.8), (None, 2.6), (None, 4.6), (6.0, 2.0)):
        height = {} if fit is None else {"height": fit}
        made = planned(samples=0, head=head, fit={"method": "inset", **height}, shank={"thickness_mm": thickness})
        top, saw = made[FigureKey("shank.band_at_gap")], made[FigureKey("collet.saw_depth")]
        over = made[FigureKey("seat.plane_above_finger")] - saw - top
        call = next(call for call in made.diagnostics if call.code == "sawn-into-joint")
        assert call.figure == pytest.approx(over, abs=1e-9) and call.level == "ok" and not unmet(made)
        assert saw >= made[FigureKey("head.wall")] - 1e-9, "as low as it goes leaves claw enough to bend"
        assert over == pytest.approx(0, abs=1e-9) or saw < made[FigureKey("head.height")] / 2, "to the shank's top"
    deep = {"shank": {"thickness_mm": 4.6}, "head": head}
    worse = planned(samples=0, fit={"method": "inset", "height": 4.7}, **deep)
    call = next(call for call in worse.diagnostics if call.code == "sawn-into-joint")
    assert call.level == "stop" and call.remedy is not None
    assert "sawn into the joint" in unmet(worse)["saw-claws-collet"]
    lifted = planned(samples=0, fit={"method": "inset", **call.remedy["fit"]}, **deep)
    assert next(call.level for call in lifted.diagnostics if call.code == "sawn-into-joint") == "ok" and not unmet(
        lifted
    )


def test_parts_say_where_they_come_from(planned: PlanMaker) -> None:
    def origins(**parts: Any) -> dict[str, str]:
        document = plan_document(planned(samples=0, **parts))
        return {name: part["origin"] for name, part in document["parts"].items()}

    bought = {"style": "bought", "made_for_mm": 6.5, "height_mm": 5.1, "notch_ratio": None}
    assert origins(**INSET) == {"shank": "made", "upper ring": "made", "lower ring": "made", "claws": "made"}
    assert origins(head=bought) == {"shank": "made", "head": "bought"}
    assert origins(head={**bought, "exists": True}, shank={"exists": True}) == {"shank": "exists", "head": "exists"}


def test_a_call_is_taken_as_it_is_until_its_figure_moves(planned: PlanMaker) -> None:
    wide = {"shank": {"width_mm": 6.6}}
    call = next(call for call in planned(samples=0, **wide).diagnostics if call.code == "wide-band-size")
    assert call.open
    one = {"code": call.code, "place": call.place, "figure": call.figure, "by": "Yusra", "why": "worn on a thin finger"}
    taken = planned(samples=0, **wide, accepted=[one])
    held = next(held for held in taken.diagnostics if held.code == call.code)
    assert not held.open and (held.accepted_by, held.accepted_why) == ("Yusra", "worn on a thin finger")
    told = next(told for told in plan_document(taken)["calls"] if told["code"] == call.code)
    assert told["accepted"] == {"by": "Yusra", "why": "worn on a thin finger"} and told["level"] == call.level
    wider = planned(samples=0, shank={"width_mm": 7.6}, accepted=[one])
    assert next(held for held in wider.diagnostics if held.code == call.code).open, "the figure has moved"


@given(jobs())
def test_a_calls_code_and_place_are_unique_and_its_operation_is_there(job: Any) -> None:
    made = plan(job, RULES, samples=0)
    document = plan_document(made)
    keys = {line["key"] for line in document["route"]}
    places = [(call["code"], call["place"]) for call in document["calls"]]
    assert len(places) == len(set(places)), [place for place in places if places.count(place) > 1]
    assert all(call["at"] is None or call["at"] in keys for call in document["calls"])
    again = from_document(merge_patch(to_document(job), {}))
    assert again == job


def test_a_section_says_no_caution_twice(planned: PlanMaker) -> None:
    """Each once, where it is first needed; and no sentence of it stands in another."""
    made = planned(samples=0, **INSET)
    said = " ".join(section.caution for section in sections(route_of(made), made))
    told = [sentence for sentence in said.split(". ") if len(sentence) > 20]
    assert told and len(told) == len(set(told)), told


COLLET: dict[str, Any] = {"style": "tapered-collet", "claw_mm": None, "notch_ratio": None}


def test_a_made_collet_is_measured_before_anything_follows_it(planned: PlanMaker) -> None:
    """Until its readings are in, what is marked by it is told as from the table; with them everything follows, and
    readings as planned change nothing."""
    made = planned(samples=0, head=COLLET, **INSET)
    told = {step.operation.key: step.operation for step in route_of(made).steps}
    assert told["mark-out-gap"].waits and "From the table" in told["mark-out-gap"].text
    assert not told["drive-collet-collet"].waits, "what makes it waits for nothing"
    keys = {
        "foot_mm": tapered_collet.foot_diameter_mm,
        "top_mm": tapered_collet.top_diameter_mm,
        "height_mm": tapered_collet.collet_height_mm,
    }
    read = {name: made[key] for name, key in keys.items()} | {"wall_mm": made[FigureKey("head.wall")]}
    same = planned(samples=0, head=COLLET | {"made": read}, **INSET)
    assert {key: same[key] for key in made.figures} == pytest.approx({key: made[key] for key in made.figures})
    assert not any(step.operation.waits for step in route_of(same).steps)
    wider = planned(samples=0, head=COLLET | {"made": read | {"foot_mm": read["foot_mm"] + 0.2}}, **INSET)
    assert wider[FigureKey("collet.foot_diameter")] == pytest.approx(read["foot_mm"] + 0.2)
    assert (
        wider[FigureKey("shank.mark_half")] > made[FigureKey("shank.mark_half")]
        and wider[FigureKey("collet.top_diameter")] == same[FigureKey("collet.top_diameter")]
    )


@pytest.mark.parametrize(
    ("head", "fit", "path"),
    [
        (COLLET | {"wall_mm": 0.8}, {"method": "inset"}, "head.wall_mm"),
        (TUBE, {"method": "inset"}, "head.made"),
        (COLLET, {"method": "inset", "height": 5.0}, "fit.height"),
    ],
)
def test_readings_stand_for_what_was_chosen(
    head: dict[str, Any], fit: dict[str, Any], path: str, planned: PlanMaker
) -> None:
    made = {"foot_mm": 5.2, "top_mm": 6.4, "height_mm": 4.2, "wall_mm": 0.7}
    with pytest.raises(JobError) as caught:
        planned(samples=0, head=head | {"made": made}, fit=fit)
    assert path in [problem.path for problem in caught.value.problems]


def test_cut_and_offer_are_one_line_by_turns(planned: PlanMaker) -> None:
    """One line and one tick, each round's minutes counted; apart, each is a line of its own."""
    made = planned(samples=0, **INSET)
    lines = [line for section in sections(route_of(made), made) for line in section.lines]
    by_key = {line.key: line for line in lines}
    assert "offer-part-head" not in by_key and "offer-stone-seat" not in by_key
    turned = by_key["fit-ends-gap"]
    assert [step.operation.key for step in turned.more] == ["offer-part-head"]
    assert "By turns, usually 2 times, until it stands by itself" in turned.text
    assert turned.minutes == 2 * (15 + 1)
    apart = planned(samples=0, **INSET, route={"after": [["offer-part-head", "set-up-shank-seam"]]})
    keys = [line.key for section in sections(route_of(apart), apart) for line in section.lines]
    assert "offer-part-head" in keys


def test_what_is_not_known_of_old_work_is_said_once(planned: PlanMaker) -> None:
    """At the first heat, bend or saw that meets it, and at no other; new work knows what it is."""
    head = {"style": "bought", "made_for_mm": 6.5, "height_mm": 5.1, "notch_ratio": None, "exists": True}
    old = planned(
        samples=0, head=head, shank={"resized_from": {"system": "ISO", "value": "51"}}, fit={"method": "on-flat"}
    )
    said = [step.operation.key for step in route_of(old).steps if "As it came in" in step.operation.text]
    assert said == ["anneal-back"]
    assert not any("As it came in" in step.operation.text for step in route_of(planned(samples=0, **INSET)).steps)


def test_a_claw_that_shows_more_than_one_thing_is_judged_once(planned: Callable[..., Plan]) -> None:
    """Common practice: a claw may show several; what asks for most decides, on paper as in the route."""
    made = planned(
        samples=0,
        stone={"state": "held"},
        head={"exists": True},
        shank={"exists": True},
        repair={"claws": {"2": ["worn-tip"], "3": ["neighbour", "thin-side"]}, "way": "re-tip"},
    )
    told = " ".join(repair_lines(made))
    steps = " ".join(step.operation.text for step in route_of(made).steps)
    assert "Claw 2: worn tip – re-tip." in told and "Claw 3: worn by a neighbour band, thin side – new claw." in told
    assert "New tips for claw 2:" in steps
