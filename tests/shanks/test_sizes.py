"""Finger sizes against published tables and formulas."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarvel.figures.errors import SizeError
from yarvel.shanks.sizes import SYSTEMS, in_all_systems, inside_diameter_mm

# The usual published conversion table of ring sizes (inside diameter, mm, to 0.1), quoted from memory.
TABLE = [
    ("US", "3", 14.07),
    ("US", "5", 15.70),
    ("US", "6", 16.51),
    ("US", "7", 17.32),
    ("US", "8", 18.14),
    ("US", "10", 19.76),
    ("US", "13", 22.20),
    ("JP", "7", 15.0),
    ("JP", "13", 17.0),
    ("JP", "16", 18.0),
    ("UK", "A", 11.94),
    ("UK", "J", 15.52),
    ("UK", "N", 17.11),
    ("UK", "R", 18.70),
    ("UK", "Z", 21.88),
]


@pytest.mark.parametrize(("system", "size", "diameter"), TABLE)
def test_published_sizes(system: str, size: str, diameter: float) -> None:
    assert inside_diameter_mm(system, size) == pytest.approx(diameter, abs=0.03)


def test_iso_8653_is_the_inside_circumference() -> None:
    """Published: ISO 8653."""
    assert inside_diameter_mm("ISO", "54") * math.pi == pytest.approx(54)
    assert inside_diameter_mm("CH", "14") == inside_diameter_mm("ISO", "54")


def test_m_and_a_half_is_us_six_and_a_half_is_fifty_three() -> None:
    """Handbook check value."""
    middle = inside_diameter_mm("UK", "M½")
    assert middle * math.pi == pytest.approx(53.1, abs=0.03)
    assert inside_diameter_mm("US", "6.5") == pytest.approx(middle, abs=0.02)


@pytest.mark.parametrize(
    ("system", "one", "other"),
    [("UK", "M½", "m1/2"), ("US", "6.5", "6 1/2"), ("US", "6.5", "6½"), ("US", "5,25", "5¼"), ("UK", "Z+1", "z + 1")],
)
def test_ways_of_writing_one_size(system: str, one: str, other: str) -> None:
    assert inside_diameter_mm(system, one) == inside_diameter_mm(system, other)


def test_beyond_z() -> None:
    assert inside_diameter_mm("UK", "Z+2") * math.pi == pytest.approx(37.5 + 1.25 * 27)


@pytest.mark.parametrize(
    ("system", "text"),
    [
        ("UK", "AA"),
        ("UK", "M+1"),
        ("UK", ""),
        ("US", "x"),
        ("US", "1/0"),
        ("ISO", "nan"),
        ("ISO", "-54"),
        ("mm", "1e9"),
        ("mm", "40"),
        ("US", ""),
    ],
)
def test_what_is_no_size_says_what_is_accepted(system: str, text: str) -> None:
    with pytest.raises(SizeError) as caught:
        inside_diameter_mm(system, text)
    assert caught.value.accepted


@given(st.sampled_from(list(SYSTEMS)), st.floats(13.2, 21.5))
def test_a_named_size_reads_back_within_a_step(system: str, diameter: float) -> None:
    again = inside_diameter_mm(system, SYSTEMS[system].name(diameter))
    assert again == pytest.approx(diameter, abs=0.205)


def test_all_systems_in_one_line() -> None:
    assert in_all_systems(54 / math.pi) == "ISO 54 · US 6¾ · UK N · Japan 13.5 · Swiss 14"
