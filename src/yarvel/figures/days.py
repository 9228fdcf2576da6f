"""Days as people say them, read in one place: ``11 Dec``, ``11.12.``, ``11/12``, ``Fri``, ``Fri week``, ``in 10
days``."""

from __future__ import annotations

import re
from datetime import date, timedelta

from yarvel.figures.errors import YarvelError

WEEKDAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
MONTHS = (
    "January",
    "February",
    "March",
    "April",
    "May",
    "June",
    "July",
    "August",
    "September",
    "October",
    "November",
    "December",
)
ACCEPTED = "a date such as 11 Dec, 11.12., Fri, Fri week, in 10 days, or 2031-12-11"
_LEAST_LETTERS = 3
_AHEAD = re.compile(r"(?:in )?(\d+|a|an) (day|week|month)s?")
_DOTS = re.compile(r"(\d{1,2})\.(\d{1,2})\.?(\d{2}|\d{4})?\.?")
_SLASH = re.compile(r"(\d{1,2})/(\d{1,2})(?:/(\d{2}|\d{4}))?")
_ISO = re.compile(r"\d{4}-\d{2}-\d{2}")
_NUMBER = re.compile(r"(\d+)(?:st|nd|rd|th)?\.?")


class OtherDayError(YarvelError, ValueError):
    """A day of the week and a date that do not agree."""


def day_in(text: str, today: date, month_first: bool = False) -> date | None:
    """The day that a text says; None for nothing. Without a year it is the next day that is so called, today counts.
    ``month_first``: how two numbers with a stroke between them are meant.

    Raises
    ------
    ValueError : it says none (OtherDayError: the day of the week is another one).
    """
    words = text.casefold().replace(",", " ").split()
    if not words:
        return None
    weekday = begun(words[0], WEEKDAYS)
    if weekday is None:
        return _date(" ".join(words), today, month_first)
    ahead = today + timedelta(days=(weekday - today.weekday()) % 7)
    if words[1:] in ([], ["week"]):
        return ahead + timedelta(days=7 * len(words[1:]))
    day = _date(" ".join(words[1:]), today, month_first)
    if day.weekday() != weekday:
        raise OtherDayError(f"{day.day} {MONTHS[day.month - 1]} {day.year} is a {WEEKDAYS[day.weekday()]}")
    return day


def day_text(day: date, today: date) -> str:
    """A day as it was understood: its name, and how far it is."""
    away = (day - today).days
    near = {0: "today", 1: "tomorrow", -1: "yesterday"}.get(away)
    far = near or (f"in {away} days" if away > 0 else f"{-away} days ago")
    return f"{WEEKDAYS[day.weekday()]} {day.day} {MONTHS[day.month - 1]} {day.year}, {far}"


def _date(said: str, today: date, month_first: bool) -> date:
    if said in ("today", "tomorrow"):
        return today + timedelta(days=said == "tomorrow")
    if matched := _AHEAD.fullmatch(said):
        return _ahead(today, 1 if matched[1] in ("a", "an") else int(matched[1]), matched[2])
    if _ISO.fullmatch(said):
        return date.fromisoformat(said)
    if matched := _DOTS.fullmatch(said):
        return _whole(int(matched[1]), int(matched[2]), matched[3], today)
    if matched := _SLASH.fullmatch(said):
        day, month = (int(matched[2]), int(matched[1])) if month_first else (int(matched[1]), int(matched[2]))
        return _whole(day, month, matched[3], today)
    words = said.split()
    months = [(place, begun(word, MONTHS)) for place, word in enumerate(words[:2])]
    named = [(place, month) for place, month in months if month is not None]
    if len(words) in (2, 3) and len(named) == 1:
        place, month = named[0]
        number = _NUMBER.fullmatch(words[1 - place])
        year = words[2] if len(words) == 3 else None
        if number is not None and (year is None or re.fullmatch(r"\d{2}|\d{4}", year)):
            return _whole(int(number[1]), month + 1, year, today)
    raise ValueError(said)


def _ahead(today: date, count: int, unit: str) -> date:
    if unit != "month":
        return today + timedelta(days=min(count, 10**5) * (7 if unit == "week" else 1))
    months = today.month - 1 + count
    year, month = today.year + months // 12, months % 12 + 1
    last = (date(year + month // 12, month % 12 + 1, 1) - timedelta(days=1)).day
    return date(year, month, min(today.day, last))


def _whole(day: int, month: int, year: str | None, today: date) -> date:
    """With the year that is said, or the next in which there is such a day."""
    if year is not None:
        return date(int(year) if len(year) == 4 else 2000 + int(year), month, day)
    for later in range(9):  # between two leap days lie eight years at the most
        try:
            found = date(today.year + later, month, day)
        except ValueError:
            if (day, month) != (29, 2):
                raise
            continue
        if found >= today:
            return found
    raise ValueError(f"{day}.{month}.")


def begun(word: str, names: tuple[str, ...]) -> int | None:
    """Which of the names a word begins, by three letters or more; None where it begins none."""
    word = word.casefold().rstrip(".")
    if len(word) < _LEAST_LETTERS:
        return None
    return next((place for place, name in enumerate(names) if name.casefold().startswith(word)), None)
