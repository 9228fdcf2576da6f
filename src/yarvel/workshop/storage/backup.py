"""Copies of the store: made while it is in use, verified after writing, with a digest beside each, kept a fortnight.

One is put back without losing what was there; nothing that is there is ever written over.
"""

from __future__ import annotations

import hashlib
import os
import sqlite3
from collections.abc import Callable
from contextlib import closing
from datetime import date, datetime
from pathlib import Path

from msgspec import Struct

from yarvel.figures.errors import StoreError
from yarvel.workshop.storage.layout import HEAD
from yarvel.workshop.storage.location import uri
from yarvel.workshop.storage.migrating import known_revisions, stored_revision
from yarvel.workshop.storage.on_disk import (
    check_digest,
    digest_file,
    drop,
    flush_file,
    free_name,
    held_folder,
    put_in_place,
    write_digest,
)

KEPT_DAYS = 14
LARGE_BYTES = 20_000_000
_PREFIX = "nightly-"


class Summary(Struct, frozen=True):
    """What a store holds: rows by table, and one digest over all of it."""

    rows: dict[str, int]
    digest: str


def summary(path: Path) -> Summary:
    """Count and digest every table of a store, in the order of its rows (StoreError where it cannot be read whole)."""
    if stored_revision(path) is None:
        raise StoreError(f"{path}: there is no store: a store that Yarvel made")
    try:
        with closing(sqlite3.connect(uri(path), uri=True, timeout=10)) as connection:
            broken = connection.execute("PRAGMA integrity_check").fetchone()[0]
            if broken != "ok":
                raise StoreError(f"{path}: damaged ({broken}): a whole store; restore the newest copy")
            return _summed(connection)
    except sqlite3.Error as error:
        raise StoreError(f"{path}: {error}: a store that can be read") from error


def _summed(connection: sqlite3.Connection) -> Summary:
    counts: dict[str, int] = {}
    digest = hashlib.sha256()
    names = "SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%' ORDER BY name"
    for (name,) in connection.execute(names).fetchall():
        count = 0
        for row in connection.execute(f'SELECT * FROM "{name}" ORDER BY 1'):
            digest.update(repr(row).encode())
            count += 1
        counts[name] = count
        digest.update(name.encode())
    return Summary(counts, digest.hexdigest())


def backup(path: Path, target: Path) -> Summary:
    """Copy a store while it may be in use, verify the copy, and only then give it its name, with its digest beside it.

    Raises
    ------
    StoreError : there is no store, something of that name is there already, the folder cannot be written to, the disk
        is full, or the copy is not the same.
    """
    if stored_revision(path) is None:
        raise StoreError(f"{path}: there is no store: a store that Yarvel made")
    try:
        with closing(sqlite3.connect(uri(path, "rw"), uri=True, timeout=10)) as source:
            return copy_out(source, target)
    except sqlite3.Error as error:
        raise StoreError(f"{path}: {error}: a store that can be read") from error


def copy_out(source: sqlite3.Connection, target: Path) -> Summary:
    """Copy an open store to a new name, verified (StoreError as ``backup``)."""
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
        with held_folder(target.parent):
            refuse_taken(target)
            return _copy_to_free(source, target)
    except (OSError, sqlite3.Error) as error:
        reason = getattr(error, "strerror", None) or error
        raise StoreError(f"{target}: {reason}: a folder with room that can be written to") from error


def _copy_to_free(source: sqlite3.Connection, target: Path) -> Summary:
    part = target.with_name(f"{target.name}.part")
    drop(part)
    try:
        with closing(sqlite3.connect(part)) as copy:
            source.backup(copy)
            copy.execute("PRAGMA journal_mode = DELETE")
        copied = summary(part)
        write_digest(part, target.name)  # first, so that no copy is ever without
        put_in_place(part, target)
    except BaseException:
        drop(part, digest_file(target))
        raise
    return copied


