"""Bringing a store up to date: a copy first, then the migrations; a store from a newer Yarvel is refused."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from pathlib import Path

from yarvel.figures.errors import StoreError, StoreGoneError
from yarvel.workshop.layout import HEAD
from yarvel.workshop.location import Location, location

SCRIPTS = Path(__file__).parent / "migrations"


def bring_up_to_date(where: Path | str | Location) -> None:
    """Migrate a store, making it where there is none; a file is copied first.

    Raises
    ------
    StoreError : the file is no store, cannot be read or written, or was written by a newer Yarvel.
    """
    place = location(where)
    found = server_revision(place) if place.path is None else stored_revision(place.path)
    if found == HEAD:
        return
    if found is not None and found not in known_revisions():
        raise StoreError(
            f"{place}: this store was written by a newer Yarvel (its layout is {found}): "
            f"a store up to layout {HEAD}; update Yarvel to open it"
        )
    if place.path is None:
        _check_owner(place, found)
    if found is not None and place.path is not None:
        _copy(place.path, place.path.with_name(f"{place.path.name}.before-{HEAD}"))
    _upgrade(place)


def server_revision(place: Location) -> str | None:
    """The layout of a database; None where it is empty (StoreError where it cannot be reached or is not ours)."""
    from sqlalchemy import inspect, text
    from sqlalchemy.exc import SQLAlchemyError

    engine = place.engine()
    try:
        with engine.connect() as connection:
            tables = set(inspect(connection).get_table_names())
            if "alembic_version" in tables:
                row = connection.execute(text("SELECT version_num FROM alembic_version")).fetchone()
                return None if row is None else str(row[0])
    except SQLAlchemyError as error:
        told = str(getattr(error, "orig", error)).strip().splitlines()
        raise StoreGoneError(
            f"{place}: {told[0] if told else 'cannot be reached'}: a PostgreSQL 15 or newer that "
            "answers, a database, and a role that may use it"
        ) from error
    finally:
        engine.dispose()
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
    held = "is empty" if found is None else f"has layout {found}, this Yarvel wants {HEAD}"
    raise StoreError(
        f"{place}: {held}, and this role may not change it: its owner runs "
        "yarvel prepare-store postgresql://yarvel_owner@host/database"
    )


def stored_revision(path: Path) -> str | None:
    """The layout of the store at ``path``; None where there is no store yet."""
    if not path.exists() or path.stat().st_size == 0:
        return None
    try:
        with closing(sqlite3.connect(path, timeout=10)) as connection:
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
        raise StoreError(f"{path}: {error}: {wanted}") from error
    return row[0] if row else None


def known_revisions() -> set[str]:
    """Every layout that this Yarvel can start from."""
    from alembic.script import ScriptDirectory

    return {script.revision for script in ScriptDirectory(str(SCRIPTS)).walk_revisions()}


def _copy(path: Path, target: Path) -> None:
    with closing(sqlite3.connect(path)) as source, closing(sqlite3.connect(target)) as copy:
        source.backup(copy)


def _upgrade(place: Location) -> None:
    from alembic import command
    from alembic.config import Config
    from sqlalchemy.exc import DatabaseError

    config = Config()
    config.set_main_option("script_location", str(SCRIPTS).replace("%", "%%"))
    config.attributes["location"] = place
    try:
        command.upgrade(config, "head")
    except DatabaseError as error:
        raise StoreError(f"{place}: {error.orig}: a place that can be written to") from error
