"""A plan at once: the next step is given out by apparent tardiness cost, over a few dozen look-ahead settings.

Source: A. P. J. Vepsalainen and T. E. Morton, Priority rules for job shops with weighted tardiness costs, Management
Science 33 (1987): index = w / p · exp(−max(0, slack) / (k · p̄)).
"""

from __future__ import annotations

import time
from collections.abc import Sequence
from itertools import product

import numpy as np

from yarvel.day.axis import Ints
from yarvel.day.shop import Assignment, Order, Schedule, Shop, Step, cost
from yarvel.day.timeline import Fits, Stations, fits_of

SETTINGS: tuple[tuple[float, int], ...] = tuple(product((2.0, 0.5, 6.0, 1.0, 12.0, 0.2), (0, 2, 6)))
"""How far ahead slack is looked at (in mean pieces of work), and for how many slots hands may wait for something more
urgent; the settings that most often win first."""
_FAR = 60.0

_LONG_WAIT = 600.0
"""Minutes from which a wait is counted by the clock and not by open hours."""


class AxisTooShortError(Exception):
    """Work is left when the axis ends: lay out more days."""


def dispatch(shop: Shop, settings: Sequence[tuple[float, int]] = SETTINGS, seconds: float = float("inf")) -> Schedule:
    """The best plan of all settings that were tried within ``seconds`` (at least one).

    Raises
    ------
    AxisTooShortError : not everything fits on the axis.
    """
    began = time.monotonic()
    best: Schedule | None = None
    for place, (look_ahead, patience) in enumerate(settings):
        if best is not None and time.monotonic() - began > seconds * place / (place + 1):
            break
        plan = _Dispatch(shop, look_ahead, patience).plan()
        if best is None or cost(shop, plan) < cost(shop, best):
            best = plan
    if best is None:
        raise ValueError("settings: none: at least one pair of look-ahead and patience")
    return best


