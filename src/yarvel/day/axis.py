"""Opening hours laid end to end on a grid of five minutes: the time that a plan knows."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterable
from datetime import date, datetime, time, timedelta
from functools import cached_property

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

GRID_MINUTES = 5
"""A grid of 15 minutes made weighted lateness ten times worse (measured beforehand on made-up shops)."""
LONGEST_PIECE = 21
"""Slots of the longest piece of work that is planned in one: 105 minutes, so that none crosses a break or a night."""
Ints = NDArray[np.int64]

Block = tuple[int, int]
"""From and to, in minutes after midnight."""
Week = tuple[tuple[Block, ...], ...]
"""Blocks of each weekday, from Monday on."""
USUAL_DAY: tuple[Block, ...] = ((480, 600), (615, 735), (780, 900), (915, 1005))
USUAL_WEEK: Week = (USUAL_DAY,) * 5 + ((), ())
"""``USUAL_DAY``, ``USUAL_WEEK``: eight to a quarter to five, Monday to Friday, with a break after every two hours:
common practice, to be changed."""


class Hours(Struct, frozen=True):
    """When the workshop is open: blocks of each weekday from Monday on, and days on which it is shut."""

    week: Week = USUAL_WEEK
    holidays: frozenset[date] = frozenset()

    def of(self, day: date) -> tuple[Block, ...]:
        """Open blocks of a day."""
        return () if day in self.holidays else self.week[day.weekday()]

    @property
    def opens(self) -> int:
        """When the house opens, on the day on which it opens first: minutes after midnight."""
        return min(blocks[0][0] for blocks in self.week if blocks)

    @property
    def minutes(self) -> int:
        """Open minutes of a usual week."""
        return sum(end - begin for blocks in self.week for begin, end in blocks)

    def open_days(self, start: date, end: date) -> int:
        """Open days from ``start`` to before ``end``; negative where that is past."""
        if end < start:
            return -self.open_days(end, start)
        weeks, rest = divmod((end - start).days, 7)
        count = weeks * sum(bool(blocks) for blocks in self.week)
        count += sum(bool(self.week[(start.weekday() + more) % 7]) for more in range(rest))
        return count - sum(start <= day < end and bool(self.week[day.weekday()]) for day in self.holidays)

    def share(self, week: Week) -> float:
        """What somebody's own week comes to against the open minutes; what they are here beside those counts too."""
        both = sum(
            max(min(end, other_end) - max(begin, other), 0)
            for day, mine in zip(self.week, week, strict=True)
            for begin, end in day
            for other, other_end in mine
        )
        beside = sum(end - begin for day in self.beside(week) for begin, end in day)
        return (both + beside) / max(self.minutes, 1)

    def beside(self, week: Week) -> Week:
        """What of somebody's own week lies before the house opens, after it closes, or on days on which it is shut; a
        break of the house is everybody's."""
        free_days = []
        for mine, day in zip(week, self.week, strict=True):
            opens, closes = (day[0][0], day[-1][1]) if day else (24 * 60, 24 * 60)
            early = [(begin, min(end, opens)) for begin, end in mine if begin < opens]
            late = [(max(begin, closes), end) for begin, end in mine if end > closes]
            free_days.append((*early, *late))
        return tuple(free_days)

    def with_weeks(self, weeks: Iterable[Week]) -> Hours:
        """These hours, and whenever anybody is here beside them."""
        beside = [self.beside(week) for week in weeks]
        if not any(any(days) for days in beside):
            return self
        return Hours(
            tuple(
                tuple(sorted((*day, *_joined(block for days in beside for block in days[number]))))
                for number, day in enumerate(self.week)
            ),
            self.holidays,
        )

    def closing(self, day: date) -> datetime | None:
        """When the house closes on a day; None where it is shut."""
        blocks = self.of(day)
        return datetime.combine(day, time()) + timedelta(minutes=blocks[-1][1]) if blocks else None


def _joined(blocks: Iterable[Block]) -> list[Block]:
    """Blocks of several people as one after the other: what overlaps is one."""
    found: list[Block] = []
    for begin, end in sorted(blocks):
        if found and begin <= found[-1][1]:
            found[-1] = found[-1][0], max(found[-1][1], end)
        else:
            found.append((begin, end))
    return found


