"""The store: one SQLite file that keeps every docket, what was typed, and the history of it all."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import UTC, date, datetime
from functools import reduce
from pathlib import Path
from typing import Any

from sqlalchemy import URL, Engine, create_engine, event, or_, select, update
from sqlalchemy.exc import DatabaseError, OperationalError
from sqlalchemy.orm import Session

from yarvel.figures.errors import StoreError
from yarvel.figures.rules import HouseRules, changed_rules, rules_from
from yarvel.planning.job import FORMAT, merge_patch
from yarvel.workshop.dockets import STATES, Change, Docket, DocketEdit
from yarvel.workshop.migrating import bring_up_to_date
from yarvel.workshop.schema import ChangeRow, DocketRow, SettingRow

Clock = Callable[[], datetime]
_EDITABLE = ("customer", "item", "promised_on", "state", "drafts", "ticks")
_SILENT = ("drafts",)
"""Columns kept safe but not told in the history."""


def utc_now() -> datetime:
    """The time now, UTC, without zone, as it is stored."""
    return datetime.now(UTC).replace(tzinfo=None)


class Store:
    """An open store. Every method is one transaction; records go in and out, never rows."""

    def __init__(self, path: Path, clock: Clock = utc_now) -> None:
        """Open or make the store at ``path``.

        Raises
        ------
        StoreError : the folder cannot be written to, the file is no store, or a newer Yarvel wrote it.
        """
        self.path = path
        self._clock = clock
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise StoreError(f"{path.parent}: {error.strerror}: a folder that can be written to") from error
        bring_up_to_date(path)
        self._engine = _engine(path)

    def close(self) -> None:
        """Let go of the file."""
        self._engine.dispose()

    @contextmanager
    def _transaction(self) -> Iterator[Session]:
        try:
            with Session(self._engine) as session, session.begin():
                yield session
        except (OperationalError, DatabaseError) as error:
            raise StoreError(f"{self.path}: {error.orig}: a store that can be read and written") from error

    def new_docket(self, customer: str = "", item: str = "", promised_on: date | None = None,
                   job_document: dict[str, Any] | None = None, state: str = STATES[0]) -> Docket:
        """Take in a docket under the next number of the year."""
        now = self._clock()
        with self._transaction() as session:
            row = DocketRow(number=_next_number(session, now), customer=customer, item=item, promised_on=promised_on,
                            state=state, job_document=job_document or {"format": FORMAT}, drafts={}, ticks=[],
                            created_at=now, updated_at=now)
            session.add(row)
            session.flush()
            session.add(ChangeRow(docket_id=row.id, at=now, field="docket", before=None, after="taken in"))
            return _docket(row)

    def docket(self, docket_id: int) -> Docket:
        """One docket; StoreError where there is none of that id."""
        with self._transaction() as session:
            return _docket(_row(session, docket_id))

    def dockets(self, words: str = "", limit: int = 200) -> list[Docket]:
        """Dockets whose number, customer, item or state holds every word, newest change first."""
        query = select(DocketRow).order_by(DocketRow.updated_at.desc(), DocketRow.id.desc()).limit(limit)
        for word in words.split():
            like = f"%{word.replace('%', '').replace('_', '')}%"
            query = query.where(or_(DocketRow.number.ilike(like), DocketRow.customer.ilike(like),
                                    DocketRow.item.ilike(like), DocketRow.state.ilike(like)))
        with self._transaction() as session:
            return [_docket(row) for row in session.scalars(query)]

    def edit(self, docket_id: int, edit: DocketEdit) -> Docket:
        """Apply an edit to what is stored now, so that edits made elsewhere to other fields are kept.

        What a field held before is kept in the history, so nothing is ever lost. Returns the docket as it is then.
        """
        now = self._clock()
        with self._transaction() as session:
            row = _row(session, docket_id)
            changes: list[ChangeRow] = []
            values: dict[str, Any] = {}
            document = reduce(merge_patch, edit.job_patches, row.job_document)
            if document != row.job_document:
                values["job_document"] = document
                changes.append(_change(row, now, "job", row.job_document, document))
            for name, value in edit.fields.items():
                if name not in _EDITABLE:
                    raise StoreError(f"{name}: not a field of a docket: one of {', '.join(_EDITABLE)}")
                held = getattr(row, name)
                if value != held:
                    values[name] = value
                    if name not in _SILENT:
                        changes.append(_change(row, now, name, _plain(held), _plain(value)))
            if values:
                session.execute(update(DocketRow).where(DocketRow.id == docket_id)
                                .values(**values, version=DocketRow.version + 1, updated_at=now))
                session.add_all(changes)
                session.expire(row)
            return _docket(row)

    def history(self, docket_id: int) -> list[Change]:
        """All changes of a docket, oldest first."""
        query = select(ChangeRow).where(ChangeRow.docket_id == docket_id).order_by(ChangeRow.id)
        with self._transaction() as session:
            return [Change(row.at, row.field, row.before, row.after) for row in session.scalars(query)]

    def rules(self) -> HouseRules:
        """The workshop's house rules."""
        with self._transaction() as session:
            row = session.get(SettingRow, "house_rules")
            held = dict(row.value) if row is not None and isinstance(row.value, dict) else {}
        return rules_from(held)

    def keep_rules(self, rules: HouseRules) -> None:
        """Keep the house rules that differ from their defaults."""
        with self._transaction() as session:
            session.merge(SettingRow(name="house_rules", value=changed_rules(rules)))


def _engine(path: Path) -> Engine:
    engine = create_engine(URL.create("sqlite", database=str(path)), connect_args={"timeout": 10})

    @event.listens_for(engine, "connect")
    def _on_connect(connection: sqlite3.Connection, _record: object) -> None:
        connection.isolation_level = None
        for pragma in ("journal_mode = WAL", "synchronous = FULL", "foreign_keys = ON"):
            connection.execute(f"PRAGMA {pragma}")

    @event.listens_for(engine, "begin")
    def _on_begin(connection: Any) -> None:
        connection.exec_driver_sql("BEGIN IMMEDIATE")

    return engine


def _row(session: Session, docket_id: int) -> DocketRow:
    row = session.get(DocketRow, docket_id)
    if row is None:
        raise StoreError(f"docket {docket_id}: not in this store: a docket from the finder")
    return row


def _docket(row: DocketRow) -> Docket:
    return Docket(row.id, row.number, row.customer, row.item, row.promised_on, row.state, dict(row.job_document),
                  dict(row.drafts), tuple(row.ticks), row.version, row.created_at, row.updated_at)


def _change(row: DocketRow, at: datetime, field: str, before: Any, after: Any) -> ChangeRow:
    return ChangeRow(docket_id=row.id, at=at, field=field, before=before, after=after)


def _plain(value: Any) -> Any:
    return value.isoformat() if isinstance(value, date) else value


def _next_number(session: Session, now: datetime) -> str:
    year = f"{now:%y}"
    query = select(DocketRow.number).where(DocketRow.number.startswith(f"{year}-"))
    used = [int(number.split("-", 1)[1]) for number in session.scalars(query)]
    return f"{year}-{max(used, default=0) + 1:04d}"
