"""The one clock. Every moment and every day that anything outside the core knows comes from here: moments are kept in
UTC without a zone, and told on the clock of this machine.

Tests and the demo run at a stated moment: the clock is begun there and goes on with real time.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from datetime import UTC, date, datetime, timedelta

_ahead = timedelta()
"""How far a team's server is ahead of this machine."""


def _of_the_machine() -> datetime:
    return datetime.now(UTC).replace(tzinfo=None) + _ahead


_source: Callable[[], datetime] = _of_the_machine


def now() -> datetime:
    """This moment as the store keeps it: UTC, without a zone."""
    return _source()


def local_now() -> datetime:
    """This moment on this machine's clock, without a zone."""
    return local(now())


def today() -> date:
    """The day on this machine's clock."""
    return local_now().date()


def here(at: datetime) -> datetime:
    """A moment as the store keeps it (UTC, without a zone), on this machine's clock, with its zone."""
    return at.replace(tzinfo=UTC).astimezone()


def local(at: datetime) -> datetime:
    """A moment as the store keeps it (UTC, without a zone), on this machine's clock, without a zone."""
    return here(at).replace(tzinfo=None)


def kept(at: datetime) -> datetime:
    """A moment on this machine's clock (without a zone) as the store keeps it."""
    return at.astimezone(UTC).replace(tzinfo=None)


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
