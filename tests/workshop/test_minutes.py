"""Which minutes of a clock count, and what a task really took: a foreman's reckoning, held against a count of minute by
minute."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, datetime, timedelta
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarvel.clock import kept, local
from yarvel.day.axis import Hours, Week
from yarvel.figures.errors import StoreError
from yarvel.workshop.acts import Act, CorrectMinutes, StartTask, StopTask, act_from, do
from yarvel.workshop.storage.authors import Author
from yarvel.workshop.storage.identity import new_id
from yarvel.workshop.store import Store
from yarvel.workshop.work.counting import Former, Presence
from yarvel.workshop.work.task_sums import taken_lately, times_lately, work_left
from yarvel.workshop.work.tasks import Task

TUESDAY = datetime(2031, 4, 8, 15, 50)
WEDNESDAY = datetime(2031, 4, 9, 12, 10)
EARLY: Week = (((6 * 60, 14 * 60),),) * 5 + ((), ())


class Now:
    """A clock that tests set; local times."""

    def __init__(self) -> None:
        self.at = TUESDAY

    def __call__(self) -> datetime:
        return kept(self.at)


@pytest.fixture
def clock() -> Now:
    return Now()


@pytest.fixture
def store(place: Path | str, clock: Now) -> Iterator[Store]:
    made = Store(place, clock=clock, by="Yusra")
    yield made
    made.close()


def left_running(store: Store, clock: Now) -> Task:
    """Somebody goes home and leaves the clock on; they press Done twenty hours later."""
    docket = store.new_docket("Saltmarsh", "ring")
    orla = store.people.add("Orla", skills=("mounting",))
    task = store.tasks.plan_tasks(docket.id, [("solder", 40.0)])[0]
    store.tasks.start(task.id, orla.id)
    clock.at = WEDNESDAY
    return store.tasks.tasks()[0]


def test_a_clock_left_running_counts_while_somebody_was_here(store: Store, clock: Now) -> None:
    task = left_running(store, clock)
    # 15:50 to 16:45, 8:00 to 10:00 and 10:15 to 12:10, by the usual day: 55 + 120 + 115 of 1,220 minutes.
    assert task.minutes == task.running == pytest.approx(290) and task.taken == 0
    assert task.by_clock == pytest.approx(1220)
    assert [row.left for row in work_left(store)] == [0.0]
    (one,) = store.tasks.minutes.clocks(task.id)
    assert (one.minutes, one.counted, one.ends) == (pytest.approx(1220), pytest.approx(290), None)
    done = store.tasks.stop(task.id, done=True)
    assert (done.taken, done.running, done.started_at) == (pytest.approx(290), 0.0, None)
    assert times_lately(store) == {"solder": [(40.0, pytest.approx(290))]}
    assert [one.taken for one in taken_lately(store)] == [pytest.approx(290)]


def test_an_absence_that_is_entered_later_counts_out(store: Store, clock: Now) -> None:
    task = left_running(store, clock)
    orla = store.people.all()[0].id
    absence = store.day.add_absence(orla, datetime(2031, 4, 9, 0), datetime(2031, 4, 9, 11, 40), "a cold")
    assert store.tasks.tasks()[0].minutes == pytest.approx(55 + 30)
    store.day.withdraw_absence(absence.id)
    assert store.tasks.tasks()[0].minutes == pytest.approx(task.minutes)


def test_the_hours_that_held_then_count(store: Store, clock: Now) -> None:
    """Other hours from today on make no other minutes of yesterday."""
    task = left_running(store, clock)
    orla = store.people.all()[0].id
    store.tasks.stop(task.id)
    clock.at = datetime(2031, 4, 10, 9, 0)
    store.day.keep_hours(Hours((((9 * 60, 9 * 60 + 30),),) * 5 + ((), ())))
    assert store.tasks.tasks()[0].minutes == pytest.approx(290)
    store.day.keep_own_week(orla, EARLY)
    assert store.tasks.tasks()[0].minutes == pytest.approx(290)
    store.tasks.start(task.id, orla)
    clock.at = datetime(2031, 4, 10, 14, 30)
    assert store.tasks.tasks()[0].running == pytest.approx(5 * 60), "until she goes, at two"
    store.day.keep_own_week(orla, None)
    assert store.tasks.tasks()[0].running == pytest.approx(30), "of what was changed twice in a day, the last counts"


def test_what_it_really_took_is_said_with_its_reason_and_taken_back(store: Store, clock: Now) -> None:
    task = left_running(store, clock)
    act = Act(CorrectMinutes(task.id, 35.0, "went home, clock on"), clock(), Author("Yusra"), new_id())
    assert act_from(act.document()) == act
    reversal = do(store, act)
    assert store.tasks.tasks()[0].minutes == pytest.approx(35)
    clock.at += timedelta(minutes=5)
    held = store.tasks.tasks()[0]
    assert held.minutes == pytest.approx(40), "what runs on after that counts beside it"
    assert held.by_clock == pytest.approx(5), "and the clock's own minutes of before are settled"
    change = store.history(task.docket_id)[-1]
    assert (change.field, change.before, change.after) == ("Solder, minutes", "290", "35 – went home, clock on")
    do(store, Act(StopTask(task.id, True), clock(), Author("Yusra")))
    assert times_lately(store) == {"solder": [(40.0, pytest.approx(40))]}, "standards learn from what counts"
    assert reversal is not None
    with pytest.raises(StoreError, match="somebody has changed it since"):
        do(store, Act(reversal.back, clock(), Author("Yusra")))
    again = do(store, Act(CorrectMinutes(task.id, 50.0, "counted again"), clock(), Author("Yusra")))
    assert again is not None and store.tasks.tasks()[0].minutes == pytest.approx(50)
    do(store, Act(again.back, clock(), Author("Yusra")))
    assert store.tasks.tasks()[0].minutes == pytest.approx(40)
    do(store, Act(again.again, clock(), Author("Yusra")))
    assert store.tasks.tasks()[0].minutes == pytest.approx(50)


def test_minutes_that_no_clock_knows_can_be_said_too(store: Store, clock: Now) -> None:
    docket = store.new_docket("Saltmarsh", "ring")
    task = store.tasks.plan_tasks(docket.id, [("solder", 40.0)])[0]
    store.tasks.minutes.correct(task.id, 25.0, "nobody started a clock")
    assert [row.left for row in work_left(store)] == [15.0]
    store.tasks.stop(task.id, done=True)
    assert times_lately(store) == {"solder": [(40.0, 25.0)]}
    for minutes, why, told in ((-1.0, "so", "0 to 6000"), (6001.0, "so", "0 to 6000"), (20.0, " ", "no reason")):
        with pytest.raises(StoreError, match=told):
            store.tasks.minutes.correct(task.id, minutes, why)
    with pytest.raises(StoreError, match="not in this store"):
        store.tasks.minutes.correct(task.id + 900, 5.0, "so")
    with pytest.raises(StoreError, match="corrected again"):
        store.tasks.minutes.correct(task.id, 5.0, "a window that was away", clock() - timedelta(hours=1))


def test_a_clock_started_again_after_a_stop_is_another_one(store: Store, clock: Now) -> None:
    task = left_running(store, clock)
    orla = store.people.all()[0].id
    do(store, Act(StopTask(task.id), clock(), Author("Yusra")))
    clock.at = datetime(2031, 4, 9, 13, 0)
    do(store, Act(StartTask(task.id, orla), clock(), Author("Yusra")))
    clock.at = datetime(2031, 4, 9, 13, 20)
    held = store.tasks.tasks()[0]
    assert (held.taken, held.running) == (pytest.approx(290), pytest.approx(20))
    assert len(store.tasks.minutes.clocks(task.id)) == 2


MOMENTS = st.datetimes(datetime(2031, 3, 27), datetime(2031, 4, 3)).map(
    lambda one: one.replace(second=0, microsecond=0)
)
"""Round the night of summer time, the last Sunday of March."""


@given(MOMENTS, st.integers(0, 2 * 24 * 60), MOMENTS, st.integers(1, 900), st.booleans(), st.booleans())
def test_counted_minutes_are_those_of_a_count_minute_by_minute(
    begins: datetime, minutes: int, away: datetime, gone: int, own: bool, changed: bool
) -> None:
    """Against every single minute of the clock, looked up on the wall."""
    back = away + timedelta(minutes=gone)
    presence = Presence(
        hours=Hours(holidays=frozenset({date(2031, 4, 1)})),
        own_weeks={1: EARLY} if own else {},
        absences={1: ((away, back),)},
        former={"1": (Former(date(2031, 3, 29), None if own else EARLY),)} if changed else {},
    )
    ends = begins + timedelta(minutes=minutes)
    count = 0
    for passed in range(minutes):
        wall = local(begins + timedelta(minutes=passed))
        hers = own != (changed and wall.date() < date(2031, 3, 29))
        minute, weekday = wall.hour * 60 + wall.minute, wall.weekday() < 5
        pause = 600 <= minute < 615 or 735 <= minute < 780 or 900 <= minute < 915
        here = (360 <= minute < 840) if hers else (480 <= minute < 1005)
        count += here and weekday and not pause and wall.date() != date(2031, 4, 1) and not away <= wall < back
    assert presence.minutes(1, begins, ends) == pytest.approx(count, abs=1e-6)
