"""Rows of a report in the order and of the words that somebody wants."""

from __future__ import annotations

import re
from collections.abc import Sequence

from yarvel.desk.reports.report import Line

_NUMBER = re.compile(r"[-−]?\d[\d,]*(?:\.\d+)?")
_DAY = re.compile(r"\d{4}-\d\d-\d\d")
_Key = tuple[int, float, str]


def holding(lines: Sequence[Line], words: str) -> tuple[Line, ...]:
    """Those in whose texts every word stands."""
    wanted = words.casefold().split()
    return tuple(line for line in lines if all(word in " ".join(line.texts).casefold() for word in wanted))


def in_order(lines: Sequence[Line], column: int, falling: bool) -> tuple[Line, ...]:
    """By a column: numbers by what they are, days and words by their letters; what says nothing stands last."""
    said = [line for line in lines if line.texts[column] not in ("", "–")]
    silent = [line for line in lines if line.texts[column] in ("", "–")]
    return (*sorted(said, key=lambda line: _key(line.texts[column]), reverse=falling), *silent)


def _key(text: str) -> _Key:
    found = None if _DAY.match(text) else _NUMBER.match(text)
    if found is None:
        return 1, 0.0, text.casefold()
    return 0, float(found[0].replace(",", "").replace("−", "-")), text.casefold()
