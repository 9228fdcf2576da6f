"""What a report is: a question, answered by a table and a picture of bars. One module a report, one line in the
register (``register.py``); the window shows, prints and writes whatever stands there."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from typing import TYPE_CHECKING

from msgspec import Struct

from yarvel.drawing.listing import Bar
from yarvel.figures.rules import HouseRules
from yarvel.workshop.reports.report_store import Reported

if TYPE_CHECKING:
    from yarvel.workshop.store import Store


class ReportLine(Struct, frozen=True):
    """One row: its texts by column, the docket or the customer that it leads to, or else all the dockets that it counts
    (``behind``), and the key that an edit of it goes by."""

    texts: tuple[str, ...]
    docket_id: int | None = None
    key: str = ""
    customer: str = ""
    behind: tuple[int, ...] = ()


class LeadingBar(Struct, frozen=True):
    """A bar, and what it leads to: the dockets that it counts, or a customer."""

    bar: Bar
    behind: tuple[int, ...] = ()
    customer: str = ""


class Answer(Struct, frozen=True):
    """What a report tells: its rows, its bars, and the ``limit`` that these are held against (None: nothing)."""

    lines: tuple[ReportLine, ...]
    bars: tuple[LeadingBar, ...]
    limit: float | None = None
    limit_text: str = ""


class Report(Struct, frozen=True, kw_only=True):
    """A report: its ``key``, what it is called, the heads of its columns, what stands in the place of an empty table,
    what its bars show; ``answer`` makes it from what the store told, by the house's rules, on a day.

    ``edited`` is the column that can be typed in (None: none), ``edit`` what is then done in the store, given the row's
    key, its first text and what was typed: it returns what to tell (StoreError: what is wrong, and what is accepted).
    """

    key: str
    title: str
    heads: tuple[str, ...]
    empty: str
    picture: str
    answer: Callable[[Reported, HouseRules, date], Answer]
    edited: int | None = None
    edit: Callable[[Store, str, str, str], str] | None = None