def refuse_taken(target: Path) -> None:
    """StoreError where something has this name."""
    if os.path.lexists(target):
        raise StoreError(f"{target}: is there already: a new name, so that nothing is lost")


def check_copy(source: Path, without_digest: bool = False) -> Summary:
    """What a copy holds, once it is sure that it is what was written and that this Yarvel can open it.

    Raises
    ------
    StoreError : there is no digest beside it (unless that is allowed) or another one, it is damaged, somebody
        else's, or of a newer layout.
    """
    if not source.is_file():
        raise StoreError(f"{source}: there is no store: a copy that Yarvel made")
    if not check_digest(source) and not without_digest:
        raise StoreError(
            f"{source}: no digest beside it ({digest_file(source).name}), so nothing says that it is as it was "
            "written: a copy with its digest, or --without-digest"
        )
    revision = stored_revision(source)
    if revision is not None and revision not in known_revisions():
        raise StoreError(f"{source}: its layout is {revision}, of a newer Yarvel: a copy up to layout {HEAD}")
    return summary(source)


def restore(source: Path, path: Path, now: datetime, without_digest: bool = False) -> tuple[Summary, Path | None]:
    """Put a copy in the place of a store; what was there is kept beside it under a name of its own.

    Killed at any moment, it leaves the store as it was, or the copy in its place.
    Returns what was put back, and where the store that was there went (None where there was none).

    Raises
    ------
    StoreError : the copy is no whole store, or the store is open in a window.
    """
    if source.resolve() == path.resolve():
        raise StoreError(f"{source}: is the store itself: a copy of it")
    wanted = check_copy(source, without_digest)
    kept: Path | None = None
    fresh = path.with_name(f"{path.name}.restored")
    drop(fresh, digest_file(fresh))
    if path.exists():
        refuse_in_use(path)
        kept = free_name(path.with_name(f"{path.name}.before-restore-{now:%Y%m%d-%H%M%S}"))
        backup(path, kept)
        settle_file(path)  # nothing of it lies in a file beside it that the new one could be taken to own
    kept_copy = backup(source, fresh)
    drop(digest_file(fresh))
    if kept_copy != wanted:
        drop(fresh)
        raise StoreError(f"{source}: changed while it was read: a copy that nothing writes to")
    try:
        flush_file(fresh)
        fresh.replace(path)
    except OSError as error:
        drop(fresh)
        raise StoreError(f"{path}: {error.strerror or error}: a folder that can be written to") from error
    return kept_copy, kept


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
    flush_file(path)


def _copy_apart(path: Path, target: Path) -> None:
    import subprocess
    import sys

    command = [sys.executable, "-m", "yarvel.cli", "--store", str(path), "backup", str(target)]
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    if done.returncode != 0:
        raise StoreError(done.stderr.strip() or f"{target}: the copy was not finished: a folder with room")


def folder_of(path: Path) -> Path:
    """Where the nightly copies of a store lie."""
    return path.with_name(f"{path.name}-copies")


def nightly_of(folder: Path, today: date, copy: Callable[[Path], object]) -> Path | None:
    """The day's first copy into a folder, made by ``copy`` if there is none yet; the newest fourteen are kept.

    Copies that are dated in the future, by a clock that was wrong, neither count nor go."""
    target = folder / f"{_PREFIX}{today.isoformat()}.sqlite"
    if target.exists():
        return None
    folder.mkdir(parents=True, exist_ok=True)
    copy(target)
    copies = sorted(path for path in folder.glob(f"{_PREFIX}*.sqlite") if path.name <= target.name)
    for old in copies[:-KEPT_DAYS]:
        drop(old, digest_file(old))
    return target


def nightly(path: Path, today: date) -> Path | None:
    """The day's first copy, if there is none yet; the newest fourteen are kept. None where today's is there already.
    A large store is copied by a process of its own, so that nothing else waits for it."""
    apart = path.stat().st_size > LARGE_BYTES
    return nightly_of(
        folder_of(path), today, lambda target: _copy_apart(path, target) if apart else backup(path, target)
    )
