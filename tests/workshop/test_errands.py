"""What is sent out of the house: planned on the days on which it is fetched, and awaited until it is back."""

from __future__ import annotations

import random
from collections.abc import Iterator
from datetime import date, datetime, timedelta
from pathlib import Path

import numpy as np
import pytest
from msgspec.structs import replace

from tests.workshop.shops import MONDAY, made_up, one_docket
from yarvel.clock import kept
from yarvel.day.checking import faults
from yarvel.day.dispatch import SETTINGS, dispatch
from yarvel.day.documents import shop_document, shop_from
from yarvel.day.mending import mend
from yarvel.day.promise import simulate
from yarvel.day.shop import Shop
from yarvel.day.solving import Limits, improve
from yarvel.desk.board.day_planner import PlanKnowledge
from yarvel.desk.board.day_view import standing
from yarvel.figures.errors import StoreError
from yarvel.workshop.acts import Act, PlanTasks, SendOut, act_from, do
from yarvel.workshop.store import Store
from yarvel.workshop.work.day_reading import day_plan, read
from yarvel.workshop.work.day_words import fetched_of, fetched_text
from yarvel.workshop.work.errands import USUAL, Errand, errand_of
from yarvel.workshop.work.tasks import Wanted

MORNING = kept(datetime(2031, 3, 3, 8, 0))
WORK = (Wanted("head", 60.0, 0.0, "bench"), Wanted("set", 30.0, 0.0, "bench"), Wanted("finish", 30.0, 0.0, "polishing"))
WEDNESDAYS = Errand(key="hallmark", label="hallmark", days=frozenset({2}), by=15 * 60, back=5)


@pytest.fixture
def small(tmp_path: Path) -> Iterator[Store]:
    """One docket of three tasks, on a Monday at eight; the hallmark is fetched on Wednesdays."""
    store = one_docket(tmp_path, WORK)
    store.day.errands.keep(WEDNESDAYS)
    yield store
    store.close()


def names(store: Store) -> list[str]:
    return [task.operation for task in sorted(store.tasks.tasks(1), key=lambda task: task.position)]


def first_out(store: Store) -> SendOut:
    task = next(task for task in store.tasks.tasks(1) if task.operation == "set")
    return SendOut(task.id, 1, "out-hallmark")


def test_it_goes_on_its_day_and_is_awaited(small: Store) -> None:
    """Packed on the Wednesday before three; the finish waits for the Monday on which it is back."""
    do(small, Act(first_out(small), MORNING))
    assert names(small) == ["head", "set", "out-hallmark", "finish"]
    reading = read(small.day.snapshot())
    plan = dispatch(reading.shop)
    assert faults(reading.shop, plan) == []
    bars = {bar.job.operation: bar for bar in day_plan(reading, plan).bars}
    assert bars["set"].ends.date() == MONDAY
    packed = bars["out-hallmark"]
    assert packed.begins.date() == MONDAY + timedelta(days=2) and packed.ends <= datetime(2031, 3, 5, 15)
    assert bars["finish"].begins == datetime(2031, 3, 10, 8), "five days later in the morning"
    assert bars["out-hallmark"].job.task is not None and packed.job.task.label == "Send out: assay office"  # type: ignore[union-attr]
    outcome = day_plan(reading, plan).outcomes[0]
    assert outcome.late == 2, "Thursday was promised: the plan says so"


def test_what_is_out_is_told_until_it_is_back(tmp_path: Path) -> None:
    """From when it was packed and fetched until somebody works on it again, or the day is past."""
    now = [datetime(2031, 3, 5, 9, 0)]
    store = Store(tmp_path / "a.sqlite", clock=lambda: kept(now[0]))
    orla = store.people.add("Orla", "lead", ("mounting", "checking"))
    made = store.new_docket("Saltmarsh", "Ring", None, state="in work")
    store.tasks.plan_tasks(made.id, WORK[:1])
    store.day.errands.keep(WEDNESDAYS)
    store.day.errands.send(store.tasks.tasks(made.id)[0].id, "out-hallmark")
    out = next(task for task in store.tasks.tasks(made.id) if task.operation == "out-hallmark")
    assert store.day.snapshot().out == ()
    store.tasks.start(out.id, orla.id)
    now[0] += timedelta(minutes=10)
    store.tasks.stop(out.id, done=True)
    told = store.day.snapshot().out
    assert [(one.number, one.where, one.back) for one in told] == [("31-0001", "assay office", date(2031, 3, 10))]
    reading = read(store.day.snapshot())
    head = next(bar for bar in day_plan(reading, dispatch(reading.shop)).bars if bar.job.operation == "head")
    assert head.begins == datetime(2031, 3, 10, 8), "nothing is planned while it is out"
    assert "Out of the house: 31-0001 (assay office, back Mon 10 Mar)." in standing(
        day_plan(reading, dispatch(reading.shop)), PlanKnowledge(0, ())
    )
    now[0] = datetime(2031, 3, 10, 8, 30)
    assert store.day.snapshot().out == ()
    now[0] = datetime(2031, 3, 7, 8, 30)
    assert len(store.day.snapshot().out) == 1
    store.tasks.start(next(task for task in store.tasks.tasks(made.id) if task.operation == "head").id, orla.id)
    assert store.day.snapshot().out == (), "back before its day: it is in hand"
    store.close()


def test_other_days_other_plans(small: Store) -> None:
    do(small, Act(first_out(small), MORNING))
    small.day.errands.keep(replace(WEDNESDAYS, days=frozenset({0}), by=10 * 60, back=2))
    reading = read(small.day.snapshot())
    bars = {bar.job.operation: bar for bar in day_plan(reading, dispatch(reading.shop)).bars}
    assert bars["out-hallmark"].ends <= datetime(2031, 3, 3, 10) and bars["finish"].begins == datetime(2031, 3, 5, 8)


