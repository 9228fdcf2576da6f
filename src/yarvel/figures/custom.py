"""What a workshop has of its own beside the house rules: alloys that it mixes, species that it sets."""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping
from typing import Any

from msgspec import Struct
from msgspec.structs import asdict

from yarvel.figures.errors import Problem

PREFIX = "own-"
"""How every key of a workshop's own begins, so that none is ever taken for one that everybody knows."""
BEARS, CARE, NEVER = "bears", "care", "never"

TREATMENT = (BEARS, CARE, NEVER)
"""What heat, acid, ultrasonic and steam may do to a stone, in the bench's words."""
_KEY = re.compile(rf"{PREFIX}[a-z0-9]+(-[a-z0-9]+)*")
_ELEMENT = re.compile(r"[A-Z][a-z]?")
_SHARES_WITHIN = 0.0005
_MOST_LABEL = 60
HARDNESS = (1.0, 10.0)
GRAVITY = (0.9, 8.0)


class CustomAlloy(Struct, frozen=True):
    """An alloy of the workshop's own: ``parts`` mass shares of its elements, which add up to 1; ``like`` the alloy
    whose elongation and flow stand for its own until they are put in."""

    key: str
    label: str
    like: str
    parts: tuple[tuple[str, float], ...]


class CustomSpecies(Struct, frozen=True, kw_only=True):
    """A species of the workshop's own: ``hardness`` on Mohs' scale, ``gravity`` specific gravity; what heat, acid,
    ultrasonic and steam do to it (see ``TREATMENT``); ``note`` one more thing to know, such as its cleavage."""

    key: str
    label: str
    hardness: float
    gravity: float
    heat: str = NEVER
    acid: str = NEVER
    ultrasonic: str = NEVER
    steam: str = NEVER
    note: str = ""


def own_key(label: str, taken: Collection[str]) -> str:
    """A key for something of this name that none of those taken is."""
    plain = re.sub(r"[^a-z0-9]+", "-", label.casefold()).strip("-") or "one"
    key, number = f"{PREFIX}{plain}", 2
    while key in taken:
        key, number = f"{PREFIX}{plain}-{number}", number + 1
    return key


def metals_from(held: Mapping[str, Any]) -> tuple[tuple[CustomAlloy, ...], list[Problem]]:
    """Alloys as they are stored, ``{key: {label, like, parts}}``, and what is wrong with them."""
    custom_alloys, problems = [], []
    for key, document in sorted(held.items()):
        place = f"rules.metals.{key}"
        problems += _named(place, key, document)
        parts = {} if not isinstance(document, Mapping) else document.get("parts", {})
        good = isinstance(parts, Mapping) and all(
            _ELEMENT.fullmatch(str(name)) and _within(share, 0.0, 1.0) for name, share in parts.items()
        )
        if isinstance(document, Mapping) and document.get("like") == key:
            problems.append(Problem(f"{place}.like", "is this alloy itself", "an alloy whose working it shares"))
        if not good or abs(sum(parts.values()) - 1) > _SHARES_WITHIN:
            problems.append(Problem(f"{place}.parts", f"{parts!r} are no shares", "shares of elements that make up 1"))
        elif isinstance(document, Mapping):
            shares = tuple(sorted((str(name), float(share)) for name, share in parts.items() if share > 0))
            custom_alloys.append(
                CustomAlloy(key, str(document.get("label", "")), str(document.get("like", "")), shares)
            )
    return tuple(custom_alloys), problems


def species_from(held: Mapping[str, Any]) -> tuple[tuple[CustomSpecies, ...], list[Problem]]:
    """Species as they are stored, by key, and what is wrong with them."""
    custom_species, problems = [], []
    for key, document in sorted(held.items()):
        place = f"rules.species.{key}"
        wrong = _named(place, key, document)
        given = dict(document) if isinstance(document, Mapping) else {}
        for name, (low, high) in (("hardness", HARDNESS), ("gravity", GRAVITY)):
            if not _within(given.get(name), low, high):
                wrong.append(Problem(f"{place}.{name}", f"{given.get(name)!r} cannot be", f"{low:g} to {high:g}"))
        for name in ("heat", "acid", "ultrasonic", "steam"):
            if given.get(name, NEVER) not in TREATMENT:
                wrong.append(
                    Problem(f"{place}.{name}", f"{given[name]!r} is no word", "one of " + ", ".join(TREATMENT))
                )
        unknown = given.keys() - {*CustomSpecies.__struct_fields__}
        if unknown:
            wrong.append(Problem(place, f"unknown {', '.join(sorted(unknown))}", "its numbers and words"))
        problems += wrong
        if not wrong:
            custom_species.append(CustomSpecies(**{**given, "key": key}))
    return tuple(custom_species), problems


def metals_document(metals: Collection[CustomAlloy]) -> dict[str, Any]:
    """Alloys as they are stored."""
    return {metal.key: {"label": metal.label, "like": metal.like, "parts": dict(metal.parts)} for metal in metals}


def species_document(species: Collection[CustomSpecies]) -> dict[str, Any]:
    """Species as they are stored."""
    return {
        custom_species.key: {name: value for name, value in asdict(custom_species).items() if name != "key"}
        for custom_species in species
    }


def _named(place: str, key: str, told: Any) -> list[Problem]:
    label = told.get("label") if isinstance(told, Mapping) else None
    if not _KEY.fullmatch(key):
        return [Problem(place, "is no key of the workshop's own", f"{PREFIX} and small letters")]
    if not isinstance(label, str) or not 0 < len(label.strip()) <= _MOST_LABEL:
        return [Problem(f"{place}.label", f"{label!r} is no name", f"up to {_MOST_LABEL} letters")]
    return []


def _within(value: Any, low: float, high: float) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool) and low <= value <= high
