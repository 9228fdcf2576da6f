"""What a person changes of the work's order, as merge patches for the job."""

from __future__ import annotations

from yarvel.planning.documents import Document
from yarvel.route.card import CardLine
from yarvel.route.instead import usual_kind

Patch = Document


def moved(document: Document, lines: dict[str, CardLine], key: str, step: int) -> Patch | None:
    """The patch that takes an operation so many lines later (or earlier): it comes right after what stands before it
    then, with the pickling that belongs to it; None where it stands at that end already."""
    keys = list(lines)
    if key not in keys:
        return None
    place, others = keys.index(key), [other for other in keys if other != key]
    target = max(0, min(place + step, len(others)))
    if target == place:
        return None
    own = [key, *(more.operation.key for more in lines[key].more)]
    orders_kept = [list(pair) for pair in (document.get("route") or {}).get("after") or [] if pair[0] not in own]
    if target == 0:
        first = lines[others[0]]
        chain = [own[-1], first.key, *(more.operation.key for more in first.more)]
        orders_kept += [[then, before] for before, then in zip(chain, chain[1:], strict=False)]
    else:
        before = lines[others[target - 1]]
        last = before.more[-1].operation.key if before.more else before.key
        chain = [last, *own]
        orders_kept += [[then, earlier] for earlier, then in zip(chain, chain[1:], strict=False)]
    return {"route": {"after": orders_kept}}


def left_out(document: Document, line: CardLine) -> Patch:
    """The patch that leaves an operation out, with its pickling; one that somebody added goes as it came."""
    route_document = document.get("route") or {}
    added = [row for row in route_document.get("added") or [] if f"{row[0]}-{row[1]}-added" != line.key]
    if len(added) != len(route_document.get("added") or []):
        return {"route": {"added": added or None}}
    own = [line.key, *(more.operation.key for more in line.more)]
    return {"route": {"without": [*(route_document.get("without") or []), *own]}}


def other_way(document: Document, line: CardLine, kind: str) -> Patch:
    """The patch that has an operation done another way; its own kind takes the choice back."""
    operation = line.step.operation
    methods = (document.get("route") or {}).get("methods") or {}
    if kind != usual_kind(operation):
        return {"route": {"methods": {operation.key: kind}}}
    return {"route": {"methods": {operation.key: None} if set(methods) - {operation.key} else None}}


def with_added(document: Document, line: CardLine, kind: str) -> Patch:
    """The patch that adds an operation of a kind after a line, on what that line is done to first."""
    added_rows = (document.get("route") or {}).get("added") or []
    row = [kind, line.step.operation.on[0], line.key]
    return {"route": {"added": [*(added_row for added_row in added_rows if added_row[:2] != row[:2]), row]}}
