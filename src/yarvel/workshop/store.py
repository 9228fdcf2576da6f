"""The store: one SQLite file that keeps every docket, what was typed, and the history of it all."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from datetime import UTC, date, datetime
from pathlib import Path
from typing import Any, Protocol

from sqlalchemy import Row, or_, select, update
from sqlalchemy.exc import DataError, DBAPIError, IntegrityError, ProgrammingError
from sqlalchemy.orm import Session

from yarvel.figures.errors import StoreError, StoreGoneError
from yarvel.figures.rules import HouseRules, changed_rules, rules_from
from yarvel.planning.job import FORMAT
from yarvel.workshop.dockets import DETAILS, STATES, Change, Docket, DocketEdit, Photograph
from yarvel.workshop.drawer_store import DrawerStore
from yarvel.workshop.finding import find, is_number, next_number, next_stone
from yarvel.workshop.fine_store import FineStore
from yarvel.workshop.location import Location, location
from yarvel.workshop.merging import EditClashError, merge, merge_object
from yarvel.workshop.migrating import bring_up_to_date
from yarvel.workshop.people_store import PeopleStore
from yarvel.workshop.release import check_release
from yarvel.workshop.schema import ChangeRow, DocketRow, PersonRow, PhotographRow, SettingRow
from yarvel.workshop.task_store import TaskStore
from yarvel.workshop.tasks import Person
from yarvel.workshop.who_may import BRING_IN, CHANGE_RULES, PHOTOGRAPH, TAKE_IN, acts_of, check_allowed
from yarvel.workshop.words import words_of

Clock = Callable[[], datetime]
_EDITABLE = ("customer", "item", "promised_on", "state", "drafts", "ticks", *DETAILS)
_DAMAGED = ("malformed", "not a database")
_SILENT = ("drafts", "estimate")
"""Columns kept safe but not told in the history."""


def utc_now() -> datetime:
    """The time now, UTC, without zone, as it is stored."""
    return datetime.now(UTC).replace(tzinfo=None)


class SmallPicture(Protocol):
    """A photograph made small enough to keep."""

    @property
    def width(self) -> int:
        """Pixels across."""

    @property
    def height(self) -> int:
        """Pixels down."""

    @property
    def jpeg(self) -> bytes:
        """The file."""


class Store:
    """An open store. Every method is one transaction; records go in and out, never rows."""

    def __init__(self, where: Path | str | Location, clock: Clock = utc_now, by: str = "") -> None:
        """Open or make a store: a file, or a team's database by URL; ``by`` is who works here, for the history.

        Raises
        ------
        StoreError : the folder cannot be written to, the file is no store, or a newer Yarvel wrote it.
        """
        self.location = location(where)
        self._clock = clock
        self.by = by
        self.signed_in: Person | None = None
        path = self.location.path
        if path is not None:
            try:
                path.parent.mkdir(parents=True, exist_ok=True)
            except OSError as error:
                raise StoreError(f"{path.parent}: {error.strerror}: a folder that can be written to") from error
        bring_up_to_date(self.location)
        self._engine = self.location.engine()

    @property
    def path(self) -> Path | None:
        """The store's file; None where it is a team's database."""
        return self.location.path

    @property
    def tasks(self) -> TaskStore:
        """Tasks and people."""
        return TaskStore(self)

    @property
    def people(self) -> PeopleStore:
        """Who works here, signs in, and as what."""
        return PeopleStore(self)

    @property
    def drawer(self) -> DrawerStore:
        """The stock drawer."""
        return DrawerStore(self)

    @property
    def fine(self) -> FineStore:
        """The fine book."""
        return FineStore(self)

    def now(self) -> datetime:
        """The time, as it is stored."""
        return self._clock()

    def close(self) -> None:
        """Let go of the file."""
        self._engine.dispose()

    @contextmanager
    def transaction(self) -> Iterator[Session]:
        """One transaction; what the database says against it comes as a StoreError, as a StoreGoneError where trying
        again later may help."""
        try:
            with Session(self._engine) as session, session.begin():
                yield session
        except (IntegrityError, DataError, ProgrammingError) as error:
            raise StoreError(f"{self.location}: {error.orig}: a store that can be read and written") from error
        except DBAPIError as error:
            told = str(error.orig)
            wanted = (
                f"a whole store; the newest copy is put back with: yarvel --store {self.location} restore COPY"
                if any(word in told for word in _DAMAGED)
                else "a store that can be read and written"
            )
            raise StoreGoneError(f"{self.location}: {told}: {wanted}") from error

    def guard(self, session: Session, *acts: str) -> None:
        """Refuse what whoever works here may not do (NotAllowedError): who signed in, once anybody has a PIN."""
        mine = -1 if self.signed_in is None else self.signed_in.id
        query = select(PersonRow.id, PersonRow.role).where(
            PersonRow.left_at.is_(None), or_(PersonRow.pin_hash != "", PersonRow.id == mine)
        )
        roles = {row.id: row.role for row in session.execute(query)}
        if roles:
            for act in acts:
                check_allowed(act, roles.get(mine))

    def new_docket(
        self,
        customer: str = "",
        item: str = "",
        promised_on: date | None = None,
        job_document: dict[str, Any] | None = None,
        state: str = STATES[0],
    ) -> Docket:
        """Take in a docket under the next number of the year."""
        now = self._clock()
        with self.transaction() as session:
            self.guard(session, TAKE_IN)
            row = _new_row(
                now,
                number=next_number(session, now),
                customer=customer,
                item=item,
                promised_on=promised_on,
                state=state,
                job_document=job_document or {"format": FORMAT},
            )
            session.add(row)
            session.flush()
            session.add(ChangeRow(docket_id=row.id, at=now, by=self.by, field="docket", before=None, after="taken in"))
            return docket_of(row)

    def add_stone(self, docket_id: int) -> Docket:
        """Another stone of the same piece: a docket under the same number with /2, /3, with a job, tasks and checks of
        its own; what was taken in of the piece is copied."""
        now = self._clock()
        with self.transaction() as session:
            self.guard(session, TAKE_IN)
            main = _row(session, docket_id)
            copied = {
                name: getattr(main, name)
                for name in ("customer", "customer_kind", "item", "promised_on", "metal", "mark", "reported")
            }
            row = _new_row(
                now, number=next_stone(session, main.number), state=STATES[0], job_document={"format": FORMAT}, **copied
            )
            session.add(row)
            session.flush()
            session.add(self._change(row, now, "docket", None, f"another stone of {main.number}"))
            return docket_of(row)

    def stones(self, docket_id: int) -> list[Docket]:
        """All stones of a docket's piece, each with its job, the first one first."""
        with self.transaction() as session:
            main = _row(session, docket_id).number.split("/")[0]
            rows = session.scalars(
                select(DocketRow).where(or_(DocketRow.number == main, DocketRow.number.like(f"{main}/%")))
            )
            return [docket_of(row) for row in sorted(rows, key=lambda row: (len(row.number), row.number))]

    def docket(self, docket_id: int) -> Docket:
        """One docket; StoreError where there is none of that id."""
        with self.transaction() as session:
            return docket_of(_row(session, docket_id))

    def dockets(self, words: str = "", limit: int = 200) -> list[Docket]:
        """Dockets of which every word is found: in number, customer, item, state, metal, mark, report, promised date,
        in the job (stone, cut, head, metal), or as a person who has a task of it; newest change first."""
        with self.transaction() as session:
            return [docket_of(row) for row in find(session, words, limit)]

    def edit(self, docket_id: int, edit: DocketEdit) -> Docket:
        """Apply an edit to what is stored now, so that edits made elsewhere to other fields are kept.

        What a field held before is kept in the history, so nothing is ever lost. Returns the docket as it is then.

        Raises
        ------
        EditClashError : somebody else changed the same fields since they were seen here; nothing is written.
        NotAllowedError : whoever works here may not do this.
        """
        now = self._clock()
        with self.transaction() as session:
            self.guard(session, *acts_of(edit))
            row = _row(session, docket_id, to_change=True)
            held = docket_of(row)
            merged = merge(held, edit)
            if merged.clashes:
                last = session.scalars(
                    select(ChangeRow.by).where(ChangeRow.docket_id == docket_id).order_by(ChangeRow.id.desc()).limit(1)
                ).first()
                raise EditClashError(held, merged.clashes, last or "")
            changes: list[ChangeRow] = []
            values: dict[str, Any] = {}
            if merged.job_document != row.job_document:
                values["job_document"] = merged.job_document
                changes.append(self._change(row, now, "job", row.job_document, merged.job_document))
            check_release(row.state, row.released_by, row.release_reason, edit)
            for name, value in merged.fields.items():
                if name not in _EDITABLE:
                    raise StoreError(f"{name}: not a field of a docket: one of {', '.join(_EDITABLE)}")
                before = getattr(row, name)
                if value != before:
                    values[name] = value
                    if name not in _SILENT:
                        changes.append(self._change(row, now, name, _plain(before), _plain(value)))
            if values:
                values["words"] = words_of({**_columns(row), **values})
                session.execute(
                    update(DocketRow)
                    .where(DocketRow.id == docket_id)
                    .values(**values, version=DocketRow.version + 1, updated_at=now)
                )
                session.add_all(changes)
                session.expire(row)
            return docket_of(row)

    def history(self, docket_id: int) -> list[Change]:
        """All changes of a docket, oldest first."""
        query = select(ChangeRow).where(ChangeRow.docket_id == docket_id).order_by(ChangeRow.id)
        with self.transaction() as session:
            return [Change(row.at, row.field, row.before, row.after, row.by) for row in session.scalars(query)]

    def add_photograph(self, docket_id: int, photograph: SmallPicture, caption: str = "") -> Photograph:
        """Keep a photograph with a docket, for ever."""
        now = self._clock()
        with self.transaction() as session:
            self.guard(session, PHOTOGRAPH)
            docket = _row(session, docket_id)
            row = PhotographRow(
                docket_id=docket.id,
                at=now,
                by=self.by,
                caption=caption,
                width=photograph.width,
                height=photograph.height,
                jpeg=photograph.jpeg,
            )
            session.add(row)
            session.add(self._change(docket, now, "photograph", None, caption or "added"))
            session.flush()
            return Photograph(row.id, row.at, row.by, row.caption, row.width, row.height, row.jpeg)

    def photographs(self, docket_id: int) -> list[Photograph]:
        """All photographs of a docket, oldest first."""
        query = select(PhotographRow).where(PhotographRow.docket_id == docket_id).order_by(PhotographRow.id)
        with self.transaction() as session:
            return [
                Photograph(row.id, row.at, row.by, row.caption, row.width, row.height, row.jpeg)
                for row in session.scalars(query)
            ]

    def numbered(self, number: str) -> Docket | None:
        """The docket of a number as it stands on its label; None where there is none."""
        with self.transaction() as session:
            row = session.scalars(select(DocketRow).where(DocketRow.number == number.strip())).first()
            return None if row is None else docket_of(row)

    def bring_in(
        self, docket: Docket, history: Iterable[Change], photographs: Iterable[tuple[SmallPicture, str, str, datetime]]
    ) -> Docket:
        """Take in a docket from an archive: under its own number where that is free, else under the next; with its
        history, and a line that it was brought in."""
        now = self._clock()
        with self.transaction() as session:
            self.guard(session, BRING_IN)
            taken = session.scalars(select(DocketRow).where(DocketRow.number == docket.number)).first()
            number = docket.number if taken is None and is_number(docket.number) else next_number(session, now)
            row = _new_row(
                now,
                number=number,
                customer=docket.customer,
                item=docket.item,
                promised_on=docket.promised_on,
                state=docket.state,
                job_document=docket.job_document,
                ticks=list(docket.ticks),
                **{name: getattr(docket, name) for name in DETAILS},
            )
            row.created_at = docket.created_at
            session.add(row)
            session.flush()
            for change in history:
                session.add(
                    ChangeRow(
                        docket_id=row.id,
                        at=change.at,
                        by=change.by,
                        field=change.field[:40],
                        before=change.before,
                        after=change.after,
                    )
                )
            for picture, caption, by, at in photographs:
                session.add(
                    PhotographRow(
                        docket_id=row.id,
                        at=at,
                        by=by,
                        caption=caption,
                        width=picture.width,
                        height=picture.height,
                        jpeg=picture.jpeg,
                    )
                )
            session.add(self._change(row, now, "docket", docket.number, f"brought in as {number}"))
            session.flush()
            return docket_of(row)

    def came_before(self, docket_id: int) -> list[Docket]:
        """The dockets under which the same piece came in before, newest first; each is taken once."""
        found: list[Docket] = []
        with self.transaction() as session:
            row: DocketRow | None = _row(session, docket_id)
            while row is not None and row.earlier_number and len(found) < 50:
                row = session.scalars(select(DocketRow).where(DocketRow.number == row.earlier_number.strip())).first()
                if row is None or row.id == docket_id or row.id in [docket.id for docket in found]:
                    break
                found.append(docket_of(row))
        return found

    def _change(self, row: DocketRow, at: datetime, field: str, before: Any, after: Any) -> ChangeRow:
        return ChangeRow(docket_id=row.id, at=at, by=self.by, field=field, before=before, after=after)

    def rules(self) -> HouseRules:
        """The workshop's house rules."""
        with self.transaction() as session:
            row = session.get(SettingRow, "house_rules")
            held = dict(row.value) if row is not None and isinstance(row.value, dict) else {}
        return rules_from(held)

    def keep_rules(self, rules: HouseRules, seen: HouseRules | None = None) -> HouseRules:
        """Keep what is changed in the house rules since they were ``seen`` (the stored ones where that is not said);
        others' changes of other rules stay. Returns the rules as they are then.

        Raises
        ------
        StoreError : somebody else changed the same rule meanwhile; nothing is kept.
        """
        with self.transaction() as session:
            self.guard(session, CHANGE_RULES)
            row = session.get(SettingRow, "house_rules", with_for_update=True)
            held = dict(row.value) if row is not None and isinstance(row.value, dict) else {}
            made, clashes = merge_object(
                held, held if seen is None else changed_rules(seen), changed_rules(rules), "rules"
            )
            if clashes:
                told = "; ".join(f"{clash.path.removeprefix('rules.')} is {clash.theirs} by now" for clash in clashes)
                raise StoreError(
                    f"house rules: changed meanwhile by somebody else ({told}): look again, then change "
                    "what should be otherwise"
                )
            session.merge(SettingRow(name="house_rules", value=made))
            return rules_from(made)


