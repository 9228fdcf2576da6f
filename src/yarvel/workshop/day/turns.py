"""A plan by giving out whole dockets in turn, each as early as it goes; those that come out late have their turn
earlier the next time.

Source: D. E. Joslin and D. P. Clements, "Squeaky wheel" optimization, Journal of Artificial Intelligence Research 10
(1999). It finds what dispatching step by step does not where nearly everything can be kept.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from yarvel.workshop.day.dispatch import AxisTooShortError, attempts
from yarvel.workshop.day.mending import Mending
from yarvel.workshop.day.shop import Order, Schedule, Shop, cost, ends

_EARLIER = (20.0, 140.0)
"""By how many slots a late docket's turn is moved up, by chance: a fifth of a day to a day and a half."""
_SHUFFLED = 8.0
_FROM_BEST = 0.5
"""How often a round goes on from the best order instead of from the last one."""


def in_turns(
    shop: Shop,
    plan: Schedule,
    seconds: float = float("inf"),
    rounds: int = 10**9,
    seed: int = 1,
    tell: Callable[[Schedule], None] = lambda _plan: None,
    stopped: Callable[[], bool] = lambda: False,
) -> Schedule:
    """A better plan than this one, or this one. Ends after so many seconds or rounds, when nobody is late any more, or
    when it is ``stopped``."""
    chance = np.random.default_rng(seed)
    orders = [order for order in shop.orders if order.steps]
    far = 2.0 * shop.axis.size
    turns = np.array([(far if one.due is None else one.due) - sum(step.slots for step in one.steps) for one in orders])
    best, held, kept = plan, cost(shop, plan), turns
    for _ in attempts(seconds, rounds, stopped):
        if not held.slots:
            break
        try:
            made = _given_out(shop, [orders[place] for place in np.argsort(turns, kind="stable")])
        except AxisTooShortError:
            turns = kept + chance.normal(0.0, _SHUFFLED * 5, len(orders))
            continue
        worth = cost(shop, made)
        if worth < held:
            best, held, kept = made, worth, turns
            tell(best)
        finished = ends(shop, made)
        late = np.array([one.due is not None and finished[one.key] > one.due for one in orders])
        begin = kept if chance.random() < _FROM_BEST else turns
        moved = np.where(late, chance.uniform(*_EARLIER, len(orders)), 0.0)
        turns = begin - moved + chance.normal(0.0, _SHUFFLED, len(orders))
    return best


def _given_out(shop: Shop, orders: list[Order]) -> Schedule:
    """One docket after the other, each step as early as it goes; what is fixed keeps its place."""
    held = Mending(shop)
    for order in orders:
        for step in order.steps:
            held.put_first(order, step, 0, held.last_of(order))
    return held.plan
