"""What is late or at risk, and how the hours promised lie against the hands."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date

from msgspec.structs import replace

from yarvel.desk.reports.report import Answer, LeadingBar, Report, ReportLine
from yarvel.drawing.listing import Bar
from yarvel.figures.rules import HouseRules
from yarvel.workshop.dockets.records import STATES
from yarvel.workshop.reports.records import AT_RISK, IN_TIME, LATE, NO_DATE, Due, due, promised_by_week
from yarvel.workshop.reports.report_store import Reported


def answer(found: Reported, _rules: HouseRules, today: date) -> Answer:
    """Open dockets, what is late first; a bar a week of promised hours, against the benches' own."""
    order = (LATE, AT_RISK, IN_TIME, NO_DATE)
    dues = sorted(
        (
            _by_plan(row, found.ready, found.planned)
            for row in due(found.open, found.work, today, found.hours, found.shares)
        ),
        key=lambda row: (order.index(row.standing), row.docket.promised_on or date.max, row.docket.number),
    )
    benches = max(found.benches, 1)
    hours = (benches - sum(1.0 - share for share in found.shares.values())) * found.hours.minutes / 60
    bars = (
        LeadingBar(
            Bar(f"week of {week.start:%d %b}", week.hours, f"{week.hours:.1f} h", week.hours > hours), week.dockets
        )
        for week in promised_by_week(dues, today)
    )
    lines = (ReportLine(_texts(row, found.ready.get(row.docket.id)), row.docket.id, row.docket.number) for row in dues)
    return Answer(
        tuple(lines), tuple(bars), hours, f"{benches} bench{'es' if benches > 1 else ''}, {hours:.0f} h a week"
    )


def _by_plan(row: Due, ready: Mapping[int, date], planned: Mapping[int, float]) -> Due:
    """How a docket stands by the plan of the day, and what is to do on one whose work nobody has given out, where the
    plan knows it: one number, here and on the board."""
    promised, done = row.docket.promised_on, ready.get(row.docket.id)
    if not row.minutes_left:
        row = replace(row, minutes_left=planned.get(row.docket.id, 0.0))
    if done is None or promised is None or row.standing == LATE:
        return row
    return replace(row, standing=AT_RISK if done > promised else IN_TIME)


def _texts(row: Due, ready: date | None) -> tuple[str, ...]:
    docket = row.docket
    promised = "" if docket.promised_on is None else docket.promised_on.isoformat()
    days = "" if row.days_left is None else str(row.days_left)
    left = f"{row.minutes_left:.0f}" if row.minutes_left else "–"
    by_plan = "" if ready is None else ready.isoformat()
    return (
        docket.number, docket.customer, docket.item, promised, by_plan, row.standing, days, left, STATES[docket.state],
    )  # fmt: skip


REPORT = Report(
    key="late",
    title="Late and at risk",
    heads=(
        "Docket",
        "Customer",
        "Item",
        "Promised",
        "Ready by the plan",
        "Stands",
        "Open days left",
        "To do, min",
        "State",
    ),
    empty="No open docket. Take one in (Ctrl+N) and say for when it is promised: how it stands is told here.",
    picture="Hours promised, by week",
    answer=answer,
)
