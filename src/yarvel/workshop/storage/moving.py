"""Carrying a whole store over to another place: from a file to a team's database, back, or from one to the next.

What is there stays as it is; the new store is kept only where every row of it reads the same.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterator
from datetime import date, datetime
from itertools import islice
from pathlib import Path
from typing import TYPE_CHECKING, Any

from msgspec import Struct

from yarvel.figures.errors import StoreError
from yarvel.workshop.storage import guards
from yarvel.workshop.storage.backup import refuse_in_use, refuse_taken, settle_file
from yarvel.workshop.storage.layout import HEAD
from yarvel.workshop.storage.location import Location
from yarvel.workshop.storage.migrating import bring_up_to_date, server_revision, stored_revision
from yarvel.workshop.storage.on_disk import digest_file, drop, held_folder, put_in_place, write_digest

if TYPE_CHECKING:
    from sqlalchemy import Connection, Table

_AT_A_TIME = 500


class Moved(Struct, frozen=True):
    """What was carried over: rows by table, and the digest that both stores have."""

    rows: dict[str, int]
    digest: str


def move_store(source: Location, target: Location) -> Moved:
    """Copy everything to an empty store, in one transaction; the source is only read.

    Raises
    ------
    StoreError : the source is no store of today's layout, is open in a window or has edits waiting on this machine; the
        target holds dockets, people or anything else already, or cannot be written to; a row does not read the same.
    """
    _check_source(source)
    if target.path is None:
        return _carry_over(source, target, alone=True)
    copied = _into_file(source, target.path, alone=True)
    drop(digest_file(target.path))  # it is a store, not a copy: it will be written to
    return copied


def copy_of_team(source: Location, target: Path) -> Moved:
    """Copy a team's database, in use or not, into a new file: as it is at one moment, verified row by row.

    Raises
    ------
    StoreError : it is no database of today's layout, or the file is there already or cannot be written.
    """
    if server_revision(source) != HEAD:
        raise StoreError(
            f"{source}: there is no store of layout {HEAD}: a database that yarvel prepare-store made ready"
        )
    return _into_file(source, target, alone=False)


def _into_file(source: Location, target: Path, alone: bool) -> Moved:
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
        with held_folder(target.parent):
            refuse_taken(target)
            return _into_part(source, target, alone)
    except OSError as error:
        raise StoreError(f"{target}: {error.strerror or error}: a folder with room that can be written to") from error


def _into_part(source: Location, target: Path, alone: bool) -> Moved:
    """Into a part file, which gets its name when it is whole: killed, there is no target."""
    part = target.with_name(f"{target.name}.part")
    parts = (part, *(part.with_name(part.name + tail) for tail in ("-wal", "-shm", "-journal")))
    drop(*parts)
    try:
        carry_over = _carry_over(source, Location(part, ""), alone)
        settle_file(part)
        write_digest(part, target.name)
        put_in_place(part, target)
    except BaseException:
        drop(*parts, digest_file(target))
        raise
    return carry_over


def _carry_over(source: Location, target: Location, alone: bool) -> Moved:
    from sqlalchemy import delete
    from sqlalchemy.exc import SQLAlchemyError

    from yarvel.workshop.storage.schema import AlloyRow

    bring_up_to_date(target)
    reading, writing = source.engine(), target.engine()
    try:
        with reading.connect() as read, writing.begin() as write:
            if source.is_server:
                read.execution_options(isolation_level="REPEATABLE READ", postgresql_readonly=True)
                if alone:
                    _check_alone(read, source)
            tables = _tables()
            guards.take_off(write)  # what is carried over happened elsewhere
            write.execute(delete(AlloyRow))  # those that every new store begins with
            _check_empty(write, tables, target)
            for table in tables:
                _copy(read, write, table)
            if target.is_server:
                _count_on(write, tables)
            guards.put_on(write)
            moved, contents_made = contents(read), contents(write)
            if moved != contents_made:
                raise StoreError(
                    f"{target}: does not read as {source} does; nothing was kept: tell us, and use {source} meanwhile"
                )
            return moved
    except SQLAlchemyError as error:
        lines = str(getattr(error, "orig", error)).strip().splitlines()
        raise StoreError(
            f"{target}: {lines[0] if lines else 'cannot be written to'}: an empty store whose owner you are; nothing "
            "was kept"
        ) from error
    finally:
        reading.dispose()
        writing.dispose()


def contents(connection: Connection) -> Moved:
    """Rows and a digest of all tables, that do not depend on which database holds them."""
    rows: dict[str, int] = {}
    digest = hashlib.sha256()
    for table in _tables():
        digest.update(table.name.encode())
        count = 0
        for row in _rows(connection, table):
            digest.update(json.dumps(row, sort_keys=True, default=_plain).encode())
            count += 1
        rows[table.name] = count
    return Moved(rows, digest.hexdigest())


def _check_source(source: Location) -> None:
    revision = server_revision(source) if source.path is None else stored_revision(source.path)
    if revision is None:
        raise StoreError(f"{source}: there is no store: a store that Yarvel made")
    if revision != HEAD:
        raise StoreError(f"{source}: its layout is {revision}: layout {HEAD}; open it with this Yarvel once")
    folders = [folder for folder in (source.waiting_folder, source.former_waiting_folder) if folder is not None]
    if any(
        path.stat().st_size for folder in folders for kind in ("jsonl", "acts") for path in folder.glob(f"*.{kind}")
    ):
        raise StoreError(f"{source}: edits wait on this machine: open a window on it once, so that they are stored")
    if source.path is not None:
        refuse_in_use(source.path)


def _check_alone(connection: Connection, source: Location) -> None:
    """Nobody writes to a database that is moved away from."""
    from sqlalchemy import text

    others = connection.execute(
        text(
            "SELECT count(*) FROM pg_stat_activity WHERE datname = current_database() AND pid <> pg_backend_pid() AND "
            "backend_type = 'client backend'"
        )
    ).scalar_one()
    if others:
        raise StoreError(f"{source}: {others} other connections are open: close Yarvel on all machines first")


def _tables() -> list[Table]:
    from yarvel.workshop.storage.schema import Base

    return [table for table in Base.metadata.sorted_tables if not table.info.get("stays")]


def _check_empty(connection: Connection, tables: list[Table], target: Location) -> None:
    from sqlalchemy import func, select

    counts = {table.name: connection.execute(select(func.count()).select_from(table)).scalar_one() for table in tables}
    if any(counts.values()):
        count_text = ", ".join(f"{count} in {name}" for name, count in counts.items() if count)
        raise StoreError(f"{target}: is not empty ({count_text}): a new place, so that nothing in it is lost")


def _copy(read: Connection, write: Connection, table: Table) -> None:
    from sqlalchemy import insert

    rows = _rows(read, table)
    while some := list(islice(rows, _AT_A_TIME)):
        write.execute(insert(table), some)


def _rows(connection: Connection, table: Table) -> Iterator[dict[str, Any]]:
    from sqlalchemy import select

    rows_read = connection.execution_options(yield_per=_AT_A_TIME).execute(select(table).order_by(*table.primary_key))
    return (dict(row) for row in rows_read.mappings())


def _count_on(connection: Connection, tables: list[Table]) -> None:
    """The next row of each table gets the number after its last."""
    from sqlalchemy import text

    for table in tables:
        counted = next((column.name for column in table.primary_key if column.name in ("id", "seq")), None)
        if counted is not None:
            following = f"COALESCE((SELECT max({counted}) FROM {table.name}), 0) + 1"
            sequence = f"pg_get_serial_sequence('{table.name}', '{counted}')"
            connection.execute(text(f"SELECT setval({sequence}, {following}, false)"))


def _plain(value: Any) -> str:
    if isinstance(value, date | datetime):
        return value.isoformat()
    if isinstance(value, bytes | memoryview):
        return hashlib.sha256(value).hexdigest()
    raise TypeError(f"{value!r} is no value of a store")
