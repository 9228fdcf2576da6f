"""A larger made-up workshop: seven people, sixty open dockets and a year behind them. Nobody and nothing in it exists.

Stones are those of the small one, made larger or smaller by chance; every size ends in an odd hundredth, so that no
size that the trade quotes as an example is among them.
"""

from __future__ import annotations

import random
from collections.abc import Iterator, Sequence
from contextlib import suppress
from copy import deepcopy
from dataclasses import dataclass, field
from datetime import date, datetime, time, timedelta
from typing import Any
from zlib import crc32

from sqlalchemy.orm import Session

from yarvel.day.axis import Hours
from yarvel.demo.benches import Benches
from yarvel.demo.drawer import drawer
from yarvel.demo.scenario import DOCKETS
from yarvel.demo.year import (
    RULES,
    CameBack,
    DemoJob,
    bought,
    came_back,
    keep_records,
    know_alloys,
    metal_lines,
    shop_records,
    template,
    went_again,
)
from yarvel.figures.errors import JobError
from yarvel.figures.lookup import first_of
from yarvel.workshop.dockets.rows import new_row
from yarvel.workshop.people.person import Person
from yarvel.workshop.storage.schema import ChangeRow, DocketRow, TaskRow, TaskTimeRow
from yarvel.workshop.storage.task_states import DONE, OPEN, STARTED
from yarvel.workshop.store import Store
from yarvel.workshop.work.errands import USUAL
from yarvel.workshop.work.standards import skill_of
from yarvel.workshop.work.tasks import Wanted

OPEN_DOCKETS = 60
_A_DAY, _BACK_EVERY = 3, 6
_READY, _ON_HOLD, _BARE = 5, 3, 12
_FIRST = ("Alder", "Birch", "Copper", "Drift", "Ember", "Fennel", "Gable", "Hollow", "Inlet", "Juniper", "Kiln", "Lark")
_SECOND = ("wharf", "stead", "mere", "gate", "holm", "reach", "field", "ford", "cross", "hill")
_SHOP = ("& Sons, jewellers", "Pawn & Loan", "Gems", "Antiques", "Rings and Things", "Watch & Clock")
_PEOPLE = (
    ("Orla", "bench", ("mounting",)),
    ("Kaspar", "bench", ("mounting", "polishing")),
    ("Ishaan", "lead", ("mounting", "setting", "checking")),
    ("Benno", "bench", ("setting",)),
    ("Marit", "bench", ("polishing", "checking")),
    ("Yusra", "owner", ("checking", "setting")),
    ("Tove", "front desk", ()),
)
_PART_TIME = "Marit"
_YEAR = 365


def fill_large(store: Store, today: date, seed: int = 7) -> None:
    """Fill an empty store: the same seed makes the same workshop."""
    chance = random.Random(seed)
    store.drawer.add(drawer())
    store.house.keep(RULES)
    know_alloys(store)
    people = [store.people.add(name, role, skills) for name, role, skills in _PEOPLE]
    templates = _templates(chance)
    making = _Making(store=store, today=today, chance=chance, people=people, templates=templates, numbers={})
    _past(making)
    keep_records(store, shop_records(making.shops), datetime.combine(today - timedelta(days=_YEAR), time(9)))
    _open(making)
    _absences(store, today, people)
    _out(store)


def _templates(chance: random.Random) -> list[DemoJob]:
    """Pieces of work with what their routes take, in several sizes."""
    templates: list[DemoJob] = []
    for _, item, _, _, job in DOCKETS:
        for _ in range(3):
            with suppress(JobError):  # that size does not go with that head
                templates.append(template(item, _sized(job, chance)))
    return templates


def _sized(job: dict[str, Any], chance: random.Random) -> dict[str, Any]:
    """The same piece for a stone of another size."""
    factor = chance.uniform(0.86, 1.22)
    job_document = deepcopy(job)
    stone = job_document["stone"]
    for name in ("depth_mm", "length_mm", "width_mm", "crown_height_mm", "girdle_mm", "corner_mm"):
        if name in stone:
            stone[name] = _odd(stone[name] * factor)
    if "diameters_mm" in stone:
        stone["diameters_mm"] = [_odd(value * factor) for value in stone["diameters_mm"]]
    stone.pop("declared_ct", None)
    return job_document


