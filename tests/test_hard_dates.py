"""What is built from dates, built on hard ones: each weekday, ends of months and years, summer time, far zones."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime, timedelta
from pathlib import Path

import pytest

from tests import stated
from tests.hard_dates import HARD, moment_of
from tests.ready import file_with
from yarvel import clock
from yarvel.day.checking import faults
from yarvel.day.dispatch import SETTINGS, dispatch
from yarvel.day.mending import mend
from yarvel.day.outwork import ways_out
from yarvel.demo.scenario import fill
from yarvel.desk.reports.register import REPORTS
from yarvel.desk.stations.take_in import read_date
from yarvel.figures.errors import StoreError
from yarvel.figures.rules import HouseRules
from yarvel.workshop.acts import Act, SendOut, do
from yarvel.workshop.metal.fine_book import BOUGHT, month_of
from yarvel.workshop.reports.report_store import reported
from yarvel.workshop.storage.backup import KEPT_DAYS, backup, nightly_of
from yarvel.workshop.storage.rights import NotAllowedError
from yarvel.workshop.store import Store
from yarvel.workshop.work.day_reading import day_plan, read
from yarvel.workshop.work.errands import USUAL
from yarvel.workshop.work.proposing import propose


@pytest.fixture(params=HARD)
def store(request: pytest.FixtureRequest, tmp_path: Path) -> Iterator[Store]:
    """The small demo, filled at one of the hard moments, which it goes on from."""
    stated.live_in(HARD[request.param][1])
    clock.begin_at(moment_of(request.param))
    made = Store(file_with(tmp_path / "demo.sqlite"))
    fill(made, clock.today())
    yield made
    made.close()


def test_what_is_built_from_dates(store: Store, tmp_path: Path) -> None:
    _numbers_are_of_this_year(store)
    _the_day_is_planned(store)
    _a_day_is_proposed(store)
    _work_is_given_out(store)
    _reports_are_answered(store)
    _a_month_is_signed_off(store)
    _pins_lock_for_five_minutes(store)
    _a_copy_is_made_each_night(tmp_path)
    _days_are_read()


def _numbers_are_of_this_year(store: Store) -> None:
    assert {docket.number[:3] for docket in store.dockets()} == {f"{clock.today():%y}-"}


def _the_day_is_planned(store: Store) -> None:
    """It can be carried out, begins now or later, and says as late what ends after the day that was promised."""
    reading = read(store.day.snapshot(clock.today()))
    plan = dispatch(reading.shop, SETTINGS[:2])
    assert faults(reading.shop, plan) == []
    told = day_plan(reading, plan)
    now = clock.local_now().replace(second=0, microsecond=0)
    assert all(bar.running or bar.begins >= now - timedelta(minutes=5) for bar in told.bars)
    for outcome in told.outcomes:
        if outcome.docket.promised is not None:
            assert (outcome.ready > outcome.docket.promised) == bool(outcome.late), outcome.docket.number
    again = read(store.day.snapshot(clock.today()))
    assert mend(again.shop, plan) == plan, "what can stay stays"


def _a_day_is_proposed(store: Store) -> None:
    docket = store.dockets("sapphire")[0]
    proposal = propose(store.day.snapshot(clock.today(), docket.id), docket.id, docket.promised_on, ())
    assert proposal is not None and proposal.planned >= clock.today() and proposal.best >= proposal.planned
    assert 0 <= proposal.chance <= 1 and f"{proposal.planned:%a %-d %b}" in proposal.text()


def _work_is_given_out(store: Store) -> None:
    """What an outworker would keep is what the plan says once it is given out: packed on one of their days, back when
    they say, and sooner than here."""
    people = {one.name: one.id for one in store.people.all()}
    begins = clock.local_now().replace(microsecond=0)
    away = store.day.add_absence(people["Benno"], begins, begins + timedelta(days=40))
    reading = read(store.day.snapshot(clock.today()))
    plan = dispatch(reading.shop, SETTINGS[:2])
    assert reading.outwork is not None
    outworker = next(one for one in USUAL if one.key == "outworker")
    for way in ways_out(reading.shop, plan, reading.outwork)[:1]:
        first, *more = (reading.jobs[task].task for task in way.tasks)
        assert first is not None
        before = {one.docket.id: one.late for one in day_plan(reading, plan).outcomes}
        together = tuple(one.id for one in more if one is not None)
        do(store, Act(SendOut(first.id, first.docket_id, outworker.operation, more=together), clock.now()))
        given = read(store.day.snapshot(clock.today()))
        told = day_plan(given, dispatch(given.shop, SETTINGS[:2]))
        packed = next(bar for bar in told.bars if bar.job.operation.startswith("out-outworker"))
        assert packed.begins.weekday() in outworker.days
        assert {one.docket.id: one.late for one in told.outcomes}[first.docket_id] < before[first.docket_id]
    store.day.withdraw_absence(away.id)


def _reports_are_answered(store: Store) -> None:
    found = reported(store)
    for report in REPORTS.values():
        answer = report.answer(found, HouseRules(), clock.today())
        assert all(len(line.texts) == len(answer.lines[0].texts) for line in answer.lines)


def _a_month_is_signed_off(store: Store) -> None:
    """The month before this one, by the clock on the wall: what was weighed in its last minute is in it, what was
    weighed in the next one's first is not; this one is not over yet."""
    first = clock.today().replace(day=1)
    month, this = f"{first - timedelta(days=1):%Y-%m}", f"{first:%Y-%m}"
    midnight = clock.kept(datetime.combine(first, datetime.min.time()))
    start, end = month_of(*(int(part) for part in month.split("-")))
    assert start < end == midnight
    store.fine.add(BOUGHT, "18k-yellow", 5.0, None, "", "", midnight - timedelta(minutes=1))
    store.closings.close(month)
    late = store.fine.add(BOUGHT, "18k-yellow", 1.0, None, "", "", midnight - timedelta(minutes=1))
    assert late.at >= midnight and "weighed" in late.note, "in the month that is open"
    store.fine.add(BOUGHT, "18k-yellow", 2.0, None, "", "", midnight)
    with pytest.raises(StoreError, match="not over yet"):
        store.closings.close(this)
    assert store.closings.all()[month].on == clock.today().isoformat() and store.closings.verify() == []


