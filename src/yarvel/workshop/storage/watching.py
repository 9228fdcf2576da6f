"""Seeing that others changed the store: a file's own change counter, or what a team's database tells (LISTEN)."""

from __future__ import annotations

import sqlite3
import threading
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

from yarvel.workshop.storage.location import Location, uri
from yarvel.workshop.storage.on_disk import identity_of

_LOOK_S = 0.3
_GATHER_S = 0.1
_AGAIN_S = 1.0


def watch(place: Location, stop: threading.Event, told: Callable[[], None]) -> None:
    """Call ``told`` within a second of any change that anybody makes, until ``stop`` is set. For a thread of its own;
    a store that is away is waited for, and then counts as changed."""
    while not stop.is_set():
        try:
            if place.path is not None:
                _watch_file(place.path, stop, told)
            else:
                _watch_server(place.url, stop, told)
        except (sqlite3.Error, OSError):
            stop.wait(_AGAIN_S)


def _watch_file(path: Path, stop: threading.Event, told: Callable[[], None]) -> None:
    with closing(sqlite3.connect(uri(path), uri=True, timeout=1)) as connection:
        seen = connection.execute("PRAGMA data_version").fetchone(), identity_of(path)
        while not stop.wait(_LOOK_S):
            # Another file under the name, or none, is told as a change is: whoever is told looks.
            now = connection.execute("PRAGMA data_version").fetchone(), identity_of(path)
            if now != seen:
                seen = now
                told()


def _watch_server(url: str, stop: threading.Event, told: Callable[[], None]) -> None:
    import psycopg

    try:
        with psycopg.connect(
            url.replace("postgresql+psycopg", "postgresql", 1), autocommit=True, connect_timeout=5
        ) as connection:
            connection.execute("LISTEN yarvel")
            told()
            while not stop.is_set():
                if any(True for _ in connection.notifies(timeout=_LOOK_S, stop_after=1)):
                    for _ in connection.notifies(timeout=_GATHER_S):
                        pass  # a change often comes in several notices
                    told()
    except psycopg.Error as error:
        raise OSError(str(error)) from error