def _odd(value: float) -> float:
    """A size that ends in an odd hundredth, and never in five."""
    hundredths = round(value * 100)
    while hundredths % 10 not in (1, 3, 7, 9):
        hundredths += 1
    return hundredths / 100


_WORKED_DAYS = 7
"""For how many days what is open has been worked on."""
_SHOPS = 23
"""How many shops bring work."""


def _customer(chance: random.Random) -> tuple[str, str]:
    """A shop or a person, and which."""
    name = chance.choice(_FIRST) + chance.choice(_SECOND)
    if chance.random() < 0.6:  # shops come again and again: a handful of names, each of one kind of house
        which = crc32(name.encode()) % _SHOPS
        name = _FIRST[which % len(_FIRST)] + _SECOND[which % len(_SECOND)]
        chance.choice(_SHOP)
        return f"{name} {_SHOP[which % len(_SHOP)]}", "shop"
    return f"{chance.choice(('Mr', 'Ms', 'Mx'))} {name}-{chance.choice(_FIRST)}", "person"


@dataclass(kw_only=True)
class _Making:
    """What the workshop is made with; ``numbers`` the last one given out, by year."""

    store: Store
    today: date
    chance: random.Random
    people: Sequence[Person]
    templates: list[DemoJob]
    numbers: dict[str, int]
    shops: set[str] = field(default_factory=set)
    benches: Benches = field(default_factory=lambda: Benches(Hours()))

    def docket(self, taken: date, days: Sequence[int], state: str, **more: Any) -> tuple[DocketRow, DemoJob]:
        """A docket taken in on a day, promised so many days from then, and what piece it is."""
        piece = self.chance.choice(self.templates)
        customer, kind = _customer(self.chance)
        if kind == "shop":
            self.shops.add(customer)
        own_stone = kind == "person" and self.chance.random() < 0.4
        row = new_row(
            datetime.combine(taken, time(9)) + timedelta(minutes=self.chance.randrange(0, 400)),
            number=self._number(taken),
            customer=customer,
            customer_kind=kind,
            item=piece.item,
            promised_on=taken + timedelta(days=self.chance.choice(days)),
            state=state,
            job_document=piece.job,
            estimate=piece.estimate(taken),
            stones_price=0.0 if own_stone else float(self.chance.randrange(35, 900, 5)),
            **more,
        )
        return row, piece

    def again(self, taken: date, before: DocketRow | None) -> tuple[DocketRow, CameBack]:
        """A head that came back on a day, of a docket ``before`` or of another house, and was mended."""
        claws = [
            template
            for template in self.templates
            if template.claws and (before is None or template.job == before.job_document)
        ]
        return_made = came_back(self.chance, self.chance.choice(claws), taken)
        customer, kind = _customer(self.chance)
        row = new_row(
            datetime.combine(taken, time(10)) + timedelta(minutes=self.chance.randrange(0, 300)),
            number=self._number(taken),
            customer=customer if before is None else before.customer,
            customer_kind=kind if before is None else before.customer_kind,
            item=f"{return_made.piece.item}, to be mended",
            promised_on=taken + timedelta(days=6),
            state="handed over",
            job_document=return_made.piece.job,
            claw_chart=return_made.chart,
            earlier_number="" if before is None else before.number,
        )
        return row, return_made

    def handed_over(self, moment: datetime) -> datetime:
        """When a piece is fetched that is ready at a moment: while the house is open."""
        return self.benches.open_at(moment)

    def _number(self, at: date) -> str:
        year = f"{at:%y}"
        self.numbers[year] = self.numbers.get(year, 0) + 1
        return f"{year}-{self.numbers[year]:04d}"


def _workdays(first: date, last: date) -> Iterator[date]:
    day = first
    while day < last:
        if day.weekday() < 5:
            yield day
        day += timedelta(days=1)


