"""From the store to a shop that can be planned, and back to what the board shows."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import closing
from datetime import date, datetime, time, timedelta
from pathlib import Path
from typing import Any

import pytest
from msgspec.structs import replace
from sqlalchemy import select

from yarvel.clock import kept, local
from yarvel.day.axis import Hours, Week
from yarvel.day.checking import faults
from yarvel.day.dispatch import SETTINGS, dispatch
from yarvel.day.documents import plan_document, plan_from, shop_document
from yarvel.day.mending import mend
from yarvel.day.server import answer
from yarvel.day.standing import hold
from yarvel.demo.large import fill_large
from yarvel.desk.board.day_planner import PlanKnowledge
from yarvel.desk.board.day_view import standing
from yarvel.desk.reports import late
from yarvel.figures.errors import StoreError
from yarvel.figures.rules import HouseRules
from yarvel.workshop.acts import Act, GiveTask, PinTask, PlanTasks, StartTask, act_from, do
from yarvel.workshop.dockets.records import DocketEdit
from yarvel.workshop.reports.records import AT_RISK, IN_TIME, due
from yarvel.workshop.reports.report_store import OpenDocket, reported
from yarvel.workshop.storage.schema import TaskTimeRow
from yarvel.workshop.store import Store
from yarvel.workshop.work.counting import presence
from yarvel.workshop.work.day_reading import day_plan, frozen_until, read, shown_document
from yarvel.workshop.work.proposing import propose
from yarvel.workshop.work.standards import learned
from yarvel.workshop.work.task_sums import times_lately
from yarvel.workshop.work.tasks import Task, Wanted, WorkLeft

MONDAY = date(2031, 3, 3)
MORNING = kept(datetime(2031, 3, 3, 8, 0))
WORK = (Wanted("head", 60.0, 0.0, "bench"), Wanted("solder", 20.0, 30.0, "torch"), Wanted("set", 30.0, 0.0, "bench"))


@pytest.fixture
def small(tmp_path: Path) -> Iterator[Store]:
    """Two people, two dockets with work and one without, on a Monday at eight."""
    store = Store(tmp_path / "a.sqlite", clock=lambda: MORNING)
    store.people.add("Orla", "lead", ("mounting",))
    store.people.add("Benno", "bench", ("setting",))
    for days in (1, 3):
        made = store.new_docket("Saltmarsh", "Ring", MONDAY + timedelta(days=days), state="in work")
        store.tasks.plan_tasks(made.id, WORK)
    store.new_docket("Saltmarsh", "Brooch", None)
    store.new_docket("Saltmarsh", "Waits", None, state="on hold")
    yield store
    store.close()


def named(store: Store, name: str) -> int:
    return next(person.id for person in store.people.all() if person.name == name)


def of(store: Store, docket_id: int) -> list[Task]:
    return store.tasks.tasks(docket_id)


def test_every_docket_counts(small: Store) -> None:
    """Also one whose tasks nobody has made; not one on hold. What is not known is counted as a usual one."""
    reading = read(small.day.snapshot())
    assert [order.number for order in reading.shop.orders] == ["31-0001", "31-0002", "31-0003"]
    guessed = [job for job in reading.jobs.values() if job.guessed]
    assert [job.docket.number for job in guessed] == ["31-0003"] and guessed[0].minutes == 110, "the median"
    counted = read(replace(small.day.snapshot(), counted={3: (Wanted("head", 45.0), Wanted("set", 15.0))}))
    assert [job.minutes for job in counted.jobs.values() if job.docket.id == 3] == [45, 15]
    assert reading.shop.axis.moment_of(reading.now) == datetime(2031, 3, 3, 8)


def test_whoever_is_here_outside_the_open_hours_works_then(small: Store) -> None:
    """Benno sets on Saturdays and until eight on Mondays: the plan has him then and nobody else; what is promised for a
    day has to be done as the house closes on it; its breaks stay everybody's."""
    benno = named(small, "Benno")
    small.day.keep_own_week(benno, (((8 * 60, 20 * 60),), (), (), (), (), ((9 * 60, 12 * 60),), ()))
    reading = read(small.day.snapshot())
    axis = reading.shop.axis
    assert axis.days[:2] == [MONDAY, MONDAY + timedelta(days=1)] and MONDAY + timedelta(days=5) in axis.days
    assert axis.end_of(axis.evening_of(MONDAY)) == datetime(2031, 3, 3, 20)
    due = next(order.due for order in reading.shop.orders if order.key == 1)
    assert due is not None and axis.end_of(due) == datetime(2031, 3, 4, 16, 45), "Tuesday, as the house closes"
    saturday = axis.slot_at(datetime(2031, 3, 8, 9))
    away = {hands.name: any(begin <= saturday < end for begin, end in hands.away) for hands in reading.shop.hands}
    assert away == {"Orla": True, "Benno": False}
    for hour, minute in ((10, 5), (12, 30)):
        assert axis.moment_of(axis.slot_at(datetime(2031, 3, 3, hour, minute))) > datetime(2031, 3, 3, hour, minute)
    plan = dispatch(reading.shop)
    assert faults(reading.shop, plan) == []
    sets = [bar for bar in day_plan(reading, plan).bars if bar.job.operation == "set"]
    assert sets and all(bar.begins.weekday() in (0, 5) for bar in sets), "Mondays and Saturdays"


