"""Days as people say them: what is understood, and what is not guessed at."""

from __future__ import annotations

from datetime import date, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarvel.figures.days import OtherDayError, day_in, day_text
from yarvel.figures.errors import StoreError
from yarvel.workshop.work.day_words import moment_of

TODAY = date(2031, 4, 9)  # a Wednesday

SAID = [
    ("2031-05-02", "2031-05-02"),
    ("2.5.", "2031-05-02"),
    ("2.5", "2031-05-02"),
    ("2.5.31", "2031-05-02"),
    ("02.05.2031", "2031-05-02"),
    ("2/5", "2031-05-02"),
    ("2/5/32", "2032-05-02"),
    ("2 May", "2031-05-02"),
    ("May 2", "2031-05-02"),
    ("2nd may 2033", "2033-05-02"),
    ("2. Mai", None),
    ("11 Dec", "2031-12-11"),
    ("11 december", "2031-12-11"),
    ("9 Apr", "2031-04-09"),
    ("8 Apr", "2032-04-08"),
    ("29 Feb", "2032-02-29"),
    ("30 Feb", None),
    ("today", "2031-04-09"),
    ("Tomorrow", "2031-04-10"),
    ("Wed", "2031-04-09"),
    ("Fri", "2031-04-11"),
    ("friday", "2031-04-11"),
    ("Fri week", "2031-04-18"),
    ("Fri 11 Apr", "2031-04-11"),
    ("Friday, 11.4.", "2031-04-11"),
    ("in 10 days", "2031-04-19"),
    ("10 days", "2031-04-19"),
    ("in 2 weeks", "2031-04-23"),
    ("in a week", "2031-04-16"),
    ("in a month", "2031-05-09"),
    ("11", None),
    ("fr", None),
    ("11 12", None),
    ("Dec", None),
    ("13/13", None),
    ("soon", None),
    ("Fri and Sat", None),
]


@pytest.mark.parametrize(("said", "day"), SAID)
def test_a_day_as_it_is_said(said: str, day: str | None) -> None:
    if day is None:
        with pytest.raises(ValueError, match=r".*"):
            day_in(said, TODAY)
    else:
        assert day_in(said, TODAY) == date.fromisoformat(day)


def test_a_stroke_between_is_the_machines_order() -> None:
    assert day_in("11/12", TODAY) == date(2031, 12, 11)
    assert day_in("11/12", TODAY, month_first=True) == date(2031, 11, 12)


def test_the_end_of_a_month_is_no_day_of_the_next() -> None:
    assert day_in("in a month", date(2031, 1, 31)) == date(2031, 2, 28)
    assert day_in("in 11 months", date(2031, 1, 31)) == date(2031, 12, 31)


def test_a_weekday_and_a_date_that_do_not_agree_are_told() -> None:
    """The customer says Friday, the hand types the twelfth: one of them is wrong, and nobody guesses which."""
    with pytest.raises(OtherDayError, match="12 April 2031 is a Saturday"):
        day_in("Fri 12 Apr", TODAY)
    with pytest.raises(StoreError, match="is a Saturday"):
        moment_of("Fri 12 Apr", TODAY, end=False)


@given(st.dates(date(2000, 1, 1), date(2090, 12, 31)), st.integers(0, 365))
def test_every_day_of_the_year_to_come_is_read_in_every_way(today: date, ahead: int) -> None:
    day = today + timedelta(days=min(ahead, 364))
    ways = (
        f"{day:%-d %b}",
        f"{day:%B %-d}",
        f"{day:%-d.%-m.}",
        f"{day:%d/%m}",
        f"{day:%a %-d %B}",
        f"in {(day - today).days} days",
    )
    if not (day.month == 2 and day.day == 29):
        assert {day_in(way, today) for way in ways} == {day}
    assert day_in(day_text(day, today).rsplit(", ", 1)[0], today) == day


@pytest.mark.parametrize(
    ("said", "begins"),
    [
        ("13:00", datetime(2031, 4, 9, 13)),
        ("Thursday", datetime(2031, 4, 10)),
        ("thu 13:00", datetime(2031, 4, 10, 13)),
        ("24 Dec 9.30", datetime(2031, 12, 24, 9, 30)),
        ("24.12.", datetime(2031, 12, 24)),
        ("24.12. 13", datetime(2031, 12, 24, 13)),
        ("in 3 days 8:00", datetime(2031, 4, 12, 8)),
        ("2031-12-24 13:00", datetime(2031, 12, 24, 13)),
    ],
)
def test_when_somebody_is_away_is_said_the_same_way(said: str, begins: datetime) -> None:
    assert moment_of(said, TODAY, end=False) == begins
