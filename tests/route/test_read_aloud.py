"""What the route and the calls say, against the piece that they say it of."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest

from yarvel.drawing.ring_sheet import ring_sheet
from yarvel.figures.figure import FigureKey
from yarvel.heads import rings
from yarvel.planning.plan import Plan
from yarvel.route.running import Route, route_of
from yarvel.shanks import slot

PEAR: dict[str, Any] = {"cut": "pear", "diameters_mm": None, "length_mm": 8.8, "width_mm": 5.7}
LEANING: dict[str, Any] = {"claws": 4, "claw_mm": 1.05, "splay_deg": 20, "orientation": "square"}
PlanMaker = Callable[..., Plan]


def counts(route: Route) -> dict[str, int]:
    return {step.operation.key: step.operation.count for step in route.steps}


def test_beside_a_v_the_other_claws_are_closed_too(planned: PlanMaker) -> None:
    """One V over the point is folded and cleared for the keel; the round claws are closed, after it."""
    made = planned(samples=0, stone=PEAR, head={"claws": 5, "claw_mm": None})
    route = route_of(made)
    told = counts(route)
    assert (told["fold-vs-claws"], told["close-claws-claws"]) == (1, 4)
    assert (told["clear-keel-head"], told["relieve-corner-head"]) == (1, 1)
    assert list(told).index("fold-vs-claws") < list(told).index("close-claws-claws") < list(told).index("polish-piece")
    words = {step.operation.key: step.operation.text for step in route.steps}
    assert "V" not in words["close-claws-claws"].replace("beside the V", "") and "Fold" in words["fold-vs-claws"]
    assert not [step.unmet for step in route.steps if step.unmet]


def test_vs_alone_are_folded_and_nothing_else_is_closed(planned: PlanMaker) -> None:
    princess = {"cut": "princess", "diameters_mm": None, "length_mm": 5.3, "width_mm": 5.2}
    told = counts(route_of(planned(samples=0, stone=princess, head={"style": "v-claw", "claws": None})))
    assert told["fold-vs-claws"] == 4 and "close-claws-claws" not in told


@pytest.mark.parametrize(
    ("head", "what"),
    [({"style": "tube", "claw_mm": None, "notch_ratio": None}, "the rim, all round"), ({}, "every tip")],
)
def test_the_thread_is_drawn_over_what_there_is(head: dict[str, Any], what: str, planned: PlanMaker) -> None:
    route = route_of(planned(samples=0, head=head))
    last = next(step.operation.text for step in route.steps if step.operation.key == "look-three-ways-piece")
    assert f"thread over {what}" in last


def test_a_foot_that_cannot_be_trimmed_to_its_slot_is_not_told_to_be(planned: PlanMaker) -> None:
    """A basket whose lower ring is its widest part near the foot gains no width higher up: a splay is offered, and no
    length of base to take off that the head does not have."""
    wide = planned(samples=0, head=LEANING, fit={"method": "inset"})[FigureKey("shank.gap_inside")]
    fit = {"method": "inset", "slot": {"inside_mm": round(wide + 0.25, 2)}}
    made = planned(samples=0, head=LEANING, fit=fit)
    call = next(one for one in made.diagnostics if one.code == "slot-and-head")
    assert call.level == "caution" and "trim" not in call.message
    assert slot.trim_mm not in made.figures and call.remedy is not None and "splay_deg" in call.remedy["head"]


def test_a_casting_lists_no_wire(planned: PlanMaker) -> None:
    dome = {"cut": "oval-cabochon", "diameters_mm": None, "length_mm": 11.5, "width_mm": 9.1, "depth_mm": 4.3}
    made = planned(samples=0, stone=dome, head={"style": "cast-claw", "claws": None, "claw_mm": None})
    wire = {*rings.OF_UPPER[2:], *rings.OF_LOWER[2:], rings.ring_groove_mm}
    assert not wire & set(made.figures) and rings.upper_ring_outer_mm in made.figures


def test_a_collet_from_the_tube_in_hand_has_no_seam(planned: PlanMaker) -> None:
    collet = {"style": "tapered-collet", "claw_mm": None, "notch_ratio": None}
    tube = {"outside_mm": 7.6, "wall_mm": 0.6, "length_mm": 5.0}
    seams = [
        [joint.group for joint in planned(samples=0, head={**collet, **more}, fit={"method": "inset"}).joints]
        for more in ({}, {"tube": tube})
    ]
    assert "collet-seam" in seams[0] and "collet-seam" not in seams[1]


def test_a_ring_that_is_there_lists_no_blank(planned: PlanMaker) -> None:
    labels = [
        {item.text for item in ring_sheet(planned(samples=0, shank={"exists": there}), 190, 260).items
         if hasattr(item, "text")} & {"Blank length", "Cut the stock at"}
        for there in (False, True)
    ]  # fmt: skip
    assert labels == [{"Blank length", "Cut the stock at"}, set()]
