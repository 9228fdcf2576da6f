"""The fine book in the store."""

from __future__ import annotations

import math
from collections.abc import Collection
from datetime import datetime
from typing import TYPE_CHECKING, Any

from sqlalchemy import ColumnElement, String, cast, func, or_, select
from sqlalchemy.orm import InstrumentedAttribute, Session

from yarvel.clock import here
from yarvel.figures.errors import StoreError
from yarvel.metals.alloys import alloys_of
from yarvel.workshop.dockets.accepting import check_text
from yarvel.workshop.house_store import HouseStore
from yarvel.workshop.metal.closing_store import when_it_stands
from yarvel.workshop.metal.fine_book import COUNTED, ISSUED, KINDS, MOST_G, USED, FineEntry
from yarvel.workshop.storage.rights import BOOK_METAL
from yarvel.workshop.storage.schema import AlloyRow, DocketRow, FineRow, PersonRow

if TYPE_CHECKING:
    from yarvel.workshop.storage.connection import Connected

OF_A_LOT = "lot "
"""How the note of a line begins that moved metal of a lot."""


LINE_COLUMNS: dict[str, InstrumentedAttribute[Any]] = {
    "at": FineRow.at,
    "kind": FineRow.kind,
    "alloy": FineRow.alloy,
    "mass": FineRow.mass_g,
    "person": PersonRow.name,
    "docket": DocketRow.number,
    "note": FineRow.note,
    "by": FineRow.by,
}
"""What lines can be asked for in the order of."""


def _named() -> list[ColumnElement[str]]:
    """What words of lines are looked for in."""
    texts = [column for name, column in LINE_COLUMNS.items() if name not in ("at", "mass")]
    return [*(func.coalesce(column, "") for column in texts), cast(FineRow.mass_g, String), cast(FineRow.at, String)]


class FineStore:
    """The fine book of an open store. Every method is one transaction."""

    def __init__(self, store: Connected) -> None:
        self._store = store

    def add(
        self,
        kind: str,
        alloy: str,
        mass: float,
        person_id: int | None = None,
        docket_number: str = "",
        note: str = "",
        at: datetime | None = None,
    ) -> FineEntry:
        """Add one line, weighed ``at`` this moment (now); the same line of the same moment is added once.

        Raises
        ------
        StoreError : a kind, alloy, person or docket that does not exist; a mass that cannot be; metal issued or used
            that names nobody.
        """
        _check_line(kind, alloy, mass, alloys_of(HouseStore(self._store).rules()))
        check_text("note", note)
        with self._store.transaction() as session:
            self._store.guard(session, BOOK_METAL)
            person = None if person_id is None else session.get(PersonRow, person_id)
            docket = _docket(session, docket_number.strip())
            if kind == ISSUED and person is None:
                raise StoreError("issued: to nobody: a person who works here")
            if kind == USED and docket is None:
                raise StoreError("used: in no docket: the number of a docket")
            if at is not None and self._store.stamp is None:  # what has a name is known by it
                same = session.scalars(
                    select(FineRow).where(
                        FineRow.at == at, FineRow.kind == kind, FineRow.alloy == alloy, FineRow.mass_g == mass
                    )
                ).first()
                if same is not None:
                    return _entry(same, "" if person is None else person.name, "" if docket is None else docket.number)
            row = write_line(
                session,
                self._store,
                at,
                kind,
                alloy,
                mass,
                None if person is None else person.id,
                None if docket is None else docket.id,
                note,
            )
            return _entry(row, "" if person is None else person.name, "" if docket is None else docket.number)

    def reverse(self, entry_id: int, why: str, at: datetime) -> FineEntry:
        """Take back a line that was mistyped, by a line of as many grams less; both stay. Done already at this moment,
        nothing changes.

        Raises
        ------
        StoreError : there is no such line, it is a lot's, takes another back itself, or is taken back already.
        """
        check_text("note", why)
        with self._store.transaction() as session:
            self._store.guard(session, BOOK_METAL)
            row = session.get(FineRow, entry_id)
            if row is None:
                raise StoreError(f"line {entry_id}: is not in this fine book: a line of it")
            done = session.scalars(select(FineRow).where(FineRow.reverses == entry_id)).first()
            if done is not None and done.at == at:
                return _entry(done, "", "")
            line_text = f"the line of {here(row.at):%Y-%m-%d %H:%M}, {KINDS[row.kind]} {row.mass_g:g} g"
            if row.reverses is not None:
                raise StoreError(f"{line_text}: takes another line back itself: write the right one down anew")
            if done is not None:
                raise StoreError(
                    f"{line_text}: is taken back already, on {here(done.at):%Y-%m-%d %H:%M} by {done.by or 'nobody'}"
                )
            if row.note.startswith(OF_A_LOT):
                raise StoreError(f"{line_text}: is of a {row.note}: put it back into its lot, so that both agree")
            line = write_line(
                session,
                self._store,
                at,
                row.kind,
                row.alloy,
                -row.mass_g,
                row.person_id,
                row.docket_id,
                f"takes back {line_text}" + (f": {why}" if why else ""),
                row.id,
            )
            return _entry(line, "", "")

    def page(
        self,
        offset: int = 0,
        limit: int = 200,
        order: tuple[str, bool] | None = None,
        words: Collection[str] = (),
    ) -> list[FineEntry]:
        """Lines, the newest first; or in the ``order`` of one of :data:`LINE_COLUMNS`, falling or not. Only those that
        name every one of the ``words``: what happened, metal, who, docket, note, or the grams."""
        query = (
            select(FineRow, PersonRow.name, DocketRow.number)
            .outerjoin(PersonRow, PersonRow.id == FineRow.person_id)
            .outerjoin(DocketRow, DocketRow.id == FineRow.docket_id)
            .offset(offset)
            .limit(limit)
        )
        for word in words:
            query = query.where(or_(*(column.icontains(word, autoescape=True) for column in _named())))
        if order is not None:
            column = LINE_COLUMNS[order[0]]
            query = query.order_by(column.is_(None), column.desc() if order[1] else column)
        query = query.order_by(FineRow.id.desc())
        with self._store.transaction() as session:
            return [_entry(row, person or "", docket or "") for row, person, docket in session.execute(query)]

    def of_docket(self, docket_id: int) -> list[FineEntry]:
        """All lines of one docket, oldest first."""
        query = (
            select(FineRow, PersonRow.name, DocketRow.number)
            .join(DocketRow, DocketRow.id == FineRow.docket_id)
            .outerjoin(PersonRow, PersonRow.id == FineRow.person_id)
            .where(FineRow.docket_id == docket_id)
            .order_by(FineRow.id)
        )
        with self._store.transaction() as session:
            return [_entry(row, person or "", docket) for row, person, docket in session.execute(query)]

    def entries(self, since: datetime | None = None) -> list[FineEntry]:
        """All lines, oldest first."""
        query = (
            select(FineRow, PersonRow.name, DocketRow.number)
            .outerjoin(PersonRow, PersonRow.id == FineRow.person_id)
            .outerjoin(DocketRow, DocketRow.id == FineRow.docket_id)
            .order_by(FineRow.id)
        )
        if since is not None:
            query = query.where(FineRow.at >= since)
        with self._store.transaction() as session:
            return [_entry(row, person or "", docket or "") for row, person, docket in session.execute(query)]


