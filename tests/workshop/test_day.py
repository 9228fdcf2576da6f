"""The plan of the day, held by a checker that knows nothing of how plans are made, by published shops, and by hand."""

from __future__ import annotations

import math
import random
from collections.abc import Callable
from datetime import date, datetime, timedelta
from itertools import permutations

import numpy as np
import pytest
from msgspec.structs import replace

from tests.workshop.shops import ALL_DAY, FT06, MONDAY, job_shop, made_up
from yarvel.day.axis import Axis, Hours
from yarvel.day.bitset_layout import Laying
from yarvel.day.checking import faults
from yarvel.day.dispatch import SETTINGS, AxisTooShortError, dispatch
from yarvel.day.documents import plan_document, plan_from, shop_document, shop_from
from yarvel.day.floor import floor
from yarvel.day.inserting import anew
from yarvel.day.mending import Mending, mend
from yarvel.day.promise import chances, promise, redispatched, simulate, with_order
from yarvel.day.server import answer, helps, known
from yarvel.day.shop import (
    Assignment,
    Hands,
    Order,
    Schedule,
    Shop,
    Step,
    cost,
    ends,
    is_moved,
    late_count,
    late_days,
    weighed,
)
from yarvel.day.solving import Limits, improve, judged, kept_by_all
from yarvel.day.standing import Seeking, stand
from yarvel.day.turns import in_turns
from yarvel.figures.errors import StoreError
from yarvel.workshop.work.day_words import days_of, hours_of, hours_text, moment_of

SIZES = [(6, 4, 3, 0.64), (14, 5, 5, 0.8), (24, 6, 6, 0.4), (8, 3, 1, 0.56)]
REPEATED = Limits(seconds=60.0, deterministic=0.6)
"""The same on every machine: one worker, and an amount of work instead of a time."""


def shops() -> list[Shop]:
    """Random shops of several sizes."""
    return [made_up(*size, seed) for seed, size in enumerate(SIZES * 2)]


def pinned(shop: Shop, plan: Schedule) -> Shop:
    """The shop with some of a plan's places fixed, and one task in hand."""
    orders = []
    for number, order in enumerate(shop.orders):
        step = order.steps[0]
        place = plan[step.key]
        fixed = replace(step, person=place.person, start=place.start if number % 3 == 0 else None)
        pin = number % 2 == 0 and not _several(order)
        orders.append(replace(order, steps=(fixed, *order.steps[1:])) if pin else order)
    return replace(shop, orders=tuple(orders))


def _several(order: Order) -> bool:
    return len(order.steps) > 1 and order.steps[1].task == order.steps[0].task


# --- time ----------------------------------------------------------------------------------------------------------


def test_open_hours_lie_end_to_end() -> None:
    """A day of 105 + ... minutes by hand: 8:00–10:00, 10:15–12:15, 13:00–15:00, 15:15–16:45 is 90 slots of 5."""
    axis = Axis(Hours(holidays=frozenset({MONDAY + timedelta(days=1)})), MONDAY, 3)
    assert axis.size == 3 * 90 and axis.days == [MONDAY, MONDAY + timedelta(days=2), MONDAY + timedelta(days=3)]
    at = datetime(2031, 3, 3)
    for moment, slot in (
        (at.replace(hour=6), 0),
        (at.replace(hour=8), 0),
        (at.replace(hour=8, minute=1), 1),
        (at.replace(hour=9, minute=55), 23),
        (at.replace(hour=10), 24),
        (at.replace(hour=10, minute=10), 24),
        (at.replace(hour=12, minute=30), 48),
        (at.replace(hour=20), 90),
        (at + timedelta(days=1), 90),
        (at + timedelta(days=30), 270),
    ):
        assert axis.slot_at(moment) == slot, moment
    assert axis.moment_of(24) == at.replace(hour=10, minute=15)
    assert axis.end_of(24) == at.replace(hour=10), "what ends at a break ends before it"
    assert axis.end_of(90) == at.replace(hour=16, minute=45)
    assert axis.evening_of(MONDAY + timedelta(days=1)) == 90, "shut: the evening before"
    assert axis.evening_of(MONDAY - timedelta(days=9)) == 0
    assert [late_days(axis, end, 90) for end in (1, 90, 91, 180, 181)] == [0, 0, 1, 1, 2]
    assert late_days(axis, 5, 0) == 1, "promised before the days laid out"


