"""Heats and castings that dockets share: at one time, in one pair of hands, and the plan holds by a checker that knows
nothing of them."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, datetime, timedelta
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.workshop.shops import made_up
from yarvel.clock import kept
from yarvel.day.checking import faults
from yarvel.day.dispatch import SETTINGS, dispatch
from yarvel.day.mending import mend
from yarvel.day.shop import Assignment
from yarvel.day.together import joined_slots, together
from yarvel.day.turns import in_turns
from yarvel.figures.errors import StoreError
from yarvel.workshop.acts import Act, JoinTasks, act_from, do
from yarvel.workshop.dockets.records import DocketEdit
from yarvel.workshop.store import Store
from yarvel.workshop.work.day_reading import day_plan, read, shown_document
from yarvel.workshop.work.sharing import why_not_together
from yarvel.workshop.work.tasks import Wanted

MONDAY = date(2031, 3, 3)
MORNING = kept(datetime(2031, 3, 3, 8, 0))
WORK = (Wanted("head", 60.0, 0.0, "bench"), Wanted("solder", 20.0, 30.0, "torch"), Wanted("set", 30.0, 0.0, "bench"))


@given(st.integers(0, 30), st.integers(2, 4), st.integers(1, 3))
@settings(max_examples=25)
def test_what_is_done_together_begins_together_in_every_plan(seed: int, many: int, groups: int) -> None:
    """In a dispatched plan, and by whole dockets in turn; nothing else is broken by it."""
    shop = made_up(8, 4, 5, 0.64, seed)
    alike: dict[tuple[int, ...], list[int]] = {}
    for order in shop.orders:
        for step in order.steps[1:3]:
            if step.piece == 0:
                alike.setdefault(step.people, []).append(step.task)
    of = {step.task: order.key for order, step in shop.steps()}
    wanted, taken = [], set()
    for tasks in alike.values():
        own: dict[int, int] = {}
        for task in tasks:
            if of[task] not in taken:
                own.setdefault(of[task], task)
        if len(own) >= many and len(wanted) < groups:
            wanted.append(list(own.values())[:many])
            taken |= {of[task] for task in wanted[-1]}
    joined, beside, refused = together(shop, wanted, {})
    assert not refused and set(beside) == {task for group in wanted for task in group}
    first = dispatch(joined, SETTINGS[:3])
    for plan in (first, in_turns(joined, first, rounds=200)):
        assert faults(joined, plan) == []
        for group in wanted:
            assert len({plan[task, 0].start for task in group}) == 1
            assert plan[group[0], 0].person == beside[group[0]].person
            assert len({beside[task].person for task in group}) == 1
    assert mend(joined, first) == first, "a plan that is shown stays as it is"


def test_several_take_the_longest_and_something_for_each() -> None:
    assert joined_slots([8]) == 8 and joined_slots([8, 4, 4]) == 10


@pytest.fixture
def small(tmp_path: Path) -> Iterator[Store]:
    """Three dockets with work for the torch, on a Monday at eight."""
    store = Store(tmp_path / "a.sqlite", clock=lambda: MORNING)
    store.people.add("Orla", "lead", ("mounting",))
    store.people.add("Kaspar", "bench", ("mounting",))
    store.people.add("Benno", "bench", ("setting",))
    for days in (1, 3, 2):
        made = store.new_docket("Saltmarsh", "Ring", MONDAY + timedelta(days=days), state="in work")
        store.tasks.plan_tasks(made.id, WORK)
    yield store
    store.close()


def solders(store: Store) -> tuple[int, ...]:
    return tuple(task.id for task in store.tasks.tasks() if task.operation == "solder")


def test_a_shared_heat_in_the_store_and_on_the_board(small: Store) -> None:
    """One time for all three, told in their histories; undone, each goes by itself; the plan shown stands."""
    tasks = solders(small)
    done = do(small, act_from(Act(JoinTasks(tasks), MORNING).document()))
    assert done is not None
    assert "together with 31-0002, 31-0003" in [change.after for change in small.history(1)]
    reading = read(small.day.snapshot())
    plan = dispatch(reading.shop)
    assert faults(reading.shop, plan) == []
    bars = [bar for bar in day_plan(reading, plan).bars if bar.job.operation == "solder"]
    assert len({(bar.begins, bar.ends, bar.hands) for bar in bars}) == 1
    assert sorted(bar.beside for bar in bars) == [(0, 3), (1, 3), (2, 3)]
    assert bars[0].ends - bars[0].begins == timedelta(minutes=30), "20 minutes, and 5 for each of the others"
    assert reading.people[bars[0].hands] is not None, "in hands that are there"
    small.day.kept.keep(shown_document(reading, plan, MORNING))
    again = read(small.day.snapshot())
    assert again.shown == plan and not day_plan(again, mend(again.shop, again.shown)).moved
    do(small, Act(done.back, MORNING))
    assert small.day.snapshot().together == () and "by itself again" in [one.after for one in small.history(2)]
    do(small, Act(done.again, MORNING))
    assert [set(group) for group in small.day.snapshot().together] == [set(tasks)]


def test_why_not_together_is_told(small: Store) -> None:
    """Another work, one docket, what is in hand, another alloy, two days apart: each has its reason, before anything is
    tried."""
    tasks = solders(small)
    reading = read(small.day.snapshot())
    plan = day_plan(reading, dispatch(reading.shop))
    assert why_not_together(plan, tasks) == "" == why_not_together(plan, tasks[:1])
    other = next(key for key, job in reading.jobs.items() if job.operation != "solder")
    assert "are not the same work" in why_not_together(plan, (tasks[0], other))
    silver = {"head": {"metal": "silver-925"}}
    for docket, document in ((1, silver), (3, {"head": {"metal": "18k-yellow"}})):
        small.edit(docket, DocketEdit(job_patches=(document,)))
    reading = read(small.day.snapshot())
    plan = day_plan(reading, dispatch(reading.shop))
    told = why_not_together(plan, tasks[:2])
    assert "one alloy in a heat or a casting" in told and "31-0001 of" in told
    with pytest.raises(StoreError, match="one alloy in a heat"):
        small.day.join(tasks[:2], apart=False)
    last = next(step for _, step in reading.shop.steps() if step.task == tasks[2])
    before = next(key for key, job in reading.jobs.items() if job.docket.id == 2 and job.operation == "head")
    day = reading.shop.axis.evenings[0]
    late = {
        **plan.plan,
        (before, 0): Assignment(plan.plan[before, 0].person, int(day) * 2),
        last.key: plan.plan[last.key],
    }
    apart = why_not_together(day_plan(reading, late), (tasks[0], tasks[2]))
    assert apart.startswith("31-0001 comes on Mon 3 Mar, 31-0002 is not ready for it before Wed 5 Mar"), apart
    small.tasks.start(tasks[0], small.people.all()[0].id, MORNING)
    reading = read(small.day.snapshot())
    assert why_not_together(day_plan(reading, dispatch(reading.shop)), tasks) == "31-0001 is in hand already"


def test_a_heat_waits_for_the_last_and_no_longer(small: Store) -> None:
    """Joined where a plan was shown already: at the latest when the last of them would have begun by itself; and there
    it stays, however often it is planned anew."""
    reading = read(small.day.snapshot())
    plan = dispatch(reading.shop)
    small.day.kept.keep(shown_document(reading, plan, MORNING))
    tasks = solders(small)
    last = max(plan[task, 0].start for task in tasks)
    small.day.join(tasks, apart=False)
    begins = []
    for _ in range(4):
        again = read(small.day.snapshot())
        mended = mend(again.shop, again.shown)
        assert faults(again.shop, mended) == []
        begins.append({mended[task, 0].start for task in tasks})
        small.day.kept.keep(shown_document(again, mended, MORNING))
    assert begins[0] == begins[1] == begins[2] == begins[3] and len(begins[0]) == 1
    assert begins[0].pop() <= last


def test_what_is_started_leads_and_what_is_done_leaves(small: Store) -> None:
    tasks = solders(small)
    small.day.join(tasks, apart=False)
    orla = next(person.id for person in small.people.all() if person.name == "Orla")
    head = next(task.id for task in small.tasks.tasks(2) if task.operation == "head")
    small.tasks.start(head, orla, MORNING - timedelta(minutes=60))
    small.tasks.stop(head, done=True, at=MORNING)
    small.tasks.start(tasks[1], orla, MORNING)
    reading = read(small.day.snapshot())
    step = next(step for _, step in reading.shop.steps() if step.task == tasks[1])
    assert step.running and step.start == reading.now and reading.beside[tasks[1]].tasks[0] == tasks[1]
    small.tasks.stop(tasks[1], done=True, at=MORNING + timedelta(minutes=20))
    left = read(small.day.snapshot())
    assert set(left.beside) == {tasks[0], tasks[2]}


@pytest.mark.parametrize(
    ("pick", "said"),
    [
        (lambda tasks: [tasks[0].id], "two or more"),
        (lambda tasks: [tasks[0].id, tasks[1].id], "of one docket"),
        (lambda tasks: [tasks[0].id, tasks[4].id], "not the same work"),
        (lambda tasks: [tasks[0].id, 999], "not in this store"),
    ],
)
def test_what_is_no_shared_heat_is_refused(small: Store, pick: object, said: str) -> None:
    with pytest.raises(StoreError, match=said):
        small.day.join(pick(small.tasks.tasks()), apart=False)  # type: ignore[operator]
    assert small.day.snapshot().together == ()


def test_one_heat_is_of_one_alloy_and_of_what_nobody_has_begun(small: Store) -> None:
    tasks = solders(small)
    for docket, metal in ((1, "sterling-silver"), (3, "18k-yellow")):
        small.edit(docket, DocketEdit(job_patches=({"head": {"metal": metal}},)))
    with pytest.raises(StoreError, match="31-0001 of Sterling silver, 31-0003 of 18k yellow gold: one alloy in a heat"):
        small.day.join(tasks[:2], apart=False)
    small.edit(3, DocketEdit(job_patches=({"head": {"metal": "sterling-silver"}},)))
    orla = next(person.id for person in small.people.all() if person.name == "Orla")
    small.tasks.start(tasks[0], orla, MORNING)
    with pytest.raises(StoreError, match="one of them is begun"):
        small.day.join(tasks[:2], apart=False)
    small.tasks.stop(tasks[0], at=MORNING)
    small.day.join(tasks[:2], apart=False)
    assert [set(group) for group in small.day.snapshot().together] == [set(tasks[:2])]


def test_nobody_takes_a_heat_apart_without_knowing_it(small: Store) -> None:
    """Two who join one task with two others: the second is told with what it is together; with all of those it may be,
    and once the others are done or it is by itself again."""
    first, second, third = solders(small)
    small.day.join([first, second], apart=False)
    with pytest.raises(StoreError, match=r"together with 31-000\d by now: with all of those, or first each by itself"):
        small.day.join([second, third], apart=False)
    assert [set(group) for group in small.day.snapshot().together] == [{first, second}]
    small.day.join([first, second, third], apart=False)
    assert [set(group) for group in small.day.snapshot().together] == [{first, second, third}]
    small.day.join([first, second, third], apart=True)
    small.day.join([second, third], apart=False)
    orla = next(person.id for person in small.people.all() if person.name == "Orla")
    small.tasks.start(third, orla, MORNING)
    small.tasks.stop(third, done=True, at=MORNING)
    small.day.join([first, second], apart=False)
    assert [set(group) for group in small.day.snapshot().together] == [{first, second}]


def test_what_nobody_can_do_at_once_goes_each_by_itself() -> None:
    """No hands for both, or a docket that is in a heat already: told, and planned apart."""
    shop = made_up(8, 4, 5, 0.64, 3)
    of = {step.task: order.key for order, step in shop.steps()}
    steps = [step for _, step in shop.steps() if step.piece == 0]
    one, other = next(
        (one.task, other.task)
        for one in steps
        for other in steps
        if of[one.task] != of[other.task] and not set(one.people) & set(other.people)
    )
    joined, beside, refused = together(shop, [(one, other)], {})
    assert refused == ((one, other),) and not beside
    assert faults(joined, dispatch(joined, SETTINGS[:1])) == []
    alike = [step.task for step in steps if step.people == steps[0].people and of[step.task] != of[steps[0].task]]
    again = together(shop, [(steps[0].task, alike[0]), (steps[0].task, alike[1])], {})
    assert again[2] == ((steps[0].task, alike[1]),) and set(again[1]) == {steps[0].task, alike[0]}
