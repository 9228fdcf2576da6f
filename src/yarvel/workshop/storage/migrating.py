"""Bringing a store up to date: a copy first, then all migrations in one transaction; a store from a newer Yarvel is
refused.

Whoever is killed meanwhile leaves the store as it was. A second window waits, and finds the work done.
"""

from __future__ import annotations

import sqlite3
from collections.abc import Callable
from contextlib import closing
from pathlib import Path
from typing import TYPE_CHECKING, Any

from yarvel.figures.errors import StoreError, StoreGoneError
from yarvel.workshop.storage import guards
from yarvel.workshop.storage.layout import HEAD
from yarvel.workshop.storage.location import Location, location
from yarvel.workshop.storage.on_disk import drop, flush_folder, free_name, put_in_place, write_digest

if TYPE_CHECKING:
    from sqlalchemy import Connection

SCRIPTS = Path(__file__).parent / "migrations"

NEWEST = SCRIPTS / "newest.sql"
"""A new store on a file: what the migrations come to, without going through them."""
PATIENCE_S = 60
"""How long one window waits for another that migrates."""
_MIGRATING = 918273


def bring_up_to_date(where: Path | str | Location) -> None:
    """Migrate a store, making it where there is none; a file is copied first.

    Raises
    ------
    StoreError : the file is no store, cannot be read or written, or was written by a newer Yarvel.
    """
    place = location(where)
    revision = server_revision(place) if place.path is None else stored_revision(place.path)
    if revision == HEAD:
        return
    _check_known(place, revision)
    if place.path is None:
        _check_owner(place, revision)
    _upgrade(place, revision)


def migrated(path: Path) -> None:
    """Make a new store through all migrations, as those of before were: the long way to the same (StoreError as
    ``bring_up_to_date``)."""
    _upgrade(location(path), None, _migrate)


def _check_known(place: Location, found: str | None) -> None:
    if found is not None and found not in known_revisions():
        raise StoreError(
            f"{place}: this store was written by a newer Yarvel (its layout is {found}): a store up to layout {HEAD}; "
            "update Yarvel to open it"
        )


def server_revision(place: Location) -> str | None:
    """The layout of a database; None where it is empty (StoreError where it cannot be reached or is not ours)."""
    from sqlalchemy.exc import SQLAlchemyError

    engine = place.engine()
    try:
        with engine.connect() as connection:
            return _revision(connection, place)
    except SQLAlchemyError as error:
        raise StoreGoneError(
            f"{place}: {first_line(error)}: a PostgreSQL 15 or newer that answers, a database, and a role that may use "
            "it"
        ) from error
    finally:
        engine.dispose()


def _revision(connection: Connection, place: Location) -> str | None:
    """The layout as this transaction sees it."""
    from sqlalchemy import inspect, text

    tables = set(inspect(connection).get_table_names())
    if "alembic_version" in tables:
        row = connection.execute(text("SELECT version_num FROM alembic_version")).fetchone()
        return None if row is None else str(row[0])
    if tables:
        raise StoreError(f"{place}: this database holds other tables: an empty one, or one that Yarvel made")
    return None


def _check_owner(place: Location, found: str | None) -> None:
    """Only a database's owner changes its layout: the windows of a team work under a role that cannot."""
    from sqlalchemy import text

    engine = place.engine()
    try:
        with engine.connect() as connection:
            if connection.execute(text("SELECT has_schema_privilege('public', 'CREATE')")).scalar_one():
                return
    finally:
        engine.dispose()
    layout_text = "is empty" if found is None else f"has layout {found}, this Yarvel wants {HEAD}"
    raise StoreError(
        f"{place}: {layout_text}, and this role may not change it: its owner runs yarvel prepare-store "
        "postgresql://yarvel_owner@host/database"
    )


