"""Tubes, bezels and ready mounts: all at once they give what plans give one by one."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import job_with
from yarvel.figures.errors import JobError
from yarvel.figures.rules import HouseRules
from yarvel.heads import notches, tube
from yarvel.planning.effects import without_effect
from yarvel.planning.match import FITS, LARGE, LOW, OTHER, OTHER_SIZE, SMALL, TIGHT, Stock, match, why
from yarvel.planning.match_tubes import SHORT, Tubes, match_tubes, why_tube
from yarvel.planning.plan import plan
from yarvel.shanks.resizing import PIECE

RULES = HouseRules()
TUBE: dict[str, Any] = {"style": "tube", "claws": None, "claw_mm": None, "notch_ratio": None, "orientation": None}
_OWN = ("tube-lip-thin", "tube-ledge-narrow", "wall-too-low")


def tubes(*rows: tuple[float, float, float, float]) -> Tubes:
    outside, wall, height, held = (np.array(column, dtype=float) for column in zip(*rows, strict=True))
    return Tubes(
        codes=tuple(f"T{row}" for row in range(len(rows))),
        outside=outside,
        wall=wall,
        height=height,
        length=np.where(np.isnan(height), held, np.nan),
        held=held,
    )


_ROWS = st.lists(
    st.tuples(st.floats(6.3, 8.5), st.floats(0.3, 1.6), st.floats(2, 8), st.just(1.0)), min_size=1, max_size=6
)


@given(_ROWS, st.sampled_from(["on-flat", "inset", "fish-mouth"]))
def test_bezels_at_once_are_bezels_one_by_one(rows: list[tuple[float, float, float, float]], method: str) -> None:
    parts: dict[str, Any] = {"fit": {"method": method}, "shank": {"width_mm": 6.0}}
    found = match_tubes(job_with(head=TUBE, **parts), RULES, tubes(*rows))
    for row, (outside, wall, height, _) in enumerate(rows):
        head = {**TUBE, "outside_mm": outside, "wall_mm": wall, "height_mm": height}
        try:
            made = plan(job_with(head=head, **parts), RULES, samples=0)
        except JobError as error:
            assert error.problems[0].path == "head.outside_mm" and found.verdict[row] in (SMALL, LARGE)
            continue
        levels = {call.code: call.level for call in made.diagnostics}
        assert found.lip[row] == pytest.approx(made[notches.REMAINING])
        assert found.ledge[row] == pytest.approx(made[notches.SEAT_DEPTH])
        assert (found.verdict[row] == SMALL) == (levels["tube-lip-thin"] == "stop")
        assert (found.verdict[row] == LARGE) == (levels["tube-ledge-narrow"] == "stop" != levels["tube-lip-thin"])
        if found.verdict[row] == FITS:
            assert all(levels[code] == "ok" for code in _OWN), "a bezel that fits calls for nothing of its own"
        if found.verdict[row] == LOW and method != "inset":
            assert levels["wall-too-low"] == "stop"
        if found.verdict[row] == TIGHT:
            assert levels["tube-lip-thin"] == "caution"


@given(_ROWS)
def test_a_tube_in_hand_is_as_wide_as_it_was_measured(rows: list[tuple[float, float, float, float]]) -> None:
    """Whatever the stone's readings hide, the tube does not become wider or narrower; its rim does."""
    for outside, wall, _, _ in rows:
        try:
            made = plan(job_with(head={**TUBE, "outside_mm": outside, "wall_mm": wall}), RULES, samples=200)
        except JobError:
            continue
        held, rim = made.figures[tube.tube_outer_mm], made.figures[tube.lip_left_mm]
        assert held.value == outside and held.plus_minus == 0 and held.spec.source == "measured"
        assert rim.plus_minus > 0 and made[tube.bore_mm] == pytest.approx(outside - 2 * wall)


def test_the_best_tube_leaves_the_usual_rim() -> None:
    nan = float("nan")
    rows = ((7.3, 0.8, nan, 50.0), (7.9, 0.9, nan, 50.0), (6.6, 0.8, nan, 50.0), (7.3, 0.8, nan, 1.0), (7.3, 0.8, 2, 1))
    found = match_tubes(job_with(head=TUBE), RULES, tubes(*rows))
    assert found.verdict.tolist() == [FITS, TIGHT, SMALL, SHORT, LOW] and np.argmin(found.cost) == 0
    told = [why_tube(found, row, RULES) for row in range(5)]
    assert told[0] == "rim 0.40 mm, ledge 0.40 mm" and "stiff" in told[1] and "would tear" in told[2]
    assert "shorter than is needed" in told[3] and "pavilion" in told[4]
    none = match_tubes(job_with(head=TUBE), RULES, tubes((7.3, 0.8, 6.0, 0.0), (7.9, 0.9, 6.0, 1.0)))
    assert np.argmin(none.cost) == 1, "none in stock ranks below one that is there"


