"""Photographs in the store. Never edited, never removed."""

from __future__ import annotations

from typing import TYPE_CHECKING, Protocol

from sqlalchemy import select

from yarvel.figures.errors import StoreError
from yarvel.workshop.dockets.accepting import check_text
from yarvel.workshop.dockets.records import Photograph
from yarvel.workshop.dockets.rows import docket_row
from yarvel.workshop.storage.rights import PHOTOGRAPH
from yarvel.workshop.storage.schema import PhotographRow

if TYPE_CHECKING:
    from yarvel.workshop.storage.connection import Connected


class SmallPicture(Protocol):
    """A photograph made small enough to keep."""

    @property
    def width(self) -> int:
        """Pixels across."""

    @property
    def height(self) -> int:
        """Pixels down."""

    @property
    def jpeg(self) -> bytes:
        """The file."""


class PhotographStore:
    """The photographs of an open store. Every method is one transaction."""

    def __init__(self, store: Connected) -> None:
        self._store = store

    def add(self, docket_id: int, photograph: SmallPicture, caption: str = "") -> Photograph:
        """Keep a photograph with a docket, for ever."""
        now = self._store.now()
        check_text("photograph", caption)
        with self._store.transaction() as session:
            self._store.guard(session, PHOTOGRAPH)
            docket = docket_row(session, docket_id)
            row = PhotographRow(
                docket_id=docket.id,
                at=now,
                by=self._store.by,
                caption=caption,
                width=photograph.width,
                height=photograph.height,
                jpeg=photograph.jpeg,
            )
            session.add(row)
            session.add(self._store.change(docket, now, "photograph", None, caption or "added"))
            session.flush()
            return _photograph(row)

    def of(self, docket_id: int) -> list[Photograph]:
        """All photographs of a docket, oldest first."""
        query = select(PhotographRow).where(PhotographRow.docket_id == docket_id).order_by(PhotographRow.id)
        with self._store.transaction() as session:
            return [_photograph(row) for row in session.scalars(query)]

    def of_act(self, act: str) -> Photograph:
        """The photograph that an act added (StoreError where it added none)."""
        with self._store.transaction() as session:
            row = session.scalars(select(PhotographRow).where(PhotographRow.act == act)).first()
            if row is None:
                raise StoreError(f"act {act}: no photograph was added by it")
            return _photograph(row)


def _photograph(row: PhotographRow) -> Photograph:
    return Photograph(
        id=row.id, at=row.at, by=row.by, caption=row.caption, width=row.width, height=row.height, jpeg=row.jpeg
    )
