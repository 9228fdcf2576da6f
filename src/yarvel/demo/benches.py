"""When made-up people worked: within the house's hours, one piece of work after the other."""

from __future__ import annotations

from datetime import datetime, time, timedelta

from yarvel.clock import kept, local
from yarvel.day.axis import Hours

_WORTH_BEGINNING = timedelta(minutes=10)
"""What is left of a block in which nobody begins a longer piece of work any more."""


class Benches:
    """Who is free from when; nobody sits at two benches. Moments are those of a store (UTC, without a zone)."""

    def __init__(self, hours: Hours) -> None:
        self._hours = hours
        self._free: dict[int, datetime] = {}

    def work(self, person_id: int, earliest: datetime, minutes: float) -> list[tuple[datetime, datetime]]:
        """From when to when somebody works so many minutes, not before ``earliest``: a clock for each time between two
        breaks."""
        at = max(local(earliest), self._free.get(person_id, datetime.min))
        left, worked = timedelta(minutes=minutes), []
        while left > timedelta():
            begin, end = self._block(at)
            if end - begin < min(left, _WORTH_BEGINNING):
                at = end
                continue
            until = min(begin + left, end)
            worked.append((kept(begin), kept(until)))
            left, at = left - (until - begin), until
        self._free[person_id] = at
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
