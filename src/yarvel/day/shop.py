"""A workshop as the planner sees it: hands, stations, and dockets as steps one after the other. Numbers are slots."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property

import numpy as np
from msgspec import Struct, field

from yarvel.day.axis import LONGEST_PIECE, Axis

ROOM_FOR_ALL = 99
"""Room at a place that is named only because it is shut at times."""


class Hands(Struct, frozen=True):
    """A pair of hands: what they can do, and when they are not there (from, to)."""

    key: int
    name: str
    skills: frozenset[str]
    away: tuple[tuple[int, int], ...] = ()


class Step(Struct, frozen=True, kw_only=True):
    """One piece of a task, in one go: ``people`` (places in the shop's hands), of whom any can do it; ``wait`` minutes
    without hands after it. ``piece`` counts the pieces of its task: all of them are one person's. ``person`` and
    ``start`` where these are fixed; ``running`` where it is in hand now."""

    task: int
    piece: int
    slots: int
    people: tuple[int, ...]
    station: str = ""
    wait: float = 0.0
    person: int | None = None
    start: int | None = None
    running: bool = False

    @property
    def key(self) -> tuple[int, int]:
        """Which step it is."""
        return self.task, self.piece


class Order(Struct, frozen=True, kw_only=True):
    """A docket: its steps in order, the slot by which it is promised (the end of that day), what a minute of lateness
    weighs, and before what it cannot begin."""

    key: int
    number: str
    steps: tuple[Step, ...]
    due: int | None = None
    weight: float = 1.0
    release: int = 0


class Shop(Struct, frozen=True, dict=True):
    """Everything that a plan is made of; stations that are not named have room for everybody. ``shut``: spans of slots
    (from, to) in which nothing can be done at a station."""

    axis: Axis
    hands: tuple[Hands, ...]
    orders: tuple[Order, ...]
    stations: dict[str, int] = field(default_factory=dict)
    shut: dict[str, tuple[tuple[int, int], ...]] = field(default_factory=dict)

    def opens(self, station: str) -> np.ndarray[tuple[int, ...], np.dtype[np.int64]]:
        """Of every slot, and of the end of the axis, the first one from there on in which a station is open."""
        slots = np.arange(self.axis.size + 1)
        shut = np.zeros(self.axis.size + 1, dtype=np.bool_)
        for begin, end in self.shut.get(station, ()):
            shut[begin:end] = True
        openings = np.where(shut, self.axis.size, slots)
        return np.minimum.accumulate(openings[::-1])[::-1]

    def steps(self) -> Iterator[tuple[Order, Step]]:
        """All steps, docket by docket."""
        for order in self.orders:
            for step in order.steps:
                yield order, step

    @cached_property
    def count(self) -> int:
        """How many steps there are."""
        return sum(len(order.steps) for order in self.orders)


class Assignment(Struct, frozen=True):
    """Who does a step (a place in the shop's hands), and from which slot on."""

    person: int
    start: int


Schedule = dict[tuple[int, int], Assignment]
"""A plan: where each step is, by its key."""


def pieces(slots: int, longest: int = LONGEST_PIECE) -> list[int]:
    """A task's slots in pieces that fit between breaks, as even as the grid allows."""
    count = -(-slots // longest)
    return [slots * (place + 1) // count - slots * place // count for place in range(count)]


def ends(shop: Shop, plan: Schedule) -> dict[int, int]:
    """When each docket is done, by its key; one without steps is done at once."""
    ends_by_order = {}
    for order in shop.orders:
        last = order.steps[-1] if order.steps else None
        ends_by_order[order.key] = order.release if last is None else plan[last.key].start + last.slots
    return ends_by_order


def late_orders(shop: Shop, plan: Schedule) -> list[Order]:
    """Dockets that are done after the evening for which they are promised."""
    finished = ends(shop, plan)
    return [order for order in shop.orders if order.due is not None and finished[order.key] > order.due]


def late_count(shop: Shop, plan: Schedule) -> int:
    """How many of them there are."""
    return len(late_orders(shop, plan))


class Cost(Struct, frozen=True, order=True):
    """What a plan is judged by, the first first: weighted days late, weighted slots late, hand-overs, and the sum of
    ends."""

    days: float
    slots: float
    handed: int
    ends: int


def cost(shop: Shop, plan: Schedule) -> Cost:
    """What a plan costs."""
    days = late = 0.0
    handed = total = 0
    axis = shop.axis
    finished = ends(shop, plan)
    for order in shop.orders:
        end = finished[order.key]
        total += end
        who = [plan[step.key].person for step in order.steps]
        handed += sum(earlier != other for earlier, other in zip(who, who[1:], strict=False))
        if order.due is not None and end > order.due:
            late += order.weight * (end - order.due)
            days += order.weight * late_days(axis, end, order.due)
    return Cost(days, late, handed, total)


SHIFT_SLOTS = 6
"""Half an hour with the same hands is a shift, and no move."""
DAY_SLOTS, MOVE_SLOTS = 100.0, 4.0
"""What a weighted day late, and a step that is not where people have seen it, weigh beside a weighted slot late: more
than a day has slots, so that days come first where few dockets are late. Free moves changed 97 of 150 steps in a
made-up shop; at 4 it was 16 (measured beforehand)."""


def is_moved(before: Assignment, after: Assignment) -> bool:
    """Whether somebody who has seen the one is surprised by the other."""
    return before.person != after.person or abs(before.start - after.start) > SHIFT_SLOTS


def weighed(shop: Shop, plan: Schedule, shown: Schedule | None = None) -> float:
    """The one sum that mending, every search, offers and windows go by: lateness, and moves against the plan shown."""
    plan_cost = cost(shop, plan)
    moved = 0 if shown is None else sum(is_moved(shown[key], place) for key, place in plan.items() if key in shown)
    return plan_cost.days * DAY_SLOTS + plan_cost.slots + MOVE_SLOTS * moved


def late_days(axis: Axis, end: int, due: int) -> int:
    """Open days between the evening that was promised and the one on which it is done."""
    if end <= due:
        return 0
    evenings = axis.evenings
    return (
        int((evenings >= end).argmax()) - int((evenings >= due).argmax())
        if due > 0
        else int((evenings >= end).argmax()) + 1
    )
