"""Moments at which what is built from dates has gone wrong, or could: each with its zone."""

from __future__ import annotations

from datetime import UTC, datetime

from tests.stated import ZONE

EAST, WEST, GREENWICH = "EAST-13", "WEST+10", "UTC0"
"""Far east of Greenwich, where the day begins before it does there; far west; and there."""

HARD: dict[str, tuple[datetime, str]] = {
    **{f"{datetime(2031, 4, 7 + place):%A}": (datetime(2031, 4, 7 + place, 9, 10), ZONE) for place in range(7)},
    "last of a month": (datetime(2031, 4, 30, 16, 50), ZONE),
    "first of a month": (datetime(2031, 5, 1, 0, 20), ZONE),
    "last of a year": (datetime(2027, 12, 31, 23, 40), ZONE),
    "first of a year": (datetime(2028, 1, 1, 0, 10), ZONE),
    "29 February": (datetime(2028, 2, 29, 11, 0), ZONE),
    "the night into summer time": (datetime(2031, 3, 29, 22, 30), ZONE),
    "the morning of summer time": (datetime(2031, 3, 30, 8, 0), ZONE),
    "the night out of summer time": (datetime(2031, 10, 26, 2, 30), ZONE),
    "the week out of summer time": (datetime(2031, 10, 24, 17, 0), ZONE),
    "a Friday evening": (datetime(2031, 4, 11, 18, 30), ZONE),
    "a holiday": (datetime(2031, 12, 25, 10, 0), ZONE),
    "east of Greenwich, still yesterday there": (datetime(2031, 5, 1, 7, 30), EAST),
    "west of Greenwich, tomorrow there": (datetime(2031, 4, 30, 20, 30), WEST),
    "at Greenwich": (datetime(2026, 12, 1, 14, 30), GREENWICH),
}
"""By name: the moment on the clock of the wall, and the zone."""


def moment_of(name: str) -> datetime:
    """The moment of that name in UTC, as the store keeps it; the zone must be lived in already."""
    return HARD[name][0].astimezone(UTC).replace(tzinfo=None)
