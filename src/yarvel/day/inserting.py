"""One docket into what is free: each step as early as it can be, nothing else moves. Milliseconds."""

from __future__ import annotations

from msgspec.structs import replace

from yarvel.day.dispatch import AxisTooShortError
from yarvel.day.shop import Assignment, Order, Schedule, Shop, Step
from yarvel.day.timeline import Stations, Timeline, timelines


def insert(
    shop: Shop, order: Order, plan: Schedule, lines: list[Timeline], stations: Stations, begin: int = 0, who: int = -1
) -> Schedule:
    """One more docket into what is free: each step as early as it can be, nothing else moves. ``lines`` and
    ``stations`` hold what is taken, and hold this docket too afterwards. ``who`` has had what comes before.

    Raises
    ------
    AxisTooShortError : it does not fit on the axis.
    """
    axis, ready = shop.axis, max(order.release, begin)
    schedule: Schedule = dict(plan)
    for step in order.steps:
        people = (step.person,) if step.person is not None else (who,) if step.piece else step.people
        if step.start is not None:
            ready = max(ready, step.start)
        start, person = min((earliest(lines[hand], stations, step, ready), hand != who, hand) for hand in people)[::2]
        if start >= axis.size:
            raise AxisTooShortError
        lines[person].take(start, start + step.slots)
        stations.take(step.station, start, step.slots)
        schedule[step.key] = Assignment(person, start)
        who, ready = person, int(axis.after(step.wait)[start + step.slots])
    return schedule


def earliest(line: Timeline, stations: Stations, step: Step, ready: int) -> int:
    """Where a step fits first in somebody's time and at its station; the axis' size for nowhere."""
    start = line.next(ready, step.slots)
    while later := stations.clash(step.station, start, step.slots):
        start = line.next(start + later, step.slots)
    return start


def taken(shop: Shop, plan: Schedule) -> tuple[list[Timeline], Stations]:
    """Everybody's time and the stations' room that a plan takes."""
    lines, stations = timelines(shop), Stations(shop)
    for _, step in shop.steps():
        place = plan[step.key]
        lines[place.person].take(place.start, place.start + step.slots)
        stations.take(step.station, place.start, step.slots)
    return lines, stations


def anew(shop: Shop, order: Order, plan: Schedule, first: int, steps: tuple[Step, ...]) -> Schedule:
    """The plan with these steps in the place of a docket's from the ``first`` one on, in what is free; what comes
    before them, and all others, stay where they are.

    Raises
    ------
    AxisTooShortError : they do not fit on the axis.
    """
    lines, stations = taken(shop, plan)
    ready, who, left = order.release, -1, order.steps[first:]
    for step in order.steps[:first]:
        who = plan[step.key].person
        ready = int(shop.axis.after(step.wait)[plan[step.key].start + step.slots])
    for step in left:
        place = plan[step.key]
        lines[place.person].give_back(place.start, place.start + step.slots)
        stations.take(step.station, place.start, step.slots, by=-1)
    gone = {step.key for step in left}
    others = {key: place for key, place in plan.items() if key not in gone}
    return insert(shop, replace(order, steps=steps, release=ready), others, lines, stations, who=who)
