"""Opening hours, absences and days as people type and read them."""

from __future__ import annotations

import re
from datetime import date, datetime, time, timedelta

from msgspec.structs import replace

from yarvel.day.axis import GRID_MINUTES, Block
from yarvel.figures.days import WEEKDAYS, OtherDayError, begun, day_in
from yarvel.figures.errors import StoreError
from yarvel.workshop.work.errands import Errand, check_errand

DAYS = WEEKDAYS
_CLOCK = re.compile(r"(\d{1,2})(?:[:.](\d{2}))?")
_FETCHED = re.compile(r"(.+?),? (?:by|until) ([\d:.]+),? back (?:after|in) (\d{1,3}) days?")
_ACCEPTED = "8:00-12:15, 13:00-16:45, or nothing for a day that is shut; in steps of five minutes"


def hours_text(blocks: tuple[Block, ...]) -> str:
    """A day's open blocks, as they are typed."""
    return ", ".join(f"{_clock(begin)}-{_clock(end)}" for begin, end in blocks)


def hours_of(text: str, day: str) -> tuple[Block, ...]:
    """The blocks that somebody typed for a day.

    Raises
    ------
    StoreError : no times, or such as cannot follow each other.
    """
    blocks: list[Block] = []
    for part in re.split(r"[,;]", text.replace("–", "-")):
        if not part.strip():
            continue
        ends = [_minutes(clock_time) for clock_time in part.split("-")]
        if len(ends) != 2 or None in ends:
            raise StoreError(f"{day}: {part.strip()!r} is no time of day. Accepted: {_ACCEPTED}")
        begin, end = ends[0] or 0, ends[1] or 0
        if begin >= end or (blocks and begin < blocks[-1][1]) or begin % GRID_MINUTES or end % GRID_MINUTES:
            raise StoreError(f"{day}: {part.strip()!r} cannot follow what is before it. Accepted: {_ACCEPTED}")
        blocks.append((begin, end))
    return tuple(blocks)


def fetched_text(errand: Errand) -> str:
    """When something is fetched and is back, as it is typed."""
    days = sorted(errand.days)
    row = len(days) > 2 and days == list(range(days[0], days[-1] + 1))
    days_text = f"{DAYS[days[0]]} to {DAYS[days[-1]]}" if row else ", ".join(DAYS[day] for day in days)
    return f"{days_text} by {_clock(errand.by)}, back after {errand.back} day{'s' if errand.back > 1 else ''}"


def fetched_of(text: str, errand: Errand) -> Errand:
    """An errand with the days that somebody typed (StoreError for what is none)."""
    matched = _FETCHED.fullmatch(" ".join(text.casefold().split()))
    wrong = StoreError(
        f"{errand.label}: {text.strip()!r} does not say when. Accepted: Tuesday, Thursday by 15:00, back after 5 "
        "days; or Monday to Friday by 16:00, back after 2 days"
    )
    if matched is None:
        raise wrong
    days = _weekdays(matched[1])
    if days is None:
        raise wrong
    by = _minutes(matched[2])
    if by is None:
        raise wrong
    errand_read = replace(errand, days=frozenset(days), by=by, back=int(matched[3]))
    check_errand(errand_read)
    return errand_read


def _weekdays(text: str) -> set[int] | None:
    """Weekdays (0: Monday) one after the other, or from one to another; None where a word is none."""
    weekdays: set[int] = set()
    last, through = -1, False
    for word in re.findall(r"[^\s,;]+", re.sub(r"[-–]", " to ", text)):
        if word == "to" and last >= 0:
            through = True
        elif word != "and":
            day = begun(word, DAYS)
            if day is None:
                return None
            weekdays.update((last + more) % 7 for more in range((day - last) % 7 + 1)) if through else weekdays.add(day)
            last, through = day, False
    return None if through else weekdays


def days_of(text: str) -> frozenset[date]:
    """Days that somebody typed, one after the other (StoreError for what is none)."""
    days_found = set()
    for part in re.split(r"[,;\s]+", text.strip()):
        if part:
            try:
                days_found.add(date.fromisoformat(part))
            except ValueError as error:
                raise StoreError(f"{part!r} is no day. Accepted: days such as 2031-12-24, 2031-12-25") from error
    return frozenset(days_found)


def moment_of(text: str, today: date, end: bool, month_first: bool = False) -> datetime:
    """From when or until when somebody is away: a day as people say it, a day and a time, or a time today; ``end``
    reads a mere day as its end; ``month_first`` as for a day (StoreError for what is none)."""
    words = text.strip().split()
    day, minutes = today, 24 * 60 if end else 0
    try:
        if words and (clock := _minutes(words[-1])) is not None and not _is_day(text, today, month_first):
            minutes, words = clock, words[:-1]
        elif not words:
            raise ValueError(text)
        day = day_in(" ".join(words), today, month_first) or today
    except OtherDayError as error:
        raise StoreError(f"{text!r}: {error}") from error
    except ValueError as error:
        raise StoreError(
            f"{text!r} is no time. Accepted: 13:00 (today), tomorrow, a weekday, 24 Dec, 24.12., 2031-12-24, and a "
            "time behind any of them"
        ) from error
    return datetime.combine(day, time()) + timedelta(minutes=minutes)


def _is_day(text: str, today: date, month_first: bool) -> bool:
    try:
        return day_in(text, today, month_first) is not None
    except OtherDayError:
        return True
    except ValueError:
        return False


def _minutes(text: str) -> int | None:
    matched = _CLOCK.fullmatch(text.strip())
    if matched is None:
        return None
    minutes = int(matched[1]) * 60 + int(matched[2] or 0)
    return minutes if int(matched[2] or 0) < 60 and minutes <= 24 * 60 else None


def _clock(minutes: int) -> str:
    return f"{minutes // 60}:{minutes % 60:02d}"
