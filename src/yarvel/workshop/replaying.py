"""Whether everything that stands in a store is what its acts made of it: the history and the effects are followed back
from what is there, line by line, to where each begins.

What was written before acts had names (layout 0017), or came in with an archive, is where a chain ends: it is not
judged.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from datetime import date, datetime
from itertools import groupby, islice
from typing import Any

from sqlalchemy import Table, or_, select
from sqlalchemy.orm import Session

from yarvel.planning.job import merge_patch
from yarvel.workshop.dockets.archive_store import BROUGHT
from yarvel.workshop.dockets.records import FIELDS, SEVERAL, SILENT
from yarvel.workshop.dockets.rows import PATCHED
from yarvel.workshop.storage.connection import Connected
from yarvel.workshop.storage.guards import BEGUN, TOLD
from yarvel.workshop.storage.identity import is_of_before
from yarvel.workshop.storage.schema import ActRow, Base, ChangeRow, DocketRow, EffectRow
from yarvel.workshop.storage.settings import FORMER_DOCUMENTS

_JOB = "job"
_AT_A_TIME, _ROWS_AT_A_TIME = 1000, 400


def replay(store: Connected) -> list[str]:
    """What is otherwise than its acts made it, in a line each; none where all agrees."""
    with store.transaction() as session:
        return [*_without_act(session), *_dockets(session), *_rows(session)]


def _without_act(session: Session) -> Iterator[str]:
    """Lines that name an act which is not there, or which somebody else did."""
    query = (
        select(ChangeRow.id, ChangeRow.docket_id, ChangeRow.by, ActRow.by)
        .join(ActRow, ActRow.id == ChangeRow.act, isouter=True)
        .where(ChangeRow.act != "", or_(ActRow.by.is_(None), ActRow.by != ChangeRow.by))
        .where(ChangeRow.by.not_like("%, brought in by %"))
        .order_by(ChangeRow.id)
    )
    for number, docket_id, by, author in session.execute(query):
        said = "names no act that is there" if author is None else f"says {by}, its act was {author}'s"
        yield f"history {number} of docket {docket_id}: {said}"
    orphans = select(EffectRow.id).where(EffectRow.act != "", EffectRow.act.not_in(select(ActRow.id)))
    for number in session.scalars(orphans.order_by(EffectRow.id)):
        yield f"effect {number}: names no act that is there"


def _dockets(session: Session) -> Iterator[str]:
    changed = select(ChangeRow.docket_id).where(ChangeRow.act != "").distinct()
    query = select(DocketRow).where(DocketRow.id.in_(changed)).order_by(DocketRow.id)
    for row in session.scalars(query.execution_options(yield_per=_AT_A_TIME)):
        lines = select(ChangeRow).where(ChangeRow.docket_id == row.id).order_by(ChangeRow.id.desc())
        held: dict[str, Any] = {_JOB: row.job_document}
        held |= {name: _plain(getattr(row, name)) for name in FIELDS if name not in SILENT}
        for line in session.scalars(lines):
            brought = line.field == BROUGHT and line.before is not None
            if not line.act or is_of_before(line.act) or brought:
                break
            if line.field != SEVERAL and line.field not in held:
                continue
            befores, afters = _sides(line)
            for name in held.keys() & afters.keys():
                then, held[name] = _step(name in (_JOB, *PATCHED), held[name], befores[name], afters[name])
                if not then:
                    del held[name]  # told once, where it first is otherwise
                    yield f"docket {row.number}: {name} is not what {line.by} made it ({line.at:%Y-%m-%d %H:%M} UTC)"
        else:
            yield from _begun(session, row, held)


def _begun(session: Session, row: DocketRow, held: Mapping[str, Any]) -> Iterator[str]:
    """What a docket was before all that its history tells, held against what it was taken in with."""
    began = (
        select(EffectRow.after)
        .where(EffectRow.table_name == BEGUN, EffectRow.row_key == str(row.id))
        .order_by(EffectRow.id)
    )
    after: object = session.scalars(began.limit(1)).first()
    at_first: Mapping[str, Any] = after if isinstance(after, Mapping) else {}
    for name, value in held.items():
        column = "job_document" if name == _JOB else name
        if column in at_first and _plain(at_first[column]) != value:
            yield f"docket {row.number}: {name} is not what it was taken in with"


def _sides(line: ChangeRow) -> tuple[dict[str, Any], dict[str, Any]]:
    if line.field == SEVERAL and isinstance(line.before, dict) and isinstance(line.after, dict):
        return line.before, line.after
    return {line.field: line.before}, {line.field: line.after}


def _step(patched: bool, held: Any, before: Any, after: Any) -> tuple[bool, Any]:
    """Whether a value is what a line says that it became, and what it was before."""
    if not patched:
        return held == after, before
    return merge_patch(held or {}, after or {}) == (held or {}), merge_patch(held or {}, before or {})


def _rows(session: Session) -> Iterator[str]:
    """The tables of whose rows the database writes down every change."""
    for name in TOLD:
        table = Base.metadata.tables[name]
        lines = select(EffectRow).where(EffectRow.table_name == name).order_by(EffectRow.row_key, EffectRow.id.desc())
        of_rows = groupby(session.scalars(lines.execution_options(yield_per=_AT_A_TIME)), key=lambda line: line.row_key)
        chains = ((row_key, list(chain)) for row_key, chain in of_rows)
        while some := list(islice(chains, _ROWS_AT_A_TIME)):
            there = _there(session, table, [row_key for row_key, _chain in some])
            for row_key, chain in some:
                if row_key not in there and not _went_with_a_layout(name, row_key):
                    yield f"{name} {row_key}: is gone, and nothing takes it away"
                yield from _chain(f"{name} {row_key}", there.get(row_key, {}), chain)


def _went_with_a_layout(table_name: str, row_key: str) -> bool:
    """Settings that were one document became rows with layouts 0020 and 0021."""
    return table_name == "settings" and row_key in FORMER_DOCUMENTS


def _there(session: Session, table: Table, row_keys: list[str]) -> dict[str, dict[str, Any]]:
    (key,) = table.primary_key.columns
    values: list[Any] = row_keys if key.type.python_type is str else [int(row_key) for row_key in row_keys]
    rows = session.execute(select(table).where(key.in_(values))).mappings()
    return {str(row[key.name]): dict(row) for row in rows}


def _chain(what: str, there: dict[str, Any], lines: list[EffectRow]) -> Iterator[str]:
    """One row's effects, newest first, back to where it was added."""
    for line in lines:
        after = line.after if isinstance(line.after, Mapping) else {}
        for column, value in after.items():
            if column in there and _plain(there[column]) != _plain(value):
                yield f"{what}: {column} is not what was written down of it"
        if not isinstance(line.before, Mapping):
            return
        there |= line.before


def _plain(value: Any) -> Any:
    """A value as JSON holds it, times in one way of writing."""
    if isinstance(value, datetime | date):
        return value.isoformat()
    if isinstance(value, tuple):
        return list(value)
    if isinstance(value, str) and len(value) >= len("2031-04-09 08:30:00") and value[:4].isdigit():
        try:
            return datetime.fromisoformat(value).isoformat()
        except ValueError:
            return value
    return value
