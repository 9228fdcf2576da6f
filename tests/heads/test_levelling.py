"""Levelling: planes by other means, and what a bench reads at the claws."""

from __future__ import annotations

import math
import re
from collections.abc import Callable

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial import ConvexHull

from tests.told import said
from yarvel.figures.errors import JobError
from yarvel.heads.levelling import ON_EDGE_MM, eased, seating, table_lean
from yarvel.heads.places import numbers
from yarvel.planning.plan import Plan
from yarvel.planning.release import HEIGHTS, checks_of, judge
from yarvel.route.setting_words import closing_order

SQUARE = np.array([(3.0, 0.0), (0.0, 3.0), (-3.0, 0.0), (0.0, -3.0)])


@given(st.floats(0, 8), st.floats(0, 360), st.floats(0, 30))
def test_a_plane_is_found_again(tilt: float, low: float, height: float) -> None:
    way = -math.tan(math.radians(tilt)) * np.array([math.cos(math.radians(low)), math.sin(math.radians(low))])
    lean = table_lean(SQUARE, height + SQUARE @ way)
    assert lean.tilt_deg == pytest.approx(tilt, abs=1e-6)
    if tilt > 0.01:
        assert math.cos(math.radians(lean.low_deg - low)) == pytest.approx(1, abs=1e-6)
        assert min(lean.take_off_mm) == pytest.approx(0, abs=1e-9)
        assert max(lean.take_off_mm) == pytest.approx(np.ptp(SQUARE @ way))


def reference(places: np.ndarray, heights: np.ndarray, middle: np.ndarray, near: float) -> list[np.ndarray]:
    """Gaps of every way to rest, by another road: the faces of the upper side of the seats' convex hull (Qhull, by
    SciPy) that the middle's plumb line meets, or passes nearer than ``near``."""
    hull = ConvexHull(np.column_stack([places, heights]), qhull_options="QJ Pp")
    found: list[np.ndarray] = []
    for normal, three in zip(hull.equations, hull.simplices, strict=True):
        if normal[2] < 1e-9:
            continue
        corners = places[three]
        ways = np.roll(corners, -1, axis=0) - corners
        turned = np.sign(np.linalg.det(ways[:2]))
        off = np.linalg.det(np.stack([ways, middle - corners], axis=1)) * turned / np.linalg.norm(ways, axis=1)
        if off.min() > -near:
            plane = np.linalg.solve(np.column_stack([np.ones(3), corners]), heights[three])
            found.append(plane[0] + places @ plane[1:] - heights)
    return found


@pytest.mark.parametrize(("claws", "least", "most"), [(4, 250, 250), (5, 0, 0), (6, 100, 249), (8, 100, 249)])
def test_all_ways_in_which_a_stone_rests(claws: int, least: int, most: int) -> None:
    """1,000 random heads against the hull of their seats: the same ways, and rock to a hundredth. On four claws in
    opposite pairs it always rocks, on five never, on six and eight where no three of them carry it (geometry)."""
    rng = np.random.default_rng(claws)
    rocked = 0
    for _ in range(250):
        turned = np.arange(claws) * 2 * np.pi / claws + rng.uniform(0, 2 * np.pi)
        places = rng.uniform(1.5, 5.0) * np.column_stack([np.cos(turned), np.sin(turned)])
        heights = rng.normal(3.0, 0.05, claws)
        middle = rng.normal(0.0, 0.01, 2)
        told, wanted = seating(places, heights, (middle[0], middle[1])), reference(places, heights, middle, ON_EDGE_MM)
        assert len(told.rests) == len(wanted)
        for gaps in wanted:
            nearest = min(told.rests, key=lambda rest, gaps=gaps: float(np.abs(np.array(rest.gaps_mm) - gaps).max()))
            assert np.array(nearest.gaps_mm) == pytest.approx(gaps, abs=1e-5)
        assert told.rock_mm == pytest.approx(np.ptp(wanted, axis=0).max(), abs=0.01)
        rocked += told.rocks
    assert least <= rocked <= most


