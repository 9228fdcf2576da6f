"""Heads to be looked at again: whom to call, and who was told already."""

from __future__ import annotations

from datetime import date, timedelta
from typing import TYPE_CHECKING

from msgspec import Struct

from yarvel import clock
from yarvel.desk.reports.report import Answer, LeadingBar, Report, ReportLine
from yarvel.drawing.listing import Bar
from yarvel.figures.errors import StoreError
from yarvel.figures.rules import HouseRules
from yarvel.workshop.dockets.claw_chart import inspect_next
from yarvel.workshop.dockets.records import HANDED_OVER
from yarvel.workshop.reports.report_store import ChartedDocket, Reported

if TYPE_CHECKING:
    from yarvel.workshop.store import Store

_TOLD = 5
"""The column of the day on which somebody was told, which is typed there."""
_AHEAD = timedelta(days=31)
_MONTHS = 8

_USUAL_MM = 1.0
"""A claw's width where neither chart nor job says one; from memory."""


class Again(Struct, frozen=True):
    """A head that has left, by when it wants to be looked at again, and the day on which its customer was told."""

    docket: ChartedDocket
    by: date
    told: str


def again(found: Reported, rules: HouseRules) -> list[Again]:
    """Heads that were charted and have left, the newest visit of each, by when they are to be looked at."""
    by_number = {docket_looked.number: docket_looked for docket_looked in found.looked}
    came_back = {docket_looked.earlier_number for docket_looked in found.looked if docket_looked.earlier_number}
    rows = []
    for docket in found.looked:
        if docket.state != HANDED_OVER or docket.number in came_back:
            continue
        before, earlier = [], docket.earlier_number
        while earlier in by_number and by_number[earlier] not in before:
            before.append(by_number[earlier])
            earlier = by_number[earlier].earlier_number
        claws = docket.claw_chart.get("claws")
        count = len(claws) if isinstance(claws, list) else 0
        head = docket.job_document.get("head") or {}
        width = head.get("claw_mm") or _USUAL_MM
        following = inspect_next(docket, before, count, float(width), rules)
        if following is not None:
            rows.append(Again(docket, following, found.told.get(docket.id, "")))
    return sorted(rows, key=lambda one: (bool(one.told), one.by, one.docket.number))


def answer(found: Reported, rules: HouseRules, today: date) -> Answer:
    """Those that are due within a month, whoever was told last; a bar a month for what comes."""
    come_again = again(found, rules)
    lines = tuple(
        ReportLine(_texts(visit, found.contacts), visit.docket.id, str(visit.docket.id))
        for visit in come_again
        if visit.by <= today + _AHEAD
    )
    months: dict[date, list[int]] = {}
    for one in come_again:
        if not one.told:
            months.setdefault(max(one.by, today).replace(day=1), []).append(one.docket.id)
    bars = tuple(
        LeadingBar(Bar(f"{month:%b %Y}", len(ids), str(len(ids)), month <= today), tuple(ids))
        for month, ids in sorted(months.items())[:_MONTHS]
    )
    return Answer(lines, bars)


def _texts(one: Again, contacts: dict[str, str]) -> tuple[str, ...]:
    docket = one.docket
    contact = contacts.get(docket.customer, "")
    return (one.by.isoformat(), docket.customer, contact, docket.number, docket.item, one.told)


def keep(store: Store, key: str, label: str, text: str) -> str:
    """Somebody was told on a day, today where only a word is typed; nothing takes it back."""
    said = text.strip()
    try:
        day = None if not said else date.fromisoformat(said) if said[:1].isdigit() else clock.today()
    except ValueError as error:
        raise StoreError(f"{text!r} is no day: a date such as 2031-04-09, a word for today, or nothing.") from error
    store.customers.tell(int(key), day)
    return f"Told on {day}." if day else "Nobody was told yet."


REPORT = Report(
    key="calls",
    title="Calls to make",
    heads=("Look again by", "Customer", "Contact", "Docket", "Item", "Told on"),
    empty="No head is due: those with a claw chart come back here a month before they want to be looked at.",
    picture="Heads to be looked at again, nobody told yet",
    answer=answer,
    edited=_TOLD,
    edit=keep,
)
