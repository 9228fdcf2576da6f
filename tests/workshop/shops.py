"""Made-up workshops of any size, by chance from a seed; and published job shops as workshops."""

from __future__ import annotations

import random
from collections.abc import Sequence
from datetime import date, datetime, time, timedelta
from pathlib import Path

import numpy as np
from msgspec.structs import replace

from yarvel.clock import kept
from yarvel.day.axis import Axis, Hours
from yarvel.day.inserting import insert
from yarvel.day.shop import Hands, Order, Schedule, Shop, Step, ends, pieces
from yarvel.day.timeline import Stations, timelines
from yarvel.workshop.store import Store
from yarvel.workshop.work.tasks import Wanted

SKILLS = ("mounting", "setting", "polishing", "checking")
MONDAY = date(2031, 3, 3)
TIGHT = 0.8
"""The load at which the dates of a made-up workshop can just be kept."""
ALL_DAY = Hours((((0, 1440),),) * 7)

FT06 = (
    ((2, 1), (0, 3), (1, 6), (3, 7), (5, 3), (4, 6)),
    ((1, 8), (2, 5), (4, 10), (5, 10), (0, 10), (3, 4)),
    ((2, 5), (3, 4), (5, 8), (0, 9), (1, 1), (4, 7)),
    ((1, 5), (0, 5), (2, 5), (3, 3), (4, 8), (5, 9)),
    ((2, 9), (1, 3), (4, 5), (5, 4), (0, 3), (3, 1)),
    ((1, 3), (3, 3), (5, 9), (0, 10), (4, 4), (2, 1)),
)
"""Machine and time of each operation, job by job. Source: H. Fisher and G. L. Thompson, Probabilistic learning
combinations of local job-shop scheduling rules, in Industrial Scheduling (1963); written down from memory. The shortest
plan takes 55, and no plan takes less."""


class NoBreaks(Axis):
    """Days without a break or a night: machines do not sleep."""

    def __init__(self, count: int) -> None:
        super().__init__(ALL_DAY, MONDAY, count)
        self._edges = np.array([0, self.size])
        self.block_of = np.zeros(self.size, dtype=np.int64)


def one_docket(folder: Path, work: Sequence[Wanted]) -> Store:
    """A store, on :data:`MONDAY` at eight: Orla, who can do everything, and a docket of these tasks for Thursday."""
    store = Store(folder / "a.sqlite", clock=lambda: kept(datetime.combine(MONDAY, time(8))))
    store.people.add("Orla", "lead", SKILLS)
    made = store.new_docket("Saltmarsh", "Ring", MONDAY + timedelta(days=3), state="in work")
    store.tasks.plan_tasks(made.id, work)
    return store


def job_shop(jobs: tuple[tuple[tuple[int, int], ...], ...], due: int) -> Shop:
    """A published job shop: a machine is a pair of hands, a unit of time one slot, every job promised by ``due``."""
    machines = 1 + max(machine for job in jobs for machine, _ in job)
    hands = tuple(Hands(place, f"machine {place}", frozenset()) for place in range(machines))
    orders = tuple(
        Order(
            key=key,
            number=f"job {key}",
            steps=tuple(
                Step(task=10 * key + at, piece=0, slots=slots, people=(on,)) for at, (on, slots) in enumerate(job)
            ),
            due=due,
        )
        for key, job in enumerate(jobs)
    )
    return Shop(NoBreaks(10), hands, orders)


def made_up(dockets: int, operations: int, people: int, load: float, seed: int, days: int = 60) -> Shop:
    """Dockets × operations × people. At load 0.8 the dates are tight: there is a plan in which nobody is late, in an
    order that is not the dockets', and every docket is promised for the evening on which that has it done. At 1.0 they
    fit: a quarter more time; at 0.5 they cannot be kept: five eighths of it."""
    chance = random.Random(seed)
    axis = Axis(Hours(), MONDAY, days)
    hands = []
    for place in range(people):
        skills = frozenset({SKILLS[place % len(SKILLS)], chance.choice(SKILLS)})
        away = []
        if chance.random() < 0.4:
            day = chance.randrange(1, 5)
            away.append((int(axis.evenings[day - 1]), int(axis.evenings[day]) - chance.choice((0, 40))))
        hands.append(Hands(place, f"hands {place}", skills, tuple(away)))
    tasks, whole = 0, []
    for _ in range(dockets):
        steps: list[Step] = []
        for _ in range(operations):
            able = tuple(place for place, one in enumerate(hands) if chance.choice(SKILLS) in one.skills)
            able = able or (chance.randrange(people),)
            tasks += 1
            lengths = pieces(axis.slots(chance.choice((10, 15, 20, 30, 45, 60, 90, 150))))
            wait = chance.choice((0, 0, 0, 0, 10, 20, 60, 600, 2880))
            station = chance.choice(("", "", "torch", "motor", "laser"))
            for piece, slots in enumerate(lengths):
                last = piece + 1 == len(lengths)
                steps.append(
                    Step(
                        task=tasks,
                        piece=piece,
                        slots=slots,
                        people=able,
                        station=station,
                        wait=float(wait) if last else 0.0,
                    )
                )
        whole.append(tuple(steps))
    weights = [chance.choice((1.0, 1.0, 1.0, 4.0, 0.4)) for _ in whole]
    begins = [chance.choice((0, 0, 0, 30)) for _ in whole]
    undated = [
        Order(key=key, number=f"31-{key:04d}", steps=steps, due=None, weight=weights[key], release=begins[key])
        for key, steps in enumerate(whole)
    ]
    shop = Shop(axis, tuple(hands), tuple(undated), {"torch": 2, "motor": 3, "laser": 1})
    lines, stations, plan = timelines(shop), Stations(shop), Schedule()
    for order in chance.sample(undated, len(undated)):
        plan = insert(shop, order, plan, lines, stations)
    done = ends(shop, plan)
    dated = [replace(one, due=_evening(axis, done[one.key] * (load / TIGHT))) for one in undated]
    return replace(shop, orders=tuple(dated))


def _evening(axis: Axis, slot: float) -> int:
    """The evening of a slot's day."""
    return int(axis.evenings[int((axis.evenings >= slot).argmax())])
