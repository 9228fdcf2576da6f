"""The plan that was shown, after something has happened: moved only where it must be.

Three ways are tried and the cheapest is taken, by the same sum as everywhere (``shop.weighed``): everything is shifted,
with the same hands and in the same order, which is no move; everything keeps its order and is handed on where that is
sooner; or what cannot stay goes into what is free. A docket whose steps are others now, or that is late so, is laid out
anew in what is free then, where that is worth its moves.
"""

from __future__ import annotations

from yarvel.day.dispatch import AxisTooShortError
from yarvel.day.inserting import anew, earliest, insert
from yarvel.day.shop import Assignment, Order, Schedule, Shop, Step, cost, ends, weighed
from yarvel.day.timeline import Stations, Timeline, timelines
from yarvel.figures.lookup import first_of

_STAYS_SLOTS = 24

_HAND_ON_AFTER = 12
"""Slots (an hour) that a step is pushed before others are asked whether they can do it sooner."""


def mend(shop: Shop, shown: Schedule) -> Schedule:
    """The plan shown, mended for the shop as it is now.

    Raises
    ------
    AxisTooShortError : not everything fits on the axis.
    """
    return min(mended(shop, shown), key=lambda plan: _weighed(shop, shown, plan))


def mended(shop: Shop, shown: Schedule) -> list[Schedule]:
    """What each way of mending comes to (AxisTooShortError as ``mend``)."""
    changes = []
    short: AxisTooShortError | None = None
    for way in (shift, _pushed, _into_gaps):
        try:
            changes.append(_finished(shop, shown, way(shop, shown)))
        except AxisTooShortError as error:
            short = error
    if not changes:
        raise short or AxisTooShortError
    return changes


def _finished(shop: Shop, shown: Schedule, plan: Schedule) -> Schedule:
    """With dockets whose steps are others now, or that are late so, laid out anew where that is worth it."""
    for order in _known(shop, shown):
        first = next((place for place, step in enumerate(order.steps) if step.key not in shown), None)
        if first is not None:
            plan = _sooner(shop, shown, plan, order, first, changed=True)
    return _pulled(shop, shown, plan)


def shift(shop: Shop, shown: Schedule) -> Schedule:
    """The plan shown with the same hands and in the same order, nothing earlier than there, each as soon as it can be;
    what is new goes into what is free (AxisTooShortError where that ends the axis)."""
    mending = Mending(shop)
    over: dict[int, int] = {}
    for last, _, _, order, step in _queue(shop, shown):
        kept = shown.get(step.key)
        mine = kept is not None and kept.person in mending.people(step)
        begin = max(last, over.get(kept.person, 0)) if kept is not None and mine else 0
        mending.put_first(order, step, begin, kept.person if kept else None, shop.axis.size if mine else 0)
        place = mending.plan[step.key]
        over[place.person] = max(over.get(place.person, 0), place.start + step.slots)
    return mending.add_new(shown)


def _pulled(shop: Shop, shown: Schedule, plan: Schedule) -> Schedule:
    """Of dockets that are late, and later than people have seen them, what can be sooner where something is free; those
    first that weigh most. What begins within two hours stays."""
    done, late = ends(shop, plan), []
    for order in _known(shop, shown):
        before = shown.get(order.steps[-1].key)
        later = before is None or done[order.key] > before.start + order.steps[-1].slots
        if later and order.due is not None and done[order.key] > order.due:
            late.append(order)
    for order in sorted(late, key=lambda one: one.weight * ((one.due or 0) - done[one.key])):
        stays = [
            place
            for place, step in enumerate(order.steps)
            if step.start is not None or plan[step.key].start < order.release + _STAYS_SLOTS
        ]
        first = stays[-1] + 1 if stays else 0
        if first < len(order.steps):
            plan = _sooner(shop, shown, plan, order, first, changed=False)
    return plan


def _sooner(shop: Shop, shown: Schedule, plan: Schedule, order: Order, first: int, changed: bool) -> Schedule:
    """The plan with a docket laid out anew from a step on, if that is worth its moves; of one whose steps are others
    now (given out, say) also if it is fewer days late so."""
    try:
        other = anew(shop, order, plan, first, order.steps[first:])
    except AxisTooShortError:
        return plan
    fewer = changed and cost(shop, other).days < cost(shop, plan).days
    return other if fewer or _weighed(shop, shown, other) < _weighed(shop, shown, plan) else plan


def _weighed(shop: Shop, shown: Schedule, plan: Schedule) -> tuple[float, int]:
    return weighed(shop, plan, shown), cost(shop, plan).ends