def test_of_very_many_those_promised_first_are_planned(small: Store, monkeypatch: pytest.MonkeyPatch) -> None:
    """What is in hand stays in, whatever it is promised for, and so does the docket that is asked about; what is left
    out is told."""
    monkeypatch.setattr("yarvel.workshop.work.day_store.MOST_PLANNED", 2)
    snapshot = small.day.snapshot()
    assert [brief.id for brief in snapshot.dockets] == [1, 2] and snapshot.left_out == 1
    assert {task.docket_id for task in snapshot.tasks} == {1, 2}
    assert [brief.id for brief in small.day.snapshot(also=3).dockets] == [1, 3]
    small.tasks.start(of(small, 2)[0].id, named(small, "Orla"), MORNING)
    monkeypatch.setattr("yarvel.workshop.work.day_store.MOST_PLANNED", 1)
    reading = read(small.day.snapshot())
    assert [order.key for order in reading.shop.orders] == [2]
    told = standing(day_plan(reading, dispatch(reading.shop)), PlanKnowledge(0, ()))
    assert "2 more, promised later, are not planned yet." in told


@pytest.mark.parametrize(
    ("known", "said"),
    [
        (PlanKnowledge(None, ()), ""),
        (PlanKnowledge(0, ()), "Whether they could be kept is not known."),
        (PlanKnowledge(2, ()), "At least 2 cannot be kept by any plan; of 1 it is not known."),
        (PlanKnowledge(3, ()), "At least 3 cannot be kept by any plan."),
        (PlanKnowledge(2, (), True), "At least 2 cannot be kept by any plan. Proved: no plan is better."),
    ],
)
def test_what_is_proved_and_what_is_not_known_is_said(small: Store, known: PlanKnowledge, said: str) -> None:
    """In plain numbers; before anything was sought, nothing is said of it."""
    snapshot = small.day.snapshot()
    gone = tuple(replace(brief, promised=MONDAY - timedelta(days=7)) for brief in snapshot.dockets)
    reading = read(replace(snapshot, dockets=gone))
    plan = day_plan(reading, dispatch(reading.shop))
    assert len(plan.late) == 3
    told = standing(plan, known)
    assert (
        told.endswith(said) and ("known" in told) == ("known" in said) and ("At least" in told) == ("At least" in said)
    )


