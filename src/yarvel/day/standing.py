"""The plan that stands: what was told to people goes on as it is, and is moved only where it must be.

Time passing moves nothing: what has not begun is shifted, with the same hands and in the same order. Only where that
makes somebody late who was not is another order sought, under the same holds (what is in hand, pins, what begins
soon), and no plan is handed on that an independent checker objects to. A pin that cannot hold falls out of the plan,
the latest first, by name.
"""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress

from msgspec import Struct
from msgspec.structs import replace

from yarvel.day.checking import faults
from yarvel.day.dispatch import SETTINGS, AxisTooShortError, dispatch
from yarvel.day.easing import eased
from yarvel.day.mending import mended, shift
from yarvel.day.shop import Schedule, Shop, Step, cost, is_moved, late_count, late_orders, weighed

_SETTINGS_TRIED = 6
"""Of the dispatch, where another order is begun from nothing."""
_EASED_SHARE = 10
"""How many rounds of giving out all dockets anew one round of laying in a few again is worth."""


class Seeking(Struct, frozen=True):
    """How long another order is sought where somebody becomes late: seconds, or ``rounds`` where it must repeat."""

    seconds: float = float("inf")
    rounds: int = 10**9
    seed: int = 1
    workers: int = 1


class Unpinned(Struct, frozen=True):
    """A pin that fell out of the plan: the task, where it was pinned to, and what its step waits for until when (the
    end of that task; None: its hands or its station are taken)."""

    task: int
    start: int
    after: int | None = None


class Standing(Struct, frozen=True):
    """A plan that can be shown, of which shop: without the pins that fell out of it; whether another order was
    sought."""

    plan: Schedule
    shop: Shop
    unpinned: tuple[Unpinned, ...] = ()
    sought: bool = False


class UnsoundError(Exception):
    """No plan passes the checker: with the faults of the last one, the shop and the plan."""

    def __init__(self, problems: list[str], shop: Shop, plan: Schedule) -> None:
        super().__init__("; ".join(problems[:3]))
        self.problems, self.shop, self.plan = problems, shop, plan


def first_plan(shop: Shop, seconds: float) -> Standing:
    """Where nobody has seen a plan yet (AxisTooShortError, UnsoundError)."""
    return _sound(shop, lambda pinned: (dispatch(pinned, seconds=seconds), False))


def stand(
    shop: Shop,
    shown: Schedule,
    until: int,
    seeking: Seeking,
    working: Callable[[], None] = lambda: None,
    stopped: Callable[[], bool] = lambda: False,
    by_time: bool = False,
) -> Standing:
    """The plan shown, for the shop as it is now. What begins before slot ``until`` is held where it is. ``working`` is
    told before another order is sought because somebody would be late. ``by_time``: nothing has happened since, time
    has passed: how far that shifts is no move.

    Raises
    ------
    AxisTooShortError : not everything fits on the axis.
    UnsoundError : no plan passes the checker.
    """

    def make(pinned: Shop) -> tuple[Schedule, bool]:
        seen = _shifted(pinned, shown) if by_time else None
        if seen is not None and not newly_late(pinned, seen, shown):
            return seen, False
        seen = seen or shown
        ways = mended(pinned, seen)
        plan = _cheapest(pinned, ways, seen)
        late = newly_late(pinned, plan, shown)
        if not late and not any(is_moved(seen[key], place) for key, place in plan.items() if key in seen):
            return plan, False
        if late:
            working()
        other = sought(pinned, ways, seen, until, seeking, by_time, stopped)
        return min((plan, other), key=lambda found: _worth(pinned, found, seen, by_time)), True

    return _sound(shop, make)


def as_it_stands(shop: Shop, shown: Schedule, by_time: bool = False) -> Standing:
    """The same for whoever only asks: no other order is sought (AxisTooShortError, UnsoundError). Where nobody has seen
    a plan yet, one that is made at once."""

    def make(pinned: Shop) -> tuple[Schedule, bool]:
        if not shown:
            return dispatch(pinned, SETTINGS[:2]), False
        seen = _shifted(pinned, shown) if by_time else None
        return seen or _cheapest(pinned, mended(pinned, shown), shown), False

    return _sound(shop, make)


def _cheapest(shop: Shop, ways: list[Schedule], seen: Schedule) -> Schedule:
    return min(ways, key=lambda one: (weighed(shop, one, seen), cost(shop, one).ends))


def newly_late(shop: Shop, plan: Schedule, shown: Schedule) -> list[int]:
    """Dockets that are late by a plan and were not by the one shown, or were not in it."""
    keys = []
    for order in late_orders(shop, plan):
        last = order.steps[-1] if order.steps else None
        before = None if last is None else shown.get(last.key)
        if last is not None and (before is None or before.start + last.slots <= (order.due or 0)):
            keys.append(order.key)
    return keys


