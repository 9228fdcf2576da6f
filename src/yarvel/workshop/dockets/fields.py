"""What a docket's field is: declared once, at the field itself, and asked everywhere else."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import Field, fields
from typing import Any

from msgspec import Struct

TEXT, NUMBER, DATE, LIST, DOCUMENT = "text", "number", "date", "list", "document"
"""Kinds of values: words, a number or nothing, a day or nothing, texts, an object (merged and told by its parts)."""
TAKEN_IN_BY, CHECKED_BY, PLANNED_BY, RELEASED_BY, NOBODY_BY, STATE_BY = (
    "taken-in",
    "checked",
    "planned",
    "released",
    "nobody",
    "state",
)
"""Who changes it: whoever may take in, check, plan, release; nobody but the program; the state has its own rule."""
_LABELLED = "labelled"


class DocketField(Struct, frozen=True, kw_only=True):
    """One field of a docket that can be edited.

    ``label`` is what the history calls it; ``kind`` what its values are, ``most`` the greatest of a number, ``one_of``
    the words that are accepted (empty: any); ``findable`` whether dockets are found by it, ``copied`` whether another
    stone of the piece begins with it, ``detail`` whether it stands beside what every docket has; ``silent`` whether
    the history says nothing of it, ``free`` whether the last word counts where two people changed it; ``by`` who
    changes it.
    """

    name: str
    label: str
    kind: str = TEXT
    most: float | None = None
    one_of: Collection[str] = ()
    findable: bool = False
    copied: bool = False
    detail: bool = True
    silent: bool = False
    free: bool = False
    by: str = TAKEN_IN_BY


def history_label(label: str, **more: Any) -> dict[str, Any]:
    """The metadata of a dataclass's field: what it is called, and what else is known of it."""
    return {_LABELLED: {"label": label, **more}}


def fields_of(record: type) -> dict[str, DocketField]:
    """The fields of a record that were declared so, by name, in order."""
    declared: tuple[Field[Any], ...] = fields(record)
    return {
        declared_field.name: DocketField(name=declared_field.name, **declared_field.metadata[_LABELLED])
        for declared_field in declared
        if _LABELLED in declared_field.metadata
    }
