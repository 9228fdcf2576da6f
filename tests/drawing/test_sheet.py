"""The sheet: nothing covers anything, every figure is the plan's, one scale, at whatever the fields allow."""

from __future__ import annotations

import itertools
import re
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.strategies import jobs
from yarvel.drawing.metrics import box
from yarvel.drawing.outlines import reach_by_height
from yarvel.drawing.primitives import Drawing, Path
from yarvel.drawing.sheet import sheet
from yarvel.drawing.view import crosses, spread
from yarvel.figures.figure import FigureKey
from yarvel.figures.rules import HouseRules
from yarvel.planning.job import Job
from yarvel.planning.plan import Plan, plan
from yarvel.stones.plane import hull

RULES = HouseRules()
PAPERS = st.sampled_from([(150.0, 152.0), (186.0, 168.0), (250.0, 200.0)])
ROOM = 0.25


def lines(drawing: Drawing) -> list[tuple[tuple[float, float], tuple[float, float]]]:
    """Straight pieces of all dimension lines, extension lines and leaders."""
    found = []
    for item in drawing.items:
        if isinstance(item, Path) and item.stroke == "dimension" and not item.closed:
            points = [tuple(point) for point in item.points.tolist()]
            found += list(itertools.pairwise(points))
    return found


def touches(box_: tuple[float, float, float, float], start: tuple[float, float], end: tuple[float, float]) -> bool:
    """Whether a straight piece passes through a box, a hair smaller than the box."""
    left, top, right, bottom = box_[0] + ROOM, box_[1] + ROOM, box_[2] - ROOM, box_[3] - ROOM
    if any(left < x < right and top < y < bottom for x, y in (start, end)):
        return True
    corners = [(left, top), (right, top), (right, bottom), (left, bottom)]
    return any(crosses(start, end, a, b) for a, b in zip(corners, corners[1:] + corners[:1], strict=True))


@given(jobs(), PAPERS)
def test_no_figure_is_covered_or_crossed(job: Job, paper: tuple[float, float]) -> None:
    drawing = sheet(plan(job, RULES, samples=0), *paper)
    texts = [(text.text, box(text)) for text in drawing.texts()]
    for (one, a), (other, b) in itertools.combinations(texts, 2):
        apart = a[2] <= b[0] + ROOM or b[2] <= a[0] + ROOM or a[3] <= b[1] + ROOM or b[3] <= a[1] + ROOM
        assert apart, f"{one!r} and {other!r} overlap"
    for text, place in texts:
        assert place[0] >= 0 and place[1] >= 0 and place[2] <= paper[0] and place[3] <= paper[1], f"{text!r} off paper"
        for start, end in lines(drawing):
            assert not touches(place, start, end), f"a line crosses {text!r}"


@given(jobs())
def test_every_keyed_text_shows_its_figure(job: Job) -> None:
    made = plan(job, RULES, samples=50)
    for text in sheet(made, 186, 168).texts():
        if text.key:
            number = re.search(r"[−\d.]+", text.text)
            assert number is not None
            assert number.group() == made.figures[FigureKey(text.key)].text(unit=False), text


@given(jobs(), PAPERS)
def test_leaders_never_cross_and_levels_keep_their_order(job: Job, paper: tuple[float, float]) -> None:
    drawing = sheet(plan(job, RULES, samples=0), *paper)
    slanted = [(a, b) for a, b in lines(drawing) if abs(a[0] - b[0]) > 0.05 and abs(a[1] - b[1]) > 0.05]
    for (a, b), (c, d) in itertools.combinations(slanted, 2):
        assert not crosses(a, b, c, d)


@given(st.lists(st.floats(0, 100), max_size=12).map(sorted), st.floats(0.5, 8))
def test_spread_keeps_order_and_pitch(wanted: list[float], pitch: float) -> None:
    places = spread(wanted, pitch, 0, 200)
    assert all(after - before >= pitch - 1e-6 for before, after in itertools.pairwise(places))
    if wanted and all(b - a >= pitch for a, b in itertools.pairwise(wanted)):
        assert places == pytest.approx(wanted)


@given(st.lists(st.tuples(st.floats(-9, 9), st.floats(-9, 9)), min_size=5, max_size=40, unique=True))
def test_hull_holds_all_points(points: list[tuple[float, float]]) -> None:
    array = np.array(points)
    if np.linalg.matrix_rank(array - array[0], tol=1e-3) < 2:
        return
    outline = hull(array)
    for start, end in zip(outline, np.roll(outline, -1, axis=0), strict=True):
        along = end - start
        assert (along[0] * (array - start)[:, 1] - along[1] * (array - start)[:, 0] >= -1e-6).all()


def test_a_claw_is_as_wide_as_its_wire_below_the_notch(planned: Callable[..., Plan]) -> None:
    made = planned()
    assert made.shape.claws is not None
    least, most, heights = reach_by_height(made.shape.claws.profile)
    low = heights < -1.5
    assert (most - least)[low] == pytest.approx(1.0, abs=1e-6)


def test_the_notch_leaves_what_the_plan_says(planned: Callable[..., Plan]) -> None:
    made = planned()
    assert made.shape.claws is not None
    profile = made.shape.claws.profile
    outside = float(profile[np.abs(profile[:, 1]) < 1e-9][:, 0].max())
    assert outside == pytest.approx(made[FigureKey("seat.remaining")])


def test_scale_is_one_and_told(planned: Callable[..., Plan]) -> None:
    made = planned()
    drawing = sheet(made, 150, 152)
    assert any(text.text == f"{drawing.scale:g} : 1  ·  mm" for text in drawing.texts())
    edges = [item for item in drawing.items if isinstance(item, Path) and item.stroke == "stone-edge"]
    across = [float(np.ptp(edge.points[:, 0])) for edge in edges]
    assert sorted(round(width / drawing.scale, 2) for width in across)[-3:] == [6.5, 6.5, 6.5]


def test_what_a_call_is_about_is_marked(planned: Callable[..., Plan]) -> None:
    def marks(**parts: Any) -> set[str]:
        return {
            item.stroke
            for item in sheet(planned(samples=0, **parts), 150, 152).items
            if isinstance(item, Path) and item.stroke.startswith("mark-")
        }

    assert marks() == set()
    assert marks(head={"notch_ratio": 0.45}) == {"mark-caution"}
    assert marks(head={"notch_ratio": 0.6}) >= {"mark-stop"}


def test_a_chosen_call_is_marked_whatever_its_level(planned: Callable[..., Plan]) -> None:
    drawing = sheet(planned(samples=0), 150, 152, "soft-stone")
    assert any(isinstance(item, Path) and item.stroke == "mark-note" for item in drawing.items)


def test_a_scale_held_is_not_outgrown(planned: Callable[..., Plan]) -> None:
    assert sheet(planned(samples=0), 250, 200).scale > 5
    assert sheet(planned(samples=0), 250, 200, keep_scale=5).scale == 5
