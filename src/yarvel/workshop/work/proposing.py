"""A date that can be kept, for a docket that is being taken in: by the plan of the day, and how sure it is."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date

import numpy as np
from msgspec import Struct
from msgspec.structs import replace

from yarvel.day.dispatch import AxisTooShortError
from yarvel.day.promise import executed, judge, redispatched, with_order
from yarvel.day.shop import Order, Schedule, Shop
from yarvel.day.standing import UnsoundError, as_it_stands
from yarvel.workshop.work.day_reading import DayReading, read
from yarvel.workshop.work.snapshot import Snapshot
from yarvel.workshop.work.standards import label_of
from yarvel.workshop.work.tasks import Wanted

_AGAIN = 8
_MANY_STEPS = 1500


class Proposal(Struct, frozen=True, kw_only=True):
    """``planned`` the day by the plan and in what share of executions it is kept; ``sure`` the day that nine of ten
    keep (None: beyond the days laid out); ``soonest`` the same if whoever is free takes what is ready. ``promised`` and
    ``kept`` where a day was promised already. ``waits_for`` what holds it up longest, in words."""

    planned: date
    chance: float
    sure: date | None
    soonest: date | None
    promised: date | None
    kept: float | None
    waits_for: str

    @property
    def best(self) -> date:
        """What may be promised."""
        return self.sure or self.planned

    def text(self) -> str:
        """The proposal in two sentences, with why."""
        parts = [f"by the plan ready {self.planned:%a %-d %b}, kept {of_ten(self.chance)}"]
        if self.sure is not None and self.sure != self.planned:
            parts.append(f"{self.sure:%a %-d %b} is kept 9 times of 10")
        if self.soonest is not None and self.sure is not None and self.soonest < self.sure:
            parts.append(f"{self.soonest:%a %-d %b} if whoever is free takes what is ready")
        if self.promised is not None and self.kept is not None:
            parts.append(f"{self.promised:%a %-d %b}, as promised, is kept {of_ten(self.kept)}")
        return "; ".join(parts) + f".{f' {self.waits_for}' if self.waits_for else ''}"


def propose(snapshot: Snapshot, docket_id: int, promised: date | None, wanted: Sequence[Wanted]) -> Proposal | None:
    """A day for a docket of the snapshot that nothing else is moved for; ``wanted``: its tasks, where it has none. Of
    one that the plan has already, the day that the plan gives it, as the board tells it. None where nobody could do it,
    or the days laid out do not reach."""
    reading = read(replace(snapshot, counted={**_counted(snapshot, docket_id, wanted)}))
    mine = next((order for order in reading.shop.orders if order.key == docket_id), None)
    if mine is None or not mine.steps:
        return None
    shop = reading.shop
    others = replace(shop, orders=tuple(order for order in shop.orders if order.key != docket_id))
    planned_already = all(step.key in reading.shown for step in mine.steps)
    try:
        if docket_id in snapshot.bare and not planned_already:
            standing = as_it_stands(others, _of(others, reading.shown), reading.by_time)
            shop = replace(standing.shop, orders=(*standing.shop.orders, mine))
            whole = with_order(standing.shop, mine, standing.plan)
        else:
            standing = as_it_stands(shop, reading.shown, reading.by_time)
            shop, whole = standing.shop, standing.plan
    except (AxisTooShortError, UnsoundError):
        return None
    runs = executed(shop, whole, reading.spreads)[mine.key]
    judgement = judge(shop, mine, whole, runs)
    return Proposal(
        planned=judgement.planned,
        chance=judgement.chance,
        sure=None if judgement.sure is None else max(judgement.sure, judgement.planned),
        soonest=_soonest(shop, mine),
        promised=promised,
        kept=None if promised is None else float(np.mean(runs <= shop.axis.due_of(promised, snapshot.hours) + 1e-6)),
        waits_for=_waits_for(reading, shop, mine, whole),
    )


def _of(shop: Shop, shown: Schedule) -> Schedule:
    """What of the plan that people have seen is of this shop."""
    keys = {step.key for _, step in shop.steps()}
    return {key: place for key, place in shown.items() if key in keys}


def _counted(snapshot: Snapshot, docket_id: int, wanted: Sequence[Wanted]) -> Mapping[int, tuple[Wanted, ...]]:
    return {docket_id: tuple(wanted)} if docket_id in snapshot.bare and wanted else {}


def _soonest(shop: Shop, order: Order) -> date | None:
    """The evening that nine of ten keep where hands take what is ready, in any order."""
    if shop.count > _MANY_STEPS:
        return None
    try:
        ends = redispatched(shop, _AGAIN)[order.key]
    except AxisTooShortError:
        return None
    return shop.axis.day_of(max(int(np.quantile(ends, 0.9, method="higher")) - 1, 0))


def _waits_for(reading: DayReading, shop: Shop, order: Order, plan: Schedule) -> str:
    """Which of its tasks waits longest for hands, and for whose."""
    axis, ready, worst = shop.axis, order.release, (0, "")
    for step in order.steps:
        place = plan[step.key]
        gap = place.start - ready
        if gap > worst[0]:
            names = [shop.hands[person].name for person in step.people]
            what = label_of(reading.jobs[step.task].operation).casefold()
            begins = axis.moment_of(place.start)
            worst = gap, f"It waits longest to {what}: {' and '.join(names[:3])} taken until {begins:%a %-H:%M}."
        ready = int(axis.after(step.wait)[place.start + step.slots])
    return worst[1]


def of_ten(share: float) -> str:
    """How often of ten times, in words."""
    count = round(share * 10)
    return f"{count} time{'' if count == 1 else 's'} of 10"
