"""What of an instrument's readings is let through: settled, within reach, and each one once."""

from __future__ import annotations

from yarvel.instruments.reading import NoReadingError, Reading

TWICE_S = 0.3
"""The same reading again within so long is one press of the button that was sent twice."""


class Gate:
    """``low`` and ``high``: between which values, in ``unit``, the instrument can read."""

    def __init__(self, unit: str, low: float, high: float) -> None:
        self._unit, self._low, self._high = unit, low, high
        self._last: tuple[float, float] | None = None

    def let(self, reading: Reading, at: float) -> Reading | None:
        """The reading if it counts; None for one that moves still or came twice.

        Raises
        ------
        NoReadingError : of another kind than the instrument reads, or beyond what it can read.
        """
        mine = reading.into(self._unit)
        if not reading.settled:
            return None
        if not self._low <= mine.value <= self._high:
            raise NoReadingError(
                f"{reading.value:g} {reading.unit} is beyond the instrument. Accepted: {self._low:g} to {self._high:g} "
                f"{self._unit}"
            )
        before, self._last = self._last, (mine.value, at)
        if before is not None and before[0] == mine.value and at - before[1] < TWICE_S:
            return None
        return reading