def stored_revision(path: Path) -> str | None:
    """The layout of the store at ``path``; None where there is no store yet."""
    if not path.exists() or path.stat().st_size == 0:
        return None
    try:
        with closing(sqlite3.connect(path, timeout=PATIENCE_S)) as connection:
            tables = {row[0] for row in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
            if not tables:
                return None
            if "alembic_version" not in tables:
                raise StoreError(f"{path}: this is no Yarvel store: a store that Yarvel made, or a new file")
            row = connection.execute("SELECT version_num FROM alembic_version").fetchone()
    except sqlite3.Error as error:
        wanted = (
            "a file in a folder that can be written to"
            if "readonly" in str(error)
            else ("a store that Yarvel made, or a new file")
        )
        raise StoreError(f"{path}: {error}: {wanted}{copies_of(path)}") from error
    return row[0] if row else None


def known_revisions() -> set[str]:
    """Every layout that this Yarvel can start from."""
    from alembic.script import ScriptDirectory

    return {script.revision for script in ScriptDirectory(str(SCRIPTS)).walk_revisions()}


def copies_of(path: Path) -> str:
    """Where whole copies of a file's store lie, for the end of a line that tells of damage; "" where there are none."""
    before = [copy for copy in path.parent.glob(f"{path.name}.before-*") if copy.suffix not in (".part", ".sha256")]
    nightly = path.with_name(f"{path.name}-copies").glob("nightly-*.sqlite")
    copies = [*sorted(before)[-1:], *sorted(nightly)[-1:]]
    if not copies:
        return ""
    return f" (copies that can be put back with yarvel restore: {', '.join(str(copy) for copy in copies)})"


def first_line(error: Exception) -> str:
    """What a database said, in its first line."""
    error_lines = str(getattr(error, "orig", None) or error).strip().splitlines()
    return error_lines[0] if error_lines else type(error).__name__


def _upgrade(place: Location, found: str | None, make: Callable[[Connection], None] | None = None) -> None:
    """``make`` lays out what is there in the end; None: a new file by its statements, anything else by migrations."""
    from sqlalchemy.exc import SQLAlchemyError

    engine = place.engine()
    try:
        with engine.connect() as connection:
            if place.path is not None:
                # Tables are made anew under way: what points at them is checked at the end. SQLite takes this word
                # outside a transaction only, so it goes past SQLAlchemy, which would begin one.
                driver: Any = connection.connection.driver_connection
                driver.execute("PRAGMA foreign_keys = OFF")
            with connection.begin():  # on a file: nobody else writes from here to the end
                _upgrade_within(connection, place, make)
        if place.path is not None:
            flush_folder(place.path.parent)
    except (SQLAlchemyError, sqlite3.Error) as error:
        path = place.path
        copies = "" if path is None or found is None else copies_of(path)
        raise StoreError(
            f"{place}: {first_line(error)}: a place that can be written to, with room; the store is as it was{copies}"
        ) from error
    finally:
        engine.dispose()


def _upgrade_within(connection: Connection, place: Location, make: Callable[[Connection], None] | None) -> None:
    from sqlalchemy import text

    if place.is_server:
        connection.execute(text(f"SELECT pg_advisory_xact_lock({_MIGRATING})"))
    revision = _revision(connection, place)  # another window may have been faster
    if revision == HEAD:
        return
    _check_known(place, revision)
    if revision is not None and place.path is not None:
        keep_before(place.path, HEAD)
    if make is None:
        make = _lay_out if revision is None and place.path is not None else _migrate
    if revision is not None:
        guards.take_off(connection)
    make(connection)
    guards.put_on(connection)
    if place.path is not None:
        broken = connection.exec_driver_sql("PRAGMA foreign_key_check").fetchall()
        if broken:
            broken_text = f"{len(broken)} rows point at nothing (the first in {broken[0][0]})"
            raise StoreError(f"{place}: {broken_text}: nothing was changed; tell us")


def _migrate(connection: Connection) -> None:
    from alembic import command
    from alembic.config import Config
    from alembic.util.exc import CommandError
    from sqlalchemy.exc import SQLAlchemyError

    config = Config()
    config.set_main_option("script_location", str(SCRIPTS).replace("%", "%%"))
    config.attributes["connection"] = connection
    try:
        command.upgrade(config, "head")
    except CommandError as error:
        raise SQLAlchemyError(str(error)) from error  # told as what the database says


def _lay_out(connection: Connection) -> None:
    """By the statements, and from the layout that they are of by migrations, where there are newer ones."""
    statement = ""
    for line in NEWEST.read_text(encoding="utf-8").splitlines(keepends=True):
        statement += line
        if sqlite3.complete_statement(statement):  # a trigger has semicolons within
            connection.exec_driver_sql(statement)
            statement = ""
    if connection.exec_driver_sql("SELECT version_num FROM alembic_version").scalar_one() != HEAD:
        _migrate(connection)


def keep_before(path: Path, target_layout: str) -> Path:
    """A verified copy of a store as it is before it is brought to a layout; an older one of that name is kept.

    Raises
    ------
    StoreError : there is no room for it, or it does not read as the store does.
    """
    target = free_name(path.with_name(f"{path.name}.before-{target_layout}"))
    part = target.with_name(f"{target.name}.part")
    drop(part)
    try:
        with closing(sqlite3.connect(path, timeout=PATIENCE_S)) as source, closing(sqlite3.connect(part)) as copy:
            source.backup(copy)
            copy.execute("PRAGMA journal_mode = DELETE")
            _check_same(source, copy, part)
        write_digest(part, target.name)
        put_in_place(part, target)
    except (OSError, sqlite3.Error) as error:
        drop(part)
        raise StoreError(
            f"{target}: {getattr(error, 'strerror', None) or error}: a folder with room for a copy that can be written "
            "to; the store is as it was"
        ) from error
    except StoreError:
        drop(part)
        raise
    return target


def _check_same(source: sqlite3.Connection, copy: sqlite3.Connection, path: Path) -> None:
    broken = copy.execute("PRAGMA integrity_check").fetchone()[0]
    names = "SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'docket_words%' ORDER BY name"
    if broken != "ok" or source.execute(names).fetchall() != copy.execute(names).fetchall():
        raise StoreError(f"{path}: the copy is not whole ({broken}): a whole store; restore the newest copy")
    for (name,) in copy.execute(names).fetchall():
        count = f'SELECT count(*) FROM "{name}"'
        if source.execute(count).fetchone() != copy.execute(count).fetchone():
            raise StoreError(f"{path}: the copy does not hold all of {name}: a disk that keeps what is written")