@pytest.mark.parametrize(
    ("promised", "holidays", "late"),
    [
        (MONDAY - timedelta(days=3), (), 1),  # the Friday before
        (MONDAY - timedelta(days=2), (), 1),  # a Saturday on which the house is shut
        (MONDAY - timedelta(days=7), (), 5),
        (MONDAY - timedelta(days=7), (MONDAY - timedelta(days=4), MONDAY - timedelta(days=1)), 4),
        (MONDAY - timedelta(days=364), (), 260),
        (MONDAY, (), 0),
    ],
)
def test_late_is_counted_from_the_day_that_was_promised(
    small: Store, promised: date, holidays: tuple[date, ...], late: int
) -> None:
    """Open days are counted, also those that were over before today; told are days of the calendar: a customer waits
    through Sundays too."""
    snapshot = small.day.snapshot()
    hours = replace(snapshot.hours, holidays=frozenset(holidays))
    gone = tuple(replace(brief, promised=promised) for brief in snapshot.dockets)
    reading = read(replace(snapshot, dockets=gone, hours=hours))
    plan = day_plan(reading, dispatch(reading.shop))
    outcome = next(one for one in plan.outcomes if one.docket.number == "31-0001")
    assert outcome.ready == MONDAY and outcome.late == late
    told = f"31-0001 by {(MONDAY - promised).days} day"
    assert (told in standing(plan, PlanKnowledge(None, ()))) == (late > 0)


def test_a_plan_is_read_in_local_time(small: Store) -> None:
    reading = read(small.day.snapshot())
    plan = dispatch(reading.shop)
    shown = day_plan(reading, plan)
    assert faults(reading.shop, plan) == []
    first = [bar for bar in shown.bars if bar.job.docket.number == "31-0001"]
    assert [bar.job.operation for bar in first] == ["head", "solder", "set"]
    assert first[0].begins == datetime(2031, 3, 3, 8) and first[0].ends == datetime(2031, 3, 3, 9)
    assert first[2].begins >= first[1].ends + timedelta(minutes=30), "pickled and cooled before it is set"
    assert reading.people[first[2].hands] is not None and not shown.late
    outcome = next(one for one in shown.outcomes if one.docket.number == "31-0001")
    assert outcome.ready == MONDAY and outcome.minutes == 110


def test_what_is_in_hand_goes_on_and_what_was_done_waits(small: Store) -> None:
    head, solder, _ = of(small, 1)
    small.day.keep_own_week(named(small, "Orla"), ((((7 * 60, 16 * 60)),),) * 5 + ((), ()))
    small.tasks.start(head.id, named(small, "Orla"), MORNING - timedelta(minutes=25))
    reading = read(small.day.snapshot())
    step = next(step for _, step in reading.shop.steps() if step.task == head.id)
    assert step.running and step.start == reading.now and step.slots == 7, "35 of 60 minutes are left"
    small.tasks.stop(head.id, done=True, at=MORNING)
    small.tasks.start(solder.id, named(small, "Orla"), MORNING)
    small.tasks.stop(solder.id, done=True, at=MORNING)
    reading = read(small.day.snapshot())
    order = next(order for order in reading.shop.orders if order.key == 1)
    assert order.release - reading.now == 6, "half an hour in the pickle"
    assert [reading.jobs[step.task].operation for step in order.steps] == ["set"]


def test_what_is_begun_before_its_turn_is_in_hand_and_the_rest_comes_after(small: Store) -> None:
    """Whoever begins with the third step has it in hand; two who hold one piece are not both at it."""
    head, solder, last = of(small, 1)
    small.tasks.start(last.id, named(small, "Benno"), MORNING)
    reading = read(small.day.snapshot())
    order = next(order for order in reading.shop.orders if order.key == 1)
    assert [(step.task, step.running) for step in order.steps if not step.piece] == [
        (last.id, True),
        (head.id, False),
        (solder.id, False),
    ]
    assert faults(reading.shop, dispatch(reading.shop)) == []
    small.tasks.start(head.id, named(small, "Orla"), MORNING)
    reading = read(small.day.snapshot())
    assert sum(step.running for _, step in reading.shop.steps()) == 1
    assert faults(reading.shop, dispatch(reading.shop)) == []


def test_nobody_who_could_is_said_and_not_forgotten(small: Store) -> None:
    small.tasks.plan_tasks(1, (*WORK, Wanted("finish", 20.0)))
    reading = read(small.day.snapshot())
    assert [hands.name for hands in reading.shop.hands] == ["Benno", "Orla", "nobody for polishing"]
    assert day_plan(reading, dispatch(reading.shop)).bars_of(2)


