"""What was done, by whom and when: the history of all dockets, a line an act."""

from __future__ import annotations

from datetime import date

from yarvel.clock import here
from yarvel.desk.reports.report import Answer, LeadingBar, Report, ReportLine
from yarvel.drawing.listing import Bar
from yarvel.figures.rules import HouseRules
from yarvel.workshop.dockets.history_words import fields_of, told
from yarvel.workshop.reports.report_store import Done, Reported

_MOST_BARS = 10


def answer(found: Reported, rules: HouseRules, today: date) -> Answer:
    """Every act, the newest first; a bar a day."""
    lines = tuple(ReportLine(_texts(task_done), task_done.docket_id) for task_done in found.done)
    days: dict[date, list[int]] = {}
    for one in found.done:
        days.setdefault(here(one.change.at).date(), []).append(one.docket_id)
    newest = sorted(days.items(), reverse=True)[:_MOST_BARS]
    bars = (
        LeadingBar(Bar(f"{day:%d %b}", len(ids), str(len(ids))), tuple(dict.fromkeys(ids)))
        for day, ids in reversed(newest)
    )
    return Answer(lines, tuple(bars))


def _texts(one: Done) -> tuple[str, ...]:
    change = one.change
    when = f"{here(change.at):%Y-%m-%d %H:%M}"
    return (when, change.by or "–", one.number, one.customer, fields_of(change), told(change))


REPORT = Report(
    key="done",
    title="What was done",
    heads=("When", "Who", "Docket", "Customer", "About", "What"),
    empty="Nothing was done yet.",
    picture="Acts by day",
    answer=answer,
)
