"""The words by which a docket is found: what stands on it and in its job, in small letters, in one line."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

_COLUMNS = ("number", "customer", "item", "state", "metal", "mark", "reported")
_MOST = 4000


def words_of(docket: Mapping[str, Any]) -> str:
    """All that a docket can be found by, from its columns by name; at most 4,000 letters."""
    parts = [str(docket[name]) for name in _COLUMNS if docket[name]]
    if docket["promised_on"] is not None:
        parts.append(docket["promised_on"].isoformat())
    parts += _leaves(docket["job_document"])
    return " ".join(" ".join(parts).casefold().split())[:_MOST]


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