class Mending:
    """What is placed so far: time taken, and how far each docket is."""

    def __init__(self, shop: Shop) -> None:
        self.shop = shop
        self.lines: list[Timeline] = timelines(shop)
        self.stations = Stations(shop)
        self.plan: Schedule = {}
        self.ready = {order.key: order.release for order in shop.orders}
        self.who: dict[int, int] = {}
        for _, step in shop.steps():
            if step.start is not None and step.person is not None:
                self.lines[step.person].take(step.start, step.start + step.slots)
                self.stations.take(step.station, step.start, step.slots)

    def place(self, order: Order, step: Step, person: int, start: int, reserved: bool) -> None:
        """A step has its place."""
        self.plan[step.key] = Assignment(person, start)
        end = start + step.slots
        self.lines[person].take(start, end)
        if not reserved:
            self.stations.take(step.station, start, step.slots)
        self.who[step.task] = person
        self.ready[order.key] = int(self.shop.axis.after(step.wait)[end])

    def people(self, step: Step) -> tuple[int, ...]:
        """Who may do it; the pieces of a task stay with one."""
        if step.person is not None:
            return (step.person,)
        return (self.who[step.task],) if step.task in self.who else step.people

    def put_first(self, order: Order, step: Step, begin: int, preferred: int | None, patience: int = 0) -> None:
        """As early as it can be from ``begin`` on; with the preferred hands unless others are sooner by more than
        ``patience``."""
        ready = max(self.ready[order.key], begin)
        if step.start is not None and step.person is not None:
            if ready <= step.start:
                self.place(order, step, step.person, step.start, reserved=True)
                return
            self.lines[step.person].give_back(step.start, step.start + step.slots)
            self.stations.take(step.station, step.start, step.slots, -1)
        people = self.people(step)
        tried = {hand: earliest(self.lines[hand], self.stations, step, ready) for hand in people}
        person = min(
            people, key=lambda one: (tried[one] - (patience if one == preferred else 0), one != preferred, one)
        )
        if preferred in tried and tried[preferred] - ready <= patience:
            person = preferred if preferred is not None else person
        if tried[person] >= self.shop.axis.size:
            raise AxisTooShortError
        self.place(order, step, person, tried[person], reserved=False)

    def add_new(self, shown: Schedule) -> Schedule:
        """Dockets that were not in the plan shown go into what is free, the most pressing first."""
        far = self.shop.axis.size
        fresh = [
            order for order in self.shop.orders if order.steps and not any(s.key in self.plan for s in order.steps)
        ]
        for order in sorted(fresh, key=lambda one: (one.due if one.due is not None else far, -one.weight, one.key)):
            for step in order.steps:  # what is kept free for it is its own
                if step.start is not None and step.person is not None:
                    self.lines[step.person].give_back(step.start, step.start + step.slots)
                    self.stations.take(step.station, step.start, step.slots, by=-1)
            self.plan = insert(self.shop, order, self.plan, self.lines, self.stations)
        return self.plan


def _known(shop: Shop, shown: Schedule) -> list[Order]:
    """Dockets of which something was in the plan shown."""
    return [order for order in shop.orders if any(step.key in shown for step in order.steps)]


def _queue(shop: Shop, shown: Schedule) -> list[tuple[int, int, int, Order, Step]]:
    """Steps of what was in the plan shown, in its order; what is new in a docket comes with what is before it."""
    queue = []
    for order in _known(shop, shown):
        last = 0
        for place, step in enumerate(order.steps):
            last = max(last, shown[step.key].start if step.key in shown else last)
            queue.append((last, order.key, place, order, step))
    return sorted(queue, key=lambda one: one[:3])


def _pushed(shop: Shop, shown: Schedule) -> Schedule:
    """Everything in the order of the plan shown, none earlier than there, each as soon as it can be."""
    mending = Mending(shop)
    for last, _, _, order, step in _queue(shop, shown):
        kept = shown.get(step.key)
        mending.put_first(order, step, last if kept else 0, kept.person if kept else None, _HAND_ON_AFTER)
    return mending.add_new(shown)


def _into_gaps(shop: Shop, shown: Schedule) -> Schedule:
    """What can stay stays where it is; the rest goes into what is free."""
    mending = Mending(shop)
    stays: set[tuple[int, int]] = set()
    queue = []
    for order in _known(shop, shown):
        for place, step in enumerate(order.steps):
            kept = shown.get(step.key)
            queue.append((kept.start if kept else 0, order.key, place, order, step))
            fixed = step.start is not None
            if kept is not None and not fixed and kept.person in mending.people(step):
                line = mending.lines[kept.person]
                free = line.fits(kept.start, step.slots)
                if free and not mending.stations.clash(step.station, kept.start, step.slots):
                    line.take(kept.start, kept.start + step.slots)
                    mending.stations.take(step.station, kept.start, step.slots)
                    stays.add(step.key)
    todo = {order.key: list(order.steps) for order in _known(shop, shown)}
    while any(todo.values()):
        _, key = min((_next_start(shown, steps), key) for key, steps in todo.items() if steps)
        step = todo[key].pop(0)
        order = first_of(shop_order for shop_order in shop.orders if shop_order.key == key)
        kept = shown.get(step.key)
        if step.key in stays and kept is not None:
            mine = mending.who.get(step.task, kept.person) == kept.person
            if kept.start >= mending.ready[key] and mine:
                mending.place(order, step, kept.person, kept.start, reserved=True)
                continue
            mending.lines[kept.person].give_back(kept.start, kept.start + step.slots)
            mending.stations.take(step.station, kept.start, step.slots, -1)
        mending.put_first(order, step, 0, kept.person if kept else None)
    return mending.add_new(shown)


def _next_start(shown: Schedule, steps: list[Step]) -> int:
    kept = shown.get(steps[0].key)
    return kept.start if kept else 0
