"""What an outworker could keep: of each docket that a plan has late, the work that is best done out of the house: one
task, or several of one skill that follow each other.

Nothing else is moved for it: what comes before stays where it is, the task is packed on a day on which it is fetched,
and what follows goes into what is free once it is back.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Sequence

from msgspec import Struct
from msgspec.structs import replace

from yarvel.day.dispatch import AxisTooShortError
from yarvel.day.inserting import anew
from yarvel.day.shop import ROOM_FOR_ALL, Order, Schedule, Shop, Step, late_days
from yarvel.figures.lookup import first_of

_MOST = 8
"""Of how many late dockets a way is sought, those first that weigh most."""


class Outwork(Struct, frozen=True, kw_only=True):
    """What an outworker may be given: ``tasks``, each with the skill it wants; the ``station`` where they are fetched
    and the spans of slots in which that is ``shut``; ``wait`` minutes until they are back; ``people`` who pack them in
    ``slots``."""

    tasks: tuple[tuple[int, str], ...]
    station: str
    shut: tuple[tuple[int, int], ...]
    wait: float
    people: tuple[int, ...]
    slots: int

    def place(self, shop: Shop) -> Shop:
        """The shop with the place where they are fetched."""
        stations = {**shop.stations, self.station: ROOM_FOR_ALL}
        return replace(shop, stations=stations, shut={**shop.shut, self.station: self.shut})


class Way(Struct, frozen=True, kw_only=True):
    """A docket (its key) is ``late`` so many days, and not ``now`` as by the plan, if an outworker does these tasks of
    it: packed and fetched from slot ``packed`` on, gone on with from slot ``back`` on."""

    order: int
    tasks: tuple[int, ...]
    packed: int
    back: int
    late: int
    now: int


def ways_out(shop: Shop, plan: Schedule, work: Outwork, stopped: Callable[[], bool] = lambda: False) -> list[Way]:
    """Of each late docket the work that would help most, the least of it; those first that it helps most."""
    wide, offers = work.place(shop), []
    lates = [(order.weight * days, order) for order in shop.orders if (days := _late(shop, order, plan)) > 0]
    for _, order in sorted(lates, key=lambda one: -one[0])[:_MOST]:
        if stopped():
            break
        lengths: Counter[int] = Counter()
        for step in order.steps:
            lengths[step.task] += step.slots
        tried = [way for run in runs(order, work) if (way := _tried(wide, order, plan, work, run)) is not None]
        best = min(tried, key=lambda way: (way.late, sum(lengths[task] for task in way.tasks), way.tasks), default=None)
        if best is not None and best.late < best.now:
            offers.append((order.weight * (best.now - best.late), best))
    return [way for _, way in sorted(offers, key=lambda one: (-one[0], one[1].order))]


def given_out(order: Order, work: Outwork, tasks: Sequence[int]) -> Order:
    """A docket, some of whose tasks, one after the other, are only packed here."""
    packed = Step(task=tasks[0], piece=0, slots=work.slots, people=work.people, station=work.station, wait=work.wait)
    first = first_of(step for step in order.steps if step.task == tasks[0])
    steps = [packed if step is first else step for step in order.steps if step.task not in tasks or step is first]
    return replace(order, steps=tuple(steps))


def runs(order: Order, work: Outwork) -> list[tuple[int, ...]]:
    """What of a docket may be given out at once: a task, or several of one skill in a row. Nothing of it, and of what
    follows, is in hand or has its time fixed."""
    skills, order_of = dict(work.tasks), list(dict.fromkeys(step.task for step in order.steps))
    at_work = [step.task for step in order.steps if step.start is not None or step.running]
    open_ones = order_of[order_of.index(at_work[-1]) + 1 :] if at_work else order_of
    task_runs: list[tuple[int, ...]] = []
    for place, task in enumerate(open_ones):
        run: tuple[int, ...] = ()
        for other in open_ones[place:]:
            if other not in skills or skills[other] != skills.get(task):
                break
            run = (*run, other)
            task_runs.append(run)
    return task_runs


def _late(shop: Shop, order: Order, plan: Schedule) -> int:
    if order.due is None or not order.steps:
        return 0
    last = order.steps[-1]
    return late_days(shop.axis, plan[last.key].start + last.slots, order.due)


def laid(shop: Shop, order: Order, plan: Schedule, work: Outwork, tasks: Sequence[int]) -> Schedule | None:
    """The plan with these tasks of a docket given out, nothing else moved; None where it does not come to an end.
    ``shop`` has the place where it is fetched."""
    first = first_of(place for place, step in enumerate(order.steps) if step.task == tasks[0])
    try:
        return anew(shop, order, plan, first, given_out(order, work, tasks).steps[first:])
    except AxisTooShortError:
        return None


def _tried(shop: Shop, order: Order, plan: Schedule, work: Outwork, tasks: tuple[int, ...]) -> Way | None:
    """How late the docket is with these tasks given out; None where it does not come to an end."""
    plan_without = laid(shop, order, plan, work, tasks)
    if plan_without is None or order.due is None:
        return None
    packed, last = plan_without[tasks[0], 0].start, given_out(order, work, tasks).steps[-1]
    back = int(shop.axis.after(work.wait)[packed + work.slots])
    done = back if last.task == tasks[0] else plan_without[last.key].start + last.slots
    return Way(
        order=order.key,
        tasks=tasks,
        packed=packed,
        back=back,
        late=late_days(shop.axis, done, order.due),
        now=_late(shop, order, plan),
    )
