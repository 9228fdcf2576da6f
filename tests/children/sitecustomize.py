"""Python runs this first in each process that a test starts: it lives at the tests' stated moment, as they do."""

from contextlib import suppress
from datetime import datetime

with suppress(ImportError):  # a Python of its own, in which there is no Yarvel
    from yarvel import clock

    clock.begin_at(datetime(2031, 4, 9, 8, 30))
