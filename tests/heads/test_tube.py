"""Tube heads."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import pytest

from yarvel.figures.figure import FigureKey
from yarvel.heads.seats import BUR_SIZES_MM, bur_steps_mm
from yarvel.planning.plan import Plan
from yarvel.planning.weighing import weighed

TUBE: dict[str, Any] = {"style": "tube", "claw_mm": None, "notch_ratio": None, "wall_mm": 0.8}


def test_the_lip_that_rolls_over_is_what_practice_asks(planned: Callable[..., Plan]) -> None:
    """Common practice: 0.3 to 0.5 of wall above the girdle."""
    plan = planned(head=TUBE)
    assert 0.3 <= plan[FigureKey("seat.remaining")] <= 0.5
    assert plan[FigureKey("head.tube_outer")] == pytest.approx(6.5 + 2 * plan[FigureKey("seat.remaining")])
    assert plan[FigureKey("seat.depth")] + plan[FigureKey("seat.remaining")] == pytest.approx(0.8)


def test_the_whole_pavilion_lies_inside(planned: Callable[..., Plan]) -> None:
    for method in ("inset", "on-flat"):
        plan = planned(head=TUBE, fit={"method": method})
        assert plan[FigureKey("head.height")] >= plan[FigureKey("stone.pavilion_depth")] + 0.3 - 1e-9


def test_a_tube_of_given_length_is_taken_as_it_is(planned: Callable[..., Plan]) -> None:
    plan = planned(head={**TUBE, "height_mm": 5.0})
    assert plan[FigureKey("head.tube_length")] == pytest.approx(5.0)
    assert plan[FigureKey("seat.plane_above_finger")] == pytest.approx(
        2.0 - plan[FigureKey("shank.flat_depth")] + plan[FigureKey("head.height")]
    )


def test_a_seated_tube_needs_no_first_cut(planned: Callable[..., Plan]) -> None:
    assert FigureKey("seat.first_cut") in planned(head=TUBE).figures
    assert FigureKey("seat.first_cut") not in planned(head={**TUBE, "seated": True}).figures


def test_drawn_tube_has_no_joint_of_its_own(planned: Callable[..., Plan]) -> None:
    assert planned(head=TUBE, shank=None, fit=None).joints == ()


def test_mass_is_that_of_a_hollow_cylinder(planned: Callable[..., Plan]) -> None:
    """Below the seat a hollow cylinder; girdle and rim above it add no more than the wall would."""
    plan = weighed(planned(head={**TUBE, "metal": "sterling-silver"}, fit={"method": "on-flat"}))
    outer, bore, height = (
        plan[FigureKey("head.tube_outer")],
        plan[FigureKey("head.inner_opening")],
        plan[FigureKey("head.height")],
    )
    ring = 3.14159265 / 4 * (outer**2 - bore**2) * 10.36 / 1000
    assert ring * height * 0.9 < plan[FigureKey("head.mass")] < ring * plan[FigureKey("head.tube_length")]


@pytest.mark.parametrize(
    ("stone", "steps"), [(6.0, (5.5, 5.7, 6.0)), (6.1, (5.5, 5.7, 6.0)), (1.0, (0.9, 1.0)), (0.8, ())]
)
def test_burs_start_two_sizes_under_and_never_pass_the_stone(stone: float, steps: tuple[float, ...]) -> None:
    """Common practice: two or three sizes under, finish on size, between sizes the smaller."""
    assert bur_steps_mm(stone) == steps


def test_small_burs_are_the_nominal_sizes_of_iso_2157() -> None:
    """Published: ISO 2157, nominal sizes in tenths of a millimetre."""
    assert [round(size * 10) for size in BUR_SIZES_MM if size <= 2.5] == [9, 10, 12, 14, 16, 18, 21, 23, 25]