def test_waits_go_on_through_breaks_and_nights() -> None:
    axis = Axis(Hours(), MONDAY, 5)
    assert axis.after(0)[24] == 24
    assert axis.after(10)[24] == 24, "over at 10:00, ten minutes later is still break: 10:15"
    assert axis.after(20)[24] == 25, "10:20"
    assert axis.after(60)[90] == 90, "16:45 and an hour: next morning"
    assert axis.after(24 * 60)[12] == 90 + 12, "a day later at the same hour"
    assert axis.after(3 * 24 * 60)[4 * 90 + 12] == axis.size, "Monday is not laid out"


@pytest.mark.parametrize(
    ("text", "blocks"),
    [("8:00-12:15, 13-16:45", ((480, 735), (780, 1005))), ("", ()), ("7.30–11", ((450, 660),))],
)
def test_hours_are_typed_as_people_write_them(text: str, blocks: tuple[tuple[int, int], ...]) -> None:
    assert hours_of(text, "Monday") == blocks
    assert hours_of(hours_text(blocks), "Monday") == blocks


@pytest.mark.parametrize("text", ["8:00", "12-8", "8:00-10:00, 9:00-11:00", "8:03-9:00", "25:00-26:00", "morning"])
def test_hours_that_are_none_say_what_is_accepted(text: str) -> None:
    with pytest.raises(StoreError, match=r"Monday: .*Accepted: 8:00-12:15"):
        hours_of(text, "Monday")


def test_absences_are_typed_by_day_or_hour() -> None:
    wednesday = date(2031, 3, 5)
    assert moment_of("13:00", wednesday, end=False) == datetime(2031, 3, 5, 13)
    assert moment_of("today", wednesday, end=True) == datetime(2031, 3, 6)
    assert moment_of("mon 9:30", wednesday, end=False) == datetime(2031, 3, 10, 9, 30)
    assert moment_of("2031-12-24", wednesday, end=False) == datetime(2031, 12, 24)
    assert days_of("2031-12-24, 2031-12-25") == {date(2031, 12, 24), date(2031, 12, 25)}
    for bad in ("", "soon", "2031-02-30", "mon 9:30 or so", "13:99"):
        with pytest.raises(StoreError, match="Accepted"):
            moment_of(bad, wednesday, end=False)
    with pytest.raises(StoreError, match="Accepted"):
        days_of("Christmas")


# --- every plan holds ----------------------------------------------------------------------------------------------


@pytest.mark.parametrize("number", range(len(SIZES) * 2))
def test_plans_of_random_shops_can_be_carried_out(number: int) -> None:
    """Dispatched, pinned, mended after an absence, improved: no overlap, skills, stations, waits, breaks, pins."""
    shop = shops()[number]
    plan = dispatch(shop, SETTINGS[:4])
    assert faults(shop, plan) == []
    held = pinned(shop, plan)
    assert faults(held, dispatch(held, SETTINGS[:2])) == []
    away = replace(shop.hands[0], away=(*shop.hands[0].away, (0, 100)))
    short = replace(shop, hands=(away, *shop.hands[1:]))
    mended = mend(short, plan)
    assert faults(short, mended) == []
    assert mend(shop, plan) == plan, "what can stay stays"
    better = improve(short, mended, mended, REPEATED if shop.count < 60 else Limits(0.7))
    assert faults(short, better.plan) == []
    assert judged(short, better.plan, mended) <= judged(short, mended, mended)
    assert plan_from(plan_document(plan)) == plan and shop_from(shop_document(shop)).orders == shop.orders


