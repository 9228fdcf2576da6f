"""What nobody could keep: a floor under the lateness of every plan, proved on days instead of minutes.

A docket that is at most so many days late has each of its steps done by some evening; whoever can do these steps has
only so much time until then. Dockets are let be late until that holds for every group of hands, every station and every
evening: a relaxation, by SciPy's HiGHS.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable
from itertools import combinations

import numpy as np
from msgspec import Struct
from scipy.optimize import Bounds, LinearConstraint, milp
from scipy.sparse import csr_array, vstack

from yarvel.day.shop import Order, Shop
from yarvel.day.timeline import timelines

_MOST_DAYS = 15

_MOST_GROUPS, _MOST_SETS = 64, 24
"""Groups of hands that are looked at; and of how many sets of hands that can do the same, those with most to do, they
are put together."""


class Floor(Struct, frozen=True):
    """At least so many dockets are late, whatever one does; and so many weighted days (0: not known)."""

    dockets: int
    days: float


def floor(shop: Shop, seconds: float = 2.0, stopped: Callable[[], bool] = lambda: False) -> Floor:
    """The proved floor; zeros where nothing was proved, each of the two within so many seconds. ``stopped`` is asked
    before each of them whether that is still wanted."""
    orders = [order for order in shop.orders if order.steps and order.due is not None]
    if not orders:
        return Floor(0, 0.0)
    levels = [_levels(shop, order) for order in orders]
    rows = _limits(shop, levels)
    days = np.array([level for order_levels in levels for level, _ in order_levels], dtype=float)
    weights = np.concatenate(
        [np.full(len(order_levels), order.weight) for order, order_levels in zip(orders, levels, strict=True)]
    )
    counted = 0.0 if stopped() else _least(np.minimum(days, 1.0), levels, rows, seconds)
    weighted = 0.0 if stopped() else _least(days * weights, levels, rows, seconds)
    return Floor(int(np.ceil(counted - 1e-6)), max(weighted, 0.0))


Level = tuple[int, list[tuple[int, frozenset[int], str, int]]]
"""So many days late at most, and by when each step must be over then: slots, who can, station, end."""


def _levels(shop: Shop, order: Order) -> list[Level]:
    """Of each lateness that a docket may have, what must be done by when; left out what it alone cannot keep."""
    axis = shop.axis
    first = int((axis.evenings >= (order.due or 0)).argmax()) if order.due else -1
    levels: list[Level] = []
    for late in range(_MOST_DAYS + 1):
        day = first + late
        if day >= len(axis.evenings) or day < 0:
            if day >= len(axis.evenings):
                break
            continue
        if late == _MOST_DAYS:
            levels.append((late, []))  # later than we look: holds nothing back
            break
        latest = _latest(shop, order, int(axis.evenings[day]))
        if latest is not None:
            levels.append((late, latest))
    return levels or [(_MOST_DAYS, [])]


def _latest(shop: Shop, order: Order, end: int) -> list[tuple[int, frozenset[int], str, int]] | None:
    """By which slot each step must be over; None where that is before it could be."""
    axis = shop.axis
    done: list[int] = []
    earliest = order.release
    for step in order.steps:
        earliest += step.slots
        done.append(earliest)
        earliest = int(axis.after(step.wait)[min(earliest, axis.size)])
    steps_latest = []
    limit = end
    for step, soonest in zip(reversed(order.steps), reversed(done), strict=True):
        if step is not order.steps[-1]:
            limit = int(np.searchsorted(axis.after(step.wait), limit, side="right")) - 1
        if soonest > limit:
            return None
        people = frozenset(step.people if step.person is None else (step.person,))
        steps_latest.append((step.slots, people, step.station, limit))
        limit -= step.slots
    return steps_latest


def _limits(
    shop: Shop, levels: list[list[Level]]
) -> tuple[csr_array, np.ndarray[tuple[int, ...], np.dtype[np.float64]]]:
    """Work that must be over by an evening against the time until then, by group of hands and by station."""
    free = np.array([line.free for line in timelines(shop)], dtype=np.float64)
    until = np.concatenate([np.zeros((len(free), 1)), np.cumsum(free, axis=1)], axis=1)
    columns = [steps for level in levels for _, steps in level]
    flat = [(column, *step) for column, steps in enumerate(columns) for step in steps]
    if not flat:
        return csr_array((0, len(columns))), np.zeros(0)
    of = np.array([demand[0] for demand in flat])
    slots = np.array([demand[1] for demand in flat], dtype=np.float64)
    by = np.array([demand[4] for demand in flat])
    busy: Counter[frozenset[int]] = Counter()
    for one in flat:
        busy[one[2]] += one[1]
    sets = sorted(busy, key=lambda able: (-busy[able], sorted(able)))[:_MOST_SETS]
    groups = {frozenset().union(*combination) for size in (1, 2, 3) for combination in combinations(sets, size)}
    held = [
        (np.array([demand[2] <= group for demand in flat]), until[sorted(group)].sum(axis=0))
        for group in sorted(groups, key=lambda one: (len(one), sorted(one)))[:_MOST_GROUPS]
    ]
    held += [
        (np.array([demand[3] == name for demand in flat]), room * np.arange(shop.axis.size + 1, dtype=np.float64))
        for name, room in shop.stations.items()
    ]
    rows, rooms = [], []
    for mine, room in held:
        for evening in shop.axis.evenings[shop.axis.evenings <= by.max(initial=0) + shop.axis.evenings[0]]:
            counted = mine & (by <= evening)
            work = np.bincount(of[counted], weights=slots[counted], minlength=len(columns))
            if work.sum() > room[evening]:
                rows.append(csr_array(work[None, :]))
                rooms.append(room[evening])
    if not rows:
        return csr_array((0, len(columns))), np.zeros(0)
    return vstack(rows, format="csr"), np.array(rooms)


def _least(
    costs: np.ndarray[tuple[int, ...], np.dtype[np.float64]],
    levels: list[list[Level]],
    limits: tuple[csr_array, np.ndarray[tuple[int, ...], np.dtype[np.float64]]],
    seconds: float,
) -> float:
    """The proved bound of the least cost; 0 where there is none."""
    count = len(costs)
    one_each = csr_array(
        (
            np.ones(count),
            (np.repeat(np.arange(len(levels)), [len(level) for level in levels]), np.arange(count)),
        ),
        shape=(len(levels), count),
    )
    constraints = [LinearConstraint(one_each, 1, 1)]
    if limits[1].size:
        constraints.append(LinearConstraint(limits[0], -np.inf, limits[1]))
    solution = milp(
        costs, integrality=np.ones(count), bounds=Bounds(0, 1), constraints=constraints, options={"time_limit": seconds}
    )
    bound = getattr(solution, "mip_dual_bound", None)
    return 0.0 if bound is None or not np.isfinite(bound) else float(bound)
