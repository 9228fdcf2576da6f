"""Bringing a store up to date: a copy first, then the migrations; a store from a newer Yarvel is refused."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from pathlib import Path

from yarvel.figures.errors import StoreError
from yarvel.workshop.layout import HEAD

SCRIPTS = Path(__file__).parent / "migrations"


def bring_up_to_date(path: Path) -> None:
    """Migrate the store at ``path``, making it where there is none.

    Raises
    ------
    StoreError : the file is no store, cannot be read or written, or was written by a newer Yarvel.
    """
    found = stored_revision(path)
    if found == HEAD:
        return
    if found is not None and found not in known_revisions():
        raise StoreError(f"{path}: this store was written by a newer Yarvel (its layout is {found}): "
                         f"a store up to layout {HEAD}; update Yarvel to open it")
    if found is not None:
        _copy(path, path.with_name(f"{path.name}.before-{HEAD}"))
    _upgrade(path)


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
        raise StoreError(f"{path}: {error}: a store that Yarvel made, or a new file") from error
    return row[0] if row else None


def known_revisions() -> set[str]:
    """Every layout that this Yarvel can start from."""
    from alembic.script import ScriptDirectory

    return {script.revision for script in ScriptDirectory(str(SCRIPTS)).walk_revisions()}


def _copy(path: Path, target: Path) -> None:
    with closing(sqlite3.connect(path)) as source, closing(sqlite3.connect(target)) as copy:
        source.backup(copy)


def _upgrade(path: Path) -> None:
    from alembic import command
    from alembic.config import Config
    from sqlalchemy.exc import DatabaseError

    config = Config()
    config.set_main_option("script_location", str(SCRIPTS).replace("%", "%%"))
    config.attributes["path"] = path
    try:
        command.upgrade(config, "head")
    except DatabaseError as error:
        raise StoreError(f"{path}: {error.orig}: a folder that can be written to") from error
