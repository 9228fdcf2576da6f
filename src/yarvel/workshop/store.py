"""The store: one SQLite file that keeps every docket, what was typed, and the history of it all."""

from __future__ import annotations

from datetime import date
from typing import Any

from sqlalchemy import or_, select, update
from sqlalchemy.orm import Session

from yarvel.figures.errors import DoneAlreadyError, StoreError
from yarvel.planning.job import FORMAT
from yarvel.workshop.dockets.accepting import check_fields, check_job
from yarvel.workshop.dockets.archive_store import ArchiveStore
from yarvel.workshop.dockets.edit_rights import acts_of
from yarvel.workshop.dockets.finding import dockets_of, find, next_number, next_stone
from yarvel.workshop.dockets.merging import EditClashError, merge
from yarvel.workshop.dockets.photograph_store import PhotographStore
from yarvel.workshop.dockets.records import FIELDS, NEW_DOCKET, SILENT, TAKEN_IN, Change, Docket, DocketEdit
from yarvel.workshop.dockets.release import check_release
from yarvel.workshop.dockets.rows import (
    PATCHED,
    as_one_line,
    both_ways,
    docket_of,
    docket_row,
    findable,
    new_row,
    plain,
)
from yarvel.workshop.dockets.words import words_of
from yarvel.workshop.drawer.drawer_store import DrawerStore
from yarvel.workshop.house_store import HouseStore
from yarvel.workshop.metal.closing_store import ClosingStore
from yarvel.workshop.metal.fine_store import FineStore
from yarvel.workshop.people.customer_store import CustomerStore
from yarvel.workshop.people.people_store import PeopleStore
from yarvel.workshop.storage.connection import Connected
from yarvel.workshop.storage.rights import TAKE_IN
from yarvel.workshop.storage.schema import ChangeRow, DocketRow
from yarvel.workshop.work.day_store import DayStore
from yarvel.workshop.work.task_standing import leave_or_return
from yarvel.workshop.work.task_store import TaskStore


class Store(Connected):
    """An open store: its dockets, and the doors to all else.

    Every method is one transaction; records go in and out, never rows.
    """

    @property
    def photographs(self) -> PhotographStore:
        """Photographs of dockets."""
        return PhotographStore(self)

    @property
    def house(self) -> HouseStore:
        """The house rules, and what this store is."""
        return HouseStore(self)

    @property
    def archives(self) -> ArchiveStore:
        """Dockets that come in from archives."""
        return ArchiveStore(self)

    @property
    def tasks(self) -> TaskStore:
        """Tasks and people."""
        return TaskStore(self)

    @property
    def day(self) -> DayStore:
        """The plan of the day: hours, absences, pins, what was shown."""
        return DayStore(self)

    @property
    def people(self) -> PeopleStore:
        """Who works here, signs in, and as what."""
        return PeopleStore(self)

    @property
    def drawer(self) -> DrawerStore:
        """The stock drawer."""
        return DrawerStore(self)

    @property
    def fine(self) -> FineStore:
        """The fine book."""
        return FineStore(self)

    @property
    def customers(self) -> CustomerStore:
        """Whose the dockets are."""
        return CustomerStore(self)

    @property
    def closings(self) -> ClosingStore:
        """Months of the fine book that are signed off."""
        return ClosingStore(self)

    def new_docket(
        self,
        customer: str = "",
        item: str = "",
        promised_on: date | None = None,
        job_document: dict[str, Any] | None = None,
        state: str = TAKEN_IN,
    ) -> Docket:
        """Take in a docket under the next number of the year."""
        values = {"customer": customer, "item": item, "promised_on": promised_on, "state": state}
        with self.transaction() as session:
            return _taken_in(self, session, {**values, "job_document": job_document or {"format": FORMAT}})

    def add_stone(self, docket_id: int) -> Docket:
        """Another stone of the same piece: a docket under the same number with /2, /3, with a job, tasks and checks of
        its own; what was taken in of the piece is copied."""
        now = self._clock()
        with self.transaction() as session:
            self.guard(session, TAKE_IN)
            main = docket_row(session, docket_id)
            copied = {name: getattr(main, name) for name, docket_field in FIELDS.items() if docket_field.copied}
            row = new_row(
                now, number=next_stone(session, main.number), state=TAKEN_IN, job_document={"format": FORMAT}, **copied
            )
            session.add(row)
            session.flush()
            session.add(self.change(row, now, "docket", None, f"another stone of {main.number}"))
            return docket_of(row)

    def stones(self, docket_id: int) -> list[Docket]:
        """All stones of a docket's piece, each with its job, the first one first."""
        with self.transaction() as session:
            main = docket_row(session, docket_id).number.split("/")[0]
            rows = session.scalars(
                select(DocketRow).where(or_(DocketRow.number == main, DocketRow.number.like(f"{main}/%")))
            )
            return [docket_of(row) for row in sorted(rows, key=lambda row: (len(row.number), row.number))]

    def docket(self, docket_id: int) -> Docket:
        """One docket; StoreError where there is none of that id."""
        with self.transaction() as session:
            return docket_of(docket_row(session, docket_id))

    def dockets(self, words: str = "", limit: int = 200) -> list[Docket]:
        """Dockets of which every word is found: in number, customer, item, state, metal, mark, report, promised date,
        in the job (stone, cut, head, metal), or as a person who has a task of it; newest change first."""
        with self.transaction() as session:
            return [docket_of(row) for row in find(session, words, limit)]

    def edit(self, docket_id: int, edit: DocketEdit) -> Docket:
        """Apply an edit to what is stored now, so that edits made elsewhere to other fields are kept.

        What was changed, and what it was before, is one line of the history, so nothing is ever lost. Returns the
        docket as it is then.

        Raises
        ------
        EditClashError : somebody else changed the same fields since they were seen here; nothing is written.
        NotAllowedError : whoever works here may not do this.
        """
        try:
            with self.transaction() as session:
                self.enter(session, edit.stamp())
                return _edited(self, session, docket_id, edit)
        except DoneAlreadyError:
            return self.docket(docket_id)

    def take_in(self, edit: DocketEdit, typed_by: str = "") -> Docket:
        """Take in a docket with what was typed for it (``typed_by`` somebody else), in one act: there is no number
        without it, and the same edit twice is one docket (StoreError as ``new_docket`` and ``edit``)."""
        try:
            with self.transaction() as session:
                self.enter(session, edit.stamp(NEW_DOCKET))
                docket = _taken_in(self, session, {"job_document": {"format": FORMAT}}, typed_by)
                return _edited(self, session, docket.id, edit) if edit else docket
        except DoneAlreadyError:
            return dockets_of(self, edit.id)[0]

    def history(self, docket_id: int) -> list[Change]:
        """All changes of a docket, oldest first."""
        query = select(ChangeRow).where(ChangeRow.docket_id == docket_id).order_by(ChangeRow.id)
        with self.transaction() as session:
            return [Change(row.at, row.field, row.before, row.after, row.by) for row in session.scalars(query)]

    def numbered(self, number: str) -> Docket | None:
        """The docket of a number as it stands on its label; None where there is none."""
        with self.transaction() as session:
            row = session.scalars(select(DocketRow).where(DocketRow.number == number.strip())).first()
            return None if row is None else docket_of(row)

    def came_before(self, docket_id: int) -> list[Docket]:
        """The dockets under which the same piece came in before, newest first; each is taken once."""
        dockets: list[Docket] = []
        with self.transaction() as session:
            row: DocketRow | None = docket_row(session, docket_id)
            while row is not None and row.earlier_number and len(dockets) < 50:
                row = session.scalars(select(DocketRow).where(DocketRow.number == row.earlier_number.strip())).first()
                if row is None or row.id == docket_id or row.id in [docket.id for docket in dockets]:
                    break
                dockets.append(docket_of(row))
        return dockets


