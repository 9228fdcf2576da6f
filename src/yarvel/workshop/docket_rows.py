"""Dockets between the database and the rest of the program: rows in an open session, and the records made of them."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import Row
from sqlalchemy.orm import Session

from yarvel.figures.errors import StoreError
from yarvel.workshop.dockets import DETAILS, Docket
from yarvel.workshop.schema import DocketRow
from yarvel.workshop.words import words_of


def docket_row(session: Session, docket_id: int, to_change: bool = False) -> DocketRow:
    """A docket's row; ``to_change`` holds others off it until the transaction ends (a file is held whole anyway)."""
    row = session.get(DocketRow, docket_id, with_for_update=to_change or None)
    if row is None:
        raise StoreError(f"docket {docket_id}: not in this store: a docket from the finder")
    return row


def docket_of(row: DocketRow | Row[Any]) -> Docket:
    """A row as the rest of the program sees it."""
    return Docket(
        row.id,
        row.number,
        row.customer,
        row.item,
        row.promised_on,
        row.state,
        dict(row.job_document),
        dict(row.drafts),
        tuple(row.ticks),
        row.version,
        row.created_at,
        row.updated_at,
        **{name: getattr(row, name) for name in DETAILS},
    )


def plain(value: Any) -> Any:
    return value.isoformat() if isinstance(value, date) else value


def findable(row: DocketRow) -> dict[str, Any]:
    return {
        name: getattr(row, name)
        for name in (
            "number",
            "customer",
            "item",
            "state",
            "metal",
            "mark",
            "reported",
            "promised_on",
            "job_document",
            "withdrawn",
        )
    }


def new_row(now: datetime, **values: Any) -> DocketRow:
    """A new docket's row, with the words it is found by."""
    filled = {
        "customer": "",
        "item": "",
        "metal": "",
        "mark": "",
        "reported": "",
        "promised_on": None,
        "drafts": {},
        "ticks": [],
        **values,
    }
    return DocketRow(words=words_of(filled), created_at=now, updated_at=now, **filled)
