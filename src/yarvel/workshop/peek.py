"""A quick look at one docket, read straight from SQLite, so that the window need not wait for the store to open."""

from __future__ import annotations

import json
import sqlite3
from contextlib import closing
from datetime import date, datetime
from pathlib import Path

from yarvel.clock import live_in
from yarvel.figures.errors import YarvelError
from yarvel.figures.rules import HouseRules, readable, rules_from, with_drawer
from yarvel.workshop.dockets.records import DETAILS, DOCUMENTS, Docket
from yarvel.workshop.drawer.stock import BUR, PLATE, StockItem, bur_sizes, plate_holes
from yarvel.workshop.storage.layout import HEAD

_COLUMNS = ", ".join(
    (
        "id, number, customer, item, promised_on, state, job_document, drafts, ticks, version, created_at",
        "updated_at",
        *DETAILS,
    )
)


def pins_wanted(path: Path) -> bool:
    """Whether people sign in on this store, as far as that can be seen quickly; where it cannot, no."""
    if not path.exists():
        return False
    try:
        with closing(sqlite3.connect(path, timeout=1)) as connection:
            query = "SELECT 1 FROM people WHERE pin_salt <> '' AND left_at IS NULL LIMIT 1"
            return connection.execute(query).fetchone() is not None
    except sqlite3.Error:
        return False


def peek_rules(path: Path) -> HouseRules | None:
    """The house rules with the drawer's burs and draw plate, as ``drawer_store.rules_of`` has them; None where they
    cannot be had quickly and safely."""
    if not path.exists():
        return None
    try:
        with closing(sqlite3.connect(path, timeout=1)) as connection:
            if connection.execute("SELECT version_num FROM alembic_version").fetchone() != (HEAD,):
                return None
            row = connection.execute("SELECT value FROM settings WHERE name = 'house_rules'").fetchone()
            stock_items = [
                StockItem(kind=kind, size_mm=size_mm, shape=shape)
                for kind, size_mm, shape in connection.execute(
                    "SELECT kind, size_mm, shape FROM stock_items WHERE removed_at IS NULL AND kind IN (?, ?)",
                    (BUR, PLATE),
                )
            ]
        rules = rules_from(readable(json.loads(row[0]) if row else {})[0])
        live_in(rules.custom.zone)
        return with_drawer(rules, bur_sizes(stock_items), plate_holes(stock_items))
    except (sqlite3.Error, YarvelError, ValueError):
        return None


def last_moment(path: Path) -> datetime | None:
    """When something was last stored there, as the store keeps moments; None where nothing can be seen quickly."""
    if not path.exists():
        return None
    try:
        with closing(sqlite3.connect(path, timeout=1)) as connection:
            rows = connection.execute("SELECT max(updated_at) FROM dockets").fetchall()
            rows += connection.execute("SELECT max(at) FROM changes").fetchall()
            rows += connection.execute("SELECT max(at) FROM fine_entries").fetchall()
            rows += connection.execute("SELECT max(coalesce(stopped_at, started_at)) FROM task_times").fetchall()
    except sqlite3.Error:
        return None
    moments = [datetime.fromisoformat(at) for (at,) in rows if at]
    return max(moments, default=None)


def peek(path: Path, docket_id: int | None) -> Docket | None:
    """The docket of this id, or the one changed last; None where that cannot be had quickly and safely."""
    if not path.exists():
        return None
    try:
        with closing(sqlite3.connect(path, timeout=1)) as connection:
            if connection.execute("SELECT version_num FROM alembic_version").fetchone() != (HEAD,):
                return None
            row = connection.execute(
                f"SELECT {_COLUMNS} FROM dockets ORDER BY withdrawn = '' DESC, id = ? DESC, updated_at DESC LIMIT 1",
                (docket_id,),
            ).fetchone()
    except sqlite3.Error:
        return None
    if row is None:
        return None
    promised = date.fromisoformat(row[4]) if row[4] else None
    details = {
        name: json.loads(value) if name in DOCUMENTS else value for name, value in zip(DETAILS, row[12:], strict=True)
    }
    return Docket(
        id=row[0],
        number=row[1],
        customer=row[2],
        item=row[3],
        promised_on=promised,
        state=row[5],
        job_document=json.loads(row[6]),
        drafts=json.loads(row[7]),
        ticks=tuple(json.loads(row[8])),
        version=row[9],
        created_at=datetime.fromisoformat(row[10]),
        updated_at=datetime.fromisoformat(row[11]),
        **details,
    )