def test_absences_holidays_and_hours_are_kept_and_planned_round(small: Store) -> None:
    made = small.day.add_absence(named(small, "Orla"), datetime(2031, 3, 3), datetime(2031, 3, 4), "ill")
    plan = day_plan(reading := read(small.day.snapshot()), dispatch(reading.shop))
    orla = next(place for place, hands in enumerate(reading.shop.hands) if hands.name == "Orla")
    assert plan.bars_of(orla)[0].begins == datetime(2031, 3, 4, 8)
    small.day.withdraw_absence(made.id)
    assert small.day.absences() == []
    small.day.withdraw_absence(made.id, False)
    assert [one.why for one in small.day.absences()] == ["ill"]
    hours = Hours((((540, 600),), (), (), (), (), (), ()), frozenset({MONDAY}))
    small.day.keep_hours(hours)
    assert small.day.hours() == hours
    assert read(small.day.snapshot()).shop.axis.days[0] == MONDAY + timedelta(days=7)
    small.day.keep_station("torch", 1)
    assert small.day.stations()["torch"] == 1 and read(small.day.snapshot()).shop.stations["torch"] == 1


MORNINGS: Week = (((480, 735),), (), ((480, 735),), (), (), (), ())


def test_somebody_with_hours_of_their_own_is_planned_within_them(small: Store) -> None:
    """Monday and Wednesday mornings only; the house's break is theirs too."""
    benno = named(small, "Benno")
    small.day.keep_own_week(benno, MORNINGS)
    assert small.day.own_weeks() == {benno: MORNINGS}
    reading = read(small.day.snapshot())
    shop, axis = reading.shop, reading.shop.axis
    plan = dispatch(shop)
    assert faults(shop, plan) == []
    theirs = [bar for bar in day_plan(reading, plan).bars if shop.hands[bar.hands].name == "Benno"]
    assert theirs, "the setting is theirs"
    for bar in theirs:
        assert bar.begins.weekday() in (0, 2) and bar.ends.time() <= time(12, 15)
    away = {slot for begin, end in axis.outside(MORNINGS) for slot in range(begin, end)}
    for slot in range(axis.size):  # walked by the clock, slot by slot
        at = axis.moment_of(slot)
        assert (slot not in away) == (at.weekday() in (0, 2) and at.time() < time(12, 15))
    assert small.day.hours().share(MORNINGS) == pytest.approx(2 * 240 / (5 * 450)), "the break counts for nobody"
    small.day.keep_own_week(benno, None)
    assert not small.day.own_weeks()


def test_the_bench_of_a_half_timer_is_half_a_bench(small: Store) -> None:
    """In the bars of a week's hours, and in whether a promise can be kept."""
    small.day.keep_own_week(named(small, "Benno"), MORNINGS)
    found = late.answer(reported(small), HouseRules(), MONDAY)
    whole = 2 * 37.5
    assert found.limit == pytest.approx(whole * (1 + 480 / 2250) / 2)
    work = [WorkLeft(1, "Benno", "2031-03-05", 300.0)]
    promised = [
        OpenDocket(
            id=1, number="31-0001", customer="", item="", promised_on=MONDAY + timedelta(days=2), state="in work"
        )
    ]
    assert [one.standing for one in due(promised, work, MONDAY, Hours())] == [IN_TIME]
    assert [one.standing for one in due(promised, work, MONDAY, Hours(), {"Benno": 0.2})] == [AT_RISK]


def test_what_cannot_be_is_refused_with_what_is_accepted(small: Store) -> None:
    orla = named(small, "Orla")
    for wrong, said in (
        (lambda: small.day.add_absence(orla, datetime(2031, 3, 4), datetime(2031, 3, 4)), "an end after its begin"),
        (lambda: small.day.add_absence(99, datetime(2031, 3, 4), datetime(2031, 3, 5)), "somebody who works here"),
        (lambda: small.day.withdraw_absence(5), "one that was entered"),
        (lambda: small.day.keep_station("torch", 0), "1 to 50"),
        (lambda: small.day.keep_station("bath", 2), "one of torch"),
        (lambda: small.day.keep_hours(Hours(((),) * 7)), "at least one block"),
        (lambda: small.day.keep_hours(Hours((((600, 540),), *((),) * 6))), "one after the other"),
        (lambda: small.day.keep_own_week(orla, ((),) * 7), "at least one block"),
        (lambda: small.day.keep_own_week(99, MORNINGS), "somebody who works here"),
        (lambda: small.day.pin(999, orla, None), "a task of a docket"),
    ):
        with pytest.raises(StoreError, match=said):
            wrong()


