"""Rows of a report in the order and of the words that somebody wants."""

from __future__ import annotations

from collections.abc import Sequence

from yarvel.desk.reports.report import ReportLine
from yarvel.desk.widgets.row_order import ordered


def holding(lines: Sequence[ReportLine], words: str) -> tuple[ReportLine, ...]:
    """Those in whose texts every word stands."""
    wanted = words.casefold().split()
    return tuple(line for line in lines if all(word in " ".join(line.texts).casefold() for word in wanted))


def in_order(lines: Sequence[ReportLine], column: int, falling: bool) -> tuple[ReportLine, ...]:
    """By a column: numbers by what they are, days and words by their letters; what says nothing stands last."""
    return tuple(lines[place] for place in ordered([line.texts[column] for line in lines], falling))
