"""Finding dockets as somebody types, and giving out their numbers; queries for an open session."""

from __future__ import annotations

import re
from collections.abc import Sequence
from datetime import datetime
from typing import TYPE_CHECKING, Any

from sqlalchemy import ColumnElement, Integer, Row, Select, and_, column, func, or_, select, table
from sqlalchemy.orm import Session

from yarvel.clock import local
from yarvel.figures.errors import StoreError
from yarvel.workshop.dockets.records import Docket
from yarvel.workshop.dockets.rows import docket_of, docket_row
from yarvel.workshop.storage.schema import ActRow, ChangeRow, DocketRow, PersonRow, TaskRow

if TYPE_CHECKING:
    from yarvel.workshop.storage.connection import Connected

_NUMBERS = 918274
_NEWEST = 2000
_ASKING = "aside"

_SHORTEST = 3
"""Letters that a word needs for the index of words; shorter ones are looked for row by row."""


def find(session: Session, words: str, limit: int) -> Sequence[Row[Any]]:
    """Rows of dockets that hold every word, or that somebody of that name has a task of; newest change first.

    The newest two thousand are looked through first: what is on everybody's lips is found there; the beginning of a
    number is looked for among the numbers; the index of words answers for what is rare. What was put aside is found
    only by the word "aside".
    """
    newest = DocketRow.updated_at.desc(), DocketRow.id.desc()
    wanted = [word for word in (clean(word) for word in words.split()) if word]
    listed = () if _ASKING in wanted else (DocketRow.withdrawn == "",)
    if not wanted:
        return session.execute(select(*DocketRow.__table__.c).where(*listed).order_by(*newest).limit(limit)).all()
    lately = select(DocketRow.id, DocketRow.words, DocketRow.updated_at).where(*listed)
    recent = lately.order_by(*newest).limit(_NEWEST).subquery()
    first = select(recent.c.id).order_by(recent.c.updated_at.desc(), recent.c.id.desc()).limit(limit)
    for word in wanted:
        first = first.where(recent.c.words.like(f"%{word}%"))
    docket_ids = list(session.scalars(first))
    if len(docket_ids) < limit and len(wanted) == 1 and _NUMBER_START.fullmatch(wanted[0]):
        docket_ids = list(session.scalars(_numbered_from(session, wanted[0]).where(*listed).limit(limit)))
    if len(docket_ids) < limit:
        query = select(DocketRow.id).where(*listed).order_by(*newest).limit(limit)
        for word in wanted:
            query = query.where(_holding(session, word))
        docket_ids = list(session.scalars(query))
    rows = session.execute(select(*DocketRow.__table__.c).where(DocketRow.id.in_(docket_ids))).all()
    return sorted(rows, key=lambda row: (row.updated_at, row.id), reverse=True)


_NUMBER = re.compile(r"[0-9]{2}-[0-9]{4,8}(/[0-9]{1,3})?")
_NUMBER_START = re.compile(r"[0-9]{2}-[0-9]*")

_USUAL_MOST = 99_999
"""No workshop takes in more in a year; a number beyond comes from elsewhere."""


def _numbered_from(session: Session, start: str) -> Select[int]:
    """Ids of dockets whose number begins so, the highest number first."""
    begins: ColumnElement[bool] = DocketRow.number.like(f"{start}%")
    if session.get_bind().dialect.name == "sqlite":  # its LIKE knows no capitals, and so no index
        begins = and_(DocketRow.number >= start, DocketRow.number < start[:-1] + chr(ord(start[-1]) + 1))
    return select(DocketRow.id).where(begins).order_by((DocketRow.number + "").desc())  # not the index's own order


def is_number(text: str) -> bool:
    """Whether a docket may bear this number."""
    return _NUMBER.fullmatch(text) is not None


def may_keep_number(session: Session, number: str) -> bool:
    """Whether a docket from elsewhere may keep its number: free, and not so high that ours would go on from there."""
    if not is_number(number):
        return False
    if session.scalars(select(DocketRow.id).where(DocketRow.number == number)).first() is not None:
        return False
    year, rest = number.split("-", 1)
    return int(rest.split("/")[0]) <= max(_USUAL_MOST, _last(session, year))


def clean(word: str) -> str:
    """A word as it is looked for: small letters, without signs that mean something to a pattern."""
    return "".join(letter for letter in word.casefold() if letter not in '%_\\"')


def _holding(session: Session, word: str) -> ColumnElement[bool]:
    """Dockets that hold a word, in the row itself or by who has a task of it."""
    condition: ColumnElement[bool] = DocketRow.words.like(f"%{word}%")
    if session.get_bind().dialect.name == "sqlite" and len(word) >= _SHORTEST:
        index = table("docket_words", column("rowid", Integer), column("docket_words"))
        condition = DocketRow.id.in_(select(index.c.rowid).where(index.c.docket_words.op("MATCH")(f'"{word}"')))
    people = list(session.scalars(select(PersonRow.id).where(func.lower(PersonRow.name).like(f"%{word}%"))))
    if not people:
        return condition
    theirs = select(TaskRow.docket_id).where(TaskRow.person_id.in_(people), TaskRow.dropped_at.is_(None))
    return or_(condition, DocketRow.id.in_(theirs))


def next_number(session: Session, now: datetime) -> str:
    """The next number of the year on the clock of the wall; they are given out one by one."""
    if session.get_bind().dialect.name == "postgresql":
        session.execute(select(func.pg_advisory_xact_lock(_NUMBERS)))
    year = f"{local(now):%y}"
    return f"{year}-{_last(session, year) + 1:04d}"


def _last(session: Session, year: str) -> int:
    """The highest number of a year; 0 where there is none."""
    last = session.scalars(
        select(DocketRow.number)
        .where(DocketRow.number.like(f"{year}-%"), DocketRow.number.not_like("%/%"))
        .order_by(func.length(DocketRow.number).desc(), DocketRow.number.desc())
        .limit(1)
    ).first()
    return 0 if last is None else int(last.split("-", 1)[1])


def next_stone(session: Session, number: str) -> str:
    """The number of a docket's next stone: 26-0007/2 after 26-0007."""
    main = number.split("/")[0]
    session.scalars(select(DocketRow.id).where(DocketRow.number == main).with_for_update()).first()
    others = session.scalars(select(DocketRow.number).where(DocketRow.number.like(f"{main}/%")))
    return f"{main}/{max((int(other.split('/')[1]) for other in others), default=1) + 1}"


def known_acts(store: Connected, names: Sequence[str]) -> set[str]:
    """Those of these acts that are in the store."""
    with store.transaction() as session:
        return set(session.scalars(select(ActRow.id).where(ActRow.id.in_(names))))


def dockets_of(store: Connected, act: str) -> list[Docket]:
    """The dockets that an act took in or changed, in the order in which it did (StoreError where there is none)."""
    with store.transaction() as session:
        mine = select(ChangeRow.docket_id).where(ChangeRow.act == act).order_by(ChangeRow.id)
        dockets = [docket_of(docket_row(session, number)) for number in dict.fromkeys(session.scalars(mine))]
    if not dockets:
        raise StoreError(f"act {act}: no docket was taken in or changed by it")
    return dockets