def test_the_checker_sees_what_is_wrong() -> None:
    """Each fault planted in a sound plan is told."""
    shop = made_up(6, 4, 3, 0.64, 11)
    plan = dispatch(shop, SETTINGS[:1])
    first = shop.orders[0].steps[0].key
    second = shop.orders[0].steps[1].key
    other = next(step.key for step in shop.orders[1].steps)

    def wrong(key: tuple[int, int], person: int | None = None, start: int | None = None) -> str:
        place = plan[key]
        changed = Assignment(place.person if person is None else person, place.start if start is None else start)
        return " ".join(faults(shop, {**plan, key: changed}))

    assert "before what comes first" in wrong(second, start=0)
    assert "same hands at once" in wrong(other, *_as_of(plan[first]))
    assert "outside the days" in wrong(first, start=shop.axis.size - 1) or "crosses" in wrong(first, start=23)
    assert "crosses a break" in wrong(first, start=24 - 1) or shop.orders[0].steps[0].slots == 1
    able = shop.orders[0].steps[0].people
    strangers = [place for place in range(len(shop.hands)) if place not in able]
    assert not strangers or "cannot do it" in wrong(first, person=strangers[0])
    assert "not planned" in " ".join(faults(shop, {key: place for key, place in plan.items() if key != first}))
    away = replace(shop.hands[plan[first].person], away=((plan[first].start, plan[first].start + 1),))
    hands = tuple(away if place == plan[first].person else one for place, one in enumerate(shop.hands))
    assert "hands are away" in " ".join(faults(replace(shop, hands=hands), plan))
    narrow = replace(shop, stations={"torch": 0, "motor": 0, "laser": 0})
    assert "too many at the" in " ".join(faults(narrow, plan))


def _as_of(place: Assignment) -> tuple[int, int]:
    return place.person, place.start


def test_days_that_are_too_few_are_told() -> None:
    shop = replace(made_up(10, 5, 1, 0.64, 3), axis=Axis(Hours(), MONDAY, 2))
    with pytest.raises(AxisTooShortError):
        dispatch(shop, SETTINGS[:1])
    told: list[dict[str, object]] = []
    answer({"id": 1, "shop": shop_document(shop), "shown": [], "seconds": 0}, told.append)
    assert [one["kind"] for one in told] == ["problem"]


def test_an_absence_moves_little() -> None:
    """What was on the bench of whoever is away, what comes after it, and no more than keeps everybody's promise: mended
    alone, two were ten days late together, and 75 steps were elsewhere."""
    shop = made_up(30, 4, 6, 0.88, 5)
    plan = dispatch(shop, SETTINGS[:6])
    away = replace(shop.hands[1], away=(*shop.hands[1].away, (0, 90)))
    short = replace(shop, hands=(shop.hands[0], away, *shop.hands[2:]))
    stands = stand(short, plan, 0, Seeking(rounds=2000))
    mine = [key for key, place in plan.items() if place.person == 1 and place.start < 90]
    hit = {order.key for order in shop.orders if any(step.key in mine for step in order.steps)}
    moved = {key for key, place in stands.plan.items() if is_moved(plan[key], place)}
    theirs = {step.key for order in shop.orders if order.key in hit for step in order.steps}
    assert late_count(short, stands.plan) == 0 and faults(short, stands.plan) == []
    assert moved and len(moved - theirs) <= 30, "most dockets that were not touched stay where they were"


def test_an_urgent_docket_goes_in_between() -> None:
    shop = made_up(20, 4, 5, 0.96, 9)
    plan = dispatch(shop, SETTINGS[:4])
    step = Step(task=9001, piece=0, slots=6, people=(0, 1, 2), station="", wait=0.0)
    more = replace(
        shop,
        orders=(
            *shop.orders,
            Order(key=99, number="31-9999", steps=(step,), due=int(shop.axis.evenings[0]), weight=4.0),
        ),
    )
    mended = mend(more, plan)
    assert faults(more, mended) == [] and {key: mended[key] for key in plan} == plan
    assert mended.keys() - plan.keys() == {(9001, 0)}


