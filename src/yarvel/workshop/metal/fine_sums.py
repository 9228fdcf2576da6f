"""What the fine book comes to, summed by the database: a hundred thousand lines are never read for it."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from datetime import datetime
from typing import TYPE_CHECKING, Any

from msgspec import Struct
from msgspec.structs import replace
from sqlalchemy import ColumnElement, case, func, select
from sqlalchemy.orm import InstrumentedAttribute, Session

from yarvel.workshop.metal.fine_book import (
    AT_BENCH,
    FILINGS,
    IN_SAFE,
    ISSUED,
    KINDS,
    OFFCUTS,
    RETURNED,
    USED,
    Balance,
    Month,
    month_of,
)
from yarvel.workshop.storage.schema import DocketRow, FineRow, PersonRow

if TYPE_CHECKING:
    from yarvel.workshop.storage.connection import Connected


class Overview(Struct, frozen=True):
    """How many lines and balances of dockets there are, and the balances of everybody."""

    lines: int
    people: list[Balance]
    dockets: int


def overview(store: Connected) -> Overview:
    """The fine book at a glance."""
    with store.transaction() as session:
        lines = session.scalar(select(func.count()).select_from(FineRow)) or 0
        pairs = select(FineRow.docket_id, FineRow.alloy).where(FineRow.docket_id.is_not(None)).distinct().subquery()
        dockets = session.scalar(select(func.count()).select_from(pairs)) or 0
        return Overview(lines, _balances(session, FineRow.person_id, PersonRow.name), dockets)


def metal_balances(store: Connected, since: datetime | None = None) -> list[Balance]:
    """What was issued, came back and went into pieces since then, by alloy over all benches."""
    query = (
        select(FineRow.alloy, *_SUMS).where(FineRow.kind.in_(_BENCH)).group_by(FineRow.alloy).order_by(FineRow.alloy)
    )
    query = query if since is None else query.where(FineRow.at >= since)
    with store.transaction() as session:
        balances = [Balance("", *row) for row in session.execute(query)]
        under_way = _in_work(session, FineRow.alloy, since)
    return [replace(balance, in_work=under_way.get((balance.alloy, balance.alloy), 0.0)) for balance in balances]


def weighed_for(store: Connected, since: datetime | None = None) -> dict[str, tuple[int, ...]]:
    """The dockets that lines since then name, by alloy: those of :func:`metal_balances`."""
    query = select(FineRow.alloy, FineRow.docket_id).where(FineRow.docket_id.is_not(None)).distinct()
    query = query if since is None else query.where(FineRow.at >= since)
    ids_by_alloy: dict[str, list[int]] = {}
    with store.transaction() as session:
        for alloy, docket_id in session.execute(query):
            if docket_id is not None:
                ids_by_alloy.setdefault(alloy, []).append(docket_id)
    return {alloy: tuple(ids) for alloy, ids in ids_by_alloy.items()}


BALANCE_COLUMNS = ("of", "alloy", ISSUED, RETURNED, OFFCUTS, FILINGS, USED, "open")
"""What balances of dockets can be asked for in the order of."""


def docket_balances(
    store: Connected,
    offset: int = 0,
    limit: int = 200,
    order: tuple[str, bool] | None = None,
    words: Collection[str] = (),
) -> list[Balance]:
    """Balances by docket and alloy, the newest docket first; or in the ``order`` of one of :data:`BALANCE_COLUMNS`,
    falling or not; only those whose docket or alloy has every one of the ``words``."""
    with store.transaction() as session:
        return _balances(session, FineRow.docket_id, DocketRow.number, (offset, limit), order, words)


def month_sums(store: Connected, year: int, number: int) -> list[Month]:
    """The month's end by alloy (ValueError for a month that does not exist)."""
    start, end = month_of(year, number)
    before, within = FineRow.at < start, FineRow.at >= start
    columns = [
        func.sum(case((before, _weighed(IN_SAFE)), else_=0.0)),
        func.sum(_weighed(IN_SAFE)),
        func.sum(_weighed(AT_BENCH)),
        *(func.sum(case((within & (FineRow.kind == kind), FineRow.mass_g), else_=0.0)) for kind in KINDS),
    ]
    query = select(FineRow.alloy, *columns).where(FineRow.at < end).group_by(FineRow.alloy).order_by(FineRow.alloy)
    with store.transaction() as session:
        return [
            Month(row[0], row[1], dict(zip(KINDS, row[4:], strict=True)), row[2], row[3])
            for row in session.execute(query)
        ]


