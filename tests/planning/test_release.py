"""Checks before release: spacing from chords by other means, each finding against its limit, what fails goes back."""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarvel.figures.figure import FigureKey
from yarvel.heads.spacing import from_chords
from yarvel.planning.plan import Plan
from yarvel.planning.release import (
    BEHIND,
    CHORDS,
    HEIGHTS,
    SEATS,
    SIZE,
    WEIGHT,
    CheckResult,
    checks_of,
    findings,
    judge,
    readings_in,
)
from yarvel.planning.weighing import weighed


def finding(plan: Plan, key: str, *values: float) -> CheckResult:
    check = next(check for check in checks_of(plan) if check.key == key)
    found = judge(plan, check, values)
    assert found is not None
    return found


@given(st.integers(3, 8), st.floats(1.5, 8), st.lists(st.floats(-6, 6), min_size=8, max_size=8))
def test_places_are_found_again_from_their_chords(count: int, radius: float, shifts: list[float]) -> None:
    """Points set on a circle, their chords measured: the circle and every claw's error come back."""
    errors = np.array(shifts[:count]) - np.mean(shifts[:count])
    angles = np.radians(np.arange(count) * 360 / count + errors)
    points = radius * np.column_stack([np.cos(angles), np.sin(angles)])
    chords = np.hypot(*(np.roll(points, -1, axis=0) - points).T)
    spacing = from_chords(chords)
    assert spacing.radius_mm == pytest.approx(radius, rel=1e-6)
    assert sum(spacing.angles_deg) == pytest.approx(360)
    assert spacing.out_deg == pytest.approx(errors, abs=1e-4)


@pytest.mark.parametrize("chords", [(5.0, 5.0), (9.0, 1.0, 1.0, 1.0), (3.0, 0.0, 3.0)])
def test_chords_that_make_no_head_are_refused(chords: tuple[float, ...]) -> None:
    with pytest.raises(ValueError, match="chord"):
        from_chords(np.array(chords))


def test_a_claw_out_of_its_place_is_named_with_its_way(planned: Callable[..., Plan]) -> None:
    """In line: 3, 12, 9, 6 o'clock. The claw at 12 stands 8° towards 9: counter-clockwise, so it goes clockwise."""
    made = planned(samples=0)
    radius = 3.4
    angles = np.radians([0, 98, 180, 270])
    chords = [
        2 * radius * math.sin((after - here) / 2)
        for here, after in zip(angles, [*angles[1:], 2 * math.pi], strict=True)
    ]
    told = finding(made, CHORDS, *chords)
    assert told.level == "caution" and "Claw 1" in told.message and "clockwise" in told.message
    assert "counter" not in told.message and told.back_to == "set"
    even = 2 * radius * math.sin(math.pi / 4)
    assert finding(made, CHORDS, even, even, even, even).level == "ok"
    assert "make no head" in finding(made, CHORDS, 20, 1, 1, 1).message


@pytest.mark.parametrize(
    ("off", "level", "word"),
    [(0.05, "ok", "within"), (0.3, "stop", "take 0.94 mm out"), (-0.3, "stop", "put 0.94 mm in")],
)
def test_size_is_held_against_the_plan(off: float, level: str, word: str, planned: Callable[..., Plan]) -> None:
    """π·Δd in or out."""
    made = planned(samples=0)
    told = finding(made, SIZE, made[FigureKey("shank.inside_diameter")] + off)
    assert told.level == level and word in told.message


def test_weight_counts_head_shank_and_stone(planned: Callable[..., Plan]) -> None:
    """1 ct = 0.2 g."""
    made = weighed(planned(samples=0))
    whole = made[FigureKey("head.mass")] + made[FigureKey("shank.mass")] + made[FigureKey("stone.weight_model")] * 0.2
    assert finding(made, WEIGHT, whole * 1.05).level == "ok" and finding(made, WEIGHT, whole * 1.3).level == "caution"


