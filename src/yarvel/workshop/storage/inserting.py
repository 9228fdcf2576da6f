"""Adding a row unless it is there, on both kinds of store."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from sqlalchemy.dialects.postgresql import Insert

    from yarvel.workshop.storage.schema import Base


def insert_into(table: type[Base], on_server: bool) -> Insert:
    """An INSERT that knows ON CONFLICT."""
    if on_server:
        from sqlalchemy.dialects.postgresql import insert
    else:
        from sqlalchemy.dialects.sqlite import insert  # type: ignore[assignment]
    return insert(table)
