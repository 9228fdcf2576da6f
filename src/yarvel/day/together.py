"""Heats and castings that several dockets share, merged before anything is planned: one pair of hands, one begin.

Every docket of such a heat keeps its own step, all of them fixed to the same time: one in the hands that do it, the
others in hands that stand beside them and count for nothing. What comes before is fixed too, so that nothing can push
it past the heat."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from msgspec import Struct
from msgspec.structs import replace

from yarvel.day.dispatch import SETTINGS, AxisTooShortError, dispatch
from yarvel.day.mending import mend
from yarvel.day.shop import Assignment, Hands, Schedule, Shop, Step, pieces
from yarvel.day.timeline import Stations, Timeline
from yarvel.figures.lookup import first_of

_TRIED = 6
"""Settings of the dispatch by which pieces go apart, where no plan was shown yet."""
EACH_MORE = 0.25
"""What every further piece adds to the longest, as a share of its own time: it is laid out, watched and taken off (from
memory)."""


class Beside(Struct, frozen=True):
    """A task that is done together with others (``tasks``, the one that leads first): in whose hands (a place in the
    shop's), and the ``stand_in`` that its step lies in."""

    person: int
    stand_in: int
    tasks: tuple[int, ...]

    def share(self, task: int) -> tuple[int, int]:
        """Which of how many a task is."""
        return self.tasks.index(task), len(self.tasks)


def joined_slots(slots: Sequence[int]) -> int:
    """How long several take together: the longest, and something for each of the others."""
    longest = max(slots)
    return longest + round(EACH_MORE * (sum(slots) - longest))


def together(
    shop: Shop, groups: Sequence[Sequence[int]], shown: Schedule
) -> tuple[Shop, dict[int, Beside], tuple[tuple[int, ...], ...]]:
    """The shop with these groups of tasks (the first leads: its person and its pin are theirs) each at one time; where
    each of them lies; and the groups of whom nobody can do all, or a docket of which is in another heat already. A heat
    stays where the plan ``shown`` has it, if it can."""
    of = {step.task: order.key for order, step in shop.steps()}
    wanted: list[tuple[int, ...]] = []
    refused: list[tuple[int, ...]] = []
    taken: set[int] = set()
    for group in groups:
        left = tuple(task for task in group if task in of)
        dockets = {of[task] for task in left}
        if len(left) > 1:
            (refused if dockets & taken else wanted).append(left)
            taken |= dockets
    if not wanted:
        return shop, {}, tuple(refused)
    try:
        apart = mend(shop, shown) if shown else dispatch(shop, SETTINGS[:_TRIED])
    except AxisTooShortError:  # whoever plans it says so
        return shop, {}, ()
    joining = _Joining(shop, apart, shown, wanted)
    refused += [group for group in sorted(wanted, key=joining.ready) if not joining.join(group)]
    return joining.shop, joining.beside, tuple(refused)


class _Joining:
    """Heats given their times one after the other; ``apart`` is a plan in which everybody goes by themselves."""

    def __init__(self, shop: Shop, apart: Schedule, shown: Schedule, groups: Sequence[Sequence[int]]) -> None:
        joined = {task for group in groups for task in group}
        self._apart, self._shown = apart, shown
        self._hands = list(shop.hands)
        self._orders = {order.key: order for order in shop.orders}
        self._of = {step.task: order.key for order in shop.orders for step in order.steps}
        self._first = shop
        self._lines = [Timeline(shop.axis, hand.away) for hand in shop.hands]
        self._stations = Stations(shop)
        for _, step in shop.steps():
            if step.start is not None and step.person is not None and step.task not in joined:
                self._take(step.person, step.station, step.start, step.slots)
        self.beside: dict[int, Beside] = {}
        for task in sorted(joined):
            self._fix_before(task)

    @property
    def shop(self) -> Shop:
        """As far as heats have their times."""
        orders = tuple(self._orders[order.key] for order in self._first.orders)
        return replace(self._first, hands=tuple(self._hands), orders=orders)

    def ready(self, group: Sequence[int]) -> int:
        """When what comes before is over, and waited for, of all of a group."""
        return max(self._ready(task) for task in group)

    def _ready(self, task: int) -> int:
        order = self._orders[self._of[task]]
        first = first_of(place for place, step in enumerate(order.steps) if step.task == task)
        if not first:
            return order.release
        before = order.steps[first - 1]
        return int(self._first.axis.after(before.wait)[self._apart[before.key].start + before.slots])

    def join(self, group: Sequence[int]) -> bool:
        """Give a group its time; False where nobody can do all of it, or no time is left."""
        steps = {task: self._steps(task) for task in group}
        able = set.intersection(*(set(step_row[0].people) for step_row in steps.values()))
        lead = steps[group[0]][0]
        person = lead.person if lead.person is not None else self._person(group, able)
        if person is None or person not in able | {lead.person}:
            return False
        lengths = pieces(joined_slots([sum(step.slots for step in step_row) for step_row in steps.values()]))
        if lead.running:  # it goes on as it is
            lengths = [step.slots for step in steps[group[0]]]
        begins = self._begins(group, person, lead, lengths)
        if begins is None:
            return False
        for number, task in enumerate(group):
            stand_in = person if number == 0 else self._stand_in(task, person)
            self._lay(task, stand_in, number == 0, begins, lengths)
            self.beside[task] = Beside(person, stand_in, tuple(group))
        return True

    def _steps(self, task: int) -> list[Step]:
        return [step for step in self._orders[self._of[task]].steps if step.task == task]

    def _person(self, group: Sequence[int], able: set[int]) -> int | None:
        """Who does it: whoever had one of them, the last to be ready first, else the first who can."""
        by_readiness = sorted(group, key=lambda task: -self._ready(task))
        had = [self._apart[task, 0].person for task in by_readiness]
        return next((hand for hand in had if hand in able), min(able, default=None))

    def _fix_before(self, task: int) -> None:
        """What comes before it stays where it was planned apart."""
        order = self._orders[self._of[task]]
        steps, reached = [], False
        for step in order.steps:
            reached = reached or step.task == task
            place = self._apart[step.key]
            if not reached and step.start is None:
                step = replace(step, person=place.person, start=place.start)
                self._take(place.person, step.station, place.start, step.slots)
            steps.append(step)
        self._orders[order.key] = replace(order, steps=tuple(steps))

    def _begins(self, group: Sequence[int], person: int, lead: Step, lengths: Sequence[int]) -> list[int] | None:
        """When each piece of it begins: where it was shown, if all are ready by then, else as soon as it can."""
        if lead.running and lead.start is not None:
            self._take(person, lead.station, lead.start, lengths[0])
            rest = self._begins(group, person, replace(lead, running=False), lengths[1:])
            return None if rest is None else [lead.start, *rest]
        earliest = max(self.ready(group), lead.start or 0)
        before = self._shown.get((group[0], 0))
        if before is not None and before.start >= earliest and lead.start is None:
            earliest = before.start
        begin_slots, at = [], earliest
        for slots in lengths:
            while True:
                at = self._lines[person].next(at, slots)
                if at >= self._first.axis.size:
                    return None
                later = self._stations.clash(lead.station, at, slots)
                if not later:
                    break
                at += later
            begin_slots.append(at)
            self._take(person, lead.station, at, slots)
            at += slots
        return begin_slots

    def _take(self, person: int, station: str, start: int, slots: int) -> None:
        self._lines[person].take(start, start + slots)
        self._stations.take(station, start, slots)

    def _stand_in(self, task: int, person: int) -> int:
        away = self._first.hands[person].away  # there when whoever does it is there
        self._hands.append(Hands(-task, "", frozenset(), away))
        return len(self._hands) - 1

    def _lay(self, task: int, person: int, leads: bool, begins: Sequence[int], lengths: Sequence[int]) -> None:
        """The docket's own step of it, fixed; only that of the one who leads has hands and a station."""
        order = self._orders[self._of[task]]
        own = self._steps(task)
        laid = [
            Step(
                task=task,
                piece=number,
                slots=slots,
                people=(person,),
                station=own[0].station if leads else "",
                wait=own[-1].wait if number + 1 == len(lengths) else 0.0,
                person=person,
                start=begin,
                running=own[0].running and number == 0,
            )
            for number, (begin, slots) in enumerate(zip(begins, lengths, strict=True))
        ]
        first = order.steps.index(own[0])
        steps = (*order.steps[:first], *laid, *order.steps[first + len(own) :])
        self._orders[order.key] = replace(order, steps=steps)


def as_shown(shown: Schedule, beside: Mapping[int, Beside]) -> Schedule:
    """A plan of real hands with what is done together in the hands that stand in."""
    schedule = dict(shown)
    for (task, piece), place in shown.items():
        if task in beside:
            schedule[task, piece] = Assignment(beside[task].stand_in, place.start)
    return schedule