# --- against what is known elsewhere -------------------------------------------------------------------------------


def test_a_published_job_shop_takes_55_and_no_less() -> None:
    """FT06: with everything promised by 55 nobody is late; by 54 somebody is, whatever one does, which is proved."""
    shop = job_shop(FT06, 55)
    start = dispatch(shop)
    kept = improve(shop, start, None, Limits(60.0, deterministic=20.0))
    assert late_count(shop, kept.plan) == 0 and max(ends(shop, kept.plan).values()) == 55
    tight = job_shop(FT06, 54)
    limits = Limits(60.0, deterministic=40.0)
    assert kept_by_all(tight, dispatch(tight), limits) is False and kept_by_all(shop, start, limits) is True
    assert late_count(tight, dispatch(tight)) >= 1


def test_one_pair_of_hands_as_every_order_tried() -> None:
    """Four dockets, one person: no order of all 24 has less weighted lateness than the plan that is found."""
    axis = Axis(ALL_DAY, MONDAY, 2)
    jobs = ((12, 20, 1.0), (18, 25, 4.0), (7, 30, 1.0), (15, 18, 1.0))
    orders = tuple(
        Order(
            key=key,
            number=str(key),
            steps=(Step(task=key + 1, piece=0, slots=slots, people=(0,)),),
            due=due,
            weight=weight,
        )
        for key, (slots, due, weight) in enumerate(jobs)
    )
    shop = Shop(axis, (Hands(1, "Orla", frozenset()),), orders)

    def lateness(order: tuple[int, ...]) -> float:
        now, total = 0, 0.0
        for key in order:
            slots, due, weight = jobs[key]
            now += slots
            total += weight * max(now - due, 0)
        return total

    best = min(lateness(order) for order in permutations(range(len(jobs))))
    found = improve(shop, dispatch(shop), None, Limits(30.0, deterministic=5.0))
    assert found.proved and cost(shop, found.plan).slots == best


@pytest.mark.parametrize("number", range(len(SIZES)))
def test_a_docket_laid_out_anew_moves_nobody_else(number: int) -> None:
    """From any of its steps on, also from the middle of a task, which stays with its hands."""
    shop = shops()[number]
    plan = dispatch(shop, SETTINGS[:2])
    for order in shop.orders:
        for first in range(len(order.steps)):
            made = anew(shop, order, plan, first, order.steps[first:])
            assert faults(shop, made) == []
            gone = {step.key for step in order.steps[first:]}
            assert all(made[key] == place for key, place in plan.items() if key not in gone)
            assert ends(shop, made)[order.key] <= ends(shop, plan)[order.key], "its own place was free"


def test_what_is_pushed_is_pulled_where_it_can_be() -> None:
    """Hands that are away till the evening push a docket behind the day; somebody else is free for it at noon."""
    axis = Axis(Hours(), MONDAY, 8)
    steps = (
        Step(task=1, piece=0, slots=6, people=(0, 1)),
        Step(task=2, piece=0, slots=6, people=(0, 1)),
        Step(task=3, piece=0, slots=6, people=(0,)),
    )
    orders = (
        Order(key=1, number="1", steps=steps, due=90),
        Order(key=2, number="2", steps=(Step(task=9, piece=0, slots=24, people=(1,)),), due=90),
    )
    shop = Shop(axis, (Hands(1, "Orla", frozenset()), Hands(2, "Yusra", frozenset())), orders)
    shown = {(1, 0): Assignment(0, 24), (2, 0): Assignment(0, 30), (3, 0): Assignment(0, 36), (9, 0): Assignment(1, 0)}
    assert mend(shop, shown) == shown
    away = replace(shop.hands[0], away=((0, 72),))
    mended = mend(replace(shop, hands=(away, shop.hands[1])), shown)
    assert [mended[key].person for key in ((1, 0), (2, 0), (3, 0))] == [1, 1, 0]
    assert mended[3, 0].start == 72 and mended[9, 0] == shown[9, 0]


