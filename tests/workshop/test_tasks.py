"""Tasks and people: one thing in hand, clocks that only go forward, nothing lost, times against standard."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from datetime import datetime, timedelta
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yarvel.figures.errors import StoreError
from yarvel.figures.figure import FigureKey
from yarvel.figures.rules import HouseRules, WorkshopData
from yarvel.planning.plan import Plan
from yarvel.planning.weighing import weighed
from yarvel.workshop.dockets.records import Docket, DocketEdit
from yarvel.workshop.money.estimate import CHECK, estimate, tasks_of
from yarvel.workshop.storage.task_states import DONE, OPEN, STARTED
from yarvel.workshop.store import Store
from yarvel.workshop.work.standards import STANDARDS, label_of, learned, skill_of, with_pace
from yarvel.workshop.work.task_sums import times_lately
from yarvel.workshop.work.tasks import Wanted

MINUTES_A_DAY = 24 * 60


class Clock:
    """A clock that tests set."""

    def __init__(self) -> None:
        self.now = datetime(2031, 4, 9, 8, 30)

    def __call__(self) -> datetime:
        return self.now

    def on(self, minutes: float) -> None:
        self.now += timedelta(minutes=minutes)


@pytest.fixture
def clock() -> Clock:
    return Clock()


@pytest.fixture
def store(place: Path | str, clock: Clock) -> Iterator[Store]:
    made = Store(place, clock=clock, by="Yusra")
    yield made
    made.close()


def planned_docket(store: Store) -> int:
    docket = store.new_docket("Saltmarsh", "ring")
    store.tasks.plan_tasks(docket.id, [("Solder", 30.0), ("Close", 20.0), (CHECK, 15.0)])
    return docket.id


def test_the_clock_runs_while_a_task_is_in_hand(store: Store, clock: Clock) -> None:
    docket_id = planned_docket(store)
    orla = store.people.add("Orla")
    solder, close, _ = store.tasks.tasks(docket_id)
    store.tasks.start(solder.id, orla.id)
    clock.on(12)
    assert store.tasks.tasks(docket_id)[0].minutes == pytest.approx(12)
    store.tasks.start(close.id, orla.id)
    clock.on(5)
    first, second, _ = store.tasks.tasks(docket_id)
    assert (first.state, first.taken, second.state) == (OPEN, pytest.approx(12), STARTED), "one thing in hand"
    done = store.tasks.stop(close.id, done=True, note="claw 3 soft")
    assert (done.state, done.taken, done.note) == (DONE, pytest.approx(5), "claw 3 soft")
    told = [(change.field, change.after, change.by) for change in store.history(docket_id)]
    assert ("Close", "done", "Yusra") in told and ("Solder", "started by Orla", "Yusra") in told


def test_somebody_elses_task_is_not_taken_from_their_hands(store: Store) -> None:
    docket_id = planned_docket(store)
    orla, benno = (store.people.add(name) for name in ("Orla", "Benno"))
    task = store.tasks.tasks(docket_id)[0]
    store.tasks.start(task.id, orla.id)
    with pytest.raises(StoreError, match="Orla has it in hand"):
        store.tasks.start(task.id, benno.id)
    handed = store.tasks.give(task.id, benno.id, "chips are cut")
    assert (handed.person, handed.state, handed.note) == ("Benno", OPEN, "chips are cut")
    store.tasks.stop(task.id, done=True)
    with pytest.raises(StoreError, match="is done"):
        store.tasks.start(task.id, benno.id)


def test_a_clock_set_back_loses_no_time_and_makes_none(store: Store, clock: Clock) -> None:
    docket_id = planned_docket(store)
    orla = store.people.add("Orla")
    task = store.tasks.tasks(docket_id)[0]
    store.tasks.start(task.id, orla.id)
    clock.on(-90)
    assert store.tasks.stop(task.id).taken == 0


def test_planning_again_keeps_what_was_begun(store: Store, clock: Clock) -> None:
    docket_id = planned_docket(store)
    orla = store.people.add("Orla")
    solder = store.tasks.tasks(docket_id)[0]
    store.tasks.start(solder.id, orla.id)
    clock.on(3)
    store.tasks.stop(solder.id, done=True)
    again = store.tasks.plan_tasks(docket_id, [("Clean", 10.0), ("Close", 25.0)])
    assert {(task.operation, task.state, task.standard) for task in again} == {
        ("Clean", OPEN, 10.0),
        ("Solder", DONE, 30.0),
        ("Close", OPEN, 25.0),
    }
    assert CHECK not in {task.operation for task in again}, "what is wanted no more is dropped"


def test_people_come_leave_and_come_back(store: Store) -> None:
    docket_id = planned_docket(store)
    orla = store.people.add("Orla", "bench", ("mounting",))
    task = store.tasks.tasks(docket_id)[0]
    store.tasks.start(task.id, orla.id)
    store.people.left(orla.id)
    assert store.people.all() == [] and store.tasks.tasks(docket_id)[0].person == ""
    back = store.people.add("Orla", "lead")
    assert (back.id, back.role) == (orla.id, "lead")
    for name, role, word in (("Orla", "bench", "here already"), ("  ", "bench", "no name"), ("Pim", "king", "one of")):
        with pytest.raises(StoreError, match=word):
            store.people.add(name, role)


def test_loads_are_what_is_left_by_standard(store: Store, clock: Clock) -> None:
    docket_id = planned_docket(store)
    orla = store.people.add("Orla")
    for task in store.tasks.tasks(docket_id)[:2]:
        store.tasks.give(task.id, orla.id)
    store.tasks.start(store.tasks.tasks(docket_id)[0].id, orla.id)
    clock.on(10)
    load = store.tasks.loads()[0]
    assert (load.tasks, load.minutes) == (2, pytest.approx(20 + 20)) and load.in_hand.endswith("Solder")


def test_what_is_promised_first_stands_first(store: Store) -> None:
    late, soon = planned_docket(store), planned_docket(store)
    from datetime import date

    store.edit(late, DocketEdit(job_patches=(), fields={"promised_on": date(2031, 9, 1)}))
    store.edit(soon, DocketEdit(job_patches=(), fields={"promised_on": date(2031, 5, 1)}))
    assert [task.docket_id for task in store.tasks.tasks()] == [soon] * 3 + [late] * 3


def test_standards_are_the_workshops_and_times_are_held_against_them(store: Store, clock: Clock) -> None:
    store.tasks.keep_pace("solder", 144)
    assert store.tasks.standards()["solder"].pace == 144 and store.tasks.standards()["set"].pace == 100
    for key, pace in (("solder", 0), ("nonsense", 100)):
        with pytest.raises(StoreError, match="10 to 1000"):
            store.tasks.keep_pace(key, pace)
    orla = store.people.add("Orla")
    clock.on(-2 * MINUTES_A_DAY)  # from Monday on
    for minutes in (30, 36, 42, 33, 60):
        docket = store.new_docket()
        task = store.tasks.plan_tasks(docket.id, [("solder", 30.0)])[0]
        store.tasks.start(task.id, orla.id)
        clock.on(minutes)
        store.tasks.stop(task.id, done=True)
        clock.on(MINUTES_A_DAY - minutes)
    assert {part: learned(times) for part, times in times_lately(store).items()} == {"solder": pytest.approx(1.2)}


@given(st.lists(st.tuples(st.floats(1, 300), st.floats(1, 300)), min_size=5, max_size=20))
def test_learned_is_a_median(times: list[tuple[float, float]]) -> None:
    import statistics

    assert learned(times) == pytest.approx(statistics.median(taken / standard for standard, taken in times))
    assert learned(times[:4]) is None


def test_every_part_of_the_work_has_a_name_and_a_skill() -> None:
    assert {skill_of(key) for key in STANDARDS} == {"mounting", "setting", "polishing", "checking"}
    assert (label_of("head"), label_of("head-2"), label_of("of their own")) == (
        "Make the head",
        "Make the head, once more",
        "of their own",
    )
    assert skill_of("of their own") == "" and with_pace({"set": 80.0})["set"].pace == 80.0


def docket(**chart: object) -> Docket:
    at = datetime(2031, 1, 1)
    return Docket(
        id=1,
        number="31-0001",
        customer="",
        item="",
        promised_on=None,
        state="taken in",
        job_document={},
        drafts={},
        ticks=(),
        version=1,
        created_at=at,
        updated_at=at,
        claw_chart=dict(chart),
    )


def test_the_route_becomes_tasks_at_the_workshops_pace(planned: Callable[..., Plan]) -> None:
    """What takes under ten minutes goes with what follows, where the same hands can do it."""
    made, rules = planned(samples=0, fit={"method": "inset"}), HouseRules()
    found = tasks_of(made, docket(), rules)
    keys = [one.operation for one in found]
    assert keys == ["stock", "shank", "head", "fit", "solder", "seat", "set", "finish", CHECK]
    tube = {"style": "tube", "claw_mm": None, "notch_ratio": None}
    saddled = planned(samples=0, head=tube, fit={"method": "fish-mouth"})
    saddle = [one.operation for one in tasks_of(saddled, docket(), rules)]
    assert "fit" not in saddle and "solder" in saddle, "eight minutes at the saddle are no task of their own"
    usual = {one.operation: one.minutes for one in found}
    slow = {one.operation: one.minutes for one in tasks_of(made, docket(), rules, with_pace({"set": 150.0}))}
    assert slow["set"] == pytest.approx(1.5 * usual["set"]) and slow["head"] == usual["head"]
    assert [one.operation for one in tasks_of(None, docket(), rules)] == [CHECK]
    stations = {one.operation: one.station for one in found}
    assert stations["seat"] == stations["set"] == "setting-bench" and stations["solder"] == "torch"
    assert all(one.wait >= 0 for one in found)


def test_a_price_is_hours_and_the_metal_that_stays(planned: Callable[..., Plan]) -> None:
    rules = HouseRules(hour_rate=80.0, custom=WorkshopData(alloys=(("18k-yellow", "price_per_g", 70.0),)))
    made = weighed(planned(samples=0, house=rules))
    price = estimate(made, docket(), [Wanted("solder", 90.0)], rules)
    assert price.labour == pytest.approx(120) and price.unpriced == ()
    assert price.metal == pytest.approx(70 * (made[FigureKey("head.mass")] + made[FigureKey("shank.mass")]), rel=0.002)
    assert estimate(planned(samples=0), docket(), [], HouseRules()).unpriced == ("18k yellow gold",)


def test_tasks_are_put_back_as_they_stood_and_only_once(store: Store) -> None:
    """No clock is forgotten: started since counts nothing, stopped since runs on; done twice is once."""
    docket = store.new_docket("Saltmarsh")
    task = store.tasks.plan_tasks(docket.id, [("Solder", 30.0)])[0]
    person = store.people.add("Orla")
    stood = store.tasks.standings([task.id])
    store.tasks.start(task.id, person.id)
    started = store.tasks.standings([task.id])
    store.tasks.stop(task.id, done=True, note="done in one heat")
    finished = store.tasks.standings([task.id])
    store.tasks.put_back(started, finished, "undone")
    assert store.tasks.tasks(docket.id)[0].state == "started"
    store.tasks.put_back(started, finished, "undone")
    store.tasks.put_back(stood, started, "undone")
    found = store.tasks.tasks(docket.id)[0]
    assert (found.state, found.person, found.taken, found.started_at) == ("open", "", 0.0, None)
    assert [change.after for change in store.history(docket.id)].count("undone") == 2
    store.tasks.give(task.id, person.id)
    with pytest.raises(StoreError, match="somebody has changed it since"):
        store.tasks.put_back(started, finished, "undone")


def test_a_docket_put_aside_takes_its_open_tasks_along(store: Store) -> None:
    docket = store.new_docket("Saltmarsh", "brooch")
    store.tasks.plan_tasks(docket.id, [("Solder", 30.0), ("Close", 20.0)])
    store.edit(docket.id, DocketEdit(job_patches=(), fields={"withdrawn": "taken in twice"}))
    assert store.tasks.tasks() == [] and store.dockets() == [] and store.dockets("brooch") == []
    assert [found.standing for found in store.dockets("aside brooch")] == ["put aside"]
    store.edit(docket.id, DocketEdit(job_patches=(), fields={"withdrawn": ""}))
    assert len(store.tasks.tasks(docket.id)) == 2 and len(store.dockets("brooch")) == 1
