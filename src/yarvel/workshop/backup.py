"""Copies of the store: made while it is in use, verified after writing, kept a fortnight.

One is put back without losing what was there.
"""

from __future__ import annotations

import hashlib
import os
import sqlite3
from collections.abc import Callable
from contextlib import closing, suppress
from dataclasses import dataclass
from datetime import date, datetime
from pathlib import Path

from yarvel.figures.errors import StoreError
from yarvel.workshop.migrating import stored_revision

KEPT_DAYS = 14
LARGE_BYTES = 20_000_000
_PREFIX = "nightly-"


@dataclass(frozen=True)
class Summary:
    """What a store holds: rows by table, and one digest over all of it."""

    rows: dict[str, int]
    digest: str


def summary(path: Path) -> Summary:
    """Count and digest every table of a store, in the order of its rows (StoreError where it cannot be read whole)."""
    if stored_revision(path) is None:
        raise StoreError(f"{path}: there is no store: a store that Yarvel made")
    found: dict[str, int] = {}
    digest = hashlib.sha256()
    try:
        with closing(sqlite3.connect(f"file:{path}?mode=ro", uri=True, timeout=10)) as connection:
            broken = connection.execute("PRAGMA integrity_check").fetchone()[0]
            if broken != "ok":
                raise StoreError(f"{path}: damaged ({broken}): a whole store; restore the newest copy")
            names = [
                row[0]
                for row in connection.execute(
                    "SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%' ORDER BY name"
                )
            ]
            for name in names:
                count = 0
                for row in connection.execute(f'SELECT * FROM "{name}" ORDER BY 1'):
                    digest.update(repr(row).encode())
                    count += 1
                found[name] = count
                digest.update(name.encode())
    except sqlite3.Error as error:
        raise StoreError(f"{path}: {error}: a store that can be read") from error
    return Summary(found, digest.hexdigest())


def backup(path: Path, target: Path) -> Summary:
    """Copy a store while it may be in use, verify the copy, and only then give it its name.

    Raises
    ------
    StoreError : there is no store, the folder cannot be written to, the disk is full, or the copy is not the same.
    """
    if stored_revision(path) is None:
        raise StoreError(f"{path}: there is no store: a store that Yarvel made")
    if target.exists() and target.resolve() == path.resolve():
        raise StoreError(f"{target}: is the store itself: another name")
    part = target.with_name(target.name + ".part")
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
        part.unlink(missing_ok=True)
        with closing(sqlite3.connect(path, timeout=10)) as source, closing(sqlite3.connect(part)) as copy:
            source.backup(copy)
            copy.execute("PRAGMA journal_mode = DELETE")
        made = summary(part)
        _flush(part)
        part.replace(target)
    except (OSError, sqlite3.Error) as error:
        _drop(part)
        raise StoreError(
            f"{target}: {getattr(error, 'strerror', None) or error}: a folder with room that can be written to"
        ) from error
    except StoreError:
        _drop(part)
        raise
    return made


def restore(source: Path, path: Path, now: datetime) -> tuple[Summary, Path | None]:
    """Put a copy in the place of a store; what was there is kept beside it under a name of its own.

    Returns what was put back, and where the store that was there went (None where there was none).

    Raises
    ------
    StoreError : the copy is no whole store, or the store is open in a window.
    """
    wanted = summary(source)
    kept: Path | None = None
    if path.exists():
        refuse_in_use(path)
        kept = path.with_name(f"{path.name}.before-restore-{now:%Y%m%d-%H%M%S}")
        backup(path, kept)
    made = backup(source, path.with_name(path.name + ".restored"))
    if made != wanted:
        raise StoreError(f"{source}: changed while it was read: a copy that nothing writes to")
    for tail in ("-wal", "-shm"):
        path.with_name(path.name + tail).unlink(missing_ok=True)
    path.with_name(path.name + ".restored").replace(path)
    return made, kept


def refuse_in_use(path: Path) -> None:
    """StoreError where a window has a store open."""
    try:
        with closing(sqlite3.connect(path, timeout=0.5)) as connection:
            connection.execute("PRAGMA locking_mode = EXCLUSIVE")
            connection.execute("BEGIN EXCLUSIVE")
            connection.rollback()
    except sqlite3.Error as error:
        raise StoreError(f"{path}: is open in a window: close Yarvel first") from error


def settle_file(path: Path) -> None:
    """Make a store that was just written one file, on the disk."""
    with closing(sqlite3.connect(path, timeout=10)) as connection:
        connection.execute("PRAGMA journal_mode = DELETE")
    _flush(path)


def _drop(part: Path) -> None:
    """Take away what could not be finished, where that can be done."""
    with suppress(OSError):
        part.unlink(missing_ok=True)


def _flush(path: Path) -> None:
    with path.open("rb+") as file:
        os.fsync(file.fileno())


def _copy_apart(path: Path, target: Path) -> None:
    import subprocess
    import sys

    command = [sys.executable, "-m", "yarvel.cli", "--store", str(path), "backup", str(target)]
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    if done.returncode != 0:
        raise StoreError(done.stderr.strip() or f"{target}: the copy was not finished: a folder with room")


def folder_of(path: Path) -> Path:
    """Where the nightly copies of a store lie."""
    return path.with_name(f"{path.stem}-copies")


def nightly_of(folder: Path, today: date, copy: Callable[[Path], object]) -> Path | None:
    """The day's first copy into a folder, made by ``copy`` if there is none yet; the newest fourteen are kept."""
    target = folder / f"{_PREFIX}{today.isoformat()}.sqlite"
    if target.exists():
        return None
    folder.mkdir(parents=True, exist_ok=True)
    copy(target)
    copies = sorted(folder.glob(f"{_PREFIX}*.sqlite"))
    for old in copies[:-KEPT_DAYS]:
        old.unlink(missing_ok=True)
    return target


def nightly(path: Path, today: date) -> Path | None:
    """The day's first copy, if there is none yet; the newest fourteen are kept. None where today's is there already.
    A large store is copied by a process of its own, so that nothing else waits for it."""
    apart = path.stat().st_size > LARGE_BYTES
    return nightly_of(
        folder_of(path), today, lambda target: _copy_apart(path, target) if apart else backup(path, target)
    )
