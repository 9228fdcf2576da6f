"""An open store as such: where it is, whose name it works in, its transactions, and what guards them."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from copy import copy
from datetime import datetime
from pathlib import Path
from typing import Any, Self

from sqlalchemy import Insert, event, func, or_, select
from sqlalchemy.exc import DataError, DBAPIError, IntegrityError, InternalError, ProgrammingError
from sqlalchemy.orm import Mapper, Session, object_session

from yarvel.clock import agree_with, is_the_machines, live_in, now
from yarvel.figures.errors import DoneAlreadyError, StoreError, StoreGoneError
from yarvel.workshop.storage.authors import Author
from yarvel.workshop.storage.backup import copy_out
from yarvel.workshop.storage.identity import Stamp, new_id
from yarvel.workshop.storage.inserting import insert_into
from yarvel.workshop.storage.location import READING, WORKING, Location, location
from yarvel.workshop.storage.migrating import bring_up_to_date, first_line
from yarvel.workshop.storage.on_disk import digest_file, drop
from yarvel.workshop.storage.open_file import OpenFile, put_strange_pages_aside
from yarvel.workshop.storage.rights import WRITE, NotAllowedError, NotSignedInError, check_allowed
from yarvel.workshop.storage.schema import (
    ActRow,
    ChangeRow,
    CustomerRow,
    DocketRow,
    FineRow,
    PersonRow,
    PhotographRow,
    SealRow,
)
from yarvel.workshop.storage.settings import RULES, document

Clock = Callable[[], datetime]
_DAMAGED = ("malformed", "not a database")


class Connected:
    """A store that is open."""

    def __init__(self, where: Path | str | Location, clock: Clock = now, by: str = "") -> None:
        """Open or make a store: a file, or a team's database by URL; ``by`` is the account that works here, for the
        history until somebody signs in.

        Raises
        ------
        StoreError : the folder cannot be written to, the file is no store, or a newer Yarvel wrote it.
        """
        self.location = location(where)
        self._clock = clock
        self.author = Author(by)
        self.stamp: Stamp | None = None
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
        if self.location.is_server and is_the_machines(clock):
            with self.transaction() as session:
                agree_with(session.execute(select(func.yarvel_now())).scalar_one())
        with self.transaction() as session:
            live_in(str(document(session, RULES).get("zone", "")))
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

    def be(self, author: Author) -> None:
        """Somebody signed in, or nobody is here."""
        self.author = author

    def reader(self) -> Self:
        """The same store on connections of its own that only read: neither does it wait for whoever writes, nor they
        for it."""
        other = copy(self)
        other._engine = self.location.engine(READING)
        return other

    def acting(self, author: Author, stamp: Stamp | None = None) -> Self:
        """The same open store in somebody's name: what is done through it stands under that name and its rights. With
        a ``stamp`` it does one thing, once: who does it again is told that it is done (DoneAlreadyError)."""
        other = copy(self)
        other.author, other.stamp = author, stamp
        return other

    def enter(self, session: Session, stamp: Stamp | None = None, deed: str = WRITE) -> None:
        """Write down that a thing is done, before anything that it does: in the same transaction, so that there is
        neither one without the other. What brings no stamp (a dialog, a script) gets one here, as the ``deed``.

        Raises
        ------
        DoneAlreadyError : it is in the store by now, with all that it did; also where another connection has just
            written it and its answer was lost.
        StoreError : something else is in the store under its name.
        """
        stamp = stamp or self.stamp
        if stamp is None:
            if "act" in session.info:
                return
            stamp = Stamp(id=new_id(), deed=deed, pressed=self.now())
        elif session.info.get("act") == stamp.id:
            return
        if session.execute(_once(stamp, self.now(), self.by, self.location.is_server)).first() is None:
            known = session.execute(select(ActRow.digest).where(ActRow.id == stamp.id)).scalar_one()
            if known != stamp.digest:
                raise StoreError(f"{stamp.deed}: something else was stored under its name: do it once more")
            raise DoneAlreadyError(f"{stamp.deed}: is stored already")
        session.info["act"] = stamp.id

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

    def now(self) -> datetime:
        """The time, as it is stored."""
        return self._clock()

    def moment(self, session: Session) -> datetime:
        """The time within a transaction, by the server's clock where there is one: no machine's wrong clock decides
        which month metal stands in."""
        if self.location.is_server and is_the_machines(self._clock):
            server: datetime = session.execute(select(func.yarvel_now())).scalar_one()
            return server
        return self._clock()

    def let_go(self) -> None:
        """Close the connections, and leave the file to whoever shares it: for a reader."""
        self._engine.dispose()

    def close(self) -> None:
        """Let go of the file. Where another one has its name by now, SQLite sees that and leaves its pages alone."""
        self.let_go()
        if self._file is not None and not self._file.moved:
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
        except (IntegrityError, DataError, ProgrammingError, InternalError) as error:
            if "nobody is signed in" in str(error.orig):  # by a team's database, which knows its windows by a token
                if not self.author.signed:
                    check_allowed(WRITE, None)
                raise NotSignedInError(f"{self.by}: the store does not know them any more: sign in again") from error
            raise StoreError(f"{self.location}: {_in_words(error)}") from error
        except DBAPIError as error:
            reason = first_line(error)
            wanted = (
                f"a whole store; the newest copy is put back with: yarvel --store {self.location} restore COPY"
                if any(word in reason for word in _DAMAGED)
                else "a store that can be read and written"
            )
            raise StoreGoneError(f"{self.location}: {reason}: {wanted}") from error

    def change(self, row: DocketRow, at: datetime, field: str, before: Any, after: Any) -> ChangeRow:
        """A line of history in the name of whoever this store acts for."""
        return ChangeRow(docket_id=row.id, at=at, by=self.by, field=field, before=before, after=after)

    def guard(self, session: Session, *acts: str) -> None:
        """Write down what is done (``enter``), and refuse what whoever works here may not do: once anybody has a PIN,
        nothing is written by somebody who did not sign in.

        Raises
        ------
        DoneAlreadyError : it is in the store by now.
        NotAllowedError : with who may.
        """
        self.enter(session, deed=acts[0] if acts else WRITE)
        self._check(session, *acts)

    def refusal(self, *acts: str) -> str:
        """Why whoever works here may not do this; "" where they may."""
        try:
            with self.transaction() as session:
                self._check(session, *acts)
        except (NotAllowedError, NotSignedInError) as error:
            return str(error)
        return ""

    def _check(self, session: Session, *acts: str) -> None:
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


_SAME, _BROKEN = re.compile(r"UNIQUE constraint|duplicate key"), re.compile(r"constraint failed|violates")


def _in_words(error: Exception) -> str:
    """What a database says against a row, without the names that its tables and rules have there."""
    said = first_line(error)
    if _SAME.search(said):
        return "the same is there already, stored a moment ago from here or elsewhere: look before it is done anew"
    if _BROKEN.search(said):
        return "something in it is not accepted there, and nothing was stored: look again at what was typed"
    return f"{said}: a store that can be read and written"


def _once(stamp: Stamp, now: datetime, by: str, on_server: bool) -> Insert:
    """What writes a thing down, or tells of no row where it stands there: a connection that waits for another one's
    COMMIT is told by it, whichever way that ends. Nothing is pressed after it is stored."""
    pressed = None if stamp.pressed is None else min(stamp.pressed, now)
    row = insert_into(ActRow, on_server).values(
        id=stamp.id,
        deed=stamp.deed,
        digest=stamp.digest,
        pressed_at=pressed,
        stored_at=now,
        by=by,
        follows=stamp.follows,
    )
    return row.on_conflict_do_nothing(index_elements=["id"]).returning(ActRow.seq)


def _named(
    _mapper: Mapper[Any], _connection: Any, row: ChangeRow | FineRow | PhotographRow | CustomerRow | SealRow
) -> None:
    """Every line stands under the act that wrote it."""
    session = object_session(row)
    if session is not None and not row.act:
        row.act = session.info.get("act", "")


for _kept in (ChangeRow, FineRow, PhotographRow, CustomerRow, SealRow):
    event.listen(_kept, "before_insert", _named)
