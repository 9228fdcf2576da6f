"""What an outworker does in the house's place: given out and taken back, planned, and what that would keep."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, datetime, timedelta
from pathlib import Path

import pytest
from msgspec import convert, to_builtins
from msgspec.structs import replace

from tests.workshop.shops import MONDAY, made_up, one_docket
from yarvel.clock import kept
from yarvel.day.checking import faults
from yarvel.day.dispatch import SETTINGS, dispatch
from yarvel.day.mending import mend
from yarvel.day.outwork import Outwork, given_out, laid, runs, ways_out
from yarvel.day.shop import Order, Schedule, Shop, late_days
from yarvel.figures.errors import StoreError
from yarvel.workshop.acts import Act, DoHere, PlanTasks, SendOut, act_from, do
from yarvel.workshop.store import Store
from yarvel.workshop.work.day_reading import day_plan, read
from yarvel.workshop.work.errands import USUAL, errand_of, stands_for
from yarvel.workshop.work.standards import base_of, label_of
from yarvel.workshop.work.tasks import Task, Wanted

MORNING = kept(datetime(2031, 3, 3, 8, 0))
THERE = "out-outworker"
WORK = (
    Wanted("take-in", 5.0, 0.0, ""),
    Wanted("head", 60.0, 0.0, "bench"),
    Wanted("set", 90.0, 0.0, "bench"),
    Wanted("finish", 30.0, 0.0, "polishing"),
)


@pytest.fixture
def small(tmp_path: Path) -> Iterator[Store]:
    """One docket of four tasks on a Monday at eight, promised for Thursday; an outworker has a piece for two days."""
    store = one_docket(tmp_path, WORK)
    yield store
    store.close()


def names(store: Store) -> list[str]:
    return [task.operation for task in sorted(store.tasks.tasks(1), key=lambda task: task.position)]


def task_of(store: Store, operation: str) -> Task:
    return next(task for task in store.tasks.tasks(1) if task.operation == operation)


def give(store: Store, operation: str = "set") -> SendOut:
    return SendOut(task_of(store, operation).id, 1, THERE, "eight claws")


def test_it_takes_the_place_of_the_task(small: Store) -> None:
    """Once, however often it is done; taken back and done again; its label says whose work it is."""
    act = act_from(Act(give(small), MORNING).document())
    back = do(small, act)
    do(small, act)
    assert names(small) == ["take-in", "head", f"{THERE}-set", "finish"] and back is not None
    there = task_of(small, f"{THERE}-set")
    assert there.label == "Outworker: set the stone" and there.note == "eight claws" and there.standard == 10
    assert stands_for(there.operation) == ("set",)
    assert errand_of(there.operation) == "outworker" and base_of(there.operation) == THERE
    do(small, Act(back.back, MORNING))
    assert names(small) == [one.operation for one in WORK] and task_of(small, "set").standard == 90
    do(small, Act(back.again, MORNING))
    assert names(small) == ["take-in", "head", f"{THERE}-set", "finish"]


def test_several_go_together(small: Store) -> None:
    """One trip for what follows each other; back again, each has its place."""
    order = [one.operation for one in WORK]
    act = Act(SendOut(task_of(small, "set").id, 1, THERE, more=(task_of(small, "head").id,)), MORNING)
    back = do(small, act_from(act.document()))
    do(small, act)
    assert names(small) == ["take-in", f"{THERE}-head+set", "finish"] and back is not None
    there = task_of(small, f"{THERE}-head+set")
    assert there.label == "Outworker: make the head, set the stone"
    do(small, Act(PlanTasks(1, WORK), MORNING))
    assert names(small) == ["take-in", f"{THERE}-head+set", "finish"]
    do(small, Act(DoHere(there.id, 1), MORNING))
    assert names(small) == order
    with pytest.raises(StoreError, match="no outworker does that"):
        small.day.errands.send(task_of(small, "set").id, THERE, more=(task_of(small, "take-in").id,))
    assert names(small) == order, "none of them has gone"


def test_it_is_done_here_after_all(small: Store) -> None:
    do(small, Act(give(small), MORNING))
    there = task_of(small, f"{THERE}-set")
    deed = act_from(Act(DoHere(there.id, 1), MORNING).document())
    back = do(small, deed)
    do(small, deed)
    assert names(small) == [one.operation for one in WORK] and back is not None
    do(small, Act(back.back, MORNING))
    assert names(small) == ["take-in", "head", f"{THERE}-set", "finish"]
    small.tasks.stop(there.id, done=True)
    with pytest.raises(StoreError, match="has gone"):
        small.day.errands.do_here(there.id)
    with pytest.raises(StoreError, match="an outworker is to do"):
        small.day.errands.do_here(task_of(small, "head").id)


def test_a_route_that_changes_leaves_it_there(small: Store) -> None:
    """What an outworker has is not made anew here; it goes where its step goes, and is dropped with it."""
    do(small, Act(give(small), MORNING))
    solder = Wanted("solder", 20.0, 30.0, "torch")
    do(small, Act(PlanTasks(1, (*WORK[:2], WORK[3], solder, WORK[2])), MORNING))
    assert names(small) == ["take-in", "head", "finish", "solder", f"{THERE}-set"]
    assert task_of(small, f"{THERE}-set").standard == 10
    do(small, Act(PlanTasks(1, WORK[:2]), MORNING))
    assert names(small) == ["take-in", "head"]


def test_what_no_outworker_does_is_refused(small: Store) -> None:
    small.tasks.stop(task_of(small, "head").id, done=True)
    for operation in ("take-in", "head"):
        with pytest.raises(StoreError, match="no outworker does that: a task of the bench that is still open"):
            do(small, Act(give(small, operation), MORNING))
    assert names(small) == [one.operation for one in WORK]


def test_a_plan_waits_until_it_is_back(small: Store) -> None:
    """Packed on the Monday, back on the Wednesday morning, finished then; where it is, is told."""
    do(small, Act(give(small), MORNING))
    reading = read(small.day.snapshot())
    plan = dispatch(reading.shop)
    assert faults(reading.shop, plan) == []
    bars = {bar.job.operation: bar for bar in day_plan(reading, plan).bars}
    packed = bars[f"{THERE}-set"]
    assert packed.begins.date() == MONDAY and packed.ends <= datetime(2031, 3, 3, 16)
    assert bars["finish"].begins == datetime(2031, 3, 5, 8)


def test_where_it_is_is_told_until_it_is_back(tmp_path: Path) -> None:
    now = [datetime(2031, 3, 3, 9, 0)]
    store = Store(tmp_path / "a.sqlite", clock=lambda: kept(now[0]))
    orla = store.people.add("Orla", "lead", ("mounting", "setting", "polishing", "checking"))
    store.new_docket("Saltmarsh", "Ring", None, state="in work")
    store.tasks.plan_tasks(1, WORK)
    store.day.errands.send(task_of(store, "set").id, THERE)
    there = task_of(store, f"{THERE}-set").id
    store.tasks.start(there, orla.id)
    now[0] += timedelta(minutes=10)
    store.tasks.stop(there, done=True)
    out = store.day.snapshot().out
    assert [(one.number, one.where, one.back) for one in out] == [("31-0001", "outworker", date(2031, 3, 5))]
    now[0] = datetime(2031, 3, 5, 8, 30)
    assert store.day.snapshot().out == ()
    store.close()


def test_parts_that_occur_again_are_named_too() -> None:
    assert label_of(f"{THERE}-solder-2") == "Outworker: solder, once more"
    assert base_of(f"{THERE}-solder-2") == THERE
    assert stands_for(f"{THERE}-solder-2+set") == ("solder-2", "set")
    assert stands_for("out-hallmark-2") == stands_for("set") == ()


def outworker(shop: Shop) -> Outwork:
    errand = next(one for one in USUAL if one.does_it)
    tasks = tuple((task, "setting") for task in {step.task for _, step in shop.steps()})
    shut = shop.axis.shut(errand.days, errand.by)
    return Outwork(
        tasks=tasks,
        station=THERE,
        shut=shut,
        wait=errand.back * 1440.0 - 480.0,
        people=tuple(range(len(shop.hands))),
        slots=2,
    )


def days_late(shop: Shop, order: Order, plan: Schedule) -> int:
    last = order.steps[-1]
    end = plan[last.key].start + last.slots
    if last.station == THERE:
        end = int(shop.axis.after(last.wait)[end])
    return late_days(shop.axis, end, order.due or 0)


@pytest.mark.parametrize("seed", [0, 2, 3])
def test_what_is_said_to_be_kept_can_be_carried_out(seed: int) -> None:
    """Held by the checker that knows nothing of how it was found; nobody else is moved; no other task helps more."""
    shop = made_up(14, 4, 4, 0.56, seed)
    plan, work = dispatch(shop, SETTINGS[:2]), outworker(shop)
    ways = ways_out(shop, plan, convert(to_builtins(work), Outwork))
    assert ways, "dates too soon, and an outworker for everything: something helps"
    wide = work.place(shop)
    orders = {order.key: order for order in shop.orders}
    assert all(way.now == days_late(shop, orders[way.order], plan) for way in ways)
    for way in ways:
        order = orders[way.order]
        found = {}
        for run in runs(order, work):
            made = laid(wide, order, plan, work, run)
            assert made is not None
            changed = given_out(order, work, run)
            others = tuple(changed if one.key == order.key else one for one in shop.orders)
            assert faults(replace(wide, orders=others), made) == []
            mine = {step.task for step in order.steps}
            assert all(made[key] == place for key, place in plan.items() if key[0] not in mine)
            found[run] = days_late(wide, changed, made)
        assert len(found) == 4 * 5 // 2, "four tasks, and whatever of them follows each other"
        assert found[way.tasks] == way.late == min(found.values()) < way.now
        changed = given_out(order, work, way.tasks)
        others = tuple(changed if one.key == order.key else one for one in shop.orders)
        shown = {key: place for key, place in plan.items() if key[0] not in way.tasks}
        mended = mend(replace(wide, orders=others), shown)
        assert days_late(wide, changed, mended) <= way.late, "and the plan that follows keeps what was said"


def test_nothing_that_is_fixed_or_in_hand_is_given_out() -> None:
    shop = made_up(14, 4, 4, 0.56, 0)
    plan, work = dispatch(shop, SETTINGS[:2]), outworker(shop)
    way = ways_out(shop, plan, work)[0]
    order = next(one for one in shop.orders if one.key == way.order)
    held = tuple(
        replace(step, person=plan[step.key].person, start=plan[step.key].start) if step is order.steps[-1] else step
        for step in order.steps
    )
    pinned = replace(shop, orders=tuple(replace(one, steps=held) if one is order else one for one in shop.orders))
    assert all(one.order != way.order for one in ways_out(pinned, plan, work)), "what follows cannot wait for it"
    assert ways_out(shop, plan, replace(work, tasks=((99999, "setting"),))) == [], "a task of nobody's"
    assert ways_out(shop, plan, work, lambda: True) == []