def test_a_pin_holds_until_it_is_taken_back(small: Store) -> None:
    """Set to somebody and an hour; told in the history; undone and done again; written down while it waits."""
    head = of(small, 2)[0]
    orla, at = named(small, "Orla"), kept(datetime(2031, 3, 3, 13, 30))
    deed = PinTask(head.id, orla, at.isoformat())
    assert act_from(Act(deed, MORNING).document()).deed == deed
    done = do(small, Act(deed, MORNING))
    reading = read(small.day.snapshot())
    for plan in (dispatch(reading.shop), mend(reading.shop, dispatch(reading.shop, SETTINGS[:1]))):
        bar = next(bar for bar in day_plan(reading, plan).bars if bar.job.key == head.id)
        assert bar.pinned and bar.begins == datetime(2031, 3, 3, 13, 30)
    assert any("set to Orla, from 03 Mar 13:30" in str(change.after) for change in small.history(2))
    assert done is not None
    do(small, Act(done.back, MORNING))
    assert of(small, 2)[0].pinned_at is None and of(small, 2)[0].person == ""
    do(small, Act(done.again, MORNING))
    assert local(of(small, 2)[0].pinned_at or MORNING) == datetime(2031, 3, 3, 13, 30)
    do(small, Act(GiveTask(head.id, None), MORNING))
    free = read(small.day.snapshot())
    assert next(step for _, step in free.shop.steps() if step.task == head.id).start is None


def test_two_pins_on_one_hour_are_told(small: Store) -> None:
    orla, at = named(small, "Orla"), kept(datetime(2031, 3, 3, 9, 0)).isoformat()
    for docket in (1, 2):
        small.day.pin(of(small, docket)[0].id, orla, at)
    reading = read(small.day.snapshot())
    assert reading.refused == ("31-0002 head: pinned where something else is",)
    assert faults(reading.shop, dispatch(reading.shop)) == []


def test_the_plan_shown_is_kept_and_found_again(small: Store) -> None:
    reading = read(small.day.snapshot())
    plan = dispatch(reading.shop)
    small.day.kept.keep(shown_document(reading, plan, datetime(2031, 3, 3, 8)))
    again = read(small.day.snapshot())
    assert again.shown == plan and mend(again.shop, again.shown) == plan
    held = hold(again.shop, plan, frozen_until(again))
    soon = [step for _, step in held.steps() if step.start is not None]
    assert soon and all(plan[step.key].start < 27 for step in soon), "two hours and the break between"
    assert faults(held, dispatch(held)) == []


def test_tasks_made_before_there_were_waits_are_tasks(small: Store) -> None:
    """What waits on a machine from an earlier Yarvel is a pair."""
    held = {"deed": "plan-tasks", "at": MORNING.isoformat(), "docket_id": 3, "operations": [["head", 40.0]]}
    do(small, act_from(held))
    assert [(task.operation, task.standard, task.wait) for task in of(small, 3)] == [("head", 40.0, 0.0)]


def test_an_urgent_docket_comes_before_one_that_may_wait(small: Store) -> None:
    small.day.add_absence(named(small, "Orla"), datetime(2031, 3, 3, 9, 30), datetime(2031, 3, 5))
    for docket_id, words in ((1, "may wait"), (2, "urgent")):
        edit = DocketEdit(job_patches=(), fields={"importance": words, "promised_on": MONDAY})
        small.edit(docket_id, edit)
    reading = read(small.day.snapshot())
    shown = day_plan(reading, dispatch(reading.shop))
    ready = {one.docket.number: one.ready for one in shown.outcomes}
    assert ready["31-0002"] < ready["31-0001"]