def test_sent_out_once_and_taken_back(small: Store) -> None:
    """Done twice it is there once (an act that waited may be done again); undone, it is off the board."""
    deed = first_out(small)
    act = act_from(Act(deed, MORNING).document())
    back = do(small, act)
    do(small, act)
    assert names(small).count("out-hallmark") == 1 and back is not None
    do(small, Act(back.back, MORNING))
    assert names(small) == ["head", "set", "finish"]
    do(small, Act(back.again, MORNING))
    assert names(small) == ["head", "set", "out-hallmark", "finish"]


def test_a_plan_that_changes_keeps_what_is_sent_out(small: Store) -> None:
    """A route knows nothing of the hallmark: made anew, the docket still goes there, after what it came after."""
    do(small, Act(first_out(small), MORNING))
    do(small, Act(PlanTasks(1, (WORK[0], Wanted("solder", 20.0, 30.0, "torch"), *WORK[1:])), MORNING))
    assert names(small) == ["head", "solder", "set", "out-hallmark", "finish"]
    do(small, Act(PlanTasks(1, (WORK[0], WORK[2])), MORNING))
    assert names(small) == ["head", "out-hallmark", "finish"]


def test_what_cannot_be_is_refused(small: Store) -> None:
    task = small.tasks.tasks(1)[0]
    for wrong, said in (
        (lambda: small.day.errands.send(task.id, "out-moon"), "to assay office, caster"),
        (lambda: small.day.errands.send(999, "out-hallmark"), "a task of a docket"),
        (lambda: small.day.errands.keep(replace(WEDNESDAYS, days=frozenset())), "at least one weekday"),
        (lambda: small.day.errands.keep(replace(WEDNESDAYS, back=0)), "1 to 60 days"),
    ):
        with pytest.raises(StoreError, match=said):
            wrong()
    assert errand_of("out-caster-2") == "caster" and errand_of("head") == ""


@pytest.mark.parametrize(
    ("typed", "days", "shown"),
    [
        (
            "Monday to Friday by 16:00, back after 2 days",
            {0, 1, 2, 3, 4},
            "Monday to Friday by 16:00, back after 2 days",
        ),
        (
            "mon-wed and sat by 9, back in 1 day",
            {0, 1, 2, 5},
            "Monday, Tuesday, Wednesday, Saturday by 9:00, back after 1 day",
        ),
        (
            "fri to mon, wed by 12:30 back after 3 days",
            {4, 5, 6, 0, 2},
            "Monday, Wednesday, Friday, Saturday, Sunday by 12:30, back after 3 days",
        ),
        ("tuesday by 15:00, back after 5 days", {1}, "Tuesday by 15:00, back after 5 days"),
    ],
)
def test_days_are_typed_as_people_say_them(typed: str, days: set[int], shown: str) -> None:
    made = fetched_of(typed, WEDNESDAYS)
    assert made.days == days and fetched_text(made) == shown
    assert fetched_of(shown, WEDNESDAYS) == made, "and read again"


@pytest.mark.parametrize(
    "typed", ["to fri by 9, back after 1 day", "mon to by 9, back after 1 day", "mo by 9, back after 1 day"]
)
def test_what_is_no_day_is_refused(typed: str) -> None:
    with pytest.raises(StoreError, match="Accepted: Tuesday, Thursday by 15:00"):
        fetched_of(typed, WEDNESDAYS)


def with_errands(seed: int) -> Shop:
    """A made-up workshop where one step in six can be done only on two days of the week, until noon."""
    shop, chance = made_up(8, 4, 4, 0.64, seed), random.Random(seed)
    orders = tuple(
        replace(
            order,
            steps=tuple(
                replace(step, slots=2, station=USUAL[0].operation, wait=2880.0, start=None)
                if chance.random() < 1 / 6 and [one.task for one in order.steps].count(step.task) == 1
                else step
                for step in order.steps
            ),
        )
        for order in shop.orders
    )
    shut = {USUAL[0].operation: shop.axis.shut(frozenset({1, 3}), 12 * 60)}
    return replace(shop, orders=orders, stations={**shop.stations, USUAL[0].operation: 99}, shut=shut)


@pytest.mark.parametrize("seed", range(4))
def test_every_way_of_planning_keeps_the_days(seed: int) -> None:
    """Held by a checker that walks the slots; also as a document, mended, improved by the solver, and simulated."""
    shop = with_errands(seed)
    assert any(step.station in shop.shut for _, step in shop.steps())
    again = shop_from(shop_document(shop))
    assert again.shut == shop.shut
    plan = dispatch(again, SETTINGS[:2])
    assert faults(shop, plan) == []
    late = replace(shop, orders=tuple(replace(order, release=order.release + 30) for order in shop.orders))
    assert faults(late, mend(late, plan)) == []
    better = improve(shop, plan, None, Limits(2.0, deterministic=0.5, workers=1)).plan
    assert faults(shop, better) == []
    executed = simulate(shop, plan, 1e-9, runs=3)
    for order in shop.orders:
        last = order.steps[-1]
        if last.station in shop.shut:  # without a wait after it, it would end where the plan has it
            over = int(shop.axis.after(last.wait)[plan[last.key].start + last.slots])
            assert np.all(executed[order.key] <= over + 1)
    shifted = {key: replace(place, start=0) if key in _out(shop) else place for key, place in plan.items()}
    assert any("nothing can be done at" in fault for fault in faults(shop, shifted)), "a Monday morning is none"


def _out(shop: Shop) -> set[tuple[int, int]]:
    return {step.key for _, step in shop.steps() if step.station in shop.shut}
