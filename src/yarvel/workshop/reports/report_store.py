"""What reports ask of an open store, so that a hundred thousand dockets need not be read for the few that count."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from datetime import date, datetime
from typing import TYPE_CHECKING, Any

from msgspec import Struct, field

from yarvel.day.axis import Hours
from yarvel.workshop.dockets.records import HANDED_OVER, Change
from yarvel.workshop.metal.fine_book import Balance
from yarvel.workshop.storage.rights import FRONT_DESK
from yarvel.workshop.work.standards import Learnt, Standard, learnt
from yarvel.workshop.work.tasks import WorkLeft

if TYPE_CHECKING:
    from sqlalchemy import Select

    from yarvel.workshop.store import Store
    from yarvel.workshop.work.task_sums import Taken


class OpenDocket(Struct, frozen=True):
    """A docket that has not left, as far as reports go."""

    id: int
    number: str
    customer: str
    item: str
    promised_on: date | None
    state: str


class ChartedDocket(Struct, frozen=True):
    """What was found on a head that came back, the job that says which head it is, and whose it is."""

    claw_chart: dict[str, Any]
    job_document: dict[str, Any]
    id: int = 0
    number: str = ""
    customer: str = ""
    item: str = ""
    state: str = ""
    earlier_number: str = ""
    created_at: datetime = datetime.min


class BroughtDocket(Struct, frozen=True, kw_only=True):
    """Whose docket, and what its price is made of."""

    customer: str
    state: str
    estimate: dict[str, Any]
    stones_price: float | None
    outside_price: float | None
    deposit: float | None


class Done(Struct, frozen=True):
    """One act, and the docket that it was done to."""

    docket_id: int
    number: str
    customer: str
    change: Change


MOST_DONE = 3000
"""Acts that are told at the most, the newest."""


class Reported(Struct, frozen=True, kw_only=True):
    """Everything the reports are made from: open dockets, those with a claw chart, the work left, times over standard
    by part of the work, by part and person, and by part, nobody and the stone's cut; the parts of the work, how many
    people work at a bench, and what part of the open hours those of them are here, by name, who do not keep the
    workshop's (``shares``); ``ready`` the day on which the plan of the day that was shown has a docket done,
    ``planned`` the minutes that it has for those whose work nobody has given out; ``brought`` what customers
    brought, under the names that their records bear; ``metal`` balances by alloy; ``looked`` every claw chart,
    however old, ``contacts`` how customers are reached, ``told`` by docket the day on which its customer was told
    to have it looked at; ``done`` what was done, the newest first; ``timed`` the dockets whose times ``learnt`` is
    made of, by its keys, ``weighed`` those that the lines of an alloy's balance name, by id."""

    open: list[OpenDocket]
    charted: list[ChartedDocket]
    work: list[WorkLeft]
    learnt: dict[tuple[str, ...], Learnt]
    standards: dict[str, Standard]
    benches: int
    shares: dict[str, float] = field(default_factory=dict)
    hours: Hours = field(default_factory=Hours)
    ready: dict[int, date] = field(default_factory=dict)
    planned: dict[int, float] = field(default_factory=dict)
    brought: list[BroughtDocket] = field(default_factory=list)
    metal: list[Balance] = field(default_factory=list)
    looked: list[ChartedDocket] = field(default_factory=list)
    contacts: dict[str, str] = field(default_factory=dict)
    told: dict[int, str] = field(default_factory=dict)
    done: list[Done] = field(default_factory=list)
    timed: dict[tuple[str, ...], tuple[int, ...]] = field(default_factory=dict)
    weighed: dict[str, tuple[int, ...]] = field(default_factory=dict)


def _brought(row: Any, owners: Mapping[str, str]) -> BroughtDocket:
    return BroughtDocket(
        customer=owners.get(row.customer, row.customer),
        state=row.state,
        estimate=dict(row.estimate),
        stones_price=row.stones_price,
        outside_price=row.outside_price,
        deposit=row.deposit,
    )


