"""What is late or at risk, and how the hours promised lie against the hands."""

from __future__ import annotations

from datetime import date

from yarvel.desk.reports.report import Answer, Line, Report
from yarvel.drawing.listing import Bar
from yarvel.figures.rules import HouseRules
from yarvel.workshop.dockets import STATES
from yarvel.workshop.report_store import Reported
from yarvel.workshop.reports import Due, due, promised_by_week


def answer(found: Reported, rules: HouseRules, today: date) -> Answer:
    """Open dockets, what is late first; a bar a week of promised hours, against the benches' own."""
    dues = due(found.open, found.work, today, rules.bench_hours)
    benches = max(found.benches, 1)
    hours = benches * rules.bench_hours * 5
    bars = (
        Bar(f"week of {week.start:%d %b}", week.hours, f"{week.hours:.1f} h", week.hours > hours)
        for week in promised_by_week(dues, today)
    )
    lines = (Line(_texts(row), row.docket.id, row.docket.number) for row in dues)
    return Answer(tuple(lines), tuple(bars), hours, f"{benches} benches, {hours:.0f} h a week")


def _texts(row: Due) -> tuple[str, ...]:
    docket = row.docket
    promised = "" if docket.promised_on is None else docket.promised_on.isoformat()
    days = "" if row.days_left is None else str(row.days_left)
    left = f"{row.minutes_left:.0f}"
    return (
        docket.number, docket.customer, docket.item, promised, row.standing, days, left, STATES[docket.state],
    )  # fmt: skip


REPORT = Report(
    "late",
    "Late and at risk",
    ("Docket", "Customer", "Item", "Promised", "Stands", "Working days", "To do, min", "State"),
    "No open docket.",
    "Hours promised, by week",
    answer,
)
