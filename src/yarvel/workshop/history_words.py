"""History in words: what an act was about, and what it changed."""

from __future__ import annotations

import json
from collections.abc import Mapping

from yarvel.planning.job import patch_between
from yarvel.workshop.dockets import DOCUMENTS, FIELDS, SEVERAL, Change

_WORDS = {"docket": "docket", "job": "the job", **{name: one.label for name, one in FIELDS.items()}}


def fields_of(change: Change) -> str:
    """What an act was about."""
    names = list(change.after) if change.field == SEVERAL and isinstance(change.after, dict) else [change.field]
    return ", ".join(_WORDS.get(name, name) for name in names)


def told(change: Change) -> str:
    """What an act was, in one line: of each field what it was and what it became."""
    if change.field == SEVERAL and isinstance(change.after, dict) and isinstance(change.before, dict):
        several = ((name, _told(name, change.before.get(name), after)) for name, after in change.after.items())
        return "; ".join(f"{_WORDS.get(name, name)}: {said}" for name, said in several)
    return _told(change.field, change.before, change.after)


def _told(field: str, before: object, after: object) -> str:
    if field in _OBJECTS and isinstance(after, dict):
        held = before if isinstance(before, dict) else {}
        if field == "job" and "format" in after and "format" in held:  # a line of before layout 0010: the whole job
            held, after = patch_between(after, held), patch_between(held, after)
        return ", ".join(_leaves(after, held))
    was = "" if before in (None, "") else f"{_plain(before)} → "
    return f"{was}{_plain(after)}"


_OBJECTS = ("job", *DOCUMENTS)


def _leaves(patch: Mapping[str, object], back: Mapping[str, object], path: str = "") -> list[str]:
    """Each value that a patch sets, with what it was before."""
    found = []
    for name, value in patch.items():
        was = back.get(name) if isinstance(back, Mapping) else None
        if isinstance(value, dict) and value:
            found += _leaves(value, was if isinstance(was, dict) else {}, f"{path}{name}.")
        else:
            left = "" if was is None else f"{_plain(was)} → "
            found.append(f"{path}{name}: {left}{'taken away' if value is None else _plain(value)}")
    return found


def _plain(value: object) -> str:
    return value if isinstance(value, str) else json.dumps(value, ensure_ascii=False)
