"""Months of the fine book that are signed off: nothing is weighed into them any more."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING, Any

from msgspec import Struct
from sqlalchemy.orm import Session

from yarvel.clock import here, local
from yarvel.figures.errors import StoreError
from yarvel.workshop.metal.fine_book import month_of
from yarvel.workshop.storage.rights import BOOK_METAL
from yarvel.workshop.storage.schema import SettingRow

if TYPE_CHECKING:
    from yarvel.workshop.storage.connection import Connected

_CLOSED = "closed_months"


class MonthClosing(Struct, frozen=True):
    """Who signed a month off, and on which day."""

    by: str
    on: str


class ClosingStore:
    """Month's ends of an open store. Every method is one transaction."""

    def __init__(self, store: Connected) -> None:
        self._store = store

    def all(self) -> dict[str, MonthClosing]:
        """Months that are signed off, by year-month."""
        with self._store.transaction() as session:
            return {
                month: MonthClosing(str(closing["by"]), str(closing["on"])) for month, closing in _held(session).items()
            }

    def close(self, month: str) -> None:
        """Sign a month off (StoreError for one that is none, or not over yet)."""
        end = _end(month)
        now = self._store.now()
        if now < end:
            raise StoreError(f"{month}: is not over yet: sign it off from {here(end):%Y-%m-%d} on")
        with self._store.transaction() as session:
            self._store.guard(session, BOOK_METAL)
            closings = _held(session)
            if month not in closings:
                closings[month] = {"by": self._store.by, "on": local(now).date().isoformat()}
                session.merge(SettingRow(name=_CLOSED, value=closings))

    def open(self, month: str) -> None:
        """Open a month again: a line was forgotten."""
        with self._store.transaction() as session:
            self._store.guard(session, BOOK_METAL)
            closings = _held(session)
            if closings.pop(month, None) is not None:
                session.merge(SettingRow(name=_CLOSED, value=closings))


def check_open(session: Session, at: datetime) -> None:
    """StoreError for a line of the fine book in a month that is signed off."""
    month = f"{here(at):%Y-%m}"
    closing = _held(session).get(month)
    if closing is not None:
        by = closing["by"] or "somebody"
        raise StoreError(
            f"{month}: was signed off by {by} on {closing['on']}: open the month again, or weigh it in this month"
        )


def _held(session: Session) -> dict[str, Any]:
    row = session.get(SettingRow, _CLOSED)
    return dict(row.value) if row is not None and isinstance(row.value, dict) else {}


def _end(month: str) -> datetime:
    try:
        year, number = (int(part) for part in month.split("-"))
        return month_of(year, number)[1]
    except ValueError as error:
        raise StoreError(f"{month!r} is no month: year-month, such as 2031-03") from error