class Axis:
    """``count`` open days from ``first`` on, as slots of the grid one after the other.

    A slot is an index; an end is the index after the last slot. Moments are local times without a zone.
    """

    def __init__(self, hours: Hours, first: date, count: int) -> None:
        if not any(hours.week):
            raise ValueError("hours: open on no day: at least one weekday with a block of time")
        self.hours = hours
        starts: list[datetime] = []
        lengths: list[int] = []
        days: list[date] = []
        of_day: list[int] = []
        day = first
        while len(days) < count:
            blocks = hours.of(day)
            if blocks:
                for begin, end in blocks:
                    starts.append(datetime.combine(day, time()) + timedelta(minutes=begin))
                    lengths.append((end - begin) // GRID_MINUTES)
                    of_day.append(len(days))
                days.append(day)
            day += timedelta(days=1)
        self.days = days
        self._starts = starts
        edges = np.concatenate([[0], np.cumsum(lengths)]).astype(np.int64)
        self._edges: Ints = edges
        self.size = int(edges[-1])
        self.block_of: Ints = np.repeat(np.arange(len(starts)), lengths)
        self._day_of: Ints = np.repeat(np.array(of_day, dtype=np.int64), lengths)
        self.evenings: Ints = np.searchsorted(self._day_of, np.arange(len(days)), side="right").astype(np.int64)
        """End of each day, as the index after its last slot."""

    @cached_property
    def left_in_block(self) -> Ints:
        """Slots from each one to the end of its block."""
        return self._edges[self.block_of + 1] - np.arange(self.size)

    def outside(self, week: Week) -> tuple[tuple[int, int], ...]:
        """Spans of slots (from, to) that do not lie whole within somebody's own week."""
        of_day = self._clock % 1440
        weekday = (self._clock // 1440 + self.days[0].weekday()) % 7
        there = np.zeros(self.size, dtype=np.bool_)
        for day, blocks in enumerate(week):
            for begin, end in blocks:
                there |= (weekday == day) & (of_day >= begin) & (of_day + GRID_MINUTES <= end)
        edges = np.flatnonzero(np.diff(np.concatenate([[True], there, [True]]).astype(np.int8)))
        return tuple((int(begin), int(end)) for begin, end in edges.reshape(-1, 2))

    def shut(self, days: frozenset[int], by: int) -> tuple[tuple[int, int], ...]:
        """Spans of slots (from, to) that do not lie on one of these weekdays, over by so many minutes after midnight;
        none where that leaves nothing open."""
        outside = self.outside(tuple(((0, by),) if day in days else () for day in range(7)))
        return () if outside == ((0, self.size),) else outside

    @property
    def block_edges(self) -> list[int]:
        """Ends of all blocks: breaks and nights."""
        return [int(edge) for edge in self._edges[1:]]

    def slot_at(self, moment: datetime) -> int:
        """The first slot that begins at this moment or after it; ``size`` where the axis ends before."""
        place = bisect_right(self._starts, moment)
        if place == 0:
            return 0
        block = place - 1
        inside = -int(-(moment - self._starts[block]).total_seconds() // (GRID_MINUTES * 60))
        return int(min(self._edges[block] + inside, self._edges[block + 1]))

    def moment_of(self, slot: int) -> datetime:
        """When a slot begins."""
        within = min(max(slot, 0), self.size - 1)
        block = int(self.block_of[within])
        return self._starts[block] + timedelta(minutes=GRID_MINUTES * int(within - self._edges[block]))

    def end_of(self, end: int) -> datetime:
        """When the slot before this end is over."""
        return self.moment_of(end - 1) + timedelta(minutes=GRID_MINUTES)

    def day_of(self, slot: int) -> date:
        """The day of a slot."""
        return self.days[int(self._day_of[min(max(slot, 0), self.size - 1)])]

    def due_of(self, day: date, house: Hours) -> int:
        """When what is promised for a day has to be done: as the house closes on it, or on the last day before on which
        it is open; 0 before the axis begins."""
        if house == self.hours:
            return self.evening_of(day)
        chosen_days = [free_day for free_day in self.days if free_day <= day and house.of(free_day)]
        closes = house.closing(chosen_days[-1]) if chosen_days else None
        return 0 if closes is None else self.slot_at(closes)

    def passed_since(self, day: date) -> int:
        """Open days after this one that are over before the axis begins."""
        return max(self.hours.open_days(day + timedelta(days=1), self.days[0]), 0)

    def evening_of(self, day: date) -> int:
        """The end of a day; of one that is shut, of the open day before; 0 before the axis begins."""
        place = bisect_right(self.days, day)
        return int(self.evenings[place - 1]) if place else 0

    def after(self, minutes: float) -> Ints:
        """By the end of what went before: the first slot in which one may go on after a wait without hands. What is
        over at a break's or night's edge waits on through it."""
        key = round(minutes)
        if key not in self._after:
            ends = np.arange(self.size + 1, dtype=np.int64)
            if key > 0:
                over = self._clock[np.maximum(ends - 1, 0)] + GRID_MINUTES + key
                ends = np.where(ends == 0, 0, np.searchsorted(self._clock, over, side="left"))
            self._after[key] = ends
        return self._after[key]

    @cached_property
    def _after(self) -> dict[int, Ints]:
        return {}

    @cached_property
    def _clock(self) -> Ints:
        """When each slot begins, in minutes after the first midnight."""
        midnight = datetime.combine(self.days[0], time())
        starts = np.array([(start - midnight).total_seconds() // 60 for start in self._starts], dtype=np.int64)
        return starts[self.block_of] + GRID_MINUTES * (np.arange(self.size) - self._edges[self.block_of])

    def slots(self, minutes: float) -> int:
        """So many minutes of work in slots, at least one."""
        return max(1, -int(-minutes // GRID_MINUTES))
