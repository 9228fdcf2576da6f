"""JSON objects (a job, a part of it, a merge patch) asked and made by dotted paths."""

from __future__ import annotations

from typing import Any

Document = dict[str, Any]
"""A JSON object as it is stored and sent; what it may hold is checked where it comes in."""


def nested(path: str, value: object) -> Document:
    """A merge patch that sets one dotted path."""
    patch: Any = value
    for name in reversed(path.split(".")):
        patch = {name: patch}
    result: Document = patch
    return result


def value_at(document: Document, path: str) -> Any:
    """The value at a dotted path, None where it is absent."""
    value: Any = document
    for name in path.split("."):
        value = value.get(name) if isinstance(value, dict) else None
    return value
