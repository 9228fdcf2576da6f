"""Where claws stand, and what holds: geometry, the trade's rules, and SciPy's linear program."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import linprog

from yarvel.figures.figure import FigureKey
from yarvel.heads.holding import contacts, holding, open_arc_deg, spans_positively, wrenches
from yarvel.heads.paired_corner import pairs
from yarvel.heads.places import (
    POINT,
    circle,
    largest_stretch_mm,
    least_claws,
    longest_stretch,
    moved,
    places,
    usual_claws,
)
from yarvel.planning.plan import Plan
from yarvel.stones.cut import Girth, outline_of
from yarvel.stones.cuts import CUTS
from yarvel.stones.outline import Outline

LONG = [key for key, cut in CUTS.items() if not cut.is_round]


def outline(key: str, width: float = 6.4) -> Outline:
    cut = CUTS[key]
    aspect = 1.0 if cut.square or key in ("heart", "trillion") else 2.0 if key == "marquise" else 1.45
    return outline_of(cut, Girth(aspect * width, width, cut.corner * width, cut.narrow * width))


def spans_by_linear_program(vectors: np.ndarray) -> bool:
    """Positive weights that sum the vectors to nothing, and full rank: SciPy's HiGHS is the reference."""
    if np.linalg.matrix_rank(vectors, tol=1e-7) < vectors.shape[1]:
        return False
    count = len(vectors)
    aims = np.append(np.zeros(count), -1.0)
    found = linprog(
        aims,
        A_ub=np.column_stack([-np.eye(count), np.ones(count)]),
        b_ub=np.zeros(count),
        A_eq=np.vstack([np.column_stack([vectors.T, np.zeros(vectors.shape[1])]), np.append(np.ones(count), 0.0)]),
        b_eq=np.append(np.zeros(vectors.shape[1]), 1.0),
        bounds=[(0, None)] * (count + 1),
    )
    return bool(found.success and -found.fun > 1e-9)


@pytest.mark.parametrize("key", LONG)
@pytest.mark.parametrize("count", [None, 4, 5, 6, 8])
def test_points_are_covered_and_the_rest_is_symmetric(key: str, count: int | None) -> None:
    shape, cut = outline(key), CUTS[key]
    many = max(usual_claws(cut) if count is None else count, least_claws(shape) if not cut.cornered else 3)
    made = places(shape, many, "square", cut.cornered)
    assert len(made) == many
    if not cut.cornered:
        covered = {tuple(np.round(shape.points[corner], 6)) for corner in shape.corners}
        assert covered == {(round(place.x_mm, 6), round(place.y_mm, 6)) for place in made if place.kind == POINT}
    if (key == "trillion" and many % 3) or (key in ("princess", "baguette") and many % 2):
        return
    spots = np.array(sorted((round(place.x_mm, 2) + 0.0, round(place.y_mm, 2)) for place in made))
    flipped = [
        np.array(sorted((round(x * way, 2) + 0.0, round(y * other, 2)) for x, y in spots.tolist()))
        for way, other in ((-1, 1), (1, -1))
    ]
    assert any(np.allclose(spots, mirror, atol=0.03) for mirror in flipped)


