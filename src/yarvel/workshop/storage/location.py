"""Where a store is: a SQLite file for one machine, or a PostgreSQL database for a team."""

from __future__ import annotations

import glob
import hashlib
import sqlite3
from pathlib import Path
from time import monotonic, sleep
from typing import TYPE_CHECKING, Any

from msgspec import Struct

from yarvel.figures.errors import StoreError
from yarvel.workshop.storage.places import data_folder

if TYPE_CHECKING:
    from sqlalchemy import Engine

_SERVERS = ("postgresql", "postgres", "postgresql+psycopg")

_PATIENCE = {
    "connect_timeout": 4,
    "keepalives_idle": 5,
    "keepalives_interval": 2,
    "keepalives_count": 3,
    "tcp_user_timeout": 8000,
}
"""Seconds (the last: ms) after which a server that has gone is taken for gone."""
_PLAN_ANEW: dict[str, Any] = {"prepare_threshold": None}
"""A word that everybody's docket holds and one that none does want other plans: no statement is prepared."""


class Use(Struct, frozen=True, kw_only=True):
    """What a connection is for, and how long it waits: for a lock and a statement on a server, with a transaction left
    open there (ms), for an answer of any kind (s); for a file that somebody else holds (s)."""

    lock_ms: int = 0
    statement_ms: int = 0
    idle_ms: int = 0
    deadline_s: float = 3600
    patience_s: float = 60
    reading: bool = False


WORKING = Use(lock_ms=3500, statement_ms=20_000, idle_ms=30_000, deadline_s=4.5, patience_s=10)
"""The windows' connection: a stuck one is told within five seconds."""
READING = Use(lock_ms=3500, statement_ms=60_000, idle_ms=60_000, deadline_s=60, patience_s=10, reading=True)
"""Long lists and reports, beside the work."""
UNLIMITED = Use()
"""Migrations, copies and moves take as long as they take."""

_ACCEPTED = "a path, or postgresql://user@host/database"


class Location(Struct, frozen=True):
    """One store: ``path`` where it is a file, else ``url`` of its database. Making one loads no database library."""

    path: Path | None
    url: str

    @property
    def is_server(self) -> bool:
        """Whether a team shares it."""
        return self.path is None

    def __str__(self) -> str:
        if self.path is not None:
            return str(self.path)
        from sqlalchemy import make_url

        url = make_url(self.url)
        hidden = {name: "***" for name in url.query if "password" in name.lower()}
        return url.update_query_dict(hidden).render_as_string(hide_password=True)

    @property
    def window_file(self) -> Path:
        """Where this machine's windows on it are remembered."""
        return self._beside(".window.ini")

    @property
    def waiting_folder(self) -> Path:
        """Where edits wait until they are stored. Its name holds the store's whole name: two stores that differ
        in their ending only share nothing."""
        return self._beside(".waiting")

    def _beside(self, ending: str) -> Path:
        if self.path is not None:
            return self.path.with_name(self.path.name + ending)
        name = hashlib.sha256(str(self).encode()).hexdigest()[:12]
        return data_folder() / f"team-{name}{ending}"

    @property
    def former_waiting_folder(self) -> Path | None:
        """Where edits on a file waited up to Yarvel 0.1, without the ending of its name; None where that cannot be told
        from another store's."""
        if self.path is None:
            return None
        former = self.path.with_suffix(".waiting")
        others = [path for path in self.path.parent.glob(f"{glob.escape(self.path.stem)}.*") if _may_be_store(path)]
        return former if others in ([], [self.path]) and former != self.waiting_folder else None

    def engine(self, use: Use | None = None) -> Engine:
        """An engine for it, without any limit where no use is named; the driver of a server is loaded here."""
        from sqlalchemy import create_engine

        if self.path is not None:
            return _file_engine(self.path, use or UNLIMITED)
        if use is None:
            return create_engine(self.url, pool_pre_ping=True, connect_args={**_PATIENCE, **_PLAN_ANEW})
        from yarvel.workshop.storage.deadline import keep_deadline

        options = {
            "lock_timeout": use.lock_ms,
            "statement_timeout": use.statement_ms,
            "idle_in_transaction_session_timeout": use.idle_ms,
            "default_transaction_read_only": "on" if use.reading else "off",
        }
        said = " ".join(f"-c {name}={value}" for name, value in options.items())
        arguments = {**_PATIENCE, **_PLAN_ANEW, "options": said}
        engine = create_engine(self.url, connect_args=arguments)
        keep_deadline(engine, use.deadline_s)
        return engine


def location(where: Path | str | Location) -> Location:
    """Where somebody means (StoreError for a URL of another kind)."""
    if isinstance(where, Location):
        return where
    text = str(where)
    if "://" not in text:
        return Location(Path(where), "")
    from sqlalchemy import make_url
    from sqlalchemy.exc import ArgumentError

    try:
        url = make_url(text)
    except ArgumentError as error:
        raise StoreError(f"--store: no address of a store: {_ACCEPTED}") from error
    if url.drivername not in _SERVERS:
        raise StoreError(f"--store: {url.drivername} is not accepted: {_ACCEPTED}")
    return Location(None, url.set(drivername="postgresql+psycopg").render_as_string(hide_password=False))


def uri(path: Path, mode: str = "ro") -> str:
    """A file's address for SQLite, whatever signs are in its name."""
    return f"{path.absolute().as_uri()}?mode={mode}"


def _may_be_store(path: Path) -> bool:
    """Whether a file begins as every SQLite file does."""
    try:
        if not path.is_file():
            return False
        with path.open("rb") as file:
            return file.read(15) == b"SQLite format 3"
    except OSError:
        return False


def _file_engine(path: Path, use: Use) -> Engine:
    from sqlalchemy import URL, create_engine, event

    # An absolute path: one that begins with "file:" would be taken for an address.
    place = URL.create("sqlite", database=str(path.absolute()))
    engine = create_engine(place, connect_args={"timeout": use.patience_s})

    @event.listens_for(engine, "connect")
    def _on_connect(connection: sqlite3.Connection, _record: object) -> None:
        connection.isolation_level = None
        _keep_journal(connection, use.patience_s)
        for pragma in ("synchronous = FULL", "foreign_keys = ON"):
            connection.execute(f"PRAGMA {pragma}")

    @event.listens_for(engine, "begin")
    def _on_begin(connection: Any) -> None:
        connection.exec_driver_sql("BEGIN" if use.reading else "BEGIN IMMEDIATE")

    return engine


def _keep_journal(connection: sqlite3.Connection, patience_s: float) -> None:
    """The write-ahead journal. While another window turns it on, SQLite says "locked" at once, whatever patience it was
    asked for: so it is asked again."""
    end = monotonic() + patience_s
    while True:
        try:
            connection.execute("PRAGMA journal_mode = WAL")
            return
        except sqlite3.OperationalError as error:
            if "locked" not in str(error) or monotonic() > end:
                raise
            sleep(0.02)
