"""Dockets that come in from an archive: all of them or none, and none of them twice without somebody saying so."""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterable, Sequence
from datetime import datetime
from typing import TYPE_CHECKING

from msgspec import Struct
from sqlalchemy import select
from sqlalchemy.orm import Session

from yarvel.figures.errors import StoreError
from yarvel.workshop.dockets.accepting import check_date, check_fields, check_job, check_text, check_value
from yarvel.workshop.dockets.finding import may_keep_number, next_number
from yarvel.workshop.dockets.photograph_store import SmallPicture
from yarvel.workshop.dockets.records import DETAILS, Change, Docket
from yarvel.workshop.dockets.rows import docket_of, new_row
from yarvel.workshop.storage.rights import BRING_IN
from yarvel.workshop.storage.schema import ChangeRow, DocketRow, PhotographRow

if TYPE_CHECKING:
    from yarvel.workshop.storage.connection import Connected

BROUGHT = "docket"


class Brought(Struct, frozen=True):
    """A docket as an archive holds it: with its history, and its photographs with caption, whose they are, and when."""

    docket: Docket
    history: Sequence[Change]
    photographs: Sequence[tuple[SmallPicture, str, str, datetime]]


class CancelledError(StoreError):
    """Somebody thought better of it; nothing was kept."""


class ArchiveStore:
    """Archives into an open store. Every method is one transaction."""

    def __init__(self, store: Connected) -> None:
        self._store = store

    def here_already(self, brought: Iterable[Docket]) -> dict[int, str]:
        """Which of these dockets are in the store: their place in the list, and the number that they have here."""
        with self._store.transaction() as session:
            places_here = ((place, _here(session, docket)) for place, docket in enumerate(brought))
            return {place: number for place, number in places_here if number}

    def bring_in(
        self,
        brought: Sequence[Brought],
        done: Callable[[int], None] = lambda _count: None,
        cancel: threading.Event | None = None,
    ) -> list[Docket]:
        """Take in dockets: each under its own number where that is free, else under the next; with its history, and a
        line that it was brought in. ``done`` is told how many are in; ``cancel`` takes all of them back.

        Raises
        ------
        StoreError : something in one of them cannot be kept; none is.
        CancelledError : cancelled.
        """
        dockets = []
        with self._store.transaction() as session:
            self._store.guard(session, BRING_IN)
            for count, brought_docket in enumerate(brought, start=1):
                if cancel is not None and cancel.is_set():
                    raise CancelledError("archive: cancelled: nothing of it was brought in")
                dockets.append(self._bring(session, brought_docket))
                done(count)
        return dockets

    def _bring(self, session: Session, one: Brought) -> Docket:
        docket, now = one.docket, self._store.now()
        _check(one)
        number = docket.number if may_keep_number(session, docket.number) else next_number(session, now)
        row = new_row(
            now,
            number=number,
            customer=docket.customer,
            item=docket.item,
            promised_on=docket.promised_on,
            state=docket.state,
            job_document=docket.job_document,
            ticks=list(docket.ticks),
            **{name: getattr(docket, name) for name in DETAILS},
        )
        row.created_at = docket.created_at
        session.add(row)
        session.flush()
        for change in one.history:
            session.add(
                ChangeRow(
                    docket_id=row.id,
                    at=change.at,
                    by=self._by(change.by),
                    field=change.field[:40] or "?",
                    before=change.before,
                    after=change.after,
                )
            )
        for picture, caption, by, at in one.photographs:
            session.add(
                PhotographRow(
                    docket_id=row.id,
                    at=at,
                    by=self._by(by),
                    caption=caption,
                    width=picture.width,
                    height=picture.height,
                    jpeg=picture.jpeg,
                )
            )
        session.add(self._store.change(row, now, BROUGHT, docket.number, f"brought in as {number}"))
        session.flush()
        return docket_of(row)

    def _by(self, name: str) -> str:
        """Whose line it is by the archive, and who vouches for it here."""
        return f"{name or 'nobody'}, brought in by {self._store.by}" if self._store.author.signed else name


def _here(session: Session, docket: Docket) -> str:
    """The number under which a docket is here already: taken in at the same moment, and of that number then or now."""
    rows = session.execute(select(DocketRow.id, DocketRow.number).where(DocketRow.created_at == docket.created_at))
    for docket_id, number in rows:
        came_as = select(ChangeRow.before).where(ChangeRow.docket_id == docket_id, ChangeRow.field == BROUGHT)
        if docket.number == number or docket.number in list(session.scalars(came_as)):
            return str(number)
    return ""


def _check(one: Brought) -> None:
    docket = one.docket
    check_job(docket.number, docket.job_document)
    check_fields(docket.number, {name: getattr(docket, name) for name in ("customer", "item", "promised_on", "state")})
    check_fields(docket.number, {name: getattr(docket, name) for name in DETAILS})
    check_fields(docket.number, {"ticks": list(docket.ticks)})
    for moment in (docket.created_at, *(change.at for change in one.history), *(row[3] for row in one.photographs)):
        check_date(docket.number, moment.date())
    for change in one.history:
        check_value(f"{docket.number}.history", [change.field, change.by, change.before, change.after])
    for _picture, caption, by, _at in one.photographs:
        check_text(f"{docket.number}.photographs", caption + by)