def test_a_long_stone_is_set_in_a_strip() -> None:
    stone = {"cut": "oval", "diameters_mm": None, "length_mm": 8.0, "width_mm": 6.0}
    found = match_tubes(job_with(stone=stone, head=TUBE), RULES, tubes((7.3, 0.8, 6.0, 1.0)))
    assert found.verdict.tolist() == [OTHER] and "strip" in why_tube(found, 0, RULES)
    told = without_effect(job_with(stone=stone, head={**TUBE, "outside_mm": 7.3, "wall_mm": 0.8}))
    assert ("head.outside_mm", "a strip is bent round a stone that is not round") in [
        (problem.path, problem.wrong) for problem in told
    ]


@pytest.mark.parametrize(
    ("head", "path", "told"),
    [
        ({"outside_mm": 6.5, "wall_mm": 0.8}, "head.outside_mm", "no wall is left"),
        ({"outside_mm": 8.8, "wall_mm": 0.8}, "head.outside_mm", "falls through"),
        ({"outside_mm": 7.3}, "head.wall_mm", "has a wall"),
        ({"outside_mm": 7.3, "wall_mm": 0.8, "notch_ratio": 0.3}, "head.notch_ratio", "follows"),
    ],
)
def test_a_tube_that_cannot_take_the_stone_is_refused(head: dict[str, Any], path: str, told: str) -> None:
    with pytest.raises(JobError) as caught:
        plan(job_with(head={**TUBE, **head}), RULES, samples=0)
    assert caught.value.problems[0].path == path and told in caught.value.problems[0].wrong


def mounts(*rows: tuple[float, float, float]) -> Stock:
    made_for, height, inside = (np.array(column, dtype=float) for column in zip(*rows, strict=True))
    claws, wire = np.full(len(rows), 4.0), np.full(len(rows), 1.0)
    return Stock(
        codes=tuple(f"M{row}" for row in range(len(rows))),
        made_for=made_for,
        claw=wire,
        claws=claws,
        opening=np.full(len(rows), np.nan),
        height=height,
        inside=inside,
    )


@given(
    st.lists(st.tuples(st.floats(5.8, 7.2), st.floats(2.5, 7), st.floats(15, 20)), min_size=1, max_size=5),
    st.sampled_from(["on-flat", "inset", "peg"]),
)
def test_a_mount_is_what_a_plan_of_it_says(rows: list[tuple[float, float, float]], method: str) -> None:
    """However the job in hand would fit its head: the mount's stands on its own band already."""
    job = job_with(fit={"method": method}, shank={"size": {"system": "mm", "value": "17.3"}})
    found = match(job, RULES, mounts(*rows))
    for row, (made_for, height, inside) in enumerate(rows):
        head = {
            "style": "bought",
            "made_for_mm": made_for,
            "claw_mm": 1.0,
            "claws": 4,
            "height_mm": height,
            "notch_ratio": None,
            "exists": True,
        }
        shank = {
            "exists": True,
            "size": {"system": "mm", "value": "17.3"},
            "resized_from": {"system": "mm", "value": f"{inside:.6f}"},
            "resize_by": PIECE,
        }
        made = plan(job_with(head=head, shank=shank, fit={"method": "on-flat"}), RULES, samples=0)
        assert found.notch_ratio[row] == pytest.approx(made[notches.notch_ratio])
        assert found.resize[row] == pytest.approx(17.3 - inside)
        assert found.trim[row] == 0, "nothing comes off a head that stands on its ring"
        levels = {call.code: call.level for call in made.diagnostics}
        assert (found.verdict[row] == SMALL) == (levels["head-too-small"] == "stop")
        if found.verdict[row] == OTHER_SIZE:
            assert levels["resize-too-far"] != "ok"
        if found.verdict[row] == FITS:
            assert levels["resize-too-far"] == "ok" and levels["culet-reaches-finger"] == "ok"


def test_of_two_mounts_the_one_of_the_right_size_comes_first() -> None:
    job = job_with(shank={"size": {"system": "mm", "value": "17.3"}})
    found = match(job, RULES, mounts((6.5, 5.0, 16.4), (6.5, 5.0, 17.3), (6.5, 5.0, 20.5)))
    assert found.best(3) == [1, 0, 2] and found.verdict[2] == OTHER_SIZE
    assert "0.90 mm larger" in why(found, 0, RULES) and "3.20 mm too large inside" in why(found, 2, RULES)
