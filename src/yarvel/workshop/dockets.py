"""Dockets as the rest of the program sees them: frozen records, no ORM."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Any

STATES = ("taken in", "planned", "in work", "checking", "ready", "handed over", "on hold")


@dataclass(frozen=True)
class Docket:
    """One docket as stored. ``job_document`` may still lack its stone; ``drafts`` maps a field's path to typed
    text that was not accepted; ``ticks`` are the checks ticked off."""

    id: int
    number: str
    customer: str
    item: str
    promised_on: date | None
    state: str
    job_document: dict[str, Any]
    drafts: dict[str, str]
    ticks: tuple[str, ...]
    version: int
    created_at: datetime
    updated_at: datetime


@dataclass(frozen=True)
class DocketEdit:
    """What to change on a docket: ``job_patch`` a merge patch, ``fields`` plain columns by name."""

    job_patch: dict[str, Any] = field(default_factory=dict)
    fields: dict[str, Any] = field(default_factory=dict)

    def __bool__(self) -> bool:
        return bool(self.job_patch or self.fields)

    def then(self, later: DocketEdit) -> DocketEdit:
        """Both edits as one, the later one winning where they meet."""
        return DocketEdit(combined_patch(self.job_patch, later.job_patch), {**self.fields, **later.fields})


def combined_patch(first: dict[str, Any], second: dict[str, Any]) -> dict[str, Any]:
    """One merge patch that does what two do in turn (removals stay as null)."""
    combined = dict(first)
    for name, value in second.items():
        held = combined.get(name)
        if isinstance(value, dict) and isinstance(held, dict):
            combined[name] = combined_patch(held, value)
        else:
            combined[name] = value
    return combined


@dataclass(frozen=True)
class Change:
    """One line of a docket's history."""

    at: datetime
    field: str
    before: Any
    after: Any
