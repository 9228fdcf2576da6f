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


LONGEST_LINE = 80
"""Characters of a line that a pattern sees: no instrument sends longer ones."""
_PATIENCE_S = 0.25
"""A pattern that takes longer on such a line is none that an instrument's lines are read by."""
_TRIED_ON = ("a", "1", " ", ".", "-", "7.64 mm ", "A1 ", "+0", "x9,")
_NUMBER = re.compile(r"[+-]?\d+(?:\.\d*)?|[+-]?\.\d+")


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
    named = _matched(pattern, line.strip()[:LONGEST_LINE])
    digits = "" if named is None else re.sub(r"\s", "", named.get("value") or "").replace(",", ".")
    if named is None or not _NUMBER.fullmatch(digits):
        raise NoReadingError(f"{line!r} is no reading. Accepted: a value and its unit, such as 7.64 mm")
    known = {name.casefold(): name for name in (*LENGTH, *MASS)}
    lowered = (named.get("unit") or unit).casefold()
    if lowered not in known:
        raise NoReadingError(f"{line!r}: {lowered} is no unit that is known. Accepted: {', '.join(known.values())}")
    places = len(digits.partition(".")[2])
    return Reading(float(digits), known[lowered], 10.0**-places, not named.get("moving"))


def check_pattern(pattern: str) -> None:
    """NoReadingError for a pattern that is none, names no value, or would keep a window waiting: it is tried on the
    longest lines of what instruments send."""
    import regex

    try:
        names = regex.compile(pattern).groupindex
    except regex.error as error:
        raise NoReadingError(f"{pattern!r} is no pattern ({error}). Accepted: a regular expression") from error
    if "value" not in names:
        raise NoReadingError(f"{pattern!r} names no value. Accepted: one with (?P<value>…), and (?P<unit>…) if any")
    for some in _TRIED_ON:
        for end in ("", "!"):
            _matched(pattern, (some * LONGEST_LINE)[: LONGEST_LINE - len(end)] + end)


def _matched(pattern: str, line: str) -> dict[str, str | None] | None:
    """What a pattern finds in a line, within the time that a reading may take."""
    import regex

    try:
        matched = regex.fullmatch(pattern, line, timeout=_PATIENCE_S)
    except TimeoutError as error:
        raise NoReadingError(
            f"{pattern!r} takes too long on {line[:20]!r}…. Accepted: a pattern without a repeat inside a repeat"
        ) from error
    return None if matched is None else matched.groupdict()
