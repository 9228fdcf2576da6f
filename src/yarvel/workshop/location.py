"""Where a store is: a SQLite file for one machine, or a PostgreSQL database for a team."""

from __future__ import annotations

import hashlib
import sqlite3
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any

from yarvel.figures.errors import StoreError
from yarvel.workshop.places import data_folder

if TYPE_CHECKING:
    from sqlalchemy import Engine

_SERVERS = ("postgresql", "postgres", "postgresql+psycopg")
_PATIENCE = {
    "connect_timeout": 5,
    "keepalives_idle": 5,
    "keepalives_interval": 2,
    "keepalives_count": 3,
    "tcp_user_timeout": 8000,
}
"""Seconds (the last: ms) after which a server that has gone is taken for gone."""
_PLAN_ANEW: dict[str, Any] = {"prepare_threshold": None}
"""A word that everybody's docket holds and one that none does want other plans: no statement is prepared."""
_ACCEPTED = "a path, or postgresql://user@host/database"


@dataclass(frozen=True)
class Location:
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

        return make_url(self.url).render_as_string(hide_password=True)

    @property
    def window_file(self) -> Path:
        """Where this machine's windows on it are remembered."""
        if self.path is not None:
            return self.path.with_suffix(".window.ini")
        name = hashlib.sha256(str(self).encode()).hexdigest()[:12]
        return data_folder() / f"team-{name}.window.ini"

    @property
    def waiting_folder(self) -> Path:
        """Where edits wait until they are stored."""
        return self.window_file.with_suffix("").with_suffix(".waiting")

    def engine(self) -> Engine:
        """An engine for it; the driver of a server is loaded here."""
        from sqlalchemy import create_engine

        if self.path is not None:
            return _file_engine(self.path)
        return create_engine(self.url, pool_pre_ping=True, connect_args={**_PATIENCE, **_PLAN_ANEW})


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


def _file_engine(path: Path) -> Engine:
    from sqlalchemy import URL, create_engine, event

    engine = create_engine(URL.create("sqlite", database=str(path)), connect_args={"timeout": 10})

    @event.listens_for(engine, "connect")
    def _on_connect(connection: sqlite3.Connection, _record: object) -> None:
        connection.isolation_level = None
        for pragma in ("journal_mode = WAL", "synchronous = FULL", "foreign_keys = ON"):
            connection.execute(f"PRAGMA {pragma}")

    @event.listens_for(engine, "begin")
    def _on_begin(connection: Any) -> None:
        connection.exec_driver_sql("BEGIN IMMEDIATE")

    return engine
