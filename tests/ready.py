"""Stores that are made once a test process and copied: making one takes a quarter of a second, copying one nothing."""

from __future__ import annotations

import atexit
import shutil
import tempfile
from collections.abc import Callable
from datetime import datetime
from functools import cache
from pathlib import Path

from tests.private_server import PrivateServer
from tests.stated import MOMENT
from yarvel.workshop.preparing import prepare_store
from yarvel.workshop.storage.location import location
from yarvel.workshop.store import Store

Fill = Callable[[Store], object]


def morning() -> datetime:
    """The moment at which these stores live: it stands still."""
    return MOMENT


def blank(store: Store) -> None:
    """Nothing is in it."""


@cache
def _file(fill: Fill) -> Path:
    folder = tempfile.mkdtemp(prefix="yarvel-ready-")
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    path = Path(folder) / "store.sqlite"
    store = Store(path, clock=morning)
    fill(store)
    store.close()
    return path


@cache
def _windows_role(server: PrivateServer) -> str:
    server.say("CREATE ROLE windows LOGIN NOSUPERUSER NOCREATEDB NOCREATEROLE")
    return "windows"


@cache
def _database(server: PrivateServer, fill: Fill) -> str:
    """Made ready for windows; its clock is the tests' own."""
    url = server.make_database()
    store = Store(url, clock=morning)
    fill(store)
    store.close()
    prepare_store(location(url), _windows_role(server))
    stand_still(url)
    return url


def stand_still(url: str) -> None:
    """The clock of a server's guards (its owner's function) stands at the tests' moment."""
    engine = location(url).engine()
    with engine.begin() as connection:
        connection.exec_driver_sql(
            "CREATE OR REPLACE FUNCTION yarvel_now() RETURNS timestamp LANGUAGE sql VOLATILE AS "
            f"$$ SELECT timestamp '{MOMENT.isoformat()}' $$"
        )
    engine.dispose()


def file_with(path: Path, fill: Fill = blank) -> Path:
    """A store at ``path`` in which that is; its folder is made."""
    path.parent.mkdir(parents=True, exist_ok=True)
    shutil.copy(_file(fill), path)
    return path


def database_with(server: PrivateServer, fill: Fill = blank) -> str:
    """The URL of a new database in which that is, by the windows' role."""
    return as_windows(server.make_database(_database(server, fill)))


def as_windows(url: str) -> str:
    """A database's URL by the windows' role."""
    return url.replace("keeper@", "windows@")


def as_keeper(url: str) -> str:
    """A database's URL by the server's keeper, who may anything."""
    return url.replace("windows@", "keeper@")
