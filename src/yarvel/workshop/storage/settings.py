"""Settings in the store that are documents, by name."""

from __future__ import annotations

from typing import Any

from sqlalchemy.orm import Session

from yarvel.workshop.storage.schema import SettingRow

HOURS, OWN_HOURS, ERRANDS, STATIONS, ABSENCES, SHOWN, TOGETHER = (
    "hours",
    "own_hours",
    "errands",
    "stations",
    "absences",
    "day_plan",
    "done_together",
)


def setting(session: Session, name: str) -> dict[str, Any]:
    """The document kept under a name; an empty one where none is."""
    row = session.get(SettingRow, name)
    return dict(row.value) if row is not None and isinstance(row.value, dict) else {}
