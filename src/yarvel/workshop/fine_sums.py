"""What the fine book comes to, summed by the database: a hundred thousand lines are never read for it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import TYPE_CHECKING, Any

from sqlalchemy import ColumnElement, Subquery, case, func, literal, select
from sqlalchemy.orm import InstrumentedAttribute, Session

from yarvel.workshop.fine_book import (
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
from yarvel.workshop.schema import DocketRow, FineRow, PersonRow

if TYPE_CHECKING:
    from yarvel.workshop.store import Store


@dataclass(frozen=True)
class Overview:
    """How many lines and balances of dockets there are, and the balances of everybody."""

    lines: int
    people: list[Balance]
    dockets: int


def overview(store: Store) -> Overview:
    """The fine book at a glance."""
    with store.transaction() as session:
        lines = session.scalar(select(func.count()).select_from(FineRow)) or 0
        pairs = select(FineRow.docket_id, FineRow.alloy).where(FineRow.docket_id.is_not(None)).distinct().subquery()
        dockets = session.scalar(select(func.count()).select_from(pairs)) or 0
        return Overview(lines, _balances(session, "person_id", PersonRow.name), dockets)


def metal_balances(store: Store, since: datetime | None = None) -> list[Balance]:
    """What was issued, came back and went into pieces since then, by alloy over all benches."""
    sums = _sums(since)
    query = select(literal(""), sums.c.alloy, *_summed(sums)).group_by(sums.c.alloy).order_by(sums.c.alloy)
    with store.transaction() as session:
        return [Balance(*row) for row in session.execute(query)]


def weighed_for(store: Store, since: datetime | None = None) -> dict[str, tuple[int, ...]]:
    """The dockets that lines since then name, by alloy: those of :func:`metal_balances`."""
    query = select(FineRow.alloy, FineRow.docket_id).where(FineRow.docket_id.is_not(None)).distinct()
    query = query if since is None else query.where(FineRow.at >= since)
    found: dict[str, list[int]] = {}
    with store.transaction() as session:
        for alloy, docket_id in session.execute(query):
            if docket_id is not None:
                found.setdefault(alloy, []).append(docket_id)
    return {alloy: tuple(ids) for alloy, ids in found.items()}


BALANCE_COLUMNS = ("of", "alloy", ISSUED, RETURNED, OFFCUTS, FILINGS, USED, "open")
"""What balances of dockets can be asked for in the order of."""


def docket_balances(
    store: Store, offset: int = 0, limit: int = 200, order: tuple[str, bool] | None = None
) -> list[Balance]:
    """Balances by docket and alloy, the newest docket first; or in the ``order`` of one of
    :data:`BALANCE_COLUMNS`, falling or not."""
    with store.transaction() as session:
        return _balances(session, "docket_id", DocketRow.number, (offset, limit), order)


def month_sums(store: Store, year: int, number: int) -> list[Month]:
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


def _sums(since: datetime | None = None) -> Subquery:
    """Grams by person, docket and alloy, and what of them is in work: open, of a docket that is under way and of which
    nothing is in a piece yet."""
    query = select(FineRow.person_id, FineRow.docket_id, FineRow.alloy)
    grams = [func.sum(case((FineRow.kind == kind, FineRow.mass_g), else_=0.0)) for kind in _BENCH]
    left = grams[0] - grams[1] - grams[2] - grams[3] - grams[4]
    under_way = func.max(case((DocketRow.state.in_(_UNDER_WAY), 1), else_=0))
    in_work = case(((under_way == 1) & (grams[4] == 0) & (left > 0), left), else_=0.0)
    names = [one.label(name) for one, name in zip(grams, _BENCH, strict=True)]
    query = query.add_columns(*names, in_work.label("in_work"))
    query = query.outerjoin(DocketRow, DocketRow.id == FineRow.docket_id).where(FineRow.kind.in_(_BENCH))
    query = query if since is None else query.where(FineRow.at >= since)
    return query.group_by(FineRow.person_id, FineRow.docket_id, FineRow.alloy).subquery()


_UNDER_WAY = ("taken in", "in work", "on hold")


def _summed(sums: Subquery) -> list[ColumnElement[Any]]:
    return [func.sum(sums.c[name]) for name in (*_BENCH, "in_work")]


def _balances(
    session: Session,
    key: str,
    name: InstrumentedAttribute[str],
    page: tuple[int, int] | None = None,
    order: tuple[str, bool] | None = None,
) -> list[Balance]:
    sums = _sums()
    of, totals = sums.c[key], _summed(sums)
    query = select(name, sums.c.alloy, *totals).join(name.class_, name.class_.id == of).group_by(of, name, sums.c.alloy)
    if order is not None:
        left = totals[0] - totals[1] - totals[2] - totals[3] - totals[4]
        column: Any = [name, sums.c.alloy, *totals[:-1], left][BALANCE_COLUMNS.index(order[0])]
        query = query.order_by(column.desc() if order[1] else column)
    query = query.order_by(name if page is None else of.desc(), sums.c.alloy)
    if page is not None:
        query = query.offset(page[0]).limit(page[1])
    rows: Sequence[Any] = session.execute(query).all()
    return [Balance(*row) for row in rows]