def _past(making: _Making) -> None:
    """Dockets of a year that were handed over, each task with the time that it took; metal weighed out and back; a head
    now and then that came back."""
    store, today, chance = making.store, making.today, making.chance
    rows: list[tuple[DocketRow, Sequence[Wanted], DemoJob | None]] = []
    for number, day in enumerate(_workdays(today - timedelta(days=_YEAR), today - timedelta(days=12))):
        for _ in range(_A_DAY):
            row, piece = making.docket(day, (7, 8, 9, 10, 14), "handed over")
            row.updated_at = making.handed_over(row.created_at + timedelta(days=chance.choice((5, 6, 7, 8, 9, 10))))
            rows.append((row, piece.wanted, piece))
        if number % _BACK_EVERY == 0:
            again = _came_back(
                making, day, [docket_row for docket_row, _, piece in rows if piece is not None and piece.claws]
            )
            if again is not None:
                rows.append(again)
    with store.transaction() as session:
        session.add_all([row for row, _, _ in rows])
        session.flush()
        tasks = [task for row, wanted, _ in rows for task in _done(making, row, wanted)]
        session.add_all([task for task, _ in tasks])
        session.flush()
        begun, ended = _times(session, making, [(task, begin, _taken(task, chance)) for task, begin in tasks])
        for row, _, _ in rows:
            row.updated_at = max(row.updated_at, making.handed_over(ended[row.id]))
            session.add(
                ChangeRow(docket_id=row.id, at=row.created_at, by="Tove", field="docket", before=None, after="taken in")
            )
            given = ChangeRow(docket_id=row.id, at=row.updated_at, by="Tove", field="state")
            given.before, given.after = "ready", "handed over"
            session.add(given)
        maker = {task.docket_id: task.person_id for task, _ in tasks if skill_of(task.operation) == "mounting"}
        lines = [
            line
            for row, _, piece in rows
            if piece is not None and row.id in maker
            for line in metal_lines(chance, piece, row.id, maker[row.id] or 0, begun[row.id], row.updated_at)
        ]
        session.add_all([*bought(lines, datetime.combine(today - timedelta(days=_YEAR + 1), time(9))), *lines])


def _came_back(
    making: _Making, day: date, earlier: Sequence[DocketRow]
) -> tuple[DocketRow, Sequence[Wanted], None] | None:
    """A head in for repair on a day: every second one of this house, made at least a quarter before."""
    ours = [row for row in earlier if (day - row.updated_at.date()).days > 90]
    before = making.chance.choice(ours) if ours and making.chance.random() < 0.5 else None
    try:
        row, came_back = making.again(day, before)
    except JobError:
        return None  # that head cannot be mended that way
    row.updated_at = making.handed_over(went_again(row.created_at, making.chance))
    return row, came_back.wanted, None


def _done(making: _Making, row: DocketRow, wanted: Sequence[Wanted]) -> list[tuple[TaskRow, datetime]]:
    """The tasks of a docket that was handed over, each with when it was begun."""
    begin, done_tasks = row.created_at + timedelta(hours=20), []
    for position, wanted_task in enumerate(wanted):
        done_tasks.append(
            (_task(row.id, position, wanted_task, DONE, _able(making.people, wanted_task, making.chance).id), begin)
        )
        begin += timedelta(minutes=wanted_task.minutes + making.chance.randrange(30, 400))
    return done_tasks


def _taken(task: TaskRow, chance: random.Random) -> float:
    """Minutes that a task took."""
    return task.standard_minutes * chance.lognormvariate(0.05, 0.28)


def _times(
    session: Session, making: _Making, tasks: Sequence[tuple[TaskRow, datetime, float]]
) -> tuple[dict[int, datetime], dict[int, datetime]]:
    """Clocks of tasks that were to begin at these moments and took so many minutes: in the house's hours, one after the
    other at each bench and along each docket. When each docket's first began, and its last ended."""
    begun: dict[int, datetime] = {}
    ended: dict[int, datetime] = {}
    for task, begin, taken in sorted(tasks, key=lambda one: one[1]):
        earliest = max(begin, ended.get(task.docket_id, begin))
        worked = making.benches.work(task.person_id or 0, earliest, taken)
        for start, end in worked:
            session.add(TaskTimeRow(task_id=task.id, person_id=task.person_id, started_at=start, stopped_at=end))
        begun.setdefault(task.docket_id, worked[0][0])
        ended[task.docket_id] = worked[-1][1]
    return begun, ended