def test_claws_on_an_oval_are_weighted_to_its_ends() -> None:
    shape = outline("oval")
    first = places(shape, 4, "square", False)[0]
    half_way = np.degrees(np.arctan2(*(shape.points[len(shape.points) // 8][::-1])))
    assert first.azimuth_deg > half_way - 10
    assert first.normal_deg < 45


@given(st.sampled_from(LONG), st.integers(3, 8), st.floats(-6, 6))
def test_no_single_move_shortens_the_longest_stretch_by_much(key: str, count: int, by: float) -> None:
    """The longest unsupported stretch is near its least: moving one free claw lengthens it or hardly changes it."""
    shape, cut = outline(key), CUTS[key]
    if cut.cornered or cut.key == "heart":
        return
    made = places(shape, max(count, least_claws(shape)), "square", False)
    free = [place.azimuth_deg for place in made]
    loose = next((number for number, place in enumerate(made) if place.kind != POINT), None)
    if loose is None:
        return
    free[loose] += by
    assert largest_stretch_mm(shape, moved(shape, free)) >= 0.72 * largest_stretch_mm(shape, made)


def test_the_stretch_drawn_is_the_stretch_told() -> None:
    shape = outline("pear")
    made = places(shape, 5, "square", False)
    run = longest_stretch(shape, made)
    drawn = np.hypot(*np.diff(run, axis=0).T).sum()
    assert drawn == pytest.approx(largest_stretch_mm(shape, made), rel=0.01)


def test_open_arcs_of_round_stones() -> None:
    """Geometry: four less one leaves 180°, six less one 120°."""
    for count, whole, lost in ((4, 90, 180), (6, 60, 120)):
        found = holding(circle(3.0, [360 / count * place for place in range(count)]), 0.0, turning=False)
        assert (found.open_arc_deg, found.worst_loss_deg) == pytest.approx((whole, lost))
        assert found.held and found.turns is None


@given(st.lists(st.floats(0, 359), min_size=3, max_size=8, unique=True))
def test_pushes_span_the_plane_as_the_linear_program_says(azimuths: list[float]) -> None:
    turn = np.radians(azimuths)
    normals = np.column_stack([np.cos(turn), np.sin(turn)])
    arc = open_arc_deg(normals)
    if abs(arc - 180) < 0.01:
        return
    assert (arc < 180) == spans_by_linear_program(-normals)


@given(st.sampled_from(LONG), st.integers(4, 8), st.booleans())
def test_turning_is_held_as_the_linear_program_says(key: str, count: int, paired: bool) -> None:
    shape, cut = outline(key), CUTS[key]
    made = (
        pairs(shape, 0.9)
        if paired and (cut.cornered or key == "cushion")
        else places(shape, max(count, least_claws(shape) if not cut.cornered else 4), "square", cut.cornered)
    )
    points, normals, _ = contacts(made, 1.4)
    pushes = wrenches(points, normals)
    assert spans_positively(pushes) == spans_by_linear_program(pushes)


def test_four_claws_on_cut_corners_let_a_square_stone_turn_and_pairs_do_not(planned: Callable[..., Plan]) -> None:
    """Geometry: pushes through the middle have no moment; pairs beside the corners have."""
    square = {"cut": "square-step", "diameters_mm": None, "depth_mm": None, "length_mm": 6.0, "width_mm": 6.0}
    four = planned(stone=square, head={"style": "wire-basket", "claws": 4})
    eight = planned(stone=square, head={"style": "paired-corner", "claws": None})
    assert four[FigureKey("head.turn_held")] == 0 and eight[FigureKey("head.turn_held")] == 1
    assert {call.code: call.level for call in four.diagnostics}["stone-turns"] == "caution"
    assert {call.code: call.level for call in eight.diagnostics}["stone-turns"] == "ok"


def test_a_moved_claw_changes_what_is_held(planned: Callable[..., Plan]) -> None:
    usual = planned(head={"claws": None})
    pushed = planned(head={"claws": None, "claw_places_deg": [0, 90, 170, 250]})
    assert pushed.claw_azimuths_deg == pytest.approx((0, 90, 170, 250), abs=0.3)
    assert pushed[FigureKey("head.open_arc")] == pytest.approx(110, abs=0.5) and usual[FigureKey("head.open_arc")] == 90
    gone = planned(head={"claws": None, "claw_places_deg": [0, 40, 90, 130]})
    arc = next(call for call in gone.diagnostics if call.code == "open-arc")
    assert arc.level == "stop" and arc.remedy == {"head": {"claw_places_deg": None}}


def test_the_remedy_for_a_lost_claw_holds(planned: Callable[..., Plan]) -> None:
    oval = {"cut": "oval", "diameters_mm": None, "depth_mm": None, "length_mm": 8.6, "width_mm": 6.3}
    made = planned(stone=oval, head={"claws": None})
    call = next(call for call in made.diagnostics if call.code == "claw-loss")
    assert call.level == "note" and call.remedy is not None
    better = planned(stone=oval, head=dict(call.remedy["head"]))
    assert {call.code: call.level for call in better.diagnostics}["claw-loss"] == "ok"


@pytest.mark.parametrize("cut", ["oval", "cushion", "emerald", "radiant", "oval-cabochon"])
def test_more_claws_are_offered_in_pairs(cut: str, planned: Callable[..., Plan]) -> None:
    """Common practice: a stone that is alike on both sides is held alike on both; nobody sets five on an oval, or seven
    on an emerald cut."""
    stone = {"cut": cut, "diameters_mm": None, "length_mm": 8.0, "width_mm": 6.0, "depth_mm": 3.8}
    made = planned(samples=0, stone=stone, head={"claws": None})
    call = next(call for call in made.diagnostics if call.code == "claw-loss")
    assert call.remedy is not None and call.remedy["head"]["claws"] == 6 and call.remedy_label == "Six claws"