def _taken_in(store: Store, session: Session, values: dict[str, Any], typed_by: str = "") -> Docket:
    now, document = store.now(), values["job_document"]
    check_fields("new docket", {name: value for name, value in values.items() if name != "job_document"})
    check_job("new docket", document)
    store.guard(session, TAKE_IN)
    row = new_row(now, **{"state": TAKEN_IN, **values, "number": next_number(session, now)})
    session.add(row)
    session.flush()
    how = f"{TAKEN_IN}, as {typed_by} had typed it" if typed_by and typed_by != store.by else TAKEN_IN
    session.add(ChangeRow(docket_id=row.id, at=now, by=store.by, field="docket", before=None, after=how))
    session.flush()
    return docket_of(row)


def _edited(store: Store, session: Session, docket_id: int, edit: DocketEdit) -> Docket:
    now = store.now()
    store.guard(session, *acts_of(edit))
    row = docket_row(session, docket_id, to_change=True)
    docket = docket_of(row)
    unknown = [name for name in edit.fields if name not in FIELDS]
    if unknown:
        raise StoreError(f"{unknown[0]}: not a field of a docket: one of {', '.join(FIELDS)}")
    check_fields(row.number, edit.fields)
    merged = merge(docket, edit)
    if merged.clashes:
        last = session.scalars(
            select(ChangeRow.by).where(ChangeRow.docket_id == docket_id).order_by(ChangeRow.id.desc()).limit(1)
        ).first()
        raise EditClashError(docket, merged.clashes, last or "")
    changes: dict[str, tuple[Any, Any]] = {}
    values: dict[str, Any] = {}
    if merged.job_document != row.job_document:
        check_job(row.number, merged.job_document)
        values["job_document"] = merged.job_document
        changes["job"] = both_ways(row.job_document, merged.job_document)
    check_release(docket, edit, store.author)
    for name, value in merged.fields.items():
        before = getattr(row, name)
        if value != before:
            values[name] = value
            if name not in SILENT:
                changes[name] = both_ways(before, value) if name in PATCHED else (plain(before), plain(value))
    if values:
        values["words"] = words_of({**findable(row), **values})
        session.execute(
            update(DocketRow)
            .where(DocketRow.id == docket_id)
            .values(**values, version=DocketRow.version + 1, updated_at=now)
        )
        if changes and not store.location.is_server:  # a server writes the line itself
            session.add(store.change(row, now, *as_one_line(changes)))
        if "withdrawn" in values:
            leave_or_return(session, docket_id, now, bool(values["withdrawn"]))
        session.expire(row)
    return docket_of(row)
