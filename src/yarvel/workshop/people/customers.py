"""Customers: who brings work, how they are reached and what was agreed; found and merged.

A docket says whose it is in words. A record gathers all names that somebody goes by, so that every docket under any of
them is theirs; a workshop that keeps none sees its customers by the dockets alone.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import datetime
from typing import Any
from uuid import uuid4

from msgspec import Struct
from msgspec.structs import asdict, replace

from yarvel.figures.errors import StoreError
from yarvel.workshop.dockets.accepting import check_text
from yarvel.workshop.dockets.records import CUSTOMER_KINDS

MOST_NAME = 400
LABELS = {"name": "Name", "kind": "Customer is", "contact": "Contact", "terms": "Terms", "note": "Notes"}


class Customer(Struct, frozen=True, kw_only=True):
    """A record; ``key`` stays through all changes, ``other_names`` are what else stands on dockets for them;
    ``gone``: merged into another, or taken back."""

    key: str
    name: str
    kind: str = ""
    contact: str = ""
    terms: str = ""
    note: str = ""
    other_names: tuple[str, ...] = ()
    gone: bool = False

    @property
    def names(self) -> tuple[str, ...]:
        """All that dockets may call them."""
        return (self.name, *self.other_names)

    def document(self) -> dict[str, Any]:
        """As it is written down."""
        return {**asdict(self), "other_names": list(self.other_names)}


class KnownCustomer(Struct, frozen=True):
    """A customer as the list shows them: by the record, or by what stands on dockets alone (no ``record``)."""

    name: str
    record: Customer | None
    dockets: int
    in_house: int
    last: datetime | None

    @property
    def names(self) -> tuple[str, ...]:
        """All that dockets call them."""
        return (self.name,) if self.record is None else self.record.names


class Agreed(Struct, frozen=True):
    """One thing that changed on a record: when (UTC), by whom, which of ``LABELS``, from what to what."""

    at: datetime
    by: str
    field: str
    before: str
    after: str


def agreed(records: Iterable[tuple[datetime, str, Customer]]) -> list[Agreed]:
    """What changed from record to record (when, by whom, how it then was, oldest first), the newest change first."""
    agreements: list[Agreed] = []
    customer: Customer | None = None
    for at, by, now in records:
        for field in LABELS:
            before, after = "" if customer is None else str(getattr(customer, field)), str(getattr(now, field))
            if before != after:
                agreements.append(Agreed(at, by, field, before, after))
        customer = now
    return agreements[::-1]


def customer_from(held: Mapping[str, Any]) -> Customer:
    """A record as it was written down (StoreError where it is not whole)."""
    known = {*Customer.__struct_fields__}
    try:
        customer = Customer(**{name: value for name, value in held.items() if name in known})
        return replace(customer, other_names=tuple(str(name) for name in customer.other_names))
    except TypeError as error:
        raise StoreError(f"customer: is not whole ({error}): a record as Yarvel writes it down") from error


def check_customer(customer: Customer) -> None:
    """StoreError for a record that cannot be kept: no name, one too long, signs that no text has."""
    for name in customer.names:
        check_text("customer.name", name, MOST_NAME)
        if not name.strip():
            raise StoreError("customer.name: is empty: a name")
    for name in ("contact", "terms", "note"):
        check_text(f"customer.{name}", getattr(customer, name))
    if customer.kind not in ("", *CUSTOMER_KINDS):
        raise StoreError(f"customer.kind: {customer.kind!r} is not accepted: {', '.join(CUSTOMER_KINDS)}, or nothing")


def begun(known: KnownCustomer) -> Customer:
    """A record for somebody who has none yet."""
    return known.record or Customer(key=uuid4().hex, name=known.name)


def alike(name: str) -> str:
    """A name as it is compared: small letters, single blanks."""
    return " ".join(name.casefold().split())


def merged(into: KnownCustomer, other: KnownCustomer) -> tuple[Customer, ...]:
    """The records as they are once one customer is the other too: every name, and whatever was noted of either; the
    other's own record is gone (it is kept, and comes back by undo)."""
    kept = begun(into)
    theirs = other.record
    names = [name for name in other.names if name not in kept.names]
    fields_merged: dict[str, Any] = {"other_names": (*kept.other_names, *names)}
    if theirs is not None:
        fields_merged["kind"] = kept.kind or theirs.kind
        for name in ("contact", "terms", "note"):
            fields_merged[name] = joined(getattr(kept, name), getattr(theirs, name))
    customer_merged = replace(kept, **fields_merged)
    return (customer_merged,) if theirs is None else (customer_merged, replace(theirs, gone=True))


def joined(mine: str, theirs: str) -> str:
    """Two texts as one, nothing said twice, nothing lost."""
    lines = [*mine.splitlines(), *(line for line in theirs.splitlines() if line not in mine.splitlines())]
    return "\n".join(lines)


def known_of(
    records: Iterable[Customer], counted: Iterable[tuple[str, int, int, datetime | None]]
) -> tuple[KnownCustomer, ...]:
    """Records and names on dockets (each with how many, how many of them in the house, and the last change) as
    customers, whoever came last first."""
    owner = {name: record for record in records for name in record.names}
    sums: dict[str, list[tuple[int, int, datetime | None]]] = {record.key: [] for record in owner.values()}
    offered: list[KnownCustomer] = []
    for name, dockets, in_house, last in counted:
        record = owner.get(name)
        if record is None:
            offered.append(KnownCustomer(name, None, dockets, in_house, last))
        else:
            sums[record.key].append((dockets, in_house, last))
    for record in {record.key: record for record in owner.values()}.values():
        counts = sums[record.key]
        last = max((when for _, _, when in counts if when is not None), default=None)
        offered.append(
            KnownCustomer(
                record.name, record, sum(count[0] for count in counts), sum(count[1] for count in counts), last
            )
        )
    by_name = sorted(offered, key=lambda one: one.name)
    return tuple(sorted(by_name, key=lambda one: one.last or datetime.min, reverse=True))


def holding(known: Iterable[KnownCustomer], words: str) -> tuple[KnownCustomer, ...]:
    """Those in whose names, contact, terms or notes every word stands."""
    wanted = words.casefold().split()
    return tuple(known_customer for known_customer in known if all(word in _text(known_customer) for word in wanted))


def _text(one: KnownCustomer) -> str:
    record = one.record
    more = () if record is None else (record.contact, record.terms, record.note, record.kind)
    return " ".join((*one.names, *more)).casefold()
