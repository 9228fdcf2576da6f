"""Rights as rows: which role may change which column of a team's database, drawn from who may do what (``rights``) and
from what each field of a docket says of itself. A server holds its windows to them (``storage.guards``)."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct

from yarvel.workshop.dockets.edit_rights import RIGHT_OF, STATE_RIGHTS
from yarvel.workshop.dockets.fields import NOBODY_BY, STATE_BY
from yarvel.workshop.dockets.records import FIELDS
from yarvel.workshop.storage.rights import (
    BOOK_METAL,
    BRING_IN,
    CHANGE_DRAWER,
    CHANGE_RULES,
    GIVE_OUT,
    MEASURE,
    MOVE_ON,
    PEOPLE,
    PHOTOGRAPH,
    PLAN,
    ROLES,
    TAKE_IN,
    WHO_MAY,
    WORK,
)
from yarvel.workshop.storage.schema import Base
from yarvel.workshop.storage.settings import CUSTOMERS_TOLD, IDENTITY, PACE, RULES, RULES_UNREAD

ADDED, ANYBODY = "", "anybody who signed in"
"""``ADDED`` stands in the place of a column for a whole row, ``ANYBODY`` in the place of a right."""
_ADDS: dict[str, tuple[str, ...]] = {
    "dockets": (TAKE_IN, BRING_IN),
    "changes": (ANYBODY,),
    "photographs": (PHOTOGRAPH, BRING_IN),
    "customers": (TAKE_IN,),
    "fine_entries": (BOOK_METAL,),
    "month_seals": (BOOK_METAL,),
    "alloys": (BOOK_METAL, CHANGE_RULES),
    "tasks": (GIVE_OUT, WORK, BRING_IN),
    "task_times": (WORK,),
    "stock_items": (CHANGE_DRAWER, BOOK_METAL),
    "people": (PEOPLE,),
    "day_plans": (GIVE_OUT,),
}

_LEAVES = ("state", "person_id", "dropped_at")
"""What becomes of tasks when a docket is put aside, by whoever may take in."""
_SETTINGS: dict[str, str] = {
    RULES: CHANGE_RULES,
    RULES_UNREAD: CHANGE_RULES,
    PACE: CHANGE_RULES,
    CUSTOMERS_TOLD: TAKE_IN,
    IDENTITY: ANYBODY,
}
"""Settings by name or kind; all others are the day's, and given out by whoever gives out work."""
_WRITTEN_BY_PROGRAM = ("version", "updated_at", "words")
"""Columns of a docket that change with any other."""
_NEVER = {
    "dockets": ("number", "created_at"),
    "tasks": ("docket_id",),
    "task_times": ("task_id",),
    "people": ("database_role", "pin_salt"),
    "day_plans": ("id", "replaces", "cause", "after_act", "root", "root_before", "act"),
}
"""Columns that no window alters."""


class Touch(Struct, frozen=True, order=True):
    """One right: a table's column (``ADDED``: its rows), a part of it ("": any other), and a role that may."""

    table_name: str
    column_name: str
    part: str
    role: str


def touches() -> list[Touch]:
    """All rights, in order."""
    return sorted(
        {Touch(table, column, part, role) for table, column, part, right in _rights() for role in _roles(right)}
    )


def updated_columns(table: str) -> list[str]:
    """The columns that a window may alter at all."""
    columns = [column.name for column in Base.metadata.tables[table].columns if not column.primary_key]
    return [name for name in columns if name not in _NEVER.get(table, ())]


def _roles(right: str) -> tuple[str, ...]:
    return tuple(ROLES) if right == ANYBODY else WHO_MAY[right]


def _rights() -> Iterator[tuple[str, str, str, str]]:
    for table, rights in _ADDS.items():
        for right in rights:
            yield table, ADDED, "", right
    yield "dockets", "number", "", BRING_IN
    for name in _WRITTEN_BY_PROGRAM:
        yield "dockets", name, "", ANYBODY
    yield "dockets", "job_document", "", PLAN
    yield "dockets", "job_document", "stone", MEASURE
    yield "dockets", "job_document", "format", ANYBODY
    for name, docket_field in FIELDS.items():
        if docket_field.by == STATE_BY:
            for state, right in STATE_RIGHTS.items():
                yield "dockets", name, state, right
            yield "dockets", name, "", MOVE_ON
        else:
            yield "dockets", name, "", ANYBODY if docket_field.by == NOBODY_BY else RIGHT_OF[docket_field.by]
    for name in updated_columns("tasks"):
        for right in (WORK, GIVE_OUT, *((TAKE_IN,) if name in _LEAVES else ())):
            yield "tasks", name, "", right
    for right in (WORK, TAKE_IN):
        yield "task_times", "stopped_at", "", right
    for name in ("person_id", "started_at"):
        yield "task_times", name, "", WORK
    for name in updated_columns("stock_items"):
        for right in (CHANGE_DRAWER, WORK):
            yield "stock_items", name, "", right
    for name in updated_columns("people"):
        yield "people", name, "", PEOPLE
    yield "people", "pin_salt", "", ANYBODY  # by a function of the owner's, which asks who may
    yield "day_plans", "content", "", GIVE_OUT
    for column in (ADDED, "value"):
        yield "settings", column, "", GIVE_OUT
        for part, right in _SETTINGS.items():
            yield "settings", column, part, right