@pytest.mark.parametrize(
    ("behind", "level", "back"),
    [
        ((0.6, 0.65, 0.6, 0.55), "ok", ""),
        ((0.6, 0.45, 0.6, 0.6), "stop", "head"),
        ((0.6, 0.9, 0.6, 0.6), "stop", "seat"),
    ],
)
def test_contact_is_a_third_to_a_half(
    behind: tuple[float, ...], level: str, back: str, planned: Callable[..., Plan]
) -> None:
    """Common practice, claws of 1.0: never past half, under a fifth does not hold."""
    told = finding(planned(samples=0), BEHIND, *behind)
    assert (told.level, told.back_to) == (level, back)
    if level == "stop":
        assert "claw 1" in told.message


@pytest.mark.parametrize(
    ("heights", "level", "words"),
    [
        ((5.0, 5.0, 5.0, 5.0), "ok", ("rest still and level on every seat",)),
        ((5.0, 5.0, 5.0, 4.9), "caution", ("rock about claws", "by 0.10 mm", "to either side", "Take the seats down")),
        ((5.2, 5.0, 5.0, 5.0), "caution", ("rock about claws", "by 0.20 mm", "leaning", "Take the seats down at claw")),
        ((5.1, 5.0, 4.9, 5.0), "caution", ("rest on claws 1, 2, 3 and 4, leaning",)),
        ((5.0, 5.02, 5.0, 4.98), "ok", ("rest still and level",)),
    ],
)
def test_seats_as_cut_tell_how_the_stone_will_rest(
    heights: tuple[float, ...], level: str, words: tuple[str, ...], planned: Callable[..., Plan]
) -> None:
    """Four seats, a flat stone: three carry, the low one shows light; one high seat lifts its side (geometry)."""
    told = finding(planned(samples=0), SEATS, *heights)
    assert told.level == level and all(word in told.message for word in words), told.message
    assert (told.back_to == "seat") == (level != "ok")


def test_a_leaning_table_names_claw_and_seat(planned: Callable[..., Plan]) -> None:
    told = finding(planned(samples=0), HEIGHTS, 10.0, 10.2, 10.0, 9.8)
    assert told.level == "stop" and "Low towards 6" in told.message and "seat at claw 1" in told.message
    assert finding(planned(samples=0), HEIGHTS, 10.0, 10.0, 10.0, 10.0).level == "ok"


@pytest.mark.parametrize(
    ("parts", "keys"),
    [
        ({}, [SIZE, WEIGHT, BEHIND, CHORDS, HEIGHTS, SEATS]),
        ({"shank": None, "fit": None}, [WEIGHT, BEHIND, CHORDS, HEIGHTS, SEATS]),
        ({"head": {"style": "tube", "claw_mm": None, "notch_ratio": None}}, [SIZE, WEIGHT]),
        (
            {"stone": {"cut": "oval", "diameters_mm": None, "length_mm": 8, "width_mm": 6, "depth_mm": None}},
            [SIZE, WEIGHT, BEHIND, HEIGHTS, SEATS],
        ),
    ],
)
def test_what_can_be_measured_is_asked(parts: dict[str, object], keys: list[str], planned: Callable[..., Plan]) -> None:
    assert [check.key for check in checks_of(weighed(planned(samples=0, **parts)))] == keys  # type: ignore[arg-type]


def test_half_a_row_of_readings_tells_nothing_yet(planned: Callable[..., Plan]) -> None:
    made = planned(samples=0)
    assert findings(made, {CHORDS: [5.0, None, 5.0]}) == [] and findings(made, {SIZE: "x"}) == []
    chords = next(check for check in checks_of(made) if check.key == CHORDS)
    assert readings_in({CHORDS: [5.0, None, "x"]}, chords) == (5.0, None, None, None)
    assert [found.key for found in findings(made, {SIZE: [17.2], CHORDS: [5, 5, 5, 5]})] == [SIZE, CHORDS]
