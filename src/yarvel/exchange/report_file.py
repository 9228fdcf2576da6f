"""Reports as files: CSV that is safe to open in a spreadsheet, and a calendar of promised dates."""

from __future__ import annotations

import csv
from collections.abc import Iterable
from datetime import date, datetime, timedelta
from pathlib import Path

from yarvel.exchange.cells import safe
from yarvel.workshop.dockets.records import HANDED_OVER
from yarvel.workshop.reports.records import Promised


def write_report(heads: Iterable[str], rows: Iterable[Iterable[str]], target: Path) -> None:
    """Write a table as CSV, whole or not at all (OSError where it cannot be)."""
    part = target.with_name(target.name + ".part")
    with part.open("w", encoding="utf-8-sig", newline="") as file:
        writer = csv.writer(file, quoting=csv.QUOTE_ALL)
        writer.writerow([safe(head) for head in heads])
        writer.writerows([safe(cell) for cell in row] for row in rows)
    part.replace(target)


def calendar_text(dockets: Iterable[Promised], now: datetime) -> bytes:
    """Promised dates of open dockets as a calendar (published: RFC 5545), a whole day each."""
    from icalendar import Calendar, Event

    calendar = Calendar()
    calendar.add("prodid", "-//Yarvel//promised dates//EN")
    calendar.add("version", "2.0")
    for docket in dockets:
        if docket.promised_on is None or docket.state == HANDED_OVER or docket.promised_on == date.max:
            continue
        event = Event()
        event.add("uid", f"{docket.number}@yarvel")
        event.add("dtstamp", now)
        event.add("dtstart", docket.promised_on)
        event.add("dtend", docket.promised_on + timedelta(days=1))
        event.add("summary", " · ".join(word for word in (docket.number, docket.customer, docket.item) if word))
        calendar.add_component(event)
    calendar_bytes: bytes = calendar.to_ical()
    return calendar_bytes


def write_calendar(dockets: Iterable[Promised], now: datetime, target: Path) -> None:
    """Write the calendar, whole or not at all (OSError where it cannot be)."""
    part = target.with_name(target.name + ".part")
    part.write_bytes(calendar_text(dockets, now))
    part.replace(target)
