"""When made-up people worked: within the house's hours, one piece of work after the other."""

from __future__ import annotations

from bisect import bisect_right
from datetime import datetime, time, timedelta

from yarvel.clock import kept, local
from yarvel.day.axis import Hours

_WORTH_BEGINNING = timedelta(minutes=10)
"""What is left of a block in which nobody begins a longer piece of work any more."""


class Benches:
    """Who is free from when; nobody sits at two benches. Moments are those of a store (UTC, without a zone)."""

    def __init__(self, hours: Hours) -> None:
        self._hours = hours
        self._busy: dict[int, list[tuple[datetime, datetime]]] = {}

    def work(self, person_id: int, earliest: datetime, minutes: float) -> list[tuple[datetime, datetime]]:
        """From when to when somebody works so many minutes, not before ``earliest``: a clock for each time between two
        breaks."""
        busy = self._busy.setdefault(person_id, [])
        at, left, worked = local(earliest), timedelta(minutes=minutes), []
        while left > timedelta():
            begin, end = self._block(at)
            place = bisect_right(busy, (begin, datetime.max))
            if place and busy[place - 1][1] > begin:
                at = busy[place - 1][1]
                continue
            end = min(end, busy[place][0]) if place < len(busy) else end
            if end - begin < min(left, _WORTH_BEGINNING):
                at = max(end, begin + timedelta(microseconds=1))
                continue
            until = min(begin + left, end)
            busy.insert(place, (begin, until))
            worked.append((kept(begin), kept(until)))
            left, at = left - (until - begin), until
        return worked

    def open_at(self, moment: datetime) -> datetime:
        """The first moment from then on at which the house is open."""
        return kept(self._block(local(moment))[0])

    def _block(self, at: datetime) -> tuple[datetime, datetime]:
        """What is left of the block that is open at a moment, or the next one (local times)."""
        day = at.date()
        while True:
            midnight = datetime.combine(day, time())
            for begin, end in self._hours.of(day):
                opens, closes = midnight + timedelta(minutes=begin), midnight + timedelta(minutes=end)
                if at < closes:
                    return max(at, opens), closes
            day += timedelta(days=1)