def test_what_nobody_could_keep_is_a_floor() -> None:
    """Three dockets of a day's work for one person, all promised for today: two are late, by three days together."""
    axis = Axis(Hours(), MONDAY, 8)
    orders = tuple(
        Order(
            key=key,
            number=str(key),
            steps=tuple(Step(task=100 * key + at, piece=0, slots=6, people=(0,)) for at in range(15)),
            due=90,
        )
        for key in range(3)
    )
    shop = Shop(axis, (Hands(1, "Orla", frozenset({"setting"})),), orders)
    found = floor(shop)
    assert found.dockets == 2 and found.days == pytest.approx(3)
    plan = dispatch(shop)
    assert late_count(shop, plan) == 2 and cost(shop, plan).days == 3
    assert [(one.skill, one.late) for one in helps(shop, plan)] == [("setting", 1)]


@pytest.mark.parametrize("number", range(len(SIZES)))
def test_no_plan_is_below_the_floor(number: int) -> None:
    shop = shops()[number]
    found, plan = floor(shop), dispatch(shop, SETTINGS[:8])
    assert found.dockets <= late_count(shop, plan)
    assert found.days <= cost(shop, plan).days + 1e-6


# --- promises ------------------------------------------------------------------------------------------------------


def test_what_takes_as_long_as_planned_ends_as_planned() -> None:
    """Also what ends exactly at a break: it does not fall past it."""
    axis = Axis(Hours(), MONDAY, 3)
    steps = (
        Step(task=1, piece=0, slots=12, people=(0,)),
        Step(task=2, piece=0, slots=12, people=(0,)),
        Step(task=3, piece=0, slots=12, people=(0,)),
        Step(task=4, piece=0, slots=12, people=(0,)),
    )
    shop = Shop(axis, (Hands(1, "Orla", frozenset()),), (Order(key=1, number="1", steps=steps, due=48),))
    plan = dispatch(shop, SETTINGS[:1])
    executed = simulate(shop, plan, spreads=0.0, runs=3)
    assert np.allclose(executed[1], ends(shop, plan)[1])
    assert chances(shop, executed) == {1: 1.0} and ends(shop, plan)[1] == 48, "lunch does not make it late"


def test_a_date_is_as_sure_as_it_says() -> None:
    """The evening that nine of ten keep: of other executions about nine of ten keep it."""
    shop = made_up(16, 5, 5, 0.8, 2)
    plan = dispatch(shop, SETTINGS[:4])
    order = Order(
        key=77,
        number="31-0077",
        steps=tuple(Step(task=7000 + at, piece=0, slots=9, people=(at % 3,)) for at in range(4)),
    )
    found = promise(shop, order, plan, runs=800, seed=4)
    assert found.sure is not None and found.sure >= MONDAY
    more = replace(shop, orders=(*shop.orders, order))
    whole = with_order(shop, order, plan)
    assert faults(more, whole) == [] and {key: whole[key] for key in plan} == plan, "nothing else moves"
    again = simulate(more, whole, runs=800, seed=5)[77]
    share = float(np.mean(again <= shop.axis.evening_of(found.sure)))
    assert share >= 0.86
    spread = np.quantile(again, 0.9) - np.quantile(again, 0.1)
    assert spread > 0


def test_whoever_is_free_takes_what_is_ready() -> None:
    """The other end of what may be promised is, over all dockets, no later than the order of the plan kept to."""
    shop = made_up(12, 4, 4, 0.8, 8)
    plan = dispatch(shop, SETTINGS[:2])
    kept, free = simulate(shop, plan, runs=200), redispatched(shop, 12)
    late_kept = sum(float(np.median(kept[order.key])) for order in shop.orders)
    late_free = sum(float(np.median(free[order.key])) for order in shop.orders)
    assert late_free <= late_kept * 1.1


# --- the process ---------------------------------------------------------------------------------------------------


