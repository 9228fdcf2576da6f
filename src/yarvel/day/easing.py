"""A plan with fewer late and few moves: a late docket and some that lie in its way are taken out and laid in again, the
late one first, each step of the others where people have seen it, if that still goes.

Source: G. Schrimpf et al., Record breaking optimization results using the ruin and recreate principle, Journal of
Computational Physics 159 (2000).
"""

from __future__ import annotations

import random
import time
from collections.abc import Callable

from yarvel.day.inserting import earliest, taken
from yarvel.day.shop import Assignment, Order, Schedule, Shop, Step, late_orders, weighed
from yarvel.day.timeline import Stations, Timeline

_MOST_RIVALS = 5


def eased(
    shop: Shop,
    plan: Schedule,
    shown: Schedule,
    seconds: float = float("inf"),
    rounds: int = 10**9,
    seed: int = 1,
    stopped: Callable[[], bool] = lambda: False,
) -> Schedule:
    """This plan or one that weighs less (``shop.weighed``), found within so many seconds or rounds; what is fixed
    stays, and whatever of its docket comes before it. Ends when nobody is late."""
    began, chance = time.monotonic(), random.Random(seed)
    best, worth = plan, weighed(shop, plan, shown)
    for _ in range(rounds):
        late = [order for order in late_orders(shop, best) if order.steps]
        if not late or time.monotonic() - began > seconds or stopped():
            break
        first = chance.choice(late)
        rivals = _rivals(shop, best, first)
        chosen = chance.sample(rivals, min(len(rivals), chance.randint(1, _MOST_RIVALS)))
        other = _again(shop, best, shown, [first, *sorted(chosen, key=_due)], chance.random() < 0.5)
        if other is not None and (weight := weighed(shop, other, shown)) < worth:
            best, worth = other, weight
    return best


def _due(order: Order) -> int:
    return 10**9 if order.due is None else order.due


def _rivals(shop: Shop, plan: Schedule, late: Order) -> list[Order]:
    """Dockets that have hands in which the late one's steps could be, before it is done."""
    wanted = {person for step in late.steps for person in step.people}
    over = plan[late.steps[-1].key].start

    def in_the_way(step: Step) -> bool:
        return plan[step.key].person in wanted and plan[step.key].start <= over

    return [
        order
        for order in shop.orders
        if order.key != late.key and any(in_the_way(step) for step in order.steps[_kept(order) :])
    ]


def _kept(order: Order) -> int:
    """How many of a docket's first steps stay: up to the last that is fixed."""
    return max((place + 1 for place, step in enumerate(order.steps) if step.start is not None), default=0)


def _again(shop: Shop, plan: Schedule, shown: Schedule, orders: list[Order], loose: bool) -> Schedule | None:
    """The plan with these dockets laid in again in this order; the first one as early as it goes (``loose``), all
    others where people have seen them, if that goes. None where the axis ends first."""
    lines, stations = taken(shop, plan)
    again = dict(plan)
    for order in orders:
        for step in order.steps[_kept(order) :]:
            place = plan[step.key]
            lines[place.person].give_back(place.start, place.start + step.slots)
            stations.take(step.station, place.start, step.slots, by=-1)
    for number, order in enumerate(orders):
        if not _lay(shop, order, again, {} if loose and not number else shown, lines, stations):
            return None
    return again


def _lay(shop: Shop, order: Order, plan: Schedule, shown: Schedule, lines: list[Timeline], stations: Stations) -> bool:
    kept = _kept(order)
    ready, hands = order.release, dict[int, int]()
    for step in order.steps[:kept]:
        ready = int(shop.axis.after(step.wait)[plan[step.key].start + step.slots])
        hands[step.task] = plan[step.key].person
    for step in order.steps[kept:]:
        place = _place(shop, step, hands.get(step.task), ready, shown.get(step.key), lines, stations)
        if place is None:
            return False
        lines[place.person].take(place.start, place.start + step.slots)
        stations.take(step.station, place.start, step.slots)
        plan[step.key], hands[step.task] = place, place.person
        ready = int(shop.axis.after(step.wait)[place.start + step.slots])
    return True


def _place(
    shop: Shop,
    step: Step,
    mine: int | None,
    ready: int,
    seen: Assignment | None,
    lines: list[Timeline],
    stations: Stations,
) -> Assignment | None:
    people = (mine,) if mine is not None else (step.person,) if step.person is not None else step.people
    if seen is not None and seen.person in people and seen.start >= ready and _free(step, seen, lines, stations):
        return seen
    starts = [(earliest(lines[person], stations, step, ready), person) for person in people]
    start, person = min(starts, key=lambda one: (one[0], seen is None or one[1] != seen.person, one[1]))
    return None if start >= shop.axis.size else Assignment(person, start)


def _free(step: Step, seen: Assignment, lines: list[Timeline], stations: Stations) -> bool:
    free = lines[seen.person].fits(seen.start, step.slots)
    return free and not stations.clash(step.station, seen.start, step.slots)
