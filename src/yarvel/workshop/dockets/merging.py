"""Two people on one docket: what touches different fields is merged, what touches the same one is a clash to ask about.

An edit says what it saw before it changed something; where the store holds something else by now, and not the same as
what is wanted, nobody's word is written over: the edit is refused with both.
"""

from __future__ import annotations

from collections.abc import Collection
from typing import Any

from msgspec import Struct
from msgspec.structs import replace

from yarvel.figures.errors import StoreError
from yarvel.planning.job import merge_patch, patch_between
from yarvel.workshop.dockets.fields import LIST
from yarvel.workshop.dockets.records import DOCUMENTS, FIELDS, Docket, DocketEdit

FREE = tuple(name for name, docket_field in FIELDS.items() if docket_field.free)
"""Columns in which the last word counts: nobody types them."""


class EditClash(Struct, frozen=True):
    """One field that two people changed: its dotted path (``job.stone.depth_mm``, ``customer``), what it held before
    both, what the store holds now, what is wanted here."""

    path: str
    seen: Any
    theirs: Any
    mine: Any


class EditClashError(StoreError):
    """An edit that was not written because somebody else changed the same fields meanwhile."""

    def __init__(self, docket: Docket, clashes: list[EditClash], by: str) -> None:
        super().__init__(
            f"{docket.number}: {', '.join(clash.path for clash in clashes)} changed "
            f"meanwhile{f' by {by}' if by else ''}: say which of the two stays"
        )
        self.docket, self.clashes, self.by = docket, clashes, by


class Merged(Struct, frozen=True):
    """A docket's job and columns with an edit in them."""

    job_document: dict[str, Any]
    fields: dict[str, Any]
    clashes: list[EditClash]


def merge(docket: Docket, edit: DocketEdit, keep_theirs: Collection[str] = ()) -> Merged:
    """An edit on top of what is stored now; clashing paths named in ``keep_theirs`` stay as they are stored, all others
    become what the edit wants (and are reported)."""
    clashes: dict[str, EditClash] = {}
    document = docket.job_document
    for patch, seen in zip(edit.job_patches, edit.seen_by_patch(), strict=True):
        document = (
            merge_patch(document, patch)
            if seen is None
            else _applied(document, patch, seen, "job", clashes, keep_theirs)
        )
    fields: dict[str, Any] = {}
    for name, mine in edit.fields.items():
        value_now = getattr(docket, name, None)
        if name not in edit.fields_seen or name in FREE:
            fields[name] = mine
        elif FIELDS[name].kind == LIST:
            fields[name] = _ticks(list(edit.fields_seen[name]), list(mine), list(value_now or ()))
        elif name in DOCUMENTS:
            seen = edit.fields_seen[name] or {}
            fields[name] = _applied(
                dict(value_now or {}), patch_between(seen, mine), patch_between(mine, seen), name, clashes, keep_theirs
            )
        else:
            fields[name] = _one(name, edit.fields_seen[name], value_now, mine, clashes, keep_theirs)
    clashes_found = [
        replace(clash, mine=_at(document, fields, path)) if path not in keep_theirs else clash
        for path, clash in clashes.items()
    ]
    return Merged(document, fields, [clash for clash in clashes_found if clash.mine != clash.theirs])


def merge_object(
    held: dict[str, Any], seen: dict[str, Any], mine: dict[str, Any], path: str
) -> tuple[dict[str, Any], list[EditClash]]:
    """An object as stored, with what was changed in it from ``seen`` to ``mine``; and what others changed meanwhile."""
    clashes: dict[str, EditClash] = {}
    applied = _applied(dict(held), patch_between(seen, mine), patch_between(mine, seen), path, clashes, ())
    return applied, list(clashes.values())


def settled(docket: Docket, edit: DocketEdit, keep_theirs: Collection[str]) -> DocketEdit:
    """The edit once somebody has said which clashing fields stay as stored: relative to what is stored now."""
    wanted = merge(docket, edit, keep_theirs)
    patch = patch_between(docket.job_document, wanted.job_document)
    values_now = {name: getattr(docket, name, None) for name in wanted.fields}
    seen = {name: list(value) if isinstance(value, tuple) else value for name, value in values_now.items()}
    return DocketEdit(
        job_patches=(patch,) if patch else (),
        fields=wanted.fields,
        job_seen=(patch_between(wanted.job_document, docket.job_document),) if patch else (),
        fields_seen=seen,
    )


def _applied(
    theirs: dict[str, Any],
    patch: dict[str, Any],
    seen: dict[str, Any],
    path: str,
    clashes: dict[str, EditClash],
    keep_theirs: Collection[str],
) -> dict[str, Any]:
    applied = dict(theirs)
    for name, mine in patch.items():
        value_theirs, was = theirs.get(name), seen.get(name)
        place = f"{path}.{name}"
        if isinstance(mine, dict) and isinstance(value_theirs, dict) and (was is None or isinstance(was, dict)):
            applied[name] = _applied(value_theirs, mine, was or {}, place, clashes, keep_theirs)
            continue
        # what is there is no object (any more): the patch stands for the whole, without its removals
        if isinstance(mine, dict):
            mine = merge_patch({}, mine)
        value = _one(place, was, value_theirs, mine, clashes, keep_theirs)
        if value is None:
            applied.pop(name, None)
        else:
            applied[name] = value
    return applied


def _one(
    path: str, seen: Any, theirs: Any, mine: Any, clashes: dict[str, EditClash], keep_theirs: Collection[str]
) -> Any:
    if path in clashes:  # two patches of one edit touch it: they are asked about once, the later one counts
        return theirs if path in keep_theirs else mine
    if seen == theirs or theirs == mine:  # nobody else changed it, or both to the same
        return mine
    clashes[path] = EditClash(path, seen, theirs, mine)
    return theirs if path in keep_theirs else mine


def _ticks(seen: list[str], mine: list[str], theirs: list[str]) -> list[str]:
    """Ticks of both: what one took away is away, what one added is there."""
    kept = [tick for tick in theirs if tick in mine or tick not in seen]
    return kept + [tick for tick in mine if tick not in seen and tick not in theirs]


def _at(document: dict[str, Any], fields: dict[str, Any], path: str) -> Any:
    first, _, rest = path.partition(".")
    value: Any = document if first == "job" else fields.get(first)
    for name in rest.split(".") if rest else ():
        value = value.get(name) if isinstance(value, dict) else None
    return value
