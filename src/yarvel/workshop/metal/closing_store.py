"""Months of the fine book that are signed off: sealed by what their lines come to, in order, and never opened again.
What is found later is a line in the open month."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable
from datetime import datetime, timedelta
from typing import TYPE_CHECKING, Any

from msgspec import Struct
from sqlalchemy import func, select, text
from sqlalchemy.orm import Session

from yarvel.clock import here, local, zone_name
from yarvel.figures.errors import StoreError
from yarvel.workshop.metal.fine_book import month_of
from yarvel.workshop.storage.rights import BOOK_METAL
from yarvel.workshop.storage.schema import FineRow, PersonRow, SealRow

if TYPE_CHECKING:
    from yarvel.workshop.storage.connection import Connected

LATEST = timedelta(days=35)
"""A line stands in the month in which it was weighed while that is open, and not longer ago than this."""
FORM = "yarvel-month/1"
_COLUMNS = ("id", "at", "by", "kind", "alloy", "mg", "person_id", "docket_id", "note", "reverses")

_LOCK = 20310301
"""What lines and month's ends of a team's database wait for one another by; a file has one writer at a time anyhow."""


class MonthClosing(Struct, frozen=True, kw_only=True):
    """Who signed a month off and on which day, and in which zone it began and ended; how many lines it has, what they
    come to in mg by alloy and person, the digest that says whether they are still those, and what has to be said."""

    by: str
    on: str
    zone: str = ""
    lines: int = 0
    sums: dict[str, dict[str, int]] = {}
    digest: str = ""
    note: str = ""


class ClosingStore:
    """Month's ends of an open store. Every method is one transaction."""

    def __init__(self, store: Connected) -> None:
        self._store = store

    def all(self) -> dict[str, MonthClosing]:
        """Months that are signed off, by year-month."""
        with self._store.transaction() as session:
            return {row.month: _closing(row) for row in session.scalars(select(SealRow).order_by(SealRow.until))}

    def close(self, month: str) -> MonthClosing:
        """Sign a month off, and with it all that was weighed before it and is not signed off yet. Two who do so at the
        same moment do it once.

        Raises
        ------
        StoreError : it is none, not over yet, or a later one is signed off already.
        """
        end = _end(month)
        with self._store.transaction() as session:
            _alone(session, self._store.location.is_server)
            now = self._store.moment(session)
            done = session.get(SealRow, month)
            if done is not None:
                return _closing(done)
            self._store.guard(session, BOOK_METAL)
            if now < end:
                raise StoreError(f"{month}: is not over yet: sign it off from {here(end):%Y-%m-%d} on")
            last = session.scalars(select(SealRow).order_by(SealRow.until.desc()).limit(1)).first()
            if last is not None and last.until >= end:
                raise StoreError(
                    f"{month}: was signed off with {last.month}, by {last.by or 'somebody'} on "
                    f"{local(last.at):%Y-%m-%d}: a month after that"
                )
            lines = _lines(session, None if last is None else last.until, end)
            row = SealRow(
                month=month,
                until=end,
                zone=zone_name(),
                at=now,
                by=self._store.by,
                last_entry=max((int(line["id"]) for line in lines), default=None),
                lines=len(lines),
                sums=_sums(lines, _names(session)),
                digest=_digest(month, lines, "" if last is None else last.digest),
            )
            session.add(row)
            session.flush()
            return _closing(row)

    def verify(self) -> list[str]:
        """What is otherwise than it was signed off, in a line each; none where everything agrees. The chain is followed
        from its first month on."""
        wrong: list[str] = []
        with self._store.transaction() as session:
            names, since, before = _names(session), None, ""
            for row in session.scalars(select(SealRow).order_by(SealRow.until)).all():
                if row.digest:
                    lines = _lines(session, since, row.until)
                    if len(lines) != row.lines:
                        wrong.append(f"{row.month}: {len(lines)} lines, signed off with {row.lines}")
                    elif _digest(row.month, lines, before) != row.digest:
                        wrong.append(
                            f"{row.month}: its lines, or a month before it, are not those that were signed off"
                        )
                    elif _sums(lines, names) != row.sums:
                        wrong.append(f"{row.month}: its sums are not those of its lines")
                since, before = row.until, row.digest
        return wrong


def when_it_stands(session: Session, store: Connected, at: datetime | None) -> tuple[datetime, str]:
    """When a line of the fine book stands that was weighed then (None: now), and what is said beside it: in its own
    month while that is open, else now. What somebody did at a machine (a script knows what it writes) neither stands
    longer ago than 35 days nor in a time that has not come. Metal is never refused for being late."""
    if store.location.is_server:
        session.execute(text(f"SELECT pg_advisory_xact_lock_shared({_LOCK})"))
    now = store.moment(session)
    if at is None:
        return now, ""
    sealed = session.scalar(select(func.max(SealRow.until)))
    by_hand = store.stamp is not None
    open_still = sealed is None or at >= sealed
    if open_still and (not by_hand or now - LATEST <= at <= now):
        return at, ""
    if at > now:
        return now, "" if at - now < timedelta(minutes=5) else f"its machine's clock said {local(at):%Y-%m-%d %H:%M}"
    return now, f"weighed {local(at):%Y-%m-%d %H:%M}"


def _alone(session: Session, on_server: bool) -> None:
    if on_server:
        session.execute(text(f"SELECT pg_advisory_xact_lock({_LOCK})"))


def _lines(session: Session, since: datetime | None, until: datetime) -> list[dict[str, Any]]:
    query = select(FineRow).where(FineRow.at < until).order_by(FineRow.id)
    if since is not None:
        query = query.where(FineRow.at >= since)
    return [_line(row) for row in session.scalars(query)]


def _line(row: FineRow) -> dict[str, Any]:
    values = {name: getattr(row, name, None) for name in _COLUMNS}
    return {**values, "at": row.at.isoformat(timespec="microseconds"), "mg": round(row.mass_g * 1000)}


def _names(session: Session) -> dict[int | None, str]:
    return {person.id: person.name for person in session.scalars(select(PersonRow))}


def _sums(lines: Iterable[dict[str, Any]], names: dict[int | None, str]) -> dict[str, dict[str, int]]:
    """Whole milligrams by alloy, then by kind of line and person."""
    sums: dict[str, dict[str, int]] = {}
    for line in lines:
        name = names.get(line["person_id"], "")
        what = f"{line['kind']}, {name}" if name else str(line["kind"])
        of_alloy = sums.setdefault(str(line["alloy"]), {})
        of_alloy[what] = of_alloy.get(what, 0) + int(line["mg"])
    return sums


def _digest(month: str, lines: Iterable[dict[str, Any]], before: str) -> str:
    """SHA-256 over the form, the columns, the month before's digest and every line, in their order."""
    digest = hashlib.sha256(json.dumps([FORM, _COLUMNS, month, before]).encode())
    for line in lines:
        digest.update(json.dumps([line[name] for name in _COLUMNS]).encode())
    return digest.hexdigest()


def _closing(row: SealRow) -> MonthClosing:
    sums: Any = row.sums
    return MonthClosing(
        by=row.by,
        on=local(row.at).date().isoformat(),
        zone=row.zone,
        lines=row.lines,
        sums=sums,
        digest=row.digest,
        note=row.note,
    )


def _end(month: str) -> datetime:
    try:
        year, number = (int(part) for part in month.split("-"))
        return month_of(year, number)[1]
    except ValueError as error:
        raise StoreError(f"{month!r} is no month: year-month, such as 2031-03") from error
