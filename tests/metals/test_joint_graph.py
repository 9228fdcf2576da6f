"""The graph of joints: ways through the metal, what a heat reaches, orders that would melt a joint."""

from __future__ import annotations

from collections.abc import Callable

import networkx as nx
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.told import said
from yarvel.metals.alloys import ALLOYS
from yarvel.metals.joints import ONE_GRADE, Seam, apart_mm, groups, in_order
from yarvel.planning.plan import Plan
from yarvel.route.solder_words import out_first

GOLD = ALLOYS["18k-yellow"]
_ENDS = st.lists(st.tuples(st.sampled_from("abcdef"), st.floats(0, 40)), min_size=1, max_size=2)


@given(st.lists(_ENDS, min_size=2, max_size=9))
def test_ways_are_the_shortest_of_an_independent_library(ends: list[list[tuple[str, float]]]) -> None:
    """networkx, Dijkstra on the same graph."""
    seams = [
        Seam(what=str(place), grade="hard", group=str(place), metals=(GOLD,), ends=tuple(pair))
        for place, pair in enumerate(ends)
    ]
    graph = nx.Graph()
    graph.add_nodes_from(range(len(seams)))
    for one in range(len(seams)):
        for other in range(one):
            ways = [abs(a - b) for part, a in seams[one].ends for same, b in seams[other].ends if part == same]
            if ways:
                graph.add_edge(one, other, weight=min(ways))
    found = apart_mm(seams)
    for start, lengths in nx.all_pairs_dijkstra_path_length(graph):
        for end in range(len(seams)):
            assert found[start, end] == pytest.approx(lengths.get(end, np.inf))


def test_an_order_that_melts_an_earlier_joint_is_named() -> None:
    near = [
        Seam(what="ring", grade="hard", group="Ring", metals=(GOLD,), ends=(("head", 0.0),)),
        Seam(what="head", grade="medium", group="head-to-shank", metals=(GOLD,), ends=(("head", 3.0),)),
    ]
    assert not any(joint.melts for joint in in_order(near))
    turned = in_order(near, order=("head-to-shank", "Ring"))
    assert [joint.group for joint in turned] == ["head-to-shank", "Ring"]
    assert turned[1].melts == ("head-to-shank",)
    far = [near[0], Seam(what="head", grade="medium", group="head-to-shank", metals=(GOLD,), ends=(("head", 30.0),))]
    assert in_order(far, order=("head-to-shank", "Ring"))[1].melts == ()


def test_one_grade_reaches_what_stepping_down_spares(planned: Callable[..., Plan]) -> None:
    stepped = planned(samples=0)
    one = planned(samples=0, joints={"school": ONE_GRADE})
    assert {joint.grade for joint in one.joints} == {"hard"} and len({joint.flow_c for joint in one.joints}) == 1
    last_stepped, last_one = (made.joints[-1] for made in (stepped, one))
    assert "claws-to-lower-ring" not in last_stepped.reaches and "claws-to-lower-ring" in last_one.reaches
    codes = {call.code: call.level for call in one.diagnostics}
    assert codes["one-grade-with-care"] == "note" and "one-grade-with-care" not in {
        call.code for call in stepped.diagnostics
    }
    assert "Shield" not in said(stepped, "solder") and "One grade: coat" in said(one)
    assert "claws to the lower ring" in said(one, "solder")


def test_a_melting_order_is_a_stop_with_a_way_back(planned: Callable[..., Plan]) -> None:
    made = planned(samples=0, joints={"order": ["head-to-shank"]})
    call = next(call for call in made.diagnostics if call.code == "joint-melts")
    assert call.level == "stop" and call.remedy == {"joints": {"order": None}}
    assert "head to shank" in call.message
    assert made.joints[0].group == "head-to-shank"


def test_ten_joints_of_a_four_claw_basket_of_two_rings(planned: Callable[..., Plan]) -> None:
    """Common practice: N × rings + one seam per ring."""
    made = planned(samples=0, shank=None, fit=None)
    assert len(made.joints) == 10
    assert [count for _, count in groups(made.joints)] == [1, 1, 4, 4]


def test_stones_come_out_before_heat(planned: Callable[..., Plan]) -> None:
    """On a ring that exists a stone may be in; in new work none is, and all joints come first: common practice."""
    shoulder = {"diameter_mm": 1.5}
    old = {"shoulder": shoulder, "resized_from": {"system": "ISO", "value": "52"}}
    first = out_first(planned(samples=0, stone={"species": "opal"}, shank=old))
    assert first.startswith("Before any heat") and "opal out; opal" not in first and "small rounds" in first
    fresh = out_first(planned(samples=0, stone={"species": "opal"}, shank={"shoulder": shoulder}))
    assert fresh == "All joints before the opal and the small rounds of the shoulders: opal bears no heat."


@pytest.mark.parametrize(
    ("method", "style", "names"),
    [
        ("peg", "bought", ["shank seam", "peg and base to the band"]),
        ("basket-point", "wire-basket", ["shank seam", "claws at the point", "point to the band"]),
        ("split-shoulder", "tube", ["left near branch to the bezel", "right far branch to the bezel"]),
        ("fish-mouth", "tube", ["shank seam", "head's foot to the band"]),
    ],
)
def test_every_method_brings_its_joints(
    method: str, style: str, names: list[str], planned: Callable[..., Plan]
) -> None:
    made = planned(
        samples=0, head={"style": style, "notch_ratio": None}, fit={"method": method}, shank={"width_mm": 4.0}
    )
    found = [joint.what for joint in made.joints]
    assert all(name in found for name in names)
    flows = [joint.flow_c for joint in made.joints]
    assert flows == sorted(flows, reverse=True)
