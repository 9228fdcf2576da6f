"""A plan by giving out whole dockets in turn, each as early as it goes, and a better one by other turns: a docket is
moved up or changes places, by chance; what is worse is gone on with too, at first more readily than later.

Source: S. Kirkpatrick, C. D. Gelatt and M. P. Vecchi, Optimization by simulated annealing, Science 220 (1983). It finds
what dispatching step by step does not, with many late as with few.
"""

from __future__ import annotations

import math
import random
import time
from collections.abc import Callable
from itertools import pairwise

from yarvel.workshop.day.axis import LONGEST_PIECE
from yarvel.workshop.day.bits import Laid, Slots
from yarvel.workshop.day.dispatch import attempts
from yarvel.workshop.day.shop import Order, Schedule, Shop, ends, late_count, late_days

_HOT, _COLD = 0.03, 0.001
"""How much worse than the best of the beginning, as a share of it, is taken once in e times: first and last."""
_FEW, _AGAIN = 0.2, (0.0, 1 / 32, 3 / 32, 7 / 32, 15 / 32, 1.0)
"""Up to what share of late dockets it is begun anew, and after which shares of the time: where nearly all can be kept,
several short searches find it sooner than a long one; with many late a long one is better (measured)."""
_LATE_UP, _ANYWHERE = 0.6, 0.8
"""How often a late docket is moved up; up to here, any docket anywhere; else two near each other change places."""
_UP_BY, _NEAR_BY = 5.0, 3.0
_NEVER = 1e12
_FARTHER = 1.5
"""How much later than by the plan to begin with the last may be done, for a plan to be looked at."""


def in_turns(
    shop: Shop,
    plan: Schedule,
    seconds: float = float("inf"),
    rounds: int = 10**9,
    seed: int = 1,
    tell: Callable[[Schedule], None] = lambda _plan: None,
    stopped: Callable[[], bool] = lambda: False,
    day_slots: float = 100.0,
) -> Schedule:
    """A better plan than this one, or this one. Ends after so many seconds or rounds, when nobody is late any more, or
    when it is ``stopped``. ``day_slots`` is what a weighted day late weighs beside a weighted slot late."""
    chance, finished = random.Random(seed), ends(shop, plan)
    orders = [order for order in shop.orders if order.steps]
    slots = Slots(shop, int(_FARTHER * max(finished.values(), default=0)) + LONGEST_PIECE)
    begun = (sorted(orders, key=_urgency), sorted(orders, key=lambda order: finished[order.key]))
    now = min((_Turns(shop, slots, way, day_slots) for way in begun), key=lambda made: made.worth)
    best, held = plan, _lateness(shop, orders, finished, day_slots)[0]
    if now.worth < held:
        best, held = now.plan, now.worth
        tell(best)
    first, scale, began = now, max(held, 1.0), time.monotonic()
    few = late_count(shop, plan) <= _FEW * len(orders)
    cycles = iter(pairwise(_AGAIN if few else (0.0, 1.0)))
    begin, end = next(cycles)
    for number in attempts(seconds, rounds, stopped):
        if not held:
            break
        gone = min(max((time.monotonic() - began) / seconds, number / rounds), 1.0)
        while gone > end:
            begin, end = next(cycles)
            now = first
        heat = scale * _HOT * (_COLD / _HOT) ** ((gone - begin) / (end - begin))
        tried = now.other(chance)
        if tried.worth <= now.worth or chance.random() < math.exp((now.worth - tried.worth) / heat):
            now = tried
            if now.worth < held:
                best, held = now.plan, now.worth
                tell(best)
    return best


def _urgency(order: Order) -> float:
    """By when a docket has to be begun, were there nobody else."""
    return (_NEVER if order.due is None else order.due) - sum(step.slots for step in order.steps)


def _lateness(shop: Shop, orders: list[Order], done: dict[int, int], day_slots: float) -> tuple[float, list[float]]:
    """What lateness weighs: all of it, and that of each docket."""
    each = [
        0.0
        if order.due is None or done[order.key] <= order.due
        else order.weight * (done[order.key] - order.due + day_slots * late_days(shop.axis, done[order.key], order.due))
        for order in orders
    ]
    return sum(each), each


class _Turns:
    """Dockets in turn, laid out; kept stage by stage, so that another order goes on from where it differs."""

    def __init__(
        self, shop: Shop, slots: Slots, orders: list[Order], day_slots: float, stages: list[Laid] | None = None
    ) -> None:
        self._shop, self._slots, self._orders, self._day_slots = shop, slots, orders, day_slots
        self._stages = [Laid(slots)] if stages is None else stages
        self.worth, self._each = _NEVER, [0.0] * len(orders)
        for order in orders[len(self._stages) - 1 :]:
            laid = Laid(slots, self._stages[-1])
            if not laid.order(order):
                return  # the axis ends first
            self._stages.append(laid)
        self.worth, self._each = _lateness(shop, orders, self._stages[-1].ends, day_slots)

    @property
    def plan(self) -> Schedule:
        """The plan of these turns."""
        return self._stages[-1].plan

    def other(self, chance: random.Random) -> _Turns:
        """Other turns, not far from these."""
        orders, count = [*self._orders], len(self._orders)
        late = [place for place, worth in enumerate(self._each) if worth > 0]
        way = chance.random()
        if late and way < _LATE_UP:
            first = chance.choice(late)
            second = max(0, first - 1 - int(chance.expovariate(1 / _UP_BY)))
            orders.insert(second, orders.pop(first))
        elif way < _ANYWHERE or count < 2:
            first, second = chance.randrange(count), chance.randrange(count)
            orders.insert(second, orders.pop(first))
        else:
            first = chance.randrange(count - 1)
            second = min(count - 1, first + 1 + int(chance.expovariate(1 / _NEAR_BY)))
            orders[first], orders[second] = orders[second], orders[first]
        kept = self._stages[: min(first, second) + 1]
        return _Turns(self._shop, self._slots, orders, self._day_slots, [*kept])