def _weighed(signs: dict[str, int]) -> ColumnElement[float]:
    """A line's mass as it counts in the safe, or at a bench."""
    return case(*((FineRow.kind == kind, sign * FineRow.mass_g) for kind, sign in signs.items()), else_=0.0)


_BENCH = (ISSUED, RETURNED, OFFCUTS, FILINGS, USED)
_SUMS: list[ColumnElement[Any]] = [func.sum(case((FineRow.kind == kind, FineRow.mass_g), else_=0.0)) for kind in _BENCH]
_OPEN = _SUMS[0] - _SUMS[1] - _SUMS[2] - _SUMS[3] - _SUMS[4]
_UNDER_WAY = ("taken in", "in work", "on hold")


def _in_work(
    session: Session,
    key: InstrumentedAttribute[Any],
    since: datetime | None = None,
    dockets: Collection[int] | None = None,
) -> dict[tuple[Any, str], float]:
    """What is in work, by a key and alloy: open, of a docket that is under way and of which nothing is in a piece."""
    query = (
        select(key.label("of"), FineRow.alloy.label("alloy"), _OPEN.label("open"))
        .join(DocketRow, DocketRow.id == FineRow.docket_id)
        .where(DocketRow.state.in_(_UNDER_WAY), FineRow.kind.in_(_BENCH))
        .group_by(key, FineRow.person_id, FineRow.docket_id, FineRow.alloy)
        .having((_SUMS[4] == 0) & (_OPEN > 0))
    )
    query = query if since is None else query.where(FineRow.at >= since)
    query = query if dockets is None else query.where(FineRow.docket_id.in_(dockets))
    each = query.subquery()
    summed = select(each.c.of, each.c.alloy, func.sum(each.c.open)).group_by(each.c.of, each.c.alloy)
    return {(of, alloy): grams for of, alloy, grams in session.execute(summed)}


def _balances(
    session: Session,
    key: InstrumentedAttribute[Any],
    name: InstrumentedAttribute[str],
    page: tuple[int, int] | None = None,
    order: tuple[str, bool] | None = None,
    words: Collection[str] = (),
) -> list[Balance]:
    query = (
        select(key, name, FineRow.alloy, *_SUMS)
        .join(name.class_, name.class_.id == key)
        .where(FineRow.kind.in_(_BENCH))
        .group_by(key, name, FineRow.alloy)
    )
    for word in words:
        query = query.where(name.icontains(word, autoescape=True) | FineRow.alloy.icontains(word, autoescape=True))
    if order is not None:
        column: Any = [name, FineRow.alloy, *_SUMS, _OPEN][BALANCE_COLUMNS.index(order[0])]
        query = query.order_by(column.desc() if order[1] else column)
    query = query.order_by(name if page is None else key.desc(), FineRow.alloy)
    if page is not None:
        query = query.offset(page[0]).limit(page[1])
    rows: Sequence[Any] = session.execute(query).all()
    under_way = _in_work(session, key, dockets=None if page is None else [row[0] for row in rows[:_MOST_IN]])
    return [replace(Balance(*row[1:]), in_work=under_way.get((row[0], row[2]), 0.0)) for row in rows]


_MOST_IN = 20_000
"""Dockets that are named in one question to the store."""
