"""What a store takes: checked on entry, alike on a file and on a server, so that whatever is in one can be moved to the
other, and nothing is cut in silence."""

from __future__ import annotations

import json
import math
from collections.abc import Callable, Collection, Mapping
from datetime import date
from typing import Any

from yarvel.figures.errors import StoreError
from yarvel.planning.job import FORMAT
from yarvel.workshop.dockets.fields import DATE, DOCUMENT, LIST, NUMBER, DocketField
from yarvel.workshop.dockets.records import FIELDS

MOST_TEXT = 20_000
MOST_DOCUMENT = 1_000_000
EARLIEST, LATEST = date(1990, 1, 1), date(2199, 12, 31)
_LARGEST = MOST_NUMBER = 1e15
_DEEPEST = 40


def check_text(where: str, text: str, most: int = MOST_TEXT) -> None:
    """StoreError for a text that is too long or holds signs that no text has (NUL and other controls, half signs)."""
    if len(text) > most:
        raise StoreError(f"{where}: {len(text):,} letters: at most {most:,}")
    for sign in text:
        if (ord(sign) < 32 and sign not in "\n\t") or 0xD800 <= ord(sign) <= 0xDFFF:
            raise StoreError(f"{where}: holds a sign that is no letter (U+{ord(sign):04X}): letters, figures, signs")


def check_value(where: str, value: Any, depth: int = 0) -> None:
    """StoreError for a text as above anywhere in a document, or a number that is none."""
    if depth > _DEEPEST:
        raise StoreError(f"{where}: is nested deeper than {_DEEPEST}: a plain document")
    if isinstance(value, str):
        check_text(where, value)
    elif isinstance(value, bool) or value is None:
        return
    elif isinstance(value, int | float):
        if not math.isfinite(value) or abs(value) > _LARGEST:
            raise StoreError(f"{where}: {str(value)[:30]} is no number that can be kept: up to {_LARGEST:g}")
    elif isinstance(value, Mapping):
        for name, inner in value.items():
            check_text(where, str(name), 400)
            check_value(f"{where}.{str(name)[:60]}", inner, depth + 1)
    elif isinstance(value, list | tuple):
        for inner in value:
            check_value(where, inner, depth + 1)
    elif not isinstance(value, date):
        raise StoreError(f"{where}: {type(value).__name__} cannot be kept: text, numbers, dates")


def check_date(where: str, value: date | None) -> None:
    """StoreError for a date that no workshop lives to see."""
    if value is not None and not (isinstance(value, date) and EARLIEST <= value <= LATEST):
        raise StoreError(f"{where}: {value} is not accepted: a date from {EARLIEST.year} to {LATEST.year}")


def check_job(where: str, document: Any) -> None:
    """StoreError for a job that is of no format that this Yarvel keeps, or too large."""
    if not isinstance(document, Mapping) or document.get("format") != FORMAT:
        format_told = document.get("format") if isinstance(document, Mapping) else None
        raise StoreError(f"{where}.job.format: {format_told!r} is not accepted: {FORMAT}")
    check_value(f"{where}.job", document)
    if len(json.dumps(document)) > MOST_DOCUMENT:
        raise StoreError(f"{where}.job: is larger than {MOST_DOCUMENT:,} letters: a job")


def check_fields(where: str, fields: Mapping[str, Any]) -> None:
    """StoreError for a column of a docket that cannot be what it is to become."""
    for name, value in fields.items():
        place = f"{where}.{name}"
        check_value(place, value)
        _KINDS.get(name, _text)(place, value)


def _text(place: str, value: Any) -> None:
    if not isinstance(value, str):
        raise StoreError(f"{place}: {value!r} is not accepted: a text")


def _one_of(accepted: Collection[str]) -> Callable[[str, Any], None]:
    def check(place: str, value: Any) -> None:
        if value not in accepted:
            raise StoreError(
                f"{place}: {value!r} is not accepted: one of {', '.join(word or '“”' for word in accepted)}"
            )

    return check


def _number(most: float) -> Callable[[str, Any], None]:
    def check(place: str, value: Any) -> None:
        if value is not None and (
            isinstance(value, bool) or not isinstance(value, int | float) or not 0 <= value <= most
        ):
            raise StoreError(f"{place}: {value!r} is not accepted: nothing, or 0 to {most:g}")

    return check


def _document(place: str, value: Any) -> None:
    if not isinstance(value, Mapping):
        raise StoreError(f"{place}: {type(value).__name__} is not accepted: an object")
    if len(json.dumps(value, default=str)) > MOST_DOCUMENT:
        raise StoreError(f"{place}: is larger than {MOST_DOCUMENT:,} letters")


def _texts(place: str, value: Any) -> None:
    if not isinstance(value, list | tuple) or not all(isinstance(text, str) for text in value):
        raise StoreError(f"{place}: is not accepted: a list of texts")


def _check_of(one: DocketField) -> Callable[[str, Any], None]:
    """What checks a field's values, by what is declared of it."""
    if one.one_of:
        return _one_of(one.one_of)
    if one.kind == NUMBER:
        return _number(MOST_NUMBER if one.most is None else one.most)
    return {DATE: check_date, LIST: _texts, DOCUMENT: _document}.get(one.kind, _text)


_KINDS: dict[str, Callable[[str, Any], None]] = {name: _check_of(docket_field) for name, docket_field in FIELDS.items()}
