"""History in words: what an act was about, and what it changed."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from typing import TypeGuard

from yarvel.heads.styles import STYLES
from yarvel.heads.wear import FINDINGS, SOUND
from yarvel.metals.alloys import ALLOYS
from yarvel.planning.job import patch_between
from yarvel.planning.repair import CAUSES, VERDICTS
from yarvel.route.card import LABELS
from yarvel.shanks.methods import METHODS
from yarvel.shanks.sizes import SYSTEMS
from yarvel.stones.cuts import CUTS
from yarvel.stones.species import SPECIES
from yarvel.workshop.dockets.claw_chart import MEASURES, finding_key
from yarvel.workshop.dockets.records import DOCUMENTS, FIELDS, SEVERAL, Change

_CALLED: dict[str, Mapping[str, str]] = {
    "chosen": LABELS,
    "way": LABELS,
    "cause": CAUSES,
    "verdict": VERDICTS,
    "method": {key: method.LABEL for key, method in METHODS.items()},
    "style": {key: style.LABEL for key, style in STYLES.items()},
    "cut": {key: cut.label for key, cut in CUTS.items()},
    "species": {key: species.label for key, species in SPECIES.items()},
    "metal": {key: alloy.label for key, alloy in ALLOYS.items()},
    "system": {key: system.label for key, system in SYSTEMS.items()},
}
"""What the keys are called that a job, a claw chart and a repair hold; a workshop's own are their own names."""
_UNITS = {"mm": " mm", "deg": "°", "percent": " %", "ct": " ct", "g": " g"}
_WORDS = {"docket": "docket", "job": "the job", **{name: docket_field.label for name, docket_field in FIELDS.items()}}


def fields_of(change: Change) -> str:
    """What an act was about."""
    names = list(change.after) if change.field == SEVERAL and isinstance(change.after, dict) else [change.field]
    return ", ".join(_WORDS.get(name, name) for name in names)


def told(change: Change, claws: Sequence[int] = ()) -> str:
    """What an act was, in one line: of each field what it was and what it became. ``claws`` are the numbers that the
    claws of the docket's head have, in the order of its places, where they are known."""
    if change.field == SEVERAL and isinstance(change.after, dict) and isinstance(change.before, dict):
        several = ((name, _told(name, change.before.get(name), after, claws)) for name, after in change.after.items())
        return "; ".join(f"{_WORDS.get(name, name)}: {said}" for name, said in several)
    return _told(change.field, change.before, change.after, claws)


def _told(field: str, before: object, after: object, claws: Sequence[int]) -> str:
    if field in _OBJECTS and isinstance(after, dict):
        parts_before = before if isinstance(before, dict) else {}
        if (
            field == "job" and "format" in after and "format" in parts_before
        ):  # a line of before layout 0010: the whole job
            parts_before, after = patch_between(after, parts_before), patch_between(parts_before, after)
        return ", ".join(_leaves(after, parts_before, claws))
    was = "" if before in (None, "") else f"{_plain(before)} → "
    return f"{was}{_plain(after)}"


_OBJECTS = ("job", *DOCUMENTS)


def _leaves(patch: Mapping[str, object], back: Mapping[str, object], claws: Sequence[int], path: str = "") -> list[str]:
    """Each value that a patch sets, with what it was before."""
    leaves = []
    for name, value in patch.items():
        was = back.get(name) if isinstance(back, Mapping) else None
        if isinstance(value, dict) and value:
            leaves += _leaves(value, was if isinstance(was, dict) else {}, claws, f"{path}{name}.")
        elif _is_chart(value):
            leaves += _claws(was if _is_chart(was) else [], value, claws)
        else:
            called = _CALLED.get(name, {})
            words, unit = _words(f"{path}{name}")
            left = "" if was is None else f"{_called(was, called)} → "
            leaves.append(f"{words}: {left}{'taken away' if value is None else _called(value, called) + unit}")
    return leaves


def _words(path: str) -> tuple[str, str]:
    """What a part of a document is called, and its unit: its name in the format, read aloud."""
    name, _, last = path.rpartition("_")
    unit = _UNITS.get(last, "")
    return (name if unit else path).replace("_", " ").replace(".", " "), unit


def _called(value: object, names: Mapping[str, str]) -> str:
    if not isinstance(value, str) or value not in names:
        return _plain(value)
    name = names[value]
    return name if name[1:2].isupper() else name[:1].lower() + name[1:]


def _is_chart(value: object) -> TypeGuard[list[dict[str, object]]]:
    """Whether it is what was found claw by claw."""
    return isinstance(value, list) and bool(value) and all(isinstance(row, dict) and "finding" in row for row in value)


def _claws(before: list[dict[str, object]], after: list[dict[str, object]], claws: Sequence[int]) -> list[str]:
    """Of each claw of which something else is known now, what was found before and what now."""
    lines = []
    for place, row in enumerate(after):
        was, now = _claw(before[place] if place < len(before) else {}), _claw(row)
        if was != now:
            claw = f"claw {claws[place]}" if len(claws) == len(after) else "one claw"
            lines.append(f"{claw}: {now}" if was == FINDINGS[SOUND] else f"{claw}: {was} → {now}")
    return lines


def _claw(row: Mapping[str, object]) -> str:
    also = row.get("also")
    keys = (row.get("finding", SOUND), *(also if isinstance(also, list) else ()))
    read = [f"{name} {row[name]:g} mm" for name in MEASURES if isinstance(row.get(name), int | float)]
    return " and ".join([*(FINDINGS[finding_key(key)] for key in keys), *read])


def _plain(value: object) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, list) and all(isinstance(part, str | int | float) for part in value):
        return (" × " if any(isinstance(part, float) for part in value) else ", ").join(map(_plain, value))
    return value if isinstance(value, str) else json.dumps(value, ensure_ascii=False)