def _row(session: Session, docket_id: int, to_change: bool = False) -> DocketRow:
    """A docket's row; ``to_change`` holds others off it until the transaction ends (a file is held whole anyway)."""
    row = session.get(DocketRow, docket_id, with_for_update=to_change or None)
    if row is None:
        raise StoreError(f"docket {docket_id}: not in this store: a docket from the finder")
    return row


def docket_of(row: DocketRow | Row[Any]) -> Docket:
    """A row as the rest of the program sees it."""
    return Docket(
        row.id,
        row.number,
        row.customer,
        row.item,
        row.promised_on,
        row.state,
        dict(row.job_document),
        dict(row.drafts),
        tuple(row.ticks),
        row.version,
        row.created_at,
        row.updated_at,
        **{name: getattr(row, name) for name in DETAILS},
    )


def _plain(value: Any) -> Any:
    return value.isoformat() if isinstance(value, date) else value


def _columns(row: DocketRow) -> dict[str, Any]:
    return {
        name: getattr(row, name)
        for name in ("number", "customer", "item", "state", "metal", "mark", "reported", "promised_on", "job_document")
    }


def _new_row(now: datetime, **values: Any) -> DocketRow:
    """A new docket's row, with the words it is found by."""
    filled = {
        "customer": "",
        "item": "",
        "metal": "",
        "mark": "",
        "reported": "",
        "promised_on": None,
        "drafts": {},
        "ticks": [],
        **values,
    }
    return DocketRow(words=words_of(filled), created_at=now, updated_at=now, **filled)