def write_line(
    session: Session,
    store: Connected,
    at: datetime | None,
    kind: str,
    alloy: str,
    mass: float,
    person_id: int | None,
    docket_id: int | None,
    note: str,
    reverses: int | None = None,
) -> FineRow:
    """One checked line of the fine book, within somebody's transaction: weighed ``at`` that moment (None: now), and in
    the month in which it may stand (``closing_store.when_it_stands``)."""
    at, said = when_it_stands(session, store, at)
    note = f"{note}; {said}" if note and said else note or said
    if session.get(AlloyRow, alloy) is None:
        session.merge(AlloyRow(key=alloy))
        session.flush()  # before the line that names it
    row = FineRow(
        at=at,
        by=store.by,
        kind=kind,
        alloy=alloy,
        mass_g=mass,
        person_id=person_id,
        docket_id=docket_id,
        note=note,
        reverses=reverses,
    )
    session.add(row)
    session.flush()
    return row


def _check_line(kind: str, alloy: str, mass: float, known: Collection[str]) -> None:
    if kind not in KINDS:
        raise StoreError(f"kind: {kind!r} is not accepted: one of {', '.join(KINDS)}")
    if alloy not in known:
        raise StoreError(f"alloy: {alloy!r} is not accepted: one of {', '.join(known)}")
    least = -MOST_G if kind == COUNTED else 0.001
    if not math.isfinite(mass) or not least <= mass <= MOST_G or mass == 0:
        raise StoreError(
            f"mass: {mass:g} g is not accepted: "
            + ("not nothing, up to 20000 g either way" if kind == COUNTED else "0.001 to 20000 g")
        )


def _docket(session: Session, number: str) -> DocketRow | None:
    """The docket of a number; None where none is said."""
    if not number:
        return None
    docket = session.scalars(select(DocketRow).where(DocketRow.number == number)).first()
    if docket is None:
        raise StoreError(f"docket: no docket has the number {number}: one from the finder")
    return docket


def _entry(row: FineRow, person: str, docket: str) -> FineEntry:
    return FineEntry(
        id=row.id,
        at=row.at,
        by=row.by,
        kind=row.kind,
        alloy=row.alloy,
        mass=row.mass_g,
        person=person,
        docket=docket,
        note=row.note,
        reverses=row.reverses,
    )
