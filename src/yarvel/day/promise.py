"""A date that can be kept: where a docket fits in, and how sure its evening is, from simulated executions."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date

import numpy as np
from msgspec import Struct
from msgspec.structs import replace
from numpy.typing import NDArray

from yarvel.day.dispatch import SETTINGS, dispatch
from yarvel.day.inserting import insert, taken
from yarvel.day.shop import Order, Schedule, Shop, Step, ends
from yarvel.day.timeline import timelines

USUAL_SPREAD = 0.25
"""Spread of minutes taken about those planned, where nothing was learnt yet (from memory): of the logarithm."""
SURE = 0.9
_RUNS, _MANY_STEPS, _FEWER_RUNS = 1000, 1200, 200
Floats = NDArray[np.float64]


class Promise(Struct, frozen=True):
    """When a docket would be ready: ``planned`` if everything takes as long as planned, ``sure`` the evening that nine
    of ten executions keep (None where that lies beyond the days laid out); ``chance`` of the planned day."""

    planned: date
    sure: date | None
    chance: float


def with_order(shop: Shop, order: Order, plan: Schedule, begin: int = 0) -> Schedule:
    """The plan with one more docket in what is free; nothing else moves (AxisTooShortError where it does not fit)."""
    lines, stations = taken(shop, plan)
    return insert(shop, order, plan, lines, stations, begin)


def simulate(
    shop: Shop,
    plan: Schedule,
    spreads: Mapping[int, float] | float = USUAL_SPREAD,
    runs: int = 1000,
    seed: int = 1,
) -> dict[int, Floats]:
    """Ends of each docket, by its key, in slots over ``runs`` executions that keep the plan's order and hands, and have
    no more at a station than there is room for. Minutes are log-normal about those planned; ``spreads`` by task, or one
    for all. A pessimistic floor: hands wait behind what is not ready yet.

    Nothing that ends exactly at a break falls past it.
    """
    chance = np.random.default_rng(seed)
    worked = [np.concatenate([[0.0], np.cumsum(line.free, dtype=np.float64)]) for line in timelines(shop)]
    slots = np.arange(shop.axis.size + 1, dtype=np.float64)
    free = [np.zeros(runs) for _ in shop.hands]
    rooms = {name: np.zeros((room, runs)) for name, room in shop.stations.items() if room < len(shop.hands)}
    opens = {name: shop.opens(name) for name in shop.shut}
    ready = {order.key: np.full(runs, float(order.release)) for order in shop.orders}
    queue = [(plan[step.key].start, order, step) for order, step in shop.steps()]
    for start, order, step in sorted(queue, key=lambda one: one[0]):
        person = plan[step.key].person
        spread = spreads if isinstance(spreads, float) else spreads.get(step.task, USUAL_SPREAD)
        length = step.slots * chance.lognormal(-spread * spread / 2, spread, runs)
        begin = np.maximum(ready[order.key], free[person])
        if step.start is not None:
            begin = np.maximum(begin, float(start))
        room = rooms.get(step.station)
        if room is not None:
            begin = np.maximum(begin, room.min(axis=0))  # whoever is done there first makes room
        if step.station in opens and not step.running:
            begin = _opened(opens[step.station], begin)
        mine = worked[person]
        end = _when(mine, np.interp(begin, slots, mine) + length, slots)
        free[person] = end
        if room is not None:
            room[room.argmin(axis=0), np.arange(runs)] = end
        ready[order.key] = _after(shop, step, end)
    return {order.key: ready[order.key] for order in shop.orders}


def executed(shop: Shop, plan: Schedule, spreads: Mapping[int, float]) -> dict[int, Floats]:
    """The executions by which everybody is told how sure a date is, on the board and at the bench: the same ones."""
    return simulate(shop, plan, spreads, _RUNS if shop.count <= _MANY_STEPS else _FEWER_RUNS)


def _when(worked: Floats, done: Floats, slots: Floats) -> Floats:
    """When somebody has worked so long: the first moment of it, so that what ends at a break's edge ends there."""
    place = np.searchsorted(worked, done - 1e-9, side="left").clip(1, len(worked) - 1)
    before = worked[place - 1]
    step = np.maximum(worked[place] - before, 1e-9)
    slots_after: Floats = np.where(done > worked[-1], slots[-1], slots[place - 1] + (done - before) / step)
    return slots_after


def _opened(opens: NDArray[np.int64], begin: Floats) -> Floats:
    """When something can begin at a station that is open only at times."""
    slot = np.floor(begin + 1e-9).astype(np.int64).clip(0, len(opens) - 1)
    slots_after: Floats = np.where(opens[slot] == slot, begin, opens[slot].astype(np.float64))
    return slots_after


def _after(shop: Shop, step: Step, end: Floats) -> Floats:
    if step.wait <= 0:
        return end
    table = shop.axis.after(step.wait)
    slots_after: Floats = table[np.ceil(end - 1e-9).astype(np.int64).clip(0, shop.axis.size)].astype(np.float64)
    return slots_after


def chances(shop: Shop, found: dict[int, Floats]) -> dict[int, float]:
    """Of each docket with a promise: in what share of the executions it is kept."""
    return {
        order.key: float(np.mean(found[order.key] <= order.due + 1e-6))
        for order in shop.orders
        if order.due is not None
    }


def promise(shop: Shop, order: Order, plan: Schedule, runs: int = 1000, seed: int = 1) -> Promise:
    """What may be promised for one more docket; ``plan`` is the plan without it."""
    whole = with_order(shop, order, plan)
    more = replace(shop, orders=(*shop.orders, order))
    executed = simulate(more, whole, runs=runs, seed=seed)[order.key]
    return judge(more, order, whole, executed)


def judge(shop: Shop, order: Order, plan: Schedule, executed: Floats) -> Promise:
    """A docket's evening by the plan, and the one that its executions keep."""
    axis = shop.axis
    planned = axis.day_of(max(ends(shop, plan)[order.key] - 1, 0))
    evening = axis.evening_of(planned)
    sure = int(np.ceil(np.quantile(executed, SURE, method="inverted_cdf") - 1e-6))
    sure_day = None if sure >= axis.size else axis.day_of(max(sure - 1, 0))
    return Promise(planned, sure_day, float(np.mean(executed <= evening + 1e-6)))


def redispatched(shop: Shop, runs: int = 20, seed: int = 1, spread: float = USUAL_SPREAD) -> dict[int, Floats]:
    """The other end: whoever is free takes what is ready next. Ends of each docket, in slots, over ``runs``."""
    chance = np.random.default_rng(seed)
    begins_by_order: dict[int, list[int]] = {order.key: [] for order in shop.orders}
    longest = 21
    for _ in range(runs):
        orders = tuple(
            replace(
                order,
                steps=tuple(
                    replace(
                        step,
                        slots=int(np.clip(round(step.slots * chance.lognormal(-(spread**2) / 2, spread)), 1, longest)),
                    )
                    for step in order.steps
                ),
            )
            for order in shop.orders
        )
        redated_shop = replace(shop, orders=orders)
        for key, end in ends(redated_shop, dispatch(redated_shop, SETTINGS[:1])).items():
            begins_by_order[key].append(end)
    return {key: np.array(begins, dtype=np.float64) for key, begins in begins_by_order.items()}