def test_a_day_is_proposed_with_its_chance_and_why(small: Store) -> None:
    found = propose(small.day.snapshot(), 3, None, (Wanted("head", 60.0), Wanted("set", 30.0)))
    assert found is not None and found.planned == found.best == MONDAY and found.chance > 0.9
    assert "kept 10 times of 10" in found.text()
    small.day.add_absence(named(small, "Benno"), datetime(2031, 3, 3), datetime(2031, 3, 6))
    later = propose(small.day.snapshot(), 3, MONDAY, (Wanted("head", 60.0), Wanted("set", 30.0)))
    assert later is not None and later.planned == date(2031, 3, 6) and later.kept == 0
    assert "waits longest to set the stone: Benno taken until Thu 9:00" in later.text()
    assert "Mon 3 Mar, as promised, is kept 0 times of 10" in later.text()


# --- the larger workshop -------------------------------------------------------------------------------------------


@pytest.fixture(scope="module")
def large(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Store]:
    store = Store(tmp_path_factory.mktemp("large") / "a.sqlite", clock=lambda: MORNING)
    fill_large(store, MONDAY)
    yield store
    store.close()


def test_a_larger_workshop_is_planned_from_its_store(large: Store) -> None:
    snapshot = large.day.snapshot()
    reading = read(snapshot)
    plan = dispatch(reading.shop, SETTINGS[:3])
    assert len(snapshot.people) == 7 and len(snapshot.dockets) == 52 and len(snapshot.bare) == 12
    assert sum(docket.state != "handed over" for docket in large.dockets(limit=2000)) == 60
    assert faults(reading.shop, plan) == []
    running = [bar for bar in day_plan(reading, plan).bars if bar.running]
    assert running and all(bar.begins == datetime(2031, 3, 3, 8) for bar in running)
    mended = mend(reading.shop, plan)
    assert mended == plan


def test_the_bench_and_the_board_tell_one_date(large: Store, tmp_path: Path) -> None:
    """The day, and how often it is kept: from one plan and the same executions, a minute later too."""
    path = tmp_path / "large.sqlite"
    with closing(sqlite3.connect(str(large.path))) as held, closing(sqlite3.connect(path)) as copy:
        held.backup(copy)  # with the pages that lie beside the file
    later = [datetime(2031, 3, 3, 9, 2)]
    store = Store(path, clock=lambda: kept(later[0]))
    reading = read(store.day.snapshot())
    plan = dispatch(reading.shop, SETTINGS[5:6])
    assert plan != dispatch(reading.shop, SETTINGS[:2]), "another one than would be made at once"
    store.day.kept.keep(shown_document(reading, plan, later[0]))
    for minutes in (0, 21):
        later[0] += timedelta(minutes=minutes)
        reading = read(store.day.snapshot())
        told: list[dict[str, Any]] = []
        request = {
            "shop": shop_document(reading.shop),
            "shown": plan_document(reading.shown),
            "seconds": 0,
            "rounds": 20,
        }
        request |= {"until": frozen_until(reading), "by_time": reading.by_time}
        answer({**request, "spreads": {str(key): spread for key, spread in reading.spreads.items()}}, told.append)
        of_kind = {one["kind"]: one for one in told}
        chances = {int(key): share for key, share in of_kind["known"]["chances"].items()}
        shown = day_plan(reading, plan_from(of_kind["plan"]["plan"]), chances)
        store.day.kept.keep(shown_document(reading, shown.plan, later[0]))  # as the board does
        assert len(shown.outcomes) > 40
        told_of = [(one.chance, one.docket.id, one) for one in shown.outcomes if one.chance is not None]
        least = sorted(told_of, key=lambda one: one[:2])[:3]
        assert minutes or 0.02 < least[0][0] < 0.98, "a date that is not sure is among them"
        for outcome in [*(one for _, _, one in least), shown.outcomes[-1]]:
            docket = outcome.docket
            found = propose(store.day.snapshot(), docket.id, docket.promised, ())
            assert found is not None and found.planned == outcome.ready, docket.number
            assert docket.promised is None or round(found.kept or 0.0, 3) == outcome.chance, docket.number
    store.close()


