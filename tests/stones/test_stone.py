"""From readings to proportions."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarvel.figures.figure import FigureKey
from yarvel.heads.style import INNER_OPENING
from yarvel.planning.plan import Plan
from yarvel.stones import stone as stones
from yarvel.stones.species import ALIASES, SPECIES


def test_the_mean_sizes_and_the_largest_must_enter(planned: Callable[..., Plan]) -> None:
    plan = planned(stone={"diameters_mm": [6.4, 6.6, 6.5]})
    assert plan[FigureKey("stone.mean_diameter")] == pytest.approx(6.5)
    assert plan[FigureKey("stone.largest_diameter")] == 6.6
    assert plan[FigureKey("stone.out_of_round")] == pytest.approx(0.2 / 6.5)


def test_one_reading_is_taken_as_it_is(planned: Callable[..., Plan]) -> None:
    plan = planned()
    assert plan.figures[FigureKey("stone.mean_diameter")].source == "measured"
    assert FigureKey("stone.out_of_round") not in plan.figures


def test_a_measured_depth_is_kept_and_its_parts_scaled_to_it(planned: Callable[..., Plan]) -> None:
    plan = planned(stone={"depth_mm": 4.2})
    assert plan[FigureKey("stone.depth")] == 4.2
    assert plan[FigureKey("stone.crown_height")] + plan[FigureKey("stone.girdle")] + plan[
        FigureKey("stone.pavilion_depth")
    ] == pytest.approx(4.2)
    assert plan.figures[FigureKey("stone.girdle")].source == "assumed"


def test_one_measured_part_leaves_the_rest_to_the_other(planned: Callable[..., Plan]) -> None:
    plan = planned(stone={"depth_mm": 4.0, "crown_height_mm": 0.9, "girdle_mm": 0.2})
    assert plan[FigureKey("stone.crown_height")] == pytest.approx(0.9)
    assert plan[FigureKey("stone.pavilion_depth")] == pytest.approx(2.9)


def test_without_a_depth_all_is_assumed_and_says_so(planned: Callable[..., Plan]) -> None:
    plan = planned(stone={"depth_mm": None})
    assert plan[FigureKey("stone.depth")] == pytest.approx(0.609 * 6.5, abs=0.01)
    assert plan.figures[FigureKey("stone.pavilion_depth")].source == "assumed"
    assert (
        plan.figures[FigureKey("stone.depth")].plus_minus
        > 10 * planned().figures[FigureKey("stone.depth")].plus_minus
        > 0
    )


def test_ideal_angles(planned: Callable[..., Plan]) -> None:
    """Handbook ideals: crown 34.5°, pavilion 40.75°."""
    plan = planned(stone={"depth_mm": None})
    assert plan[FigureKey("stone.crown_angle")] == pytest.approx(34.5)
    assert plan[FigureKey("stone.pavilion_angle")] == pytest.approx(40.75)


@given(st.floats(0.001, 0.2), st.floats(1.5, 5))
def test_a_finer_gauge_leaves_less_open(planned: Callable[..., Plan], resolution: float, coarser: float) -> None:
    fine = planned(stone={"diameters_mm": [6.48, 6.52], "resolution_mm": resolution})
    coarse = planned(stone={"diameters_mm": [6.48, 6.52], "resolution_mm": min(resolution * coarser, 0.5)})
    for key in (stones.MEAN_DIAMETER, INNER_OPENING):
        assert fine.figures[key].plus_minus < coarse.figures[key].plus_minus


def test_more_readings_leave_less_open(planned: Callable[..., Plan]) -> None:
    one = planned(samples=2000, stone={"resolution_mm": 0.1})
    four = planned(samples=2000, stone={"diameters_mm": [6.5] * 4, "resolution_mm": 0.1})
    assert (
        four.figures[FigureKey("stone.mean_diameter")].plus_minus
        < 0.7 * one.figures[FigureKey("stone.mean_diameter")].plus_minus
    )


def test_the_interval_of_one_even_reading(planned: Callable[..., Plan]) -> None:
    """95 % of an even spread of ± 0.1 lies within ± 0.095."""
    plan = planned(samples=2000, stone={"resolution_mm": 0.1})
    assert plan.figures[FigureKey("stone.mean_diameter")].plus_minus == pytest.approx(0.095, abs=0.0005)


def test_species_are_told_apart_and_aliases_lead_to_one() -> None:
    assert {species.heat for species in SPECIES.values()} <= {"bears", "care", "never"}
    assert all(1 <= species.hardness <= 10 and 1.0 <= species.gravity <= 6 for species in SPECIES.values())
    assert set(ALIASES.values()) <= set(SPECIES)
    assert {"onyx", "jade", "pearl", "coral", "shell", "glass"} <= set(SPECIES)
    assert all(SPECIES[key].heat == "never" for key in ("pearl", "coral", "shell", "amber", "opal", "turquoise"))
    assert (SPECIES["diamond"].gravity, SPECIES["sapphire"].gravity, SPECIES["topaz"].hardness) == (3.52, 4.0, 8)