def test_the_first_answer_is_a_plan_and_the_last_says_it_is_done() -> None:
    shop = made_up(8, 4, 3, 0.72, 6)
    told: list[dict[str, object]] = []
    answer({"id": 1, "shop": shop_document(shop), "shown": [], "seconds": 0.5}, told.append)
    kinds = [one["kind"] for one in told]
    assert kinds[:2] == ["plan", "known"] and kinds[-1] == "done" and set(kinds[2:-1]) <= {"better"}
    first, last = plan_of(told[0]), plan_of([one for one in told if "plan" in one][-1])
    assert faults(shop, first) == [] and faults(shop, last) == []
    assert judged(shop, last, None) <= judged(shop, first, None)
    sure = told[-1]["chances"]
    assert isinstance(sure, dict) and all(0 <= value <= 1 for value in sure.values())


def plan_of(told: dict[str, object]) -> Schedule:
    held = told["plan"]
    assert isinstance(held, list)
    return plan_from(held)


def test_a_newer_request_ends_an_older_one() -> None:
    shop = made_up(30, 6, 4, 0.48, 6)
    told: list[dict[str, object]] = []
    stop: Callable[[], bool] = lambda: len(told) >= 1  # noqa: E731
    answer({"id": 1, "shop": shop_document(shop), "shown": [], "seconds": 600}, told.append, stop)
    assert [one["kind"] for one in told] == ["plan"]


@pytest.mark.parametrize("seed", range(4))
def test_bits_lay_out_what_walking_lays_out(seed: int) -> None:
    """Dockets given out in any turns: every step begins where walking slot by slot has it begin, with what is fixed and
    a station that is shut for days."""
    shop = made_up(18, 4, 5, 0.64, seed, days=60)
    chance = random.Random(seed)
    first = dispatch(shop, SETTINGS[:1])
    held = {key for key, place in first.items() if place.start < 20}
    orders = tuple(
        replace(
            order,
            steps=tuple(
                replace(step, person=first[step.key].person, start=first[step.key].start) if step.key in held else step
                for step in order.steps
            ),
        )
        for order in shop.orders
    )
    shut = replace(shop, orders=orders, shut={"laser": ((90, 180), (300, 345))})
    turns = chance.sample(shut.orders, len(shut.orders))
    laying, walked = Laying(shut, list(shut.orders), shut.axis.size), Mending(shut)
    laid = laying.turns(np.array([shut.orders.index(order) for order in turns]))
    assert laid is not None
    for order in turns:
        for step in order.steps:
            placed = [walked.plan[before.key].person for before in order.steps if before.key in walked.plan]
            walked.put_first(order, step, 0, placed[-1] if placed else None)
    plan = laying.plan(laid.order, laid.loose)
    assert {key: place.start for key, place in plan.items()} == {key: place.start for key, place in walked.plan.items()}
    assert laid.before[-1] == pytest.approx(weighed(shut, plan))
    fixed = {f"step {key}" for key in held}  # which were fixed before it was shut
    assert [fault for fault in faults(shut, plan) if not any(name in fault for name in fixed)] == []
    found, order, loose = laying.search(laid, np.random.default_rng(seed), 50.0, 200, math.inf)
    again = laying.plan(order, loose)
    assert found == pytest.approx(weighed(shut, again)) and found <= weighed(shut, plan)
    assert [fault for fault in faults(shut, again) if not any(name in fault for name in fixed)] == []


def test_steps_longer_than_a_word_of_slots_are_laid_out() -> None:
    """A machine's work of a hundred units is found its place as any other, and none overlap."""
    shop = job_shop((((0, 100), (1, 70), (2, 64)), ((1, 65), (0, 3), (2, 128)), ((2, 1), (1, 63), (0, 90))), 300)
    laying = Laying(shop, list(shop.orders), shop.axis.size)
    laid = laying.turns(np.array([2, 0, 1]))
    assert laid is not None
    plan = laying.plan(laid.order, laid.loose)
    assert faults(shop, plan) == []
    starts = [plan[10 * job + at, 0].start for job in (2, 0, 1) for at in range(3)]
    assert starts == [0, 1, 64, 154, 254, 324, 64, 254, 388], "by hand: each into the first gap that is long enough"