def test_a_high_pair_rocks_and_does_not_lean() -> None:
    """Two opposite seats high by 0.12 at 3.25 from the middle: 2.1° to either side, level between (geometry)."""
    places = 3.25 * SQUARE / 3
    told = seating(places, np.array([3.12, 3.0, 3.12, 3.0]))
    assert told.rocks and told.edge == (True, False, True, False) and len(told.rests) == 2
    assert told.rock_deg == pytest.approx(math.degrees(math.atan(0.12 / 3.25))) and told.tilt_deg < 1e-9
    assert told.rock_mm == pytest.approx(0.24), "down on one side, twice as far up on the other"
    assert [rest.tilt_deg for rest in told.rests] == pytest.approx([told.rock_deg] * 2)
    again = seating(places, np.array([3.0, 3.12, 3.0, 3.12]))
    assert again.rock_mm == pytest.approx(told.rock_mm), "the same fault a quarter turn on is the same fault"


@given(st.lists(st.floats(0, 0.6), min_size=4, max_size=4))
def test_a_stone_rests_on_its_seats(heights: list[float]) -> None:
    """However it rests it lies on or above every seat, its middle as low as the two diagonals let it come."""
    told = seating(SQUARE, np.array(heights))
    lowest = max((heights[0] + heights[2]) / 2, (heights[1] + heights[3]) / 2)
    assert told.rests
    for rest in told.rests:
        assert min(rest.gaps_mm) == pytest.approx(0, abs=1e-6) and sum(rest.carries) >= 3
        slope = math.tan(math.radians(rest.tilt_deg))
        way = np.array([math.cos(math.radians(rest.low_deg)), math.sin(math.radians(rest.low_deg))])
        planes = np.array(heights) + np.array(rest.gaps_mm)
        assert planes.mean() == pytest.approx(lowest, abs=1e-5)
        assert planes == pytest.approx(lowest - SQUARE @ way * slope, abs=1e-5)


@given(st.lists(st.floats(0, 0.6), min_size=4, max_size=6), st.floats(0.1, 2.0))
def test_what_is_taken_off_leaves_it_still_and_level(heights: list[float], within: float) -> None:
    turned = np.arange(len(heights)) * 2 * np.pi / len(heights)
    places = 3 * np.column_stack([np.cos(turned), np.sin(turned)])
    cuts = np.array(eased(places, np.array(heights), within))
    after = seating(places, np.array(heights) - cuts)
    assert cuts.min() >= 0 and after.rock_mm < 1e-4
    assert max(rest.tilt_deg for rest in after.rests) <= within + 1e-3
    assert cuts.sum() <= sum(heights) - len(heights) * min(heights) + 1e-6, "never more than down to the lowest"


def test_a_stone_whose_middle_no_seats_stand_round_tips_off() -> None:
    beside = np.array([(3.0, 0.5), (3.0, -0.5), (2.0, 0.0)])
    assert seating(beside, np.zeros(3)).rests == ()
    assert len(seating(beside, np.zeros(3), (2.6, 0.0)).rests) == 1


def test_three_level_seats_and_a_low_one() -> None:
    told = seating(SQUARE, np.array([0.0, 0.0, 0.0, -0.2]))
    assert told.edge == (True, False, True, False) and told.rock_mm == pytest.approx(0.2)
    assert min(rest.tilt_deg for rest in told.rests) == pytest.approx(0, abs=1e-9)


def test_a_table_that_moved_between_readings_is_told(planned: Callable[..., Plan]) -> None:
    """Four readings of one flat table that do not lie in a plane: nothing else can be told of them."""
    for heights in ([10.0, 10.2, 10.0, 10.2], [10.2, 10.0, 10.2, 10.0]):
        made = planned(samples=0, setting={"table_heights_mm": heights})
        call = next(call for call in made.diagnostics if call.code == "stone-not-level")
        assert call.level == "caution" and "0.10 mm from one plane" in call.message and "rocked" in call.message


def test_a_table_that_leans_and_moved_is_told_as_both(planned: Callable[..., Plan]) -> None:
    made = planned(samples=0, setting={"table_heights_mm": [10.0, 10.3, 10.1, 9.7]})
    call = next(call for call in made.diagnostics if call.code == "stone-not-level")
    assert "low towards" in call.message and "take the seats down" in call.message and "rocked" in call.message
    (check,) = (check for check in checks_of(made) if check.key == HEIGHTS)
    told = judge(made, check, (10.0, 10.3, 10.1, 9.7))
    assert told is not None and told.level == "stop" and "Low towards" in told.message and "rocked" in told.message