def sought(
    shop: Shop,
    starts: list[Schedule],
    shown: Schedule,
    until: int,
    seeking: Seeking,
    by_time: bool,
    stopped: Callable[[], bool] = lambda: False,
) -> Schedule:
    """Another order, from what each way of mending came to, under the holds of the one that moves least: by easing what
    is late, and where somebody still is, by giving out whole dockets anew; at last, ``by_time``, without minding
    moves."""
    sound = [plan for plan in starts if not faults(shop, plan)]
    if not sound:
        return starts[0]
    few = min(sound, key=lambda plan: weighed(shop, plan, shown) - weighed(shop, plan))
    under = hold(shop, few, until)
    sound = [plan for plan in sound if plan is few or not faults(under, plan)]
    cheap = min(sound, key=lambda plan: weighed(under, plan, shown))
    plans = [
        eased(
            under,
            plan,
            shown,
            seeking.seconds / _EASED_SHARE,
            seeking.rounds // _EASED_SHARE,
            seeking.seed,
            stopped,
        )
        for plan in ([few] if few == cheap else [few, cheap])
    ]
    best = min(plans, key=lambda plan: weighed(under, plan, shown))
    if late_count(under, best):
        best = _searched(under, [best], shown, seeking, stopped)
        if by_time and late_count(under, best):
            plans = [best]
            with suppress(AxisTooShortError):
                plans.append(dispatch(under, SETTINGS[:_SETTINGS_TRIED], seconds=seeking.seconds / 2))
            free = _searched(
                under, [plan for plan in plans if not faults(under, plan)] or [best], None, seeking, stopped
            )
            best = min((best, free), key=lambda plan: _worth(under, plan, shown, by_time))
    return best


def _worth(shop: Shop, plan: Schedule, shown: Schedule, by_time: bool) -> tuple[float, float]:
    """Where time alone has passed: nobody is late whom another order keeps; among those, the one sum. Where something
    has happened, the one sum decides, moves and all."""
    return cost(shop, plan).days if by_time else 0.0, weighed(shop, plan, shown)


def _searched(
    shop: Shop, starts: list[Schedule], shown: Schedule | None, seeking: Seeking, stopped: Callable[[], bool]
) -> Schedule:
    from yarvel.day.turns import in_turns  # compiled code: not before it is wanted

    best = min(starts, key=lambda plan: weighed(shop, plan, shown))
    found = in_turns(
        shop,
        best,
        seeking.seconds,
        seeking.rounds,
        seeking.seed,
        stopped=stopped,
        shown=shown,
        workers=seeking.workers,
    )
    return found if not faults(shop, found) else best


def _shifted(shop: Shop, shown: Schedule) -> Schedule | None:
    """What time alone makes of the plan shown; None where something else has happened, by which that cannot be."""
    with suppress(AxisTooShortError):
        plan = shift(shop, shown)
        if not faults(shop, plan):
            return plan
    return None


def hold(shop: Shop, plan: Schedule, until: int) -> Shop:
    """The shop with everything that begins before a slot held where the plan has it."""

    def held(step: Step) -> Step:
        place = plan.get(step.key)
        if place is None or step.start is not None or place.start >= until:
            return step
        return replace(step, person=place.person, start=place.start)

    return replace(
        shop,
        orders=tuple(replace(order, steps=tuple(held(step) for step in order.steps)) for order in shop.orders),
    )


def _sound(shop: Shop, make: Callable[[Shop], tuple[Schedule, bool]]) -> Standing:
    """A plan that the checker passes; where none does, pins fall out of it: one that slipped, else the latest."""
    unpinned: list[Unpinned] = []
    while True:
        plan, was_sought = make(shop)
        problems = faults(shop, plan)
        if not problems:
            return Standing(plan, shop, tuple(unpinned), was_sought)
        pins = [step for _, step in shop.steps() if step.start is not None and not step.running]
        if not pins:
            raise UnsoundError(problems, shop, plan)
        slipped = [step for step in pins if plan[step.key].start != step.start]
        latest = max(slipped or pins, key=lambda step: (step.start or 0, step.task))
        unpinned.append(Unpinned(latest.task, latest.start or 0, _before(shop, latest)))
        shop = _without(shop, latest)


def _before(shop: Shop, pinned: Step) -> int | None:
    """What of its docket comes before a step."""
    for order in shop.orders:
        tasks = [step.task for step in order.steps]
        if pinned.task in tasks and tasks.index(pinned.task):
            return tasks[tasks.index(pinned.task) - 1]
    return None


def _without(shop: Shop, pinned: Step) -> Shop:
    def freed(step: Step) -> Step:
        return replace(step, start=None) if step.key == pinned.key else step

    return replace(
        shop,
        orders=tuple(replace(order, steps=tuple(freed(step) for step in order.steps)) for order in shop.orders),
    )
