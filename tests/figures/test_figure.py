"""Figures: their text, their places, their working."""

from __future__ import annotations

import numpy as np
import pytest

from yarvel.figures.figure import (
    GEOMETRY,
    Figure,
    FigureKey,
    FigureSpec,
    Ledger,
    Number,
    deserved_places,
    figure,
    format_number,
)
from yarvel.figures.working import lines, with_numbers


@figure("head.area", "Area", "mm²", "a·(b − 1)", GEOMETRY, width="a", height="b")
def area(width: Number, height: Number) -> Number:
    """An example with two inputs."""
    return width * (height - 1)


def made(value: float, plus_minus: float = 0.0, unit: str = "mm") -> Figure:
    spec = FigureSpec(
        key="head.area", label="Area", unit=unit, formula="a·b", source=GEOMETRY, symbols={"width": "a", "height": "b"}
    )
    return Figure(spec, value, plus_minus, ("a", "b", ""), (2.0, value / 2, "kept out of the formula"))


def test_a_ledger_keeps_what_went_in() -> None:
    ledger = Ledger()
    assert ledger.enter(area, 3.0, 5.0) == 12.0
    entry = ledger.entries[FigureKey("head.area")]
    assert (entry.marks, entry.arguments) == (("a", "b"), (3.0, 5.0))
    assert ledger.value(FigureKey("head.area")) == 12.0


def test_a_figure_is_entered_in_the_order_of_its_formula() -> None:
    with pytest.raises(TypeError, match="positional"):
        Ledger().enter(area, 3.0, height=5.0)


def test_a_symbol_needs_its_parameter() -> None:
    with pytest.raises(TypeError, match="depth"):
        figure("a.b", "B", "mm", "d", GEOMETRY, depth="d")(lambda width: width)


def test_arrays_go_through_the_same_function() -> None:
    assert np.array_equal(Ledger().enter(area, np.array([1.0, 2.0]), 3.0), [2.0, 4.0])


@pytest.mark.parametrize(("plus_minus", "places"), [(0.0, 2), (0.004, 2), (0.03, 2), (0.3, 1), (0.04, 2), (7.0, 0)])
def test_no_more_places_than_the_tolerance_deserves(plus_minus: float, places: int) -> None:
    assert deserved_places(plus_minus, 2) == places


@pytest.mark.parametrize(("value", "text"), [(1.005, "1.00"), (-0.001, "0.00"), (-2.5, "−2.50"), (12, "12.00")])
def test_numbers_as_text(value: float, text: str) -> None:
    assert format_number(value, 2) == text


def test_text_with_unit_and_tolerance() -> None:
    assert made(6.472, 0.031).text() == "6.47 mm"
    assert made(6.472, 0.031).plus_minus_text() == "± 0.03"
    assert made(60.0, unit="°").text() == "60.00°"
    assert made(6.472).plus_minus_text() == ""


def test_numbers_take_the_place_of_symbols_and_of_nothing_else() -> None:
    assert with_numbers("min(σ, atan(k·r_c/r))", (("σ", 12.0), ("k", 0.5), ("r_c", -3.25), ("r", 4.0))) == (
        "min(12, atan(0.5·(−3.25)/4))"
    )


def test_the_working_ends_with_result_and_origin() -> None:
    told = lines(made(6.0, 0.03))
    assert told == ["a·b", "= 2·3", "= 6.00 mm ± 0.03", "Origin: geometry"]
