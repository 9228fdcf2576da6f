"""Dockets between the database and the rest of the program: rows in an open session, and the records made of them."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import Row
from sqlalchemy.orm import Session

from yarvel.figures.errors import StoreError
from yarvel.planning.job import patch_between
from yarvel.workshop.dockets.records import DETAILS, DOCUMENTS, SEVERAL, SILENT, Docket
from yarvel.workshop.dockets.words import FINDABLE, words_of
from yarvel.workshop.storage.schema import DocketRow


def docket_row(session: Session, docket_id: int, to_change: bool = False) -> DocketRow:
    """A docket's row; ``to_change`` holds others off it until the transaction ends (a file is held whole anyway)."""
    row = session.get(DocketRow, docket_id, with_for_update=to_change or None)
    if row is None:
        raise StoreError(f"docket {docket_id}: not in this store: a docket from the finder")
    return row


def docket_of(row: DocketRow | Row[Any]) -> Docket:
    """A row as the rest of the program sees it."""
    return Docket(
        id=row.id,
        number=row.number,
        customer=row.customer,
        item=row.item,
        promised_on=row.promised_on,
        state=row.state,
        job_document=dict(row.job_document),
        drafts=dict(row.drafts),
        ticks=tuple(row.ticks),
        version=row.version,
        created_at=row.created_at,
        updated_at=row.updated_at,
        **{name: getattr(row, name) for name in DETAILS},
    )


PATCHED = tuple(name for name in DOCUMENTS if name not in SILENT)
"""Columns that hold an object: of a change of them the history keeps what is different."""


def both_ways(before: Any, after: Any) -> tuple[dict[str, Any], dict[str, Any]]:
    """The merge patches between two objects: the one that leads back, and the one that leads on."""
    values_before, values_after = dict(before or {}), dict(after or {})
    return patch_between(values_after, values_before), patch_between(values_before, values_after)


def as_one_line(told: dict[str, tuple[Any, Any]]) -> tuple[str, Any, Any]:
    """Field, before and after of one act's line of history."""
    if len(told) == 1:
        ((name, (before, after)),) = told.items()
        return name, before, after
    befores, afters = ({name: pair[side] for name, pair in told.items()} for side in (0, 1))
    return SEVERAL, befores, afters


def plain(value: Any) -> Any:
    return value.isoformat() if isinstance(value, date) else value


def findable(row: DocketRow) -> dict[str, Any]:
    return {name: getattr(row, name) for name in ("number", "promised_on", "job_document", "withdrawn", *FINDABLE)}


def new_row(now: datetime, **values: Any) -> DocketRow:
    """A new docket's row, with the words it is found by."""
    filled = {**dict.fromkeys(FINDABLE, ""), "promised_on": None, "drafts": {}, "ticks": [], **values}
    return DocketRow(words=words_of(filled), created_at=now, updated_at=now, **filled)
