"""The moment and the zone at which every test runs, whatever the machine's clock says."""

from __future__ import annotations

import os
import time
from datetime import datetime
from pathlib import Path

from yarvel import clock

MOMENT = datetime(2031, 4, 9, 8, 30)
"""A Wednesday, in UTC."""
ZONE = "CET-1CEST,M3.5.0,M10.5.0/3"
"""Neither Greenwich nor without summer time, so that a mixed-up moment shows; written out: a machine need not have a
list of zones."""


CHILDREN = Path(__file__).parent / "children"
"""Before all other folders for the processes that tests start: what lies in it has them live at the moment too."""


def live_in(zone: str) -> None:
    """The clock on this machine's wall is this zone's."""
    os.environ["TZ"] = zone
    time.tzset()


def begin(moment: datetime = MOMENT, zone: str = ZONE) -> None:
    """It is that moment (UTC), and the clock goes on from there."""
    live_in(zone)
    clock.begin_at(moment)
