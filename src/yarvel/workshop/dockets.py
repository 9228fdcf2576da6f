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
    """What to change on a docket: merge patches for its job, one after the other; plain columns by name.

    Patches are kept apart because two merge patches in turn are not always one (a removal, then a new object).
    """

    job_patches: tuple[dict[str, Any], ...] = ()
    fields: dict[str, Any] = field(default_factory=dict)

    def __bool__(self) -> bool:
        return bool(self.job_patches or self.fields)

    def then(self, later: DocketEdit) -> DocketEdit:
        """Both edits as one, the later one winning where they meet."""
        return DocketEdit(self.job_patches + later.job_patches, {**self.fields, **later.fields})


@dataclass(frozen=True)
class Change:
    """One line of a docket's history."""

    at: datetime
    field: str
    before: Any
    after: Any
