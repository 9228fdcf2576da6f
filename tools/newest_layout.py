"""Writes what a new store of the newest layout is made of, as all migrations one after the other leave it: run it after
adding a migration."""

from __future__ import annotations

import sqlite3
import tempfile
from contextlib import closing
from pathlib import Path

from yarvel.workshop.storage.migrating import NEWEST, migrated

SHADOWS = "docket_words_"
"""Tables that SQLite makes for its index of words, by itself."""
HEAD = "-- A new store on a file, as the migrations leave it; written by tools/newest_layout.py, never by hand.\n"


def statements(path: Path) -> str:
    """All that a file says of itself: its tables and what guards them, then the rows that are there at first."""
    told = [HEAD]
    with closing(sqlite3.connect(path)) as connection:
        for name, sql in connection.execute("SELECT name, sql FROM sqlite_master WHERE sql IS NOT NULL ORDER BY rowid"):
            if not name.startswith(SHADOWS):
                told.append(f"{sql};\n")
        for (table,) in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'").fetchall():
            if table.startswith(SHADOWS.rstrip("_")):
                continue
            for row in connection.execute(f'SELECT * FROM "{table}"'):
                told.append(f'INSERT INTO "{table}" VALUES ({", ".join(map(_literal, row))});\n')
    return "".join(told)


def _literal(value: object) -> str:
    if isinstance(value, str):
        return "'" + value.replace("'", "''") + "'"
    return "NULL" if value is None else repr(value)


def main() -> None:
    """Migrate an empty store from the first layout on, and write down what it is."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "store.sqlite"
        migrated(path)
        NEWEST.write_text(statements(path))


if __name__ == "__main__":
    main()
