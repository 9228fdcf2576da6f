"""Finger sizes against published tables and formulas."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarvel.figures.errors import SizeError
from yarvel.shanks.sizes import SYSTEMS, in_all_systems, inside_diameter_mm, said, understood

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


@pytest.mark.parametrize(
    ("typed", "standing", "meant"),
    [
        ("54", "ISO", ("ISO", "54")),
        ("N", "ISO", ("UK", "N")),
        ("R½", "US", ("UK", "R½")),
        ("z+2 1/2", "ISO", ("UK", "z+2 1/2")),
        ("US 6½", "ISO", ("US", "6½")),
        ("us6 1/2", "UK", ("US", "6 1/2")),
        ("6½ US", "ISO", ("US", "6½")),
        ("iso 54,5", "UK", ("ISO", "54,5")),
        ("UK  M", "JP", ("UK", "M")),
        ("17.2 mm", "ISO", ("mm", "17.2")),
        ("⌀17.2", "ISO", ("mm", "17.2")),
        ("Japan 13", "ISO", ("JP", "13")),
        ("Swiss 14", "ISO", ("CH", "14")),
        ("54", "UK", ("ISO", "54")),
        ("54", "US", ("ISO", "54")),
        ("6", "US", ("US", "6")),
        ("14", "CH", ("CH", "14")),
    ],
)
def test_a_size_is_understood_however_it_is_written(typed: str, standing: str, meant: tuple[str, str]) -> None:
    assert understood(typed, standing) == meant
    system, value = meant
    assert 10 <= inside_diameter_mm(system, value) <= 28
    assert understood(said(system, value, standing), standing) == meant, "as it is shown it is read again"


@pytest.mark.parametrize(
    ("typed", "standing", "told"),
    [
        ("6", "ISO", "one of US 6, Japan 6, Swiss 6"),
        ("17", "UK", "one of US 17, Japan 17, Swiss 17, 17 mm"),
        ("400", "ISO", "10 to 28 mm"),
        ("banana", "US", "US size"),
        ("US", "ISO", "US size"),
    ],
)
def test_a_number_that_several_systems_know_is_asked_for(typed: str, standing: str, told: str) -> None:
    with pytest.raises(SizeError) as caught:
        inside_diameter_mm(*understood(typed, standing))
    assert told in caught.value.accepted


@given(st.sampled_from(sorted(SYSTEMS)), st.sampled_from(sorted(SYSTEMS)), st.floats(14.5, 22.0))
def test_what_is_shown_is_what_is_meant(system: str, standing: str, diameter: float) -> None:
    """A size's own name, said where another system is usual, is that finger again."""
    name = SYSTEMS[system].name(diameter)
    assert understood(said(system, name, standing), standing) == (system, name)
