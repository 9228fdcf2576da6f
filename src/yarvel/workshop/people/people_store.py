"""People in the store: who works here, as what, and that it is them. Nobody is ever removed."""

from __future__ import annotations

from typing import TYPE_CHECKING

from sqlalchemy import select, update
from sqlalchemy.orm import Session

from yarvel.figures.errors import StoreError
from yarvel.workshop.dockets.accepting import check_text, check_value
from yarvel.workshop.people.person import Person
from yarvel.workshop.people.pins import (
    WRONG,
    check_pin,
    drop_pin,
    new_token,
    pins_wanted,
    proof_of,
    prove,
    put_pin,
    refuse,
)
from yarvel.workshop.storage.authors import NOBODY, Author
from yarvel.workshop.storage.rights import BENCH, OWNER, PEOPLE, ROLES, NotAllowedError, check_allowed
from yarvel.workshop.storage.schema import PersonRow, TaskRow
from yarvel.workshop.storage.task_clocks import stop_clock
from yarvel.workshop.storage.task_states import DONE, OPEN

if TYPE_CHECKING:
    from yarvel.workshop.storage.connection import Connected


_LONGEST_NAME = 100


class PeopleStore:
    """The people of an open store. Every method is one transaction."""

    def __init__(self, store: Connected) -> None:
        self._store = store

    def all(self) -> list[Person]:
        """Everybody who works here now, by name."""
        query = select(PersonRow).where(PersonRow.left_at.is_(None)).order_by(PersonRow.name)
        with self._store.transaction() as session:
            return [_person(row) for row in session.scalars(query)]

    def add(self, name: str, role: str = BENCH, skills: tuple[str, ...] = ()) -> Person:
        """Somebody new; one who left and comes back is the same person.

        Raises
        ------
        StoreError : no name, a name that is taken, or a role that does not exist.
        """
        if not name.strip():
            raise StoreError("person: no name: a name that tells people apart")
        check_text("person", name, _LONGEST_NAME)
        check_value("skills", list(skills))
        _check_role(role)
        with self._store.transaction() as session:
            self._store.guard(session, PEOPLE)
            row = session.scalars(select(PersonRow).where(PersonRow.name == name.strip())).first()
            if row is not None and row.left_at is None:
                raise StoreError(f"person: {name.strip()} is here already: another name")
            if row is None:
                row = PersonRow(name=name.strip(), role=role, skills=list(skills))
                session.add(row)
            row.role, row.skills, row.left_at = role, list(skills), None
            session.flush()
            return _person(row)

    def change(self, person_id: int, role: str, skills: tuple[str, ...]) -> Person:
        """Another role, other skills (StoreError for a role that does not exist, or where no owner would be left)."""
        check_value("skills", list(skills))
        _check_role(role)
        with self._store.transaction() as session:
            self._store.guard(session, PEOPLE)
            row = _row(session, person_id)
            if row.role == OWNER and role != OWNER:
                _keep_an_owner(session, row)
            row.role, row.skills = role, list(skills)
            return _person(row)

    def left(self, person_id: int) -> None:
        """Somebody does not work here any more: what they had is nobody's; what they did stays theirs."""
        with self._store.transaction() as session:
            self._store.guard(session, PEOPLE)
            now = self._store.now()
            row = _row(session, person_id)
            if row.role == OWNER and row.pin_salt:
                _keep_an_owner(session, row)
            for task in session.scalars(select(TaskRow).where(TaskRow.person_id == person_id, TaskRow.state != DONE)):
                stop_clock(session, task, now)
                task.person_id, task.state = None, OPEN
            drop_pin(session, row)
            session.execute(update(PersonRow).where(PersonRow.id == person_id).values(left_at=now))

    # --- signing in ------------------------------------------------------------------------------------------------

    def first_owner(self, name: str, pin: str) -> Person:
        """The first start: whoever makes the store is its owner, with a PIN or without (then everybody is trusted)."""
        if self.all():
            raise StoreError("owner: there are people here already: sign in as one of them")
        if pin:
            check_pin(pin)
        person = self.add(name, OWNER)
        if pin:
            person = self.set_pin(person.id, pin)
            self.sign_in(person.name, pin)
        return person

    def set_pin(self, person_id: int, pin: str, old: str = "") -> Person:
        """Give a PIN: the owner to anybody, everybody else to themselves with the old one. Signing in is wanted from
        the first PIN on, so the first one is an owner's. Wrong old ones count as wrong PINs do.

        Raises
        ------
        StoreError : a PIN that is none, or the first one for somebody who is no owner.
        NotAllowedError : it is somebody else's, the old one is wrong, or the name is locked.
        """
        check_pin(pin)
        with self._store.transaction() as session:
            self._store.enter(session, deed=PEOPLE)
            row = _row(session, person_id)
            mine = self._store.author.id
            me = None if mine is None else session.get(PersonRow, mine)
            if me is not None and me.role != OWNER and me.id != person_id:
                check_allowed(PEOPLE, me.role)
            said = put_pin(session, row, pin, old, me, self._store.now())
            session.flush()
            session.refresh(row)
            person = _person(row)
        refuse(said, person.name)
        return person

    def wanted(self) -> bool:
        """Whether people sign in here: whether anybody has a PIN."""
        with self._store.transaction() as session:
            return pins_wanted(session)

    def sign_in(self, name: str, pin: str) -> Person:
        """Be somebody from now on; after five wrong PINs nobody is for five minutes.

        Raises
        ------
        NotAllowedError : wrong, or locked; it does not say which of the two was wrong.
        """
        token = new_token()
        with self._store.transaction() as session:
            query = select(PersonRow).where(
                PersonRow.name == name.strip(), PersonRow.left_at.is_(None), PersonRow.pin_salt != ""
            )
            row = session.scalars(query).first()
            said, person = WRONG, None
            if row is not None:
                said, person = prove(session, row, proof_of(pin, row.pin_salt), token, self._store.now()), _person(row)
        if person is None or said == WRONG:
            raise NotAllowedError("sign in: name or PIN is wrong: your own")
        refuse(said, person.name)
        self._store.be(Author(person.name, person.id, token))
        return person

    def sign_out(self) -> None:
        """Be nobody."""
        self._store.be(NOBODY)


def _keep_an_owner(session: Session, row: PersonRow) -> None:
    """Somebody who can change people is always left."""
    others = select(PersonRow.id).where(PersonRow.role == OWNER, PersonRow.id != row.id, PersonRow.left_at.is_(None))
    if row.pin_salt:
        others = others.where(PersonRow.pin_salt != "")
    if session.scalars(others.limit(1)).first() is None:
        raise StoreError(f"{row.name}: is the last owner: make somebody else owner, with a PIN, first")


def _check_role(role: str) -> None:
    if role not in ROLES:
        raise StoreError(f"role: {role!r} is not accepted: one of {', '.join(ROLES)}")


def _row(session: Session, person_id: int) -> PersonRow:
    row = session.get(PersonRow, person_id)
    if row is None or row.left_at is not None:
        raise StoreError(f"person {person_id}: does not work here: one of the people of the board")
    return row


def _person(row: PersonRow) -> Person:
    return Person(row.id, row.name, row.role, tuple(row.skills), bool(row.pin_salt))
