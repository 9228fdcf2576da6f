"""Which months' ends this machine has seen, so that a copy from before one says so when it is put back."""

from __future__ import annotations

import json
import os
import sqlite3
from contextlib import closing, suppress
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec import Struct

from yarvel.clock import local
from yarvel.workshop.storage.on_disk import flush_file
from yarvel.workshop.storage.places import seals_file
from yarvel.workshop.storage.settings import IDENTITY

if TYPE_CHECKING:
    from yarvel.workshop.storage.connection import Connected

_MONTHS = "SELECT month, digest, by, at FROM month_seals ORDER BY until"


class SeenSeal(Struct, frozen=True):
    """A month that was signed off: its digest, by whom and on which day."""

    month: str
    digest: str
    by: str
    on: str


def note_seals(store: Connected, store_id: str) -> None:
    """Remember on this machine the newest month that is signed off in a store; a disk that takes nothing now is tried
    at the next start."""
    from sqlalchemy import select

    from yarvel.workshop.storage.schema import SealRow

    with store.transaction() as session:
        row = session.scalars(select(SealRow).order_by(SealRow.until.desc()).limit(1)).first()
        seal = None if row is None else SeenSeal(row.month, row.digest, row.by, f"{local(row.at):%Y-%m-%d}")
    seen = _seen()
    before = seen.get(store_id)
    if seal is None or (before is not None and before.month >= seal.month):
        return
    seen[store_id] = seal
    document = {key: [one.month, one.digest, one.by, one.on] for key, one in seen.items()}
    with suppress(OSError):
        file = seals_file()
        file.parent.mkdir(parents=True, exist_ok=True)
        part = file.with_name(f"{file.name}.{os.getpid()}")
        part.write_text(json.dumps(document, indent=1) + "\n", encoding="utf-8")
        flush_file(part)
        part.replace(file)


def older_than_seals(copy: Path, replaced: Path) -> str:
    """What has to be said of a copy that is put in the place of a store (which need not be there): which months were
    signed off after it was made, by that store, else by what this machine has seen of the copy's; "" where none was."""
    store_id, held = _in_file(copy)
    _, there = _in_file(replaced)
    seen = _seen().get(store_id)
    known = there or ([] if seen is None else [seen])
    digests = {seal.month: seal.digest for seal in held}
    gone = [seal for seal in known if digests.get(seal.month) != seal.digest]
    if not gone:
        return ""
    months = ", ".join(f"{seal.month} (by {seal.by or 'somebody'} on {seal.on})" for seal in gone)
    return (
        f"This copy is older than the end of {months}: there it is not signed off, and what was weighed after the copy "
        "was made is not in it. Compare it with the month's page on paper before anybody signs it off again."
    )


def _in_file(path: Path) -> tuple[str, list[SeenSeal]]:
    """Which store a file is, and its months' ends; nothing where there is none, or of before seals, or somebody
    else's."""
    if not path.is_file():
        return "", []
    with (
        suppress(sqlite3.Error, ValueError, TypeError),
        closing(sqlite3.connect(f"{path.resolve().as_uri()}?mode=ro", uri=True)) as file,
    ):
        identity = file.execute("SELECT value FROM settings WHERE name = ?", (IDENTITY,)).fetchone()
        rows = file.execute(_MONTHS).fetchall()
        seals = [
            SeenSeal(month, digest, by, f"{local(datetime.fromisoformat(at)):%Y-%m-%d}")
            for month, digest, by, at in rows
        ]
        return "" if identity is None else str(json.loads(identity[0])), seals
    return "", []


def _seen() -> dict[str, SeenSeal]:
    try:
        held = json.loads(seals_file().read_text(encoding="utf-8"))
        return {str(key): SeenSeal(*map(str, values)) for key, values in held.items()}
    except (OSError, ValueError, TypeError, AttributeError):
        return {}
