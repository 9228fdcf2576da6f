"""A line of an instrument read: a value with its unit, and how finely it was shown."""

from __future__ import annotations

import re

from msgspec import Struct

USUAL_PATTERN = r"(?P<value>[+-]?\s*\d+(?:[.,]\d+)?)\s*(?P<unit>[A-Za-z]*)\s*(?P<moving>\?)?"
"""One reading a line: ``7.64 mm``, ``12.345 g``; a question mark behind it while it has not settled. Another
instrument's lines are read by a pattern of the workshop's own, with the same names."""
LENGTH: dict[str, float] = {"mm": 1.0, "cm": 10.0, "in": 25.4}
MASS: dict[str, float] = {"g": 1.0, "mg": 0.001, "ct": 0.2, "dwt": 1.55517384}
"""``LENGTH``, ``MASS``: units in mm and in g. An inch is 25.4 mm and a metric carat 0.2 g by definition; a
pennyweight is 1/20 troy ounce of 31.1034768 g (published: NIST Handbook 44, appendix C)."""


class NoReadingError(ValueError):
    """A line that is no reading; the message says what is accepted."""


class Reading(Struct, frozen=True):
    """``value`` and ``resolution`` in the instrument's own ``unit``; ``settled`` whether it has come to rest."""

    value: float
    unit: str
    resolution: float
    settled: bool = True

    def into(self, unit: str) -> Reading:
        """The same in another unit of its kind (NoReadingError where that is none)."""
        for units in (LENGTH, MASS):
            if self.unit in units and unit in units:
                factor = units[self.unit] / units[unit]
                return Reading(self.value * factor, unit, self.resolution * factor, self.settled)
        raise NoReadingError(f"{self.value:g} {self.unit} is no reading in {unit}")

    def text(self) -> str:
        """As it is typed: as many places as the instrument shows, or one more where the unit was another."""
        places = 0
        while places < 4 and self.resolution < 0.9999 * 10**-places:
            places += 1
        return f"{self.value:.{places}f}"


def read(line: str, unit: str, pattern: str = USUAL_PATTERN) -> Reading:
    """Read a line; ``unit`` where it names none.

    Raises
    ------
    NoReadingError : no value, or a unit that nobody knows.
    """
    matched = re.fullmatch(pattern, line.strip())
    if matched is None:
        raise NoReadingError(f"{line!r} is no reading. Accepted: a value and its unit, such as 7.64 mm")
    named = matched.groupdict()
    digits = re.sub(r"\s", "", named["value"]).replace(",", ".")
    known = {name.casefold(): name for name in (*LENGTH, *MASS)}
    lowered = (named.get("unit") or unit).casefold()
    if lowered not in known:
        raise NoReadingError(f"{line!r}: {lowered} is no unit that is known. Accepted: {', '.join(known.values())}")
    places = len(digits.partition(".")[2])
    return Reading(float(digits), known[lowered], 10.0**-places, not named.get("moving"))


def check_pattern(pattern: str) -> None:
    """NoReadingError for a pattern that is none, or names no value."""
    try:
        names = re.compile(pattern).groupindex
    except re.error as error:
        raise NoReadingError(f"{pattern!r} is no pattern ({error}). Accepted: a regular expression") from error
    if "value" not in names:
        raise NoReadingError(f"{pattern!r} names no value. Accepted: one with (?P<value>…), and (?P<unit>…) if any")
