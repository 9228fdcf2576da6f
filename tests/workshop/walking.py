"""A workshop's days walked minute by minute, by what knows nothing of the planner: whoever is at work does the next
thing of their plan once it is ready and there is room for it, each as long as it takes. Nothing new arrives."""

from __future__ import annotations

import math
import random

from yarvel.day.axis import GRID_MINUTES
from yarvel.day.promise import USUAL_SPREAD
from yarvel.day.shop import Order, Schedule, Shop


class Walk:
    """One execution. Times are minutes of the axis (open minutes, one after the other)."""

    def __init__(self, shop: Shop, plan: Schedule, chance: random.Random, spread: float = USUAL_SPREAD) -> None:
        self._shop, self._chance, self._spread = shop, chance, spread
        self._queues: dict[int, list[tuple[Order, int]]] = {}
        turns = [
            (plan[step.key].start, order.key, place, order)
            for order in shop.orders
            for place, step in enumerate(order.steps)
        ]
        for _, _, place, order in sorted(turns, key=lambda one: one[:3]):
            self._queues.setdefault(plan[order.steps[place].key].person, []).append((order, place))
        self._away = {
            person: {slot for begin, end in shop.hands[person].away for slot in range(begin, end)}
            for person in self._queues
        }
        self._next = {order.key: 0 for order in shop.orders}
        self._ready = {order.key: order.release * GRID_MINUTES for order in shop.orders}
        self._doing: dict[int, tuple[Order, float]] = {}
        self.ends: dict[int, int] = {}

    def done(self) -> dict[int, int]:
        """When each docket was done, by its key: the slot after its last minute; the axis' end where it never was."""
        for minute in range(self._shop.axis.size * GRID_MINUTES):
            if len(self.ends) == len(self._next):
                break
            for person in sorted(self._queues):
                if minute // GRID_MINUTES not in self._away[person]:
                    self._begin(person, minute)
                    self._work(person, minute)
        return {key: self.ends.get(key, self._shop.axis.size) for key in self._next}

    def _begin(self, person: int, minute: int) -> None:
        if person in self._doing or not self._queues[person]:
            return
        order, place = self._queues[person][0]
        step = order.steps[place]
        if self._next[order.key] != place or self._ready[order.key] > minute:
            return
        there = sum(one.steps[self._next[one.key]].station == step.station for one, _ in self._doing.values())
        if step.station and there >= self._shop.stations.get(step.station, len(self._shop.hands)):
            return
        self._queues[person].pop(0)
        taken = self._chance.lognormvariate(-(self._spread**2) / 2, self._spread)
        minutes = max(round(step.slots * GRID_MINUTES * taken), 1)  # whole ones: as often shorter as longer
        self._doing[person] = order, float(minutes)

    def _work(self, person: int, minute: int) -> None:
        if person not in self._doing:
            return
        order, left = self._doing[person]
        if left > 1.0:
            self._doing[person] = order, left - 1.0
            return
        del self._doing[person]
        step = order.steps[self._next[order.key]]
        self._next[order.key] += 1
        over = minute + 1
        slot = min(math.ceil(over / GRID_MINUTES), self._shop.axis.size)
        waited = int(self._shop.axis.after(step.wait)[slot]) * GRID_MINUTES
        self._ready[order.key] = waited if step.wait > 0 else over
        if self._next[order.key] == len(order.steps):
            self.ends[order.key] = slot
