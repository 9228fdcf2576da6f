"""Reports: what is late or at risk, why heads come back; files that others can read."""

from __future__ import annotations

import csv
from datetime import UTC, date, datetime, timedelta
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from icalendar import Calendar

from yarvel.day.axis import USUAL_WEEK, Hours
from yarvel.exchange.report_file import calendar_text, safe, write_calendar, write_report
from yarvel.workshop.dockets.records import Docket
from yarvel.workshop.reports.records import AT_RISK, IN_TIME, LATE, NO_DATE, causes, due
from yarvel.workshop.work.tasks import Task

TODAY = date(2031, 4, 9)
AT = datetime(2031, 4, 1)


def docket(number: int, promised: date | None, state: str = "in work", **details: object) -> Docket:
    job = {"head": {"style": "bought"}}
    return Docket(
        id=number,
        number=f"31-{number:04d}",
        customer="Saltmarsh",
        item="ring",
        promised_on=promised,
        state=state,
        job_document=job,
        drafts={},
        ticks=(),
        version=1,
        created_at=AT,
        updated_at=AT,
        **details,
    )  # type: ignore[arg-type]


def task(docket_id: int, minutes: float, person: str, promised: date | None, taken: float = 0.0) -> Task:
    return Task(
        id=docket_id * 10,
        docket_id=docket_id,
        docket_number=f"31-{docket_id:04d}",
        position=0,
        operation="Solder",
        state="open",
        person=person,
        standard=minutes,
        taken=taken,
        started_at=None,
        note="",
        promised="" if promised is None else promised.isoformat(),
    )


@given(st.dates(date(2030, 1, 1), date(2032, 1, 1)), st.integers(0, 60))
def test_working_days_are_those_of_an_independent_library(start: date, days: int) -> None:
    """numpy.busday_count, Saturdays and Sundays off, Mondays too, or with days on which the house is shut."""
    end, shut = start + timedelta(days=days), [start + timedelta(days=more) for more in (0, 3, 9, 44)]
    mondays_off = Hours(((),) + USUAL_WEEK[1:])
    for hours, asked in (
        (Hours(), {}),
        (Hours(holidays=frozenset(shut)), {"holidays": shut}),
        (mondays_off, {"weekmask": "0111100"}),
    ):
        assert hours.open_days(start, end) == int(np.busday_count(start, end, **asked))
        assert hours.open_days(end, start) == -hours.open_days(start, end)


def test_late_comes_first_and_a_full_bench_is_a_risk() -> None:
    """Orla has 16 h promised by Friday, two open days of seven and a half hours away; Benno has one."""
    friday = date(2031, 4, 11)
    dockets = [
        docket(1, date(2031, 4, 7)),
        docket(2, friday),
        docket(3, friday),
        docket(4, None),
        docket(5, friday, "handed over"),
        docket(6, date(2031, 5, 30)),
    ]
    tasks = [
        task(1, 60, "Orla", date(2031, 4, 7)),
        task(2, 900, "Orla", friday),
        task(3, 60, "Benno", friday),
        task(6, 600, "Orla", date(2031, 5, 30)),
    ]
    found = [(row.docket.id, row.standing) for row in due(dockets, tasks, TODAY, Hours())]
    assert found == [(1, LATE), (2, AT_RISK), (3, IN_TIME), (6, IN_TIME), (4, NO_DATE)]
    eased = [task(2, 900, "Orla", friday, taken=120), *tasks[2:]]
    assert next(row.standing for row in due(dockets[1:], eased, TODAY, Hours()) if row.docket.id == 2) == IN_TIME


def test_heads_come_back_for_a_cause() -> None:
    chart = {"cause": "worn", "claws": [{"finding": "worn tip"}, {"finding": "sound"}, {"finding": "worn-tip"}]}
    made = causes(
        [
            docket(1, None, claw_chart=chart),
            docket(2, None, claw_chart=chart),
            docket(3, None),
            docket(4, None, claw_chart={"claws": [{"finding": "missing"}]}),
        ]
    )
    assert [(cause.cause, cause.style, cause.heads, cause.claws) for cause in made] == [
        ("worn", "bought", 2, (("worn-tip", 4),)),
        ("not-judged", "bought", 1, (("missing", 1),)),
    ]


@given(
    st.lists(
        st.lists(
            st.text(st.characters(exclude_categories=["Cs"], exclude_characters="\x00\r\n"), max_size=12),
            min_size=2,
            max_size=2,
        ),
        max_size=8,
    )
)
def test_what_is_written_is_read_back_and_is_no_formula(
    tmp_path_factory: pytest.TempPathFactory, rows: list[list[str]]
) -> None:
    target = tmp_path_factory.mktemp("csv") / "report.csv"
    write_report(("a", "b"), rows, target)
    with target.open(encoding="utf-8-sig", newline="") as file:
        read = list(csv.reader(file))
    assert read[0] == ["a", "b"] and read[1:] == [[safe(cell) for cell in row] for row in rows]
    for row in read[1:]:
        for cell in row:
            assert not cell.startswith(("=", "+", "-", "@", "\t")) or _is_number(cell)


def _is_number(text: str) -> bool:
    try:
        float(text)
    except ValueError:
        return False
    return True


def test_promises_are_days_in_a_calendar(tmp_path: Path) -> None:
    """Read back by icalendar (RFC 5545)."""
    dockets = [docket(1, date(2031, 5, 2)), docket(2, None), docket(3, date(2031, 5, 3), "handed over")]
    read = Calendar.from_ical(calendar_text(dockets, datetime(2031, 4, 9, tzinfo=UTC)))
    events = list(read.walk("VEVENT"))
    assert [(str(event["summary"]), event["dtstart"].dt) for event in events] == [
        ("31-0001 · Saltmarsh · ring", date(2031, 5, 2))
    ]
    with pytest.raises(OSError, match=r"nowhere|No such"):
        write_calendar(dockets, datetime(2031, 4, 9, tzinfo=UTC), tmp_path / "nowhere" / "p.ics")