def _open(making: _Making) -> None:
    """Sixty dockets in every state; some of their work is done, some is in hand, some nobody has given out."""
    store, today, chance, people = making.store, making.today, making.chance, making.people
    states = ["ready"] * _READY + ["on hold"] * _ON_HOLD + ["taken in"] * _BARE
    states += ["in work"] * (OPEN_DOCKETS - len(states))
    chance.shuffle(states)
    now = store.now()
    in_hand: set[int] = set()
    worked: list[tuple[TaskRow, datetime, float]] = []
    began_first = datetime.combine(today - timedelta(days=_WORKED_DAYS), time(8))
    with store.transaction() as session:
        for state in states:
            ago = chance.randrange(0, 11)
            importance = chance.choice(("",) * 8 + ("urgent", "may wait"))
            promised = range(ago + 1, ago + 14)
            row, piece = making.docket(today - timedelta(days=ago), promised, state, importance=importance)
            wanted = piece.wanted
            row.created_at = row.updated_at = min(row.created_at, now)
            session.add(row)
            session.flush()
            session.add(
                ChangeRow(docket_id=row.id, at=row.created_at, by="Tove", field="docket", before=None, after="taken in")
            )
            if state == "taken in":
                continue
            done = len(wanted) if state == "ready" else chance.choice((0, 0, 1, 2, 3, 4))
            for position, wanted_task in enumerate(wanted):
                who = _able(people, wanted_task, chance)
                begins = state == "in work" and position == done and who.id not in in_hand and len(in_hand) < 3
                given = position < done or begins
                task = _task(
                    row.id,
                    position,
                    wanted_task,
                    DONE if position < done else STARTED if begins else OPEN,
                    who.id if given else None,
                )
                session.add(task)
                session.flush()
                if position == 0 and done and skill_of(wanted_task.operation) == "mounting":
                    ended = datetime.combine(today - timedelta(days=1), time(14, 20)) if state == "ready" else None
                    began = datetime.combine(today - timedelta(days=3), time(8, chance.randrange(60)))
                    session.add_all(metal_lines(chance, piece, row.id, who.id, began, ended))
                if position < done:
                    worked.append((task, began_first, _taken(task, chance)))
                elif begins:
                    in_hand.add(who.id)
                    session.add(TaskTimeRow(task_id=task.id, person_id=who.id, started_at=now - timedelta(minutes=6)))
        _times(session, making, worked)


def _task(docket_id: int, position: int, one: Wanted, state: str, person_id: int | None) -> TaskRow:
    return TaskRow(
        docket_id=docket_id,
        position=position,
        operation=one.operation,
        state=state,
        person_id=person_id,
        standard_minutes=one.minutes,
        wait_minutes=one.wait,
        station=one.station,
        note="",
        ticks=[],
    )


def _able(people: Sequence[Person], one: Wanted, chance: random.Random) -> Person:
    return chance.choice([person for person in people if skill_of(one.operation) in person.skills])


def _absences(store: Store, today: date, people: Sequence[Person]) -> None:
    """One works in the mornings only, another has a day off next week."""
    by_name = {person.name: person for person in people}
    store.day.keep_own_week(by_name[_PART_TIME].id, (((8 * 60, 12 * 60 + 15),),) * 5 + ((), ()))
    off = first_of(day for day in _workdays(today + timedelta(days=3), today + timedelta(days=12)))
    begins = datetime.combine(off, time())
    store.day.add_absence(by_name["Kaspar"].id, begins, begins + timedelta(days=1), "day off")


def _out(store: Store) -> None:
    """One piece is set by an outworker, another is hallmarked when it is finished: those with most time left."""
    ahead: dict[int, dict[str, int]] = {}
    for task in store.tasks.tasks(with_done=False):
        ahead.setdefault(task.docket_id, {})[task.operation] = task.id
    last = [tasks for tasks in ahead.values() if {"seat", "set", "finish"} <= tasks.keys()]
    outworker, hallmark = (
        first_of(errand for errand in USUAL if errand.key == key) for key in ("outworker", "hallmark")
    )
    store.day.errands.send(last[-1]["seat"], outworker.operation, "stone in its bag", more=(last[-1]["set"],))
    store.day.errands.send(last[-2]["finish"], hallmark.operation)
