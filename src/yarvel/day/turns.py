"""A plan by giving out whole dockets in turn, each as early as it goes, and a better one by other turns: a docket is
moved up or changes places, by chance; what is worse is gone on with too, at first more readily than later.

Source: S. Kirkpatrick, C. D. Gelatt and M. P. Vecchi, Optimization by simulated annealing, Science 220 (1983). It finds
what dispatching step by step does not, with many late as with few.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from datetime import date
from functools import partial
from itertools import pairwise

import numpy as np
from msgspec.structs import replace

from yarvel.day.axis import LONGEST_PIECE, Axis, Hours
from yarvel.day.bitset_layout import DocketSequence, Laying
from yarvel.day.shop import Assignment, Hands, Order, Schedule, Shop, Step, ends, is_moved, late_count, weighed
from yarvel.figures.lookup import first_of

_HOT, _COLD = 200.0, 10.0
"""How much more, in weighted slots, is taken once in e times: first and last. Between 100 and 500, and 5 and 50, no
difference could be measured."""
_HOT_NEAR, _COLD_NEAR = 20.0, 1.0
"""The same where people have seen a plan: more would move half of it before it is cold (measured: 20 to 60 steps moved
in the place of 120 to 390, with no more days late)."""
_FEW, _AGAIN = 0.2, (0.0, 1 / 32, 3 / 32, 7 / 32, 15 / 32, 1.0)
"""Up to what share of late dockets it is begun anew, and after which shares of the time: where nearly all can be kept,
several short searches find it sooner than a long one; with many late a long one is better (measured)."""
_NEVER = 1e12

_FARTHER = 1.5
"""How much later than by the plan to begin with the last may be done, for a plan to be looked at."""
_STRETCHES, _STRETCH_SECONDS = 100, 0.05
"""Into how many stretches of one heat each a search by rounds is cut; and about how long one of a search by time is."""


def in_turns(
    shop: Shop,
    plan: Schedule,
    seconds: float = float("inf"),
    rounds: int = 10**9,
    seed: int = 1,
    tell: Callable[[Schedule], None] = lambda _plan: None,
    stopped: Callable[[], bool] = lambda: False,
    shown: Schedule | None = None,
    workers: int = 1,
) -> Schedule:
    """A better plan than this one, or this one. Ends after so many seconds or rounds, when nobody is late any more, or
    when it is ``stopped``. ``shown``: what people have seen; a step that is not there weighs something. ``workers``
    searches go on side by side, each for itself."""
    began, finished = time.monotonic(), ends(shop, plan)
    orders = [order for order in shop.orders if order.steps]
    if not orders:
        return plan
    laying = Laying(shop, orders, int(_FARTHER * max(finished.values(), default=0)) + LONGEST_PIECE, shown)
    first = _first(laying, orders, finished) if shown is None else _near(laying, orders, finished, plan, shown)
    if first is None:
        return plan
    best, weight, worth = plan, weighed(shop, plan, shown), float(first.before[-1])
    if worth < weight:
        best, weight = laying.plan(first.order, first.loose), worth
        tell(best)
    few = late_count(shop, plan) <= _FEW * len(orders) and shown is None
    hot, cold = (_HOT_NEAR, _COLD_NEAR) if shown is not None else (_HOT, _COLD)
    cycles = iter(pairwise(_AGAIN if few else (0.0, 1.0)))
    (begin, end), done, stretch = first_of(cycles), 0, 1
    chances = [np.random.default_rng((seed, place)) for place in range(workers)]
    nows = [first.again() for _ in chances]
    with ThreadPoolExecutor(workers) as pool:
        while weight and done < rounds and time.monotonic() - began < seconds and not stopped():
            gone = min(max((time.monotonic() - began) / seconds, done / rounds), 1.0)
            if gone > end:
                begin, end = first_of(cycle for cycle in cycles if gone <= cycle[1])
                nows = [first.again() for _ in chances]
            heat = hot * (cold / hot) ** ((gone - begin) / (end - begin))
            entered, most = time.monotonic(), min(stretch, rounds - done)
            searched = list(pool.map(partial(laying.search, heat=heat, rounds=most, held=weight), nows, chances))
            worth, order, loose = min(searched, key=lambda one: one[0])
            if worth < weight:
                best, weight = laying.plan(order, loose), worth
                tell(best)
            done += most
            stretch = _next_stretch(stretch, time.monotonic() - entered, rounds)
    return best


def compiled() -> None:
    """What the search runs is compiled and kept beside the module: a quarter of a minute the first time on a machine,
    nothing to speak of from then on."""
    step = Step(task=0, piece=0, slots=1, people=(0,), station="torch", wait=1.0)
    orders = (
        Order(key=0, number="", steps=(step,), due=0),
        Order(key=1, number="", steps=(replace(step, task=1),), due=0),
    )
    shop = Shop(Axis(Hours(), date(2000, 1, 3), 2), (Hands(0, "", frozenset()),), orders, {"torch": 1})
    plan = {step.key: Assignment(0, 10 * at) for at, (_, step) in enumerate(shop.steps())}
    in_turns(shop, plan, rounds=2)


def _next_stretch(last: int, took: float, rounds: int) -> int:
    """How many rounds the next stretch has: as many as there is time for, or an even part of those to do."""
    if rounds < 10**9:
        return max(rounds // _STRETCHES, 1)
    return max(int(last * min(_STRETCH_SECONDS / max(took, 1e-6), 10.0)), 1)


def _first(laying: Laying, orders: list[Order], finished: dict[int, int]) -> DocketSequence | None:
    """The turns to begin with: by what is urgent, or by what the plan does first; None where the axis ends first."""
    places = range(len(orders))
    ways = (
        sorted(places, key=lambda place: _urgency(orders[place])),
        sorted(places, key=lambda place: finished[orders[place].key]),
    )
    every = [laying.turns(np.array(way, dtype=np.int64)) for way in ways]
    sequences = [turns for turns in every if turns is not None]
    return min(sequences, key=lambda turns: float(turns.before[-1]), default=None)


def _near(
    laying: Laying, orders: list[Order], finished: dict[int, int], plan: Schedule, shown: Schedule
) -> DocketSequence | None:
    """The turns to begin with where people have seen a plan: first what is where they saw it and keeps its place, then
    the rest, let go; None where the axis ends first."""

    def is_elsewhere(order: Order) -> bool:
        return any(step.key not in shown or is_moved(shown[step.key], plan[step.key]) for step in order.steps)

    elsewhere = np.array([is_elsewhere(order) for order in orders], dtype=np.int64)
    way = sorted(range(len(orders)), key=lambda place: (elsewhere[place], finished[orders[place].key]))
    return laying.turns(np.array(way, dtype=np.int64), elsewhere) or _first(laying, orders, finished)


def _urgency(order: Order) -> float:
    """By when a docket has to be begun, were there nobody else."""
    return (_NEVER if order.due is None else order.due) - sum(step.slots for step in order.steps)