class _Dispatch:
    """One plan by one setting. Of every docket only its next step waits; ``est`` is when each could begin with whom."""

    def __init__(self, shop: Shop, look_ahead: float, patience: int) -> None:
        self._shop, self._patience = shop, patience
        self._orders = [order for order in shop.orders if order.steps]
        lengths = [step.slots for _, step in shop.steps()]
        self._scale = look_ahead * (sum(lengths) / max(len(lengths), 1))
        self._placed: Schedule = {}
        self._stations = Stations(shop)
        self._free = np.zeros(len(shop.hands), dtype=np.int64)
        self._fits = self._without_what_is_fixed()
        count = len(self._orders)
        self._at = [0] * count
        self._ready = np.array([order.release for order in self._orders], dtype=np.int64)
        self._est = np.full((count, len(shop.hands)), shop.axis.size, dtype=np.int64)
        self._weights = np.array([order.weight for order in self._orders])
        far = shop.axis.size * 4
        self._dues = np.array([far if order.due is None else order.due for order in self._orders], dtype=np.float64)
        self._left = np.array([_work_left(shop, order) for order in self._orders])
        self._lengths = np.ones(count, dtype=np.int64)
        self._pinned = np.zeros(count, dtype=np.bool_)
        self._who: dict[int, int] = {}
        self._names = [*shop.stations]
        self._rooms = [[0] * shop.stations[name] for name in self._names]
        self._at_station = np.full(count, -1, dtype=np.int64)
        self._gates = np.zeros(len(self._names) + 1, dtype=np.int64)

    def _without_what_is_fixed(self) -> list[Fits]:
        """Everybody's time but for what has its fixed place."""
        shop = self._shop
        taken: list[list[tuple[int, int]]] = [[] for _ in shop.hands]
        for _, step in shop.steps():
            if step.start is not None and step.person is not None:
                taken[step.person].append((step.start, step.start + step.slots))
                self._stations.take(step.station, step.start, step.slots)
        longest = max((step.slots for _, step in shop.steps()), default=1)
        return [
            fits_of(shop.axis, hands, taken_slots, longest)
            for hands, taken_slots in zip(shop.hands, taken, strict=True)
        ]

    def plan(self) -> Schedule:
        """Everything placed, one step after the other."""
        for row in range(len(self._orders)):
            self._offer(row)
        size = self._shop.axis.size
        for _ in range(self._shop.count * 50):
            first = int(self._est.min(initial=size)) if self._orders else size
            if first >= size:
                break
            self._give_out(first)
        if len(self._placed) < self._shop.count:
            raise AxisTooShortError
        return self._placed

    def _give_out(self, first: int) -> None:
        rows = np.flatnonzero(self._est.min(axis=1) <= first + self._patience)
        slack = np.maximum(self._dues[rows] - first - self._left[rows], 0.0)
        index = self._weights[rows] / self._lengths[rows] * np.exp(-np.minimum(slack / self._scale, _FAR))
        row = int(rows[np.lexsort((self._dues[rows], -index))[0]])
        step = self._step(row)
        starts = self._est[row]
        start = int(starts.min())
        able = np.flatnonzero(starts == start)
        person = int(min(able, key=lambda one: (one != self._who.get(row), len(self._shop.hands[one].skills), one)))
        fixed = step.start is not None and start == step.start
        later = 0 if fixed else self._stations.clash(step.station, start, step.slots)
        if later:
            self._ready[row] = start + later
            self._offer(row)
            return
        self._place(row, step, person, start, fixed)

    def _place(self, row: int, step: Step, person: int, start: int, fixed: bool) -> None:
        end = start + step.slots
        self._placed[step.key] = Assignment(person, start)
        self._who[row] = person
        if not fixed:
            self._stations.take(step.station, start, step.slots)
            self._free[person] = max(self._free[person], end)
        self._left[row] -= step.slots
        self._at[row] += 1
        self._ready[row] = self._shop.axis.after(step.wait)[end]
        self._est[row] = self._shop.axis.size
        waiting = self._est < self._shop.axis.size
        waiting[self._pinned] = False
        self._offer_again(np.flatnonzero(waiting[:, person]), person)
        if not fixed and step.station in self._shop.stations:
            self._pass_gate(self._names.index(step.station), end, waiting)
        self._offer(row)

    def _pass_gate(self, station: int, end: int, waiting: np.ndarray[tuple[int, ...], np.dtype[np.bool_]]) -> None:
        """One more is at a station until ``end``: whatever waits for room there, at once."""
        room = self._rooms[station]
        room[room.index(min(room))] = end
        self._gates[station] = min(room)
        queued = self._at_station == station
        for person in range(len(self._shop.hands)):
            rows = np.flatnonzero(queued & waiting[:, person])
            if rows.size:
                self._offer_again(rows, person)

    def _offer_again(self, rows: Ints, person: int) -> None:
        """Somebody's time, or the room that they need, has moved on: everything that waits for them, at once."""
        begin = np.maximum(np.maximum(self._ready[rows], self._gates[self._at_station[rows]]), self._free[person])
        begin = np.minimum(begin, self._shop.axis.size)
        self._est[rows, person] = self._fits[person].all[self._lengths[rows], begin]

    def _step(self, row: int) -> Step:
        return self._orders[row].steps[self._at[row]]

    def _offer(self, row: int) -> None:
        """When a docket's next step could begin, with anybody."""
        self._est[row] = self._shop.axis.size
        if self._at[row] == len(self._orders[row].steps):
            return
        step = self._step(row)
        self._lengths[row] = step.slots
        self._pinned[row] = step.start is not None
        self._at_station[row] = self._names.index(step.station) if step.station in self._shop.stations else -1
        for person in self._able(row, step):
            self._offer_to(row, person)

    def _able(self, row: int, step: Step) -> tuple[int, ...]:
        if step.person is not None:
            return (step.person,)
        return (self._who[row],) if step.piece and row in self._who else step.people

    def _offer_to(self, row: int, person: int) -> None:
        step, ready = self._step(row), int(self._ready[row])
        if step.start is not None and step.person == person and ready <= step.start:
            self._est[row, person] = step.start
            return
        gate = int(self._gates[self._at_station[row]])  # the last one is nowhere's: always open
        begin = min(max(ready, gate, int(self._free[person])), self._shop.axis.size)
        self._est[row, person] = self._fits[person].all[step.slots, begin]


def _work_left(shop: Shop, order: Order) -> float:
    """Slots until a docket could be done if nothing stood in its way; waits of a day and more by the clock."""
    per_day = shop.axis.size / max(len(shop.axis.days), 1)
    waits = sum(step.wait / 1440 * per_day if step.wait >= _LONG_WAIT else step.wait / 5 for step in order.steps)
    return sum(step.slots for step in order.steps) + waits