@pytest.mark.parametrize("seed", range(3))
def test_what_people_have_seen_is_moved_only_where_that_is_worth_it(seed: int) -> None:
    """A plan in which nobody is late stays as it is; of one in which many are, whole dockets in turn keep what it need
    not move, and find better than it; the checker holds both."""
    easy = made_up(14, 4, 5, 0.8, seed, days=60)
    kept = in_turns(easy, dispatch(easy), rounds=2000)
    if cost(easy, kept).slots == 0:
        assert in_turns(easy, kept, rounds=50, shown=kept) == kept
    shop = made_up(20, 4, 5, 0.48, seed, days=120)
    shown = dispatch(shop, SETTINGS[:1])
    better = in_turns(shop, shown, rounds=3000, shown=shown)
    anew = in_turns(shop, shown, rounds=3000)
    assert faults(shop, better) == [] and weighed(shop, better, shown) < weighed(shop, shown, shown)
    assert sum(better[key] != shown[key] for key in shown) < sum(anew[key] != shown[key] for key in shown)
    unlearnt = replace(shop, orders=tuple(replace(order, steps=_without(0, order.steps)) for order in shop.orders))
    mended = mend(unlearnt, shown)
    again = in_turns(unlearnt, mended, rounds=3000, shown=shown)
    assert faults(unlearnt, again) == [] and weighed(unlearnt, again, shown) <= weighed(unlearnt, mended, shown)


def _without(person: int, steps: tuple[Step, ...]) -> tuple[Step, ...]:
    """Steps that this pair of hands cannot do any more, where there are others."""
    return tuple(
        replace(step, people=tuple(one for one in step.people if one != person) or step.people) for step in steps
    )


def test_what_is_known_is_not_sought_to_its_end_where_something_newer_is_asked() -> None:
    """A newer request does not wait until it is proved what cannot be kept, and who would help."""
    shop = made_up(24, 6, 6, 0.4, 2)
    plan = dispatch(shop, SETTINGS[:1])
    asked: list[bool] = []
    found = known(shop, plan, {}, lambda: bool(asked.append(True)) or len(asked) > 2)
    assert floor(shop).dockets > 0 and helps(shop, plan) != []
    assert found["floor"] > 0 and found["helps"] == [], "stopped after the floor: nobody's help was sought"
    told: list[str] = []
    answer({"shop": shop_document(shop), "shown": [], "seconds": 5}, lambda one: told.append(one["kind"]), lambda: True)
    assert told == ["plan"]


def test_nothing_to_plan_is_planned_as_it_is() -> None:
    shop = replace(made_up(3, 2, 2, 0.8, 1), orders=())
    assert in_turns(shop, {}, rounds=5) == {} and in_turns(shop, {}, rounds=5, shown={}) == {}


@pytest.mark.parametrize("seed", range(3))
def test_whole_dockets_in_turn_keep_what_can_be_kept(seed: int) -> None:
    """Where the dates fit, giving dockets out in turn finds a plan in which fewer are late than the dispatch; never a
    worse one, and one that the checker holds; what is fixed stays where it is."""
    shop = made_up(20, 4, 5, 0.8, seed, days=120)
    plan = dispatch(shop, SETTINGS[:1])
    better = in_turns(shop, plan, rounds=400)
    assert faults(shop, better) == [] and cost(shop, better) <= cost(shop, plan)
    assert cost(shop, better).slots == 0 or cost(shop, better).slots < cost(shop, plan).slots
    held = {key: place for key, place in better.items() if place.start < 30}
    fixed = replace(
        shop,
        orders=tuple(
            replace(
                order,
                steps=tuple(
                    replace(step, person=held[step.key].person, start=held[step.key].start)
                    if step.key in held
                    else step
                    for step in order.steps
                ),
            )
            for order in shop.orders
        ),
    )
    again = in_turns(fixed, dispatch(fixed, SETTINGS[:1]), rounds=10)
    assert faults(fixed, again) == []
    assert all(again[key] == place for key, place in held.items())
