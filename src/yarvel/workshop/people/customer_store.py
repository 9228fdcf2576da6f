"""Customers in the store: records that are only added to, and the dockets that are theirs."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, datetime
from typing import TYPE_CHECKING

from sqlalchemy import case, func, select, text
from sqlalchemy.orm import Session

from yarvel.figures.errors import StoreError
from yarvel.workshop.dockets.accepting import check_date
from yarvel.workshop.dockets.records import HANDED_OVER, Docket
from yarvel.workshop.dockets.rows import docket_of
from yarvel.workshop.people.customers import (
    Agreed,
    Customer,
    KnownCustomer,
    agreed,
    alike,
    check_customer,
    holding,
    known_of,
)
from yarvel.workshop.storage.rights import TAKE_IN
from yarvel.workshop.storage.schema import CustomerRow, DocketRow
from yarvel.workshop.storage.settings import CUSTOMERS_TOLD, entries, keep_entry

if TYPE_CHECKING:
    from yarvel.workshop.storage.connection import Connected

_LOCK = 918275
_NAMES_AT_ONCE = 200


class CustomerStore:
    """Customers of an open store. Every method is one transaction; nothing that was known is ever deleted."""

    def __init__(self, store: Connected) -> None:
        self._store = store

    def all(self, words: str = "", limit: int = 400) -> list[KnownCustomer]:
        """Customers of whom every word is found, whoever came last first."""
        with self._store.transaction() as session:
            in_house = func.sum(case((DocketRow.state == HANDED_OVER, 0), else_=1))
            query = (
                select(DocketRow.customer, func.count(), in_house, func.max(DocketRow.updated_at))
                .where(DocketRow.customer != "", DocketRow.withdrawn == "")
                .group_by(DocketRow.customer)
            )
            counted = [(name, count, int(open_), last) for name, count, open_, last in session.execute(query)]
            return list(holding(known_of(_current(session), counted), words))[:limit]

    def of(self, name: str) -> Customer | None:
        """The record of whoever goes by a name on dockets; None where there is none."""
        with self._store.transaction() as session:
            return next((customer for customer in _current(session) if name in customer.names), None)

    def owners(self) -> dict[str, str]:
        """By every name that a record gathers, the name that the record bears."""
        with self._store.transaction() as session:
            return {name: customer.name for customer in _current(session) for name in customer.names}

    def contacts(self) -> dict[str, str]:
        """By every name that a record gathers, how they are reached, in a line."""
        with self._store.transaction() as session:
            current = _current(session)
        return {
            name: ", ".join(customer.contact.split("\n"))
            for customer in current
            for name in customer.names
            if customer.contact
        }

    def told(self) -> dict[int, str]:
        """By docket the day, ISO, on which its customer was told that its head wants to be looked at again."""
        with self._store.transaction() as session:
            return {int(key): str(day) for key, day in entries(session, CUSTOMERS_TOLD).items()}

    def tell(self, docket_id: int, day: date | None) -> None:
        """Somebody told the customer of a docket on that day; None: nobody has after all."""
        check_date("told", day)
        with self._store.transaction() as session:
            self._store.guard(session, TAKE_IN)
            keep_entry(session, CUSTOMERS_TOLD, str(docket_id), None if day is None else day.isoformat())

    def current(self, keys: Sequence[str]) -> list[Customer]:
        """Records by key as they hold now, also such as are gone."""
        with self._store.transaction() as session:
            return [customer for customer in _newest(session) if customer.key in keys]

    def history(self, key: str) -> list[Agreed]:
        """What changed on a record, the newest first."""
        query = select(CustomerRow).where(CustomerRow.key == key).order_by(CustomerRow.id)
        with self._store.transaction() as session:
            return agreed((row.at, row.by, _customer(row)) for row in session.scalars(query))

    def dockets(self, names: Sequence[str], limit: int = 500) -> list[Docket]:
        """The dockets of somebody of these names, newest change first."""
        newest = DocketRow.updated_at.desc(), DocketRow.id.desc()
        query = (
            select(*DocketRow.__table__.c)
            .where(DocketRow.customer.in_(list(names)[:_NAMES_AT_ONCE]), DocketRow.withdrawn == "")
            .order_by(*newest)
            .limit(limit)
        )
        with self._store.transaction() as session:
            return [docket_of(row) for row in session.execute(query)]

    def put(self, records: Sequence[Customer], seen: Sequence[Customer | None], at: datetime | None = None) -> None:
        """Records become these; ``seen`` says how each was before (one that is so already is left as it is).

        Raises
        ------
        StoreError : somebody changed one meanwhile, another record goes by one of the names, or it cannot be kept.
        """
        when = self._store.now() if at is None else at
        for record in records:
            check_customer(record)
        with self._store.transaction() as session:
            self._store.guard(session, TAKE_IN)
            if session.get_bind().dialect.name == "postgresql":
                session.execute(text(f"SELECT pg_advisory_xact_lock({_LOCK})"))
            current_by_key = {customer.key: customer for customer in _newest(session)}
            wanted = {customer.key: customer for customer in records}
            for record, before in zip(records, seen, strict=True):
                now = current_by_key.get(record.key)
                if now == record:
                    continue
                if now != before:
                    raise StoreError(f"{record.name}: was changed meanwhile: look again")
                _check_names(record, [wanted.get(customer.key, customer) for customer in current_by_key.values()])
                session.add(CustomerRow(at=when, by=self._store.by, **record.document()))


def _check_names(record: Customer, others: Sequence[Customer]) -> None:
    """StoreError where another record goes by one of the names already."""
    if record.gone:
        return
    mine = {alike(name) for name in record.names}
    for other in others:
        if other.key != record.key and not other.gone and mine & {alike(name) for name in other.names}:
            raise StoreError(f"{record.name}: {other.name} goes by this name already: merge them, or another name")


def _current(session: Session) -> list[Customer]:
    return [customer for customer in _newest(session) if not customer.gone]


def _newest(session: Session) -> list[Customer]:
    newest = select(func.max(CustomerRow.id)).group_by(CustomerRow.key)
    rows = session.scalars(select(CustomerRow).where(CustomerRow.id.in_(newest)).order_by(CustomerRow.id))
    return [_customer(row) for row in rows]


def _customer(row: CustomerRow) -> Customer:
    others = tuple(row.other_names)
    return Customer(
        key=row.key,
        name=row.name,
        kind=row.kind,
        contact=row.contact,
        terms=row.terms,
        note=row.note,
        other_names=others,
        gone=row.gone,
    )
