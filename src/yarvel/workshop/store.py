"""The store: one SQLite file that keeps every docket, what was typed, and the history of it all."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from copy import copy
from datetime import UTC, date, datetime
from pathlib import Path
from typing import Any

from sqlalchemy import func, or_, select, update
from sqlalchemy.exc import DataError, DBAPIError, IntegrityError, InternalError, ProgrammingError
from sqlalchemy.orm import Session

from yarvel.figures.errors import StoreError, StoreGoneError
from yarvel.planning.job import FORMAT
from yarvel.workshop.accepting import check_fields, check_job
from yarvel.workshop.archive_store import ArchiveStore
from yarvel.workshop.authors import NOBODY, Author
from yarvel.workshop.backup import copy_out
from yarvel.workshop.docket_rows import docket_of, docket_row, findable, new_row, plain
from yarvel.workshop.dockets import DETAILS, STATES, Change, Docket, DocketEdit
from yarvel.workshop.drawer_store import DrawerStore
from yarvel.workshop.finding import find, next_number, next_stone
from yarvel.workshop.fine_store import FineStore
from yarvel.workshop.house_store import HouseStore
from yarvel.workshop.location import READING, WORKING, Location, location
from yarvel.workshop.merging import EditClashError, merge
from yarvel.workshop.migrating import bring_up_to_date, first_line
from yarvel.workshop.on_disk import digest_file, drop
from yarvel.workshop.open_file import OpenFile, leave_open, put_strange_pages_aside
from yarvel.workshop.people_store import PeopleStore
from yarvel.workshop.photograph_store import PhotographStore
from yarvel.workshop.release import check_release
from yarvel.workshop.schema import ChangeRow, DocketRow, PersonRow
from yarvel.workshop.task_store import TaskStore
from yarvel.workshop.tasks import Person
from yarvel.workshop.who_may import TAKE_IN, WRITE, NotAllowedError, NotSignedInError, acts_of, check_allowed
from yarvel.workshop.words import words_of

Clock = Callable[[], datetime]
_EDITABLE = ("customer", "item", "promised_on", "state", "drafts", "ticks", *DETAILS)
_DAMAGED = ("malformed", "not a database")
_SILENT = ("drafts", "estimate")
"""Columns kept safe but not told in the history."""


def utc_now() -> datetime:
    """The time now, UTC, without zone, as it is stored."""
    return datetime.now(UTC).replace(tzinfo=None)


class Store:
    """An open store. Every method is one transaction; records go in and out, never rows."""

    def __init__(self, where: Path | str | Location, clock: Clock = utc_now, by: str = "") -> None:
        """Open or make a store: a file, or a team's database by URL; ``by`` is the account that works here, for the
        history until somebody signs in.

        Raises
        ------
        StoreError : the folder cannot be written to, the file is no store, or a newer Yarvel wrote it.
        """
        self.location = location(where)
        self._clock = clock
        self.author = Author(by)
        self.signed_in: Person | None = None
        path = self.location.path
        if path is not None:
            try:
                path.parent.mkdir(parents=True, exist_ok=True)
            except OSError as error:
                raise StoreError(f"{path.parent}: {error.strerror}: a folder that can be written to") from error
        self.strange_pages = None if path is None else put_strange_pages_aside(path)
        bring_up_to_date(self.location)
        self._engine = self.location.engine(WORKING)
        self._file = None if path is None else OpenFile(path)
        if self._file is not None:
            with self._engine.connect():
                self._file.note()

    @property
    def path(self) -> Path | None:
        """The store's file; None where it is a team's database."""
        return self.location.path

    @property
    def by(self) -> str:
        """The name under which history is written."""
        return self.author.name

    def be(self, person: Person | None, token: str = "") -> None:
        """Somebody signed in (with the token that a server gave), or nobody is here."""
        self.signed_in = person
        self.author = NOBODY if person is None else Author(person.name, person.id, token)

    def reader(self) -> Store:
        """The same store on connections of its own that only read: neither does it wait for whoever writes, nor they
        for it."""
        other = copy(self)
        other._engine = self.location.engine(READING)
        return other

    def acting(self, author: Author) -> Store:
        """The same open store in somebody's name: what is done through it stands under that name and its rights."""
        other = copy(self)
        other.author = author
        return other

    @property
    def moved(self) -> bool:
        """Whether the file that was opened is no longer where it was."""
        return self._file is not None and self._file.moved

    def save_elsewhere(self, target: Path) -> None:
        """Copy all that is stored into a new file, also where the file that was opened is gone (StoreError as
        ``workshop.backup.backup``)."""
        pool: Any = self._engine.pool
        if self.moved and not pool.checkedin():
            raise StoreGoneError(f"{self.location}: is in use this very moment: try again")
        with self._engine.connect() as connection:
            driver: Any = connection.connection.driver_connection
            copy_out(driver, target)
        drop(digest_file(target))  # it is to be written to

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

    def now(self) -> datetime:
        """The time, as it is stored."""
        return self._clock()

    def close(self) -> None:
        """Let go of the file."""
        if self._file is not None and self._file.moved:
            pool: Any = self._engine.pool
            for held in [self._engine.raw_connection() for _ in range(pool.checkedin())]:
                leave_open(held.driver_connection)
            return
        self._engine.dispose()
        if self._file is not None:
            self._file.forget()

    @contextmanager
    def transaction(self) -> Iterator[Session]:
        """One transaction; what the database says against it comes as a StoreError, as a StoreGoneError where trying
        again later may help."""
        try:
            if self._file is not None:
                self._file.check()
            with Session(self._engine) as session, session.begin():
                if self.location.is_server and self.author.token:
                    session.execute(select(func.set_config("yarvel.token", self.author.token, True)))
                yield session
            if self._file is not None:
                self._file.check()  # what was just written is where people will look for it
        except (IntegrityError, DataError, ProgrammingError) as error:
            raise StoreError(f"{self.location}: {first_line(error)}: a store that can be read and written") from error
        except InternalError as error:  # what a team's database refuses by its own guards
            if "nobody is signed in" in str(error.orig):
                raise NotSignedInError(f"{self.by}: the store does not know them any more: sign in again") from error
            raise StoreError(f"{self.location}: {first_line(error)}: what is allowed there") from error
        except DBAPIError as error:
            told = str(error.orig)
            wanted = (
                f"a whole store; the newest copy is put back with: yarvel --store {self.location} restore COPY"
                if any(word in told for word in _DAMAGED)
                else "a store that can be read and written"
            )
            raise StoreGoneError(f"{self.location}: {told}: {wanted}") from error

    def guard(self, session: Session, *acts: str) -> None:
        """Refuse what whoever works here may not do: once anybody has a PIN, nothing is written by somebody who did not
        sign in.

        Raises
        ------
        NotAllowedError : with who may.
        """
        mine = -1 if self.author.id is None else self.author.id
        query = select(PersonRow.id, PersonRow.role, PersonRow.name).where(
            PersonRow.left_at.is_(None), or_(PersonRow.pin_salt != "", PersonRow.id == mine)
        )
        people = {row.id: row for row in session.execute(query)}
        if not people:
            return
        me = people.get(mine)
        if me is None and self.author.signed:
            raise NotAllowedError(f"{self.author.name}: does not work here any more: somebody who does")
        if me is None:
            check_allowed(WRITE, None)
        elif me.name != self.author.name:
            raise NotAllowedError(
                f"{self.author.name}: is not {me.name}: what somebody signed in does under their name"
            )
        else:
            for act in acts:
                check_allowed(act, me.role)

    def new_docket(
        self,
        customer: str = "",
        item: str = "",
        promised_on: date | None = None,
        job_document: dict[str, Any] | None = None,
        state: str = STATES[0],
    ) -> Docket:
        """Take in a docket under the next number of the year."""
        now = self._clock()
        document = job_document or {"format": FORMAT}
        check_fields("new docket", {"customer": customer, "item": item, "promised_on": promised_on, "state": state})
        check_job("new docket", document)
        with self.transaction() as session:
            self.guard(session, TAKE_IN)
            row = new_row(
                now,
                number=next_number(session, now),
                customer=customer,
                item=item,
                promised_on=promised_on,
                state=state,
                job_document=document,
            )
            session.add(row)
            session.flush()
            session.add(ChangeRow(docket_id=row.id, at=now, by=self.by, field="docket", before=None, after="taken in"))
            return docket_of(row)

    def add_stone(self, docket_id: int) -> Docket:
        """Another stone of the same piece: a docket under the same number with /2, /3, with a job, tasks and checks of
        its own; what was taken in of the piece is copied."""
        now = self._clock()
        with self.transaction() as session:
            self.guard(session, TAKE_IN)
            main = docket_row(session, docket_id)
            copied = {
                name: getattr(main, name)
                for name in ("customer", "customer_kind", "item", "promised_on", "metal", "mark", "reported")
            }
            row = new_row(
                now, number=next_stone(session, main.number), state=STATES[0], job_document={"format": FORMAT}, **copied
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

        What a field held before is kept in the history, so nothing is ever lost. Returns the docket as it is then.

        Raises
        ------
        EditClashError : somebody else changed the same fields since they were seen here; nothing is written.
        NotAllowedError : whoever works here may not do this.
        """
        now = self._clock()
        with self.transaction() as session:
            self.guard(session, *acts_of(edit))
            row = docket_row(session, docket_id, to_change=True)
            held = docket_of(row)
            unknown = [name for name in edit.fields if name not in _EDITABLE]
            if unknown:
                raise StoreError(f"{unknown[0]}: not a field of a docket: one of {', '.join(_EDITABLE)}")
            check_fields(row.number, edit.fields)
            merged = merge(held, edit)
            if merged.clashes:
                last = session.scalars(
                    select(ChangeRow.by).where(ChangeRow.docket_id == docket_id).order_by(ChangeRow.id.desc()).limit(1)
                ).first()
                raise EditClashError(held, merged.clashes, last or "")
            changes: list[ChangeRow] = []
            values: dict[str, Any] = {}
            if merged.job_document != row.job_document:
                check_job(row.number, merged.job_document)
                values["job_document"] = merged.job_document
                changes.append(self.change(row, now, "job", row.job_document, merged.job_document))
            check_release(row.state, row.released_by, row.release_reason, edit, self.author)
            for name, value in merged.fields.items():
                before = getattr(row, name)
                if value != before:
                    values[name] = value
                    if name not in _SILENT:
                        changes.append(self.change(row, now, name, plain(before), plain(value)))
            if values:
                values["words"] = words_of({**findable(row), **values})
                session.execute(
                    update(DocketRow)
                    .where(DocketRow.id == docket_id)
                    .values(**values, version=DocketRow.version + 1, updated_at=now)
                )
                session.add_all(changes)
                session.expire(row)
            return docket_of(row)

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
        found: list[Docket] = []
        with self.transaction() as session:
            row: DocketRow | None = docket_row(session, docket_id)
            while row is not None and row.earlier_number and len(found) < 50:
                row = session.scalars(select(DocketRow).where(DocketRow.number == row.earlier_number.strip())).first()
                if row is None or row.id == docket_id or row.id in [docket.id for docket in found]:
                    break
                found.append(docket_of(row))
        return found

    def change(self, row: DocketRow, at: datetime, field: str, before: Any, after: Any) -> ChangeRow:
        """A line of history in the name of whoever this store acts for."""
        return ChangeRow(docket_id=row.id, at=at, by=self.by, field=field, before=before, after=after)
