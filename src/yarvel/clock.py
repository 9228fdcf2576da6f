"""The one clock. Every moment and every day that anything outside the core knows comes from here: moments are kept in
UTC without a zone, and told on the house's wall: in the zone that its store names, else in this machine's.

Tests and the demo run at a stated moment: the clock is begun there and goes on with real time.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo, available_timezones

_house: ZoneInfo | None = None
"""The zone of the house; None: this machine's."""
_ahead = timedelta()
"""How far a team's server is ahead of this machine."""


def _of_the_machine() -> datetime:
    return datetime.now(UTC).replace(tzinfo=None) + _ahead


_source: Callable[[], datetime] = _of_the_machine


def now() -> datetime:
    """This moment as the store keeps it: UTC, without a zone."""
    return _source()


def local_now() -> datetime:
    """This moment on the house's wall, without a zone."""
    return local(now())


def today() -> date:
    """The day on the house's wall."""
    return local_now().date()


def here(at: datetime) -> datetime:
    """A moment as the store keeps it (UTC, without a zone), on the house's wall, with its zone."""
    return at.replace(tzinfo=UTC).astimezone(_house)


def local(at: datetime) -> datetime:
    """A moment as the store keeps it (UTC, without a zone), on the house's wall, without a zone."""
    return here(at).replace(tzinfo=None)


def kept(at: datetime) -> datetime:
    """A moment on the house's wall (without a zone) as the store keeps it."""
    return (at if at.tzinfo or _house is None else at.replace(tzinfo=_house)).astimezone(UTC).replace(tzinfo=None)


def live_in(zone: str) -> None:
    """The house is in this zone, by its name in the IANA's database; "" or one that nobody knows here: in that of this
    machine."""
    global _house
    _house = ZoneInfo(zone) if is_zone(zone) else None


def is_zone(name: str) -> bool:
    """Whether this machine knows a zone of that name."""
    try:
        ZoneInfo(name)
    except (LookupError, ValueError, OSError):
        return False
    return True


def zones() -> list[str]:
    """Names of all zones, in order."""
    return sorted(name for name in available_timezones() if "/" in name and not name.startswith("Etc/")) + ["UTC"]


def zone_here() -> str:
    """The zone of this machine by name; "" where it has none, or its wall shows another time than that."""
    from tzlocal import get_localzone_name, reload_localzone

    try:
        reload_localzone()
        name = get_localzone_name() or ""
    except (LookupError, OSError, ValueError):
        return ""
    return name if is_zone(name) and _on_this_wall(ZoneInfo(name)) else ""


def _on_this_wall(zone: ZoneInfo) -> bool:
    """Whether this machine's wall shows that zone's time, this year's summer and winter."""
    moments = [now().replace(tzinfo=UTC) + timedelta(days=30 * month) for month in range(12)]
    return all(moment.astimezone().utcoffset() == moment.astimezone(zone).utcoffset() for moment in moments)


def zone_name() -> str:
    """What the zone in which days are told is called."""
    return zone_here() or time.tzname[0] if _house is None else _house.key


def begin_at(moment: datetime) -> None:
    """Have it be this moment (as the store keeps it); from then on the clock goes on, whatever the machine's is set
    to."""
    global _source
    began = time.monotonic()
    _source = lambda: moment + timedelta(seconds=time.monotonic() - began)  # noqa: E731


def agree_with(moment: datetime) -> None:
    """A team's server says that it is that moment (UTC): from now on this machine's clock is set right by it. A stated
    moment stays stated."""
    global _ahead
    if _source is _of_the_machine:
        _ahead += moment - now()


def is_the_machines(clock: Callable[[], datetime]) -> bool:
    """Whether what this clock says comes from the machine, and not from a day that the demo or a test lives at."""
    return clock is now and _source is _of_the_machine
