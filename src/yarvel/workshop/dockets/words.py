"""The words by which a docket is found: what stands on it and in its job, in small letters, in one line."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterator, Mapping
from typing import Any

from yarvel.workshop.dockets.records import FIELDS

FINDABLE = tuple(name for name, docket_field in FIELDS.items() if docket_field.findable)
"""Fields of a docket that it is found by, beside its number, its date and its job."""
_MOST = 4000
_MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
_BARE = {"ß": "ss", "ø": "o", "æ": "ae", "œ": "oe", "ł": "l", "đ": "d", "ð": "d", "þ": "th"}
_SPELT = {**_BARE, "ä": "ae", "ö": "oe", "ü": "ue", "ø": "oe", "å": "aa"}


def words_of(docket: Mapping[str, Any]) -> str:
    """All that a docket can be found by, from its columns by name; at most 4,000 letters. Words with marks stand there
    without them too, dates as lists show them, a stone's sizes as people say them."""
    parts = [str(docket[name]) for name in ("number", *FINDABLE) if docket[name]]
    promised = docket["promised_on"]
    if promised is not None:
        parts += [promised.isoformat(), f"{promised.day} {_MONTHS[promised.month - 1]} {promised.year}"]
    if docket.get("withdrawn"):
        parts += ["put aside", str(docket["withdrawn"])]
    parts += _leaves(docket["job_document"])
    parts += _sizes(docket["job_document"].get("stone"))
    words = " ".join(" ".join(parts).casefold().split())
    return " ".join([words, *without_marks(words)])[:_MOST]


def without_marks(words: str) -> list[str]:
    """Those of the words that have marks, without them and as people spell them who have no such keys: "björk" gives
    "bjork" and "bjoerk"."""
    words_left: list[str] = []
    for word in dict.fromkeys(words.split()):
        if word.isascii():
            continue
        bare = "".join(_BARE.get(sign, sign) for sign in unicodedata.normalize("NFKD", word))
        bare = "".join(sign for sign in bare if not unicodedata.combining(sign))
        spelt = "".join(_SPELT.get(sign, sign) for sign in unicodedata.normalize("NFC", word))
        spelt = "".join(sign for sign in unicodedata.normalize("NFKD", spelt) if not unicodedata.combining(sign))
        words_left += [fromkey for fromkey in dict.fromkeys((bare, spelt)) if fromkey != word]
    return words_left


def _sizes(stone: Any) -> list[str]:
    """A stone's size as people say it: 6.5 for readings of 6.48 and 6.53, 9x7 for an oval."""
    if not isinstance(stone, dict):
        return []
    readings = stone.get("diameters_mm")
    if isinstance(readings, list) and readings and all(_is_number(reading) for reading in readings):
        return [f"{sum(readings) / len(readings):.1f}"]
    length, width = stone.get("length_mm"), stone.get("width_mm")
    if _is_number(length) and _is_number(width):
        return [f"{length:g}x{width:g}", f"{length:g}×{width:g}"]
    return []


def _is_number(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool)


def _leaves(value: Any) -> Iterator[str]:
    """Texts and numbers of a job: cuts, species, metals, styles, readings."""
    if isinstance(value, dict):
        for name, inner in value.items():
            if name != "format":
                yield from _leaves(inner)
    elif isinstance(value, list):
        for inner in value:
            yield from _leaves(inner)
    elif isinstance(value, str):
        yield value
    elif isinstance(value, int | float) and not isinstance(value, bool):
        yield f"{value:g}"