def reported(store: Store, since: datetime | None = None) -> Reported:
    """Ask the store for all that the reports want; of what is over only what was ``since`` then."""
    from sqlalchemy import Text, cast, select

    from yarvel.workshop.metal.fine_sums import metal_balances, weighed_for
    from yarvel.workshop.storage.schema import DocketRow
    from yarvel.workshop.work.task_sums import taken_lately, work_left

    taken = taken_lately(store, since=since)
    benches, shares = _benches(store)
    row = DocketRow
    still_here = select(row.id, row.number, row.customer, row.item, row.promised_on, row.state)
    charted_by = (row.id, row.number, row.customer, row.item, row.state, row.earlier_number, row.created_at)
    charts = select(row.claw_chart, row.job_document, *charted_by).where(
        cast(row.claw_chart, Text).not_in(("{}", "null"))
    )
    charts = charts.where(row.withdrawn == "")
    prices = (row.customer, row.state, row.estimate, row.stones_price, row.outside_price, row.deposit)
    whose = select(*prices).where(row.withdrawn == "", row.customer != "")
    if since is not None:
        whose = whose.where(row.created_at >= since)
    owners = store.customers.owners()
    with store.transaction() as session:
        here = [
            OpenDocket(*row_read)
            for row_read in session.execute(still_here.where(row.state != HANDED_OVER, row.withdrawn == ""))
        ]
        brought = [_brought(row, owners) for row in session.execute(whose)]
        acts = session.execute(_acts(since))
        done = [
            Done(docket_id, number, customer, Change(at, name, was, now, by))
            for docket_id, number, customer, at, name, was, now, by in acts
        ]
        looked = [ChartedDocket(*row_read) for row_read in session.execute(charts)]
    known = _known(taken)
    return Reported(
        open=here,
        charted=[charted_docket for charted_docket in looked if since is None or charted_docket.created_at >= since],
        work=work_left(store),
        learnt=known,
        standards=store.tasks.standards(),
        benches=benches,
        shares=shares,
        hours=store.day.hours(),
        ready=store.day.ready(),
        planned=store.day.bare_minutes(),
        brought=brought,
        metal=metal_balances(store, since),
        looked=looked,
        contacts=store.customers.contacts(),
        told=store.customers.told(),
        done=done,
        timed=_timed(taken, known),
        weighed=weighed_for(store, since),
    )


Key = tuple[str, ...]

_TOLD_BY: tuple[Callable[[Taken], Key], ...] = (
    lambda one: (one.operation,),
    lambda one: (one.operation, one.person),
    lambda one: (one.operation, "", one.cut),
)
"""What times are told by: the part of the work alone, with whoever did it, with the cut of the stone."""


def _known(taken: list[Taken]) -> dict[Key, Learnt]:
    """What is known by each of these; of nobody, or of no stone, nothing is told."""
    learnt_pairs = [learnt_pair for key_of in _TOLD_BY for learnt_pair in learnt_by(taken, key_of).items()]
    return {key: learnt_pace for key, learnt_pace in learnt_pairs if key[-1] or len(key) == 1}


def _timed(taken: Iterable[Taken], known: Iterable[Key]) -> dict[Key, tuple[int, ...]]:
    """The dockets of the times that are told under each key, the newest last."""
    ids_by_key: dict[Key, dict[int, None]] = {key: {} for key in known}
    for taken_time in taken:
        for key_of in _TOLD_BY:
            held = ids_by_key.get(key_of(taken_time))
            if held is not None:
                held[taken_time.docket_id] = None
    return {key: tuple(ids) for key, ids in ids_by_key.items()}


MOST_BEHIND = 1000
"""Dockets behind a bar or a row that are shown at the most, the newest."""


def dockets_behind(store: Store, ids: Iterable[int]) -> list[OpenDocket]:
    """Dockets by id, the newest first and up to so many; those that were withdrawn are left out."""
    from sqlalchemy import select

    from yarvel.workshop.storage.schema import DocketRow

    row, newest = DocketRow, sorted(set(ids), reverse=True)[:MOST_BEHIND]
    query = select(row.id, row.number, row.customer, row.item, row.promised_on, row.state)
    query = query.where(row.id.in_(newest), row.withdrawn == "").order_by(row.id.desc())
    with store.transaction() as session:
        return [OpenDocket(*row_read) for row_read in session.execute(query)]


def _benches(store: Store) -> tuple[int, dict[str, float]]:
    """How many people work at a bench, and for what part of the open hours those who have hours of their own."""
    bench_people = [person for person in store.people.all() if person.role != FRONT_DESK]
    hours, own = store.day.hours(), store.day.own_weeks()
    return len(bench_people), {person.name: hours.share(own[person.id]) for person in bench_people if person.id in own}


def _acts(since: datetime | None) -> Select[int, str, str, datetime, str, object, object, str]:
    """The newest acts, each with its docket."""
    from sqlalchemy import select

    from yarvel.workshop.storage.schema import ChangeRow, DocketRow

    columns = (ChangeRow.at, ChangeRow.field, ChangeRow.before, ChangeRow.after, ChangeRow.by)
    query = select(DocketRow.id, DocketRow.number, DocketRow.customer, *columns).join(
        DocketRow, DocketRow.id == ChangeRow.docket_id
    )
    query = query if since is None else query.where(ChangeRow.at >= since)
    return query.order_by(ChangeRow.id.desc()).limit(MOST_DONE)


def learnt_by(taken: Iterable[Taken], key: Callable[[Taken], Key]) -> dict[Key, Learnt]:
    """What was taken over standard by whatever ``key`` says, where enough times were recorded."""
    times: dict[Key, list[tuple[float, float]]] = {}
    for taken_time in taken:
        times.setdefault(key(taken_time), []).append((taken_time.standard, taken_time.taken))
    learnt_by_key = {name: learnt(minutes_taken) for name, minutes_taken in times.items()}
    return {name: learnt_pace for name, learnt_pace in learnt_by_key.items() if learnt_pace is not None}
