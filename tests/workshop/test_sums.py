"""Sums by the database are those of the lines themselves, on both kinds of store."""

from __future__ import annotations

from datetime import date, datetime, timedelta

import pytest

from yarvel.workshop.metal.fine_book import balances, month
from yarvel.workshop.metal.fine_sums import docket_balances, month_sums, overview
from yarvel.workshop.reports.report_store import reported
from yarvel.workshop.store import Store
from yarvel.workshop.work.task_sums import overview as task_overview
from yarvel.workshop.work.task_sums import times_lately, work_left

AT = datetime(2031, 3, 28, 9, 0)


@pytest.fixture
def booked(store: Store) -> Store:
    people = [store.people.add(name).id for name in ("Orla", "Benno")]
    dockets = [store.new_docket(f"Customer {number}", promised_on=date(2031, 4, 7 + number)) for number in range(3)]
    for number in range(60):
        kind = ("bought", "issued", "returned", "filings", "used", "counted")[number % 6]
        mass = round(0.7 + number * 0.13, 3) * (-1 if number == 59 else 1)
        alloy = ("18k-yellow", "platinum-950")[number % 2 if number % 4 else 0]
        docket = dockets[number % 3].number if kind in ("issued", "returned", "filings", "used") else ""
        store.fine.add(kind, alloy, mass, people[number % 2], docket, at=AT + timedelta(hours=7 * number))
    for docket in dockets:
        for place, task in enumerate(store.tasks.plan_tasks(docket.id, [("Close", 20.0), ("Finish", 35.0)])):
            store.tasks.start(task.id, people[place], AT + timedelta(minutes=30))  # after the house's break
            store.tasks.stop(task.id, done=not place, at=AT + timedelta(minutes=42))
    return store


@pytest.mark.keeper
def test_metal_sums_are_those_of_the_lines(booked: Store) -> None:
    lines = booked.fine.entries()
    found = overview(booked)
    assert found.lines == 60 and [line.id for line in booked.fine.page(5, 10)] == [
        line.id for line in lines[::-1][5:15]
    ]
    by_docket = {(row.of, row.alloy): row for row in docket_balances(booked)}
    for made, wanted in (({(row.of, row.alloy): row for row in found.people}, "person"), (by_docket, "docket")):
        for row in balances(lines, wanted):
            mine = made[row.of, row.alloy]
            assert (mine.issued, mine.open) == pytest.approx((row.issued, row.open), abs=1e-9)
    assert found.dockets >= len(by_docket) == len(balances(lines, "docket"))
    for number in (3, 4):
        for mine, theirs in zip(month_sums(booked, 2031, number), month(lines, 2031, number), strict=True):
            assert mine.alloy == theirs.alloy and mine.moved == pytest.approx(theirs.moved, abs=1e-9)
            assert (mine.opening, mine.closing, mine.at_benches) == pytest.approx(
                (theirs.opening, theirs.closing, theirs.at_benches), abs=1e-9
            )


@pytest.mark.keeper
def test_task_sums_are_those_of_the_tasks(booked: Store) -> None:
    tasks = booked.tasks.tasks()
    still = [task for task in tasks if task.state != "done"]
    found = task_overview(booked, date(2031, 4, 9))
    assert (found.open, found.late, found.nobodys) == (len(still), 2, 0)
    loads = {load.person.name: (load.tasks, round(load.minutes, 6)) for load in found.loads}
    assert loads == {"Orla": (0, 0.0), "Benno": (3, 69.0)}
    left = {(row.docket_id, row.person): row.left for row in work_left(booked)}
    assert left == pytest.approx({(task.docket_id, task.person): task.left for task in still})
    assert times_lately(booked) == {"Close": [(20.0, pytest.approx(12.0, abs=1e-4))] * 3}
    told = reported(booked)
    assert len(told.open) == 3 and told.benches == 2
    assert [task.id for task in booked.tasks.page(limit=2)] == [task.id for task in still][:2]