def test_nobody_in_the_made_up_year_is_at_two_benches_or_works_at_night(large: Store) -> None:
    with large.transaction() as session:
        rows = session.execute(
            select(TaskTimeRow.person_id, TaskTimeRow.started_at, TaskTimeRow.stopped_at, TaskTimeRow.task_id)
        ).all()
        here = presence(session)
    assert len(rows) > 5000
    last: dict[int, datetime] = {}
    of_task: dict[int, datetime] = {}
    now = large.now()
    for person, begins, ends, task in sorted(
        (person, begins, ends or now, task) for person, begins, ends, task in rows
    ):
        assert begins >= last.get(person, begins) and ends <= now, (person, begins)
        assert begins >= of_task.get(task, begins)
        if ends < now:
            assert here.minutes(person, begins, ends) == pytest.approx((ends - begins).total_seconds() / 60, abs=0.01)
        last[person] = of_task[task] = ends


def test_its_year_can_be_reported_and_its_sizes_are_its_own(large: Store) -> None:
    """No stone has a size in whole tenths, as sizes quoted as examples have; a year's times stand against standard."""
    sizes = [
        value
        for docket in large.dockets(limit=2000)
        for name, held in docket.job_document["stone"].items()
        if name in ("diameters_mm", "length_mm", "width_mm", "depth_mm")
        for value in (held if isinstance(held, list) else [held])
    ]
    assert len(sizes) > 1000 and all(round(value * 100) % 10 in (1, 3, 7, 9) for value in sizes)
    ratios = {part: learned(times) for part, times in times_lately(large, most=100_000).items()}
    known = {part: ratio for part, ratio in ratios.items() if ratio is not None}
    assert {"head", "seat", "finish"} <= set(known) and all(0.9 < ratio < 1.2 for ratio in known.values())


def test_starting_by_the_plan_is_starting_a_task(small: Store) -> None:
    head = of(small, 1)[0]
    do(small, Act(StartTask(head.id, named(small, "Orla")), MORNING))
    do(small, Act(PlanTasks(3, (Wanted("head", 30.0, 5.0, "bench"),)), MORNING))
    reading = read(small.day.snapshot())
    bars = day_plan(reading, dispatch(reading.shop)).bars
    assert [bar.job.key for bar in bars if bar.running] == [head.id]
    assert of(small, 3)[0].station == "bench" and of(small, 3)[0].wait == 5


def test_what_was_done_today_can_be_looked_back_at(small: Store) -> None:
    """By whom, from when to when; also of a docket that is ready and off the plan."""
    head = of(small, 1)[0]
    orla = named(small, "Orla")
    small.tasks.start(head.id, orla, MORNING - timedelta(minutes=40))
    small.tasks.stop(head.id, done=True, at=MORNING - timedelta(minutes=10))
    small.day.keep_hours(Hours((((420, 720),),) * 7))
    small.edit(1, DocketEdit(job_patches=(), fields={"state": "ready"}))
    reading = read(small.day.snapshot())
    assert [(place, begin, end, one.number, one.done) for place, begin, end, one in reading.past] == [
        (next(p for p, hands in enumerate(reading.shop.hands) if hands.key == orla), 4, 10, "31-0001", True)
    ]
    assert reading.now == 12


def test_what_is_late_is_late_by_the_plan_that_was_shown(small: Store) -> None:
    """The report and the board say one day, also of a docket whose tasks nobody has made."""
    small.day.add_absence(named(small, "Benno"), datetime(2031, 3, 3), datetime(2031, 3, 5))
    reading = read(small.day.snapshot())
    plan = dispatch(reading.shop)
    small.day.kept.keep(shown_document(reading, plan, datetime(2031, 3, 3, 8)))
    shown = day_plan(reading, plan)
    assert small.day.ready() == {one.docket.id: one.ready for one in shown.outcomes} and 3 in small.day.ready()
    found = late.answer(reported(small), HouseRules(), MONDAY)
    rows = {line.texts[0]: line.texts for line in found.lines}
    assert rows["31-0001"][4:6] == ("2031-03-05", "at risk"), "promised for Tuesday"
    assert rows["31-0002"][5] == "in time" and rows["31-0003"][7] == "110", "as long as the plan takes it to be"
    assert small.day.bare_minutes() == {3: 110.0}
    small.day.kept.keep({})
    assert {line.texts[0]: line.texts[7] for line in late.answer(reported(small), HouseRules(), MONDAY).lines}[
        "31-0003"
    ] == "–", "nobody has planned it yet"
