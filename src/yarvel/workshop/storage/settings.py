"""Settings in the store that are documents, by name."""

from __future__ import annotations

from typing import Any

from sqlalchemy import text
from sqlalchemy.orm import Session

from yarvel.workshop.storage.schema import SettingRow

HOURS, OWN_HOURS, FORMER_HOURS, ERRANDS, STATIONS, ABSENCES, TOGETHER = (
    "hours",
    "own_hours",
    "former_hours",
    "errands",
    "stations",
    "absences",
    "done_together",
)
RULES, RULES_UNREAD, PACE, CUSTOMERS_TOLD, IDENTITY = (
    "house_rules",
    "house_rules_unread",
    "pace",
    "told_to_look_again",
    "store_id",
)


def setting(session: Session, name: str) -> dict[str, Any]:
    """The document kept under a name; an empty one where none is."""
    row = session.get(SettingRow, name)
    return dict(row.value) if row is not None and isinstance(row.value, dict) else {}


def setting_to_change(session: Session, name: str) -> dict[str, Any]:
    """The same, to be changed in this transaction: whoever else changes it waits until this one is over, and goes on
    from what it left. Two who each add something both have it stand."""
    if session.get_bind().dialect.name == "postgresql":  # a file has one writer at a time anyhow
        session.execute(text("SELECT pg_advisory_xact_lock(hashtext(:name))"), {"name": f"yarvel setting {name}"})
    row = session.get(SettingRow, name, populate_existing=True)
    return dict(row.value) if row is not None and isinstance(row.value, dict) else {}