def _pins_lock_for_five_minutes(store: Store) -> None:
    """Also over midnight, the new year, and an hour that comes twice."""
    owner = next(one for one in store.people.all() if one.role == "owner")
    store.people.set_pin(owner.id, "86420")
    begun = clock.now()
    for _ in range(5):
        with pytest.raises(NotAllowedError):
            store.people.sign_in(owner.name, "0000")
    clock.begin_at(begun + timedelta(minutes=4))
    with pytest.raises(NotAllowedError, match="locked"):
        store.people.sign_in(owner.name, "86420")
    clock.begin_at(begun + timedelta(minutes=6))
    assert store.people.sign_in(owner.name, "86420").id == owner.id
    clock.begin_at(begun)


def _a_copy_is_made_each_night(folder: Path) -> None:
    """One a day, the newest fourteen stay, over the ends of months and years."""
    copies, day = folder / "copies", clock.today()
    for _ in range(KEPT_DAYS + 3):
        made = nightly_of(copies, day, lambda target: target.write_text("a copy"))
        assert made is not None and nightly_of(copies, day, lambda target: target.write_text("another")) is None
        day += timedelta(days=1)
    kept = sorted(path.name for path in copies.iterdir())
    assert len(kept) == KEPT_DAYS and kept[-1].endswith(f"{day - timedelta(days=1)}.sqlite")
    path = folder / "demo.sqlite"
    assert backup(path, folder / "copy.sqlite").rows["dockets"] == 10


def _days_are_read() -> None:
    """A day and a month are the next ones that are so called."""
    today = clock.today()
    for ahead in range(8):
        day = today + timedelta(days=ahead)
        assert read_date(f"{day:%-d.%-m.}", today) == read_date(day.isoformat(), today) == day
    before = today - timedelta(days=1)
    found = read_date(f"{before:%-d.%-m.}", today)
    assert found is not None and (found.day, found.month) == (before.day, before.month) and found > today
