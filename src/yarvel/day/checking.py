"""Holds a plan against its workshop. Knows nothing of how plans are made: it walks the minutes."""

from __future__ import annotations

from yarvel.day.shop import Schedule, Shop


def faults(shop: Shop, plan: Schedule) -> list[str]:
    """Everything that cannot be done as it is planned, in words; empty where all of it can."""
    problems: list[str] = []
    busy: dict[tuple[int, int], tuple[int, int]] = {}
    at_station: dict[tuple[str, int], int] = {}
    for order in shop.orders:
        done = order.release
        who: dict[int, int] = {}
        for step in order.steps:
            name = f"{order.number} step {step.key}"
            place = plan.get(step.key)
            if place is None:
                problems.append(f"{name} is not planned")
                continue
            end = place.start + step.slots
            if place.start < done:
                problems.append(f"{name} begins before what comes first is over")
            if place.person not in step.people and place.person != step.person:
                problems.append(f"{name} is given to hands that cannot do it")
            if step.person is not None and place.person != step.person:
                problems.append(f"{name} is pinned to somebody else")
            if who.setdefault(step.task, place.person) != place.person:
                problems.append(f"{name}: its task is divided between two")
            if step.start is not None and place.start != step.start:
                problems.append(f"{name} does not begin when it is pinned to")
            problems += _one_go(shop, name, place.start, end)
            for slot in range(max(place.start, 0), min(end, shop.axis.size)):
                if not step.running and any(begin <= slot < until for begin, until in shop.shut.get(step.station, ())):
                    problems.append(f"{name}: nothing can be done at {step.station} then")
                    break
                other = busy.setdefault((place.person, slot), step.key)
                if other != step.key:
                    problems.append(f"{name} and {other} are in the same hands at once")
                    break
                if any(begin <= slot < until for begin, until in shop.hands[place.person].away):
                    problems.append(f"{name} is planned while its hands are away")
                    break
                if step.station in shop.stations:
                    spot = (step.station, slot)
                    at_station[spot] = at_station.get(spot, 0) + 1
                    if at_station[spot] > shop.stations[step.station]:
                        problems.append(f"{name}: too many at the {step.station}")
                        break
            done = _over(shop, end, step.wait)
    return problems


def _one_go(shop: Shop, name: str, start: int, end: int) -> list[str]:
    """A step lies on the axis, in a single block of open hours."""
    axis = shop.axis
    if start < 0 or end > axis.size:
        return [f"{name} is outside the days that are laid out"]
    if axis.block_of[start] != axis.block_of[end - 1]:
        return [f"{name} crosses a break or a night"]
    return []


def _over(shop: Shop, end: int, wait: float) -> int:
    """The first slot after a wait, found by walking on by the clock."""
    if wait <= 0:
        return end
    axis = shop.axis
    over = axis.end_of(end)
    slot = end
    while slot < axis.size and (axis.moment_of(slot) - over).total_seconds() < wait * 60:
        slot += 1
    return slot