def test_the_call_names_the_low_side_and_the_seats(planned: Callable[..., Plan]) -> None:
    """In line, four claws: 3, 12, 9 and 6 o'clock; low at 6."""
    made = planned(samples=0, setting={"table_heights_mm": [10.0, 10.3, 10.0, 9.7]})
    call = next(call for call in made.diagnostics if call.code == "stone-not-level")
    assert call.level == "caution" and "low towards 6" in call.message and "claw 1 by 0.60" in call.message
    assert call.figure == pytest.approx(math.degrees(math.atan(0.6 / (2 * made.shape.places[0].x_mm))), rel=1e-6)
    level = planned(samples=0, setting={"table_heights_mm": [10.0, 10.01, 10.0, 10.01]})
    assert next(call.level for call in level.diagnostics if call.code == "stone-not-level") == "ok"


def test_heights_that_cannot_be_are_refused(planned: Callable[..., Plan]) -> None:
    with pytest.raises(JobError) as caught:
        planned(samples=0, setting={"table_heights_mm": [10.0, 14.0, 10.0, 9.0]})
    assert "too far apart" in str(caught.value)


@pytest.mark.parametrize(("count", "order"), [(4, "1 and 3, then 2 and 4"), (6, "1 and 4, then 6 and 3, then 2 and 5")])
def test_claws_are_closed_in_opposite_pairs(count: int, order: str, planned: Callable[..., Plan]) -> None:
    """Common practice: opposite claws, by their numbers clockwise from 12."""
    made = planned(samples=0, head={"claws": count, "claw_mm": None})
    found = closing_order(made)
    pairs = {frozenset(pair.split(" and ")) for pair in found.split(", then ")}
    assert pairs == {frozenset(pair.split(" and ")) for pair in order.split(", then ")}


@pytest.mark.parametrize("long_mm", [5.2, 7.0, 9.5])
@pytest.mark.parametrize("axis", ["along-finger", "along-band"])
def test_pairs_are_closed_corner_by_corner(long_mm: float, axis: str, planned: Callable[..., Plan]) -> None:
    """Common practice, check piece N: both claws of a corner, then both across; also where the claws of two corners
    stand nearer to each other than those of one."""
    made = planned(
        samples=0,
        stone={"cut": "emerald", "diameters_mm": None, "length_mm": long_mm, "width_mm": 5.0, "depth_mm": None},
        head={"style": "paired-corner", "claws": None, "claw_mm": None, "stone_axis": axis},
    )
    told = said(made, "set")
    pairs = re.findall(r"(\d) and (\d)", told.split("corner by corner: ")[1].split(".")[0])
    spots = {called: made.shape.places[claw] for claw, called in enumerate(numbers(made.shape.places))}
    assert len(pairs) == 4 and {int(one) for pair in pairs for one in pair} == set(range(1, 9))
    middles = []
    for one, other in ((spots[int(a)], spots[int(b)]) for a, b in pairs):
        assert abs((one.normal_deg - other.normal_deg + 180) % 360 - 180) == pytest.approx(90, abs=1), "round a corner"
        assert one.x_mm * other.x_mm > 0 and one.y_mm * other.y_mm > 0
        middles.append(np.array([one.x_mm + other.x_mm, one.y_mm + other.y_mm]))
    assert middles[0] == pytest.approx(-middles[1], abs=1e-6) and middles[2] == pytest.approx(-middles[3], abs=1e-6)


def test_closing_by_school_stone_and_corner(planned: Callable[..., Plan]) -> None:
    plain = said(planned(samples=0), "set")
    assert "pusher" in plain and "eye level" in plain and "straight down" in plain and "thread" in plain
    pliers = said(planned(samples=0, setting={"closing": "pliers"}), "set")
    assert "Pliers across each pair" in pliers
    square = planned(
        samples=0,
        stone={"cut": "princess", "diameters_mm": None, "length_mm": 5.6, "width_mm": 5.5, "depth_mm": None},
        head={"style": "v-claw", "claws": None},
        setting={"closing": "pliers"},
    )
    told = said(square, "set")
    assert "never across two corners" in told and "Pliers across" not in told
    soft = said(planned(samples=0, stone={"species": "apatite"}), "set")
    assert "boxwood" in soft
    cleaving = said(planned(samples=0, stone={"species": "topaz"}), "set")
    assert "cleaves" in cleaving
