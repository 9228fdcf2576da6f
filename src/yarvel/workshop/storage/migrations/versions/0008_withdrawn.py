"""Dockets taken in by mistake: kept, with the reason, and out of every list. All are found by words without their
marks, by dates as lists show them and by sizes as people say them."""

import unicodedata
from collections.abc import Iterator, Mapping
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("dockets", sa.Column("withdrawn", sa.Text(), nullable=False, server_default=""))
    _find_anew(op.get_bind())


def _find_anew(bind: sa.Connection) -> None:
    dockets = sa.table(
        "dockets",
        *(sa.column(name) for name in ("id", *_COLUMNS, "words")),
        sa.column("promised_on", sa.Date()),
        sa.column("job_document", sa.JSON()),
    )
    last = 0
    while (
        rows := bind.execute(sa.select(dockets).where(dockets.c.id > last).order_by(dockets.c.id).limit(2000))
        .mappings()
        .all()
    ):
        last = rows[-1]["id"]
        changed = [{"key": row["id"], "made": _words_of(row)} for row in rows]
        statement = sa.update(dockets).where(dockets.c.id == sa.bindparam("key")).values(words=sa.bindparam("made"))
        bind.execute(statement, changed)


# The words by which a docket is found, as this layout makes them: a copy of its own, so that it stays what it was.

_COLUMNS = ("number", "customer", "item", "state", "metal", "mark", "reported")
_MOST = 4000
_MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")
_BARE = {"ß": "ss", "ø": "o", "æ": "ae", "œ": "oe", "ł": "l", "đ": "d", "ð": "d", "þ": "th"}
_SPELT = {**_BARE, "ä": "ae", "ö": "oe", "ü": "ue", "ø": "oe", "å": "aa"}


def _words_of(docket: Mapping[str, Any]) -> str:
    parts = [str(docket[name]) for name in _COLUMNS if docket[name]]
    promised = docket["promised_on"]
    if promised is not None:
        parts += [promised.isoformat(), f"{promised.day} {_MONTHS[promised.month - 1]} {promised.year}"]
    parts += _leaves(docket["job_document"])
    parts += _sizes(docket["job_document"].get("stone"))
    words = " ".join(" ".join(parts).casefold().split())
    return " ".join([words, *_without_marks(words)])[:_MOST]


def _without_marks(words: str) -> list[str]:
    found: list[str] = []
    for word in dict.fromkeys(words.split()):
        if word.isascii():
            continue
        bare = "".join(_BARE.get(sign, sign) for sign in unicodedata.normalize("NFKD", word))
        bare = "".join(sign for sign in bare if not unicodedata.combining(sign))
        spelt = "".join(_SPELT.get(sign, sign) for sign in unicodedata.normalize("NFC", word))
        spelt = "".join(sign for sign in unicodedata.normalize("NFKD", spelt) if not unicodedata.combining(sign))
        found += [made for made in dict.fromkeys((bare, spelt)) if made != word]
    return found


def _sizes(stone: Any) -> list[str]:
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
