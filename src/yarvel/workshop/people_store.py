"""People in the store: who works here, as what, and that it is them. Nobody is ever removed."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import TYPE_CHECKING

from sqlalchemy import select, update
from sqlalchemy.orm import Session

from yarvel.figures.errors import StoreError
from yarvel.workshop.schema import PersonRow, TaskRow
from yarvel.workshop.task_store import stop_clock
from yarvel.workshop.tasks import DONE, OPEN, ROLES, Person
from yarvel.workshop.who_may import OWNER, PEOPLE, NotAllowedError

if TYPE_CHECKING:
    from yarvel.workshop.store import Store

SHORTEST_PIN, LONGEST_PIN = 4, 12
MOST_WRONG = 5
LOCKED = timedelta(minutes=5)


class PeopleStore:
    """The people of an open store. Every method is one transaction."""

    def __init__(self, store: Store) -> None:
        self._store = store

    def all(self) -> list[Person]:
        """Everybody who works here now, by name."""
        query = select(PersonRow).where(PersonRow.left_at.is_(None)).order_by(PersonRow.name)
        with self._store.transaction() as session:
            return [_person(row) for row in session.scalars(query)]

    def add(self, name: str, role: str = ROLES[1], skills: tuple[str, ...] = ()) -> Person:
        """Somebody new; one who left and comes back is the same person.

        Raises
        ------
        StoreError : no name, a name that is taken, or a role that does not exist.
        """
        if not name.strip():
            raise StoreError("person: no name: a name that tells people apart")
        _check_role(role)
        with self._store.transaction() as session:
            self._store.guard(session, PEOPLE)
            row = session.scalars(select(PersonRow).where(PersonRow.name == name.strip())).first()
            if row is not None and row.left_at is None:
                raise StoreError(f"person: {name.strip()} is here already: another name")
            if row is None:
                row = PersonRow(name=name.strip(), role=role, skills=list(skills), pin_hash="")
                session.add(row)
            row.role, row.skills, row.left_at, row.pin_hash = role, list(skills), None, ""
            session.flush()
            return _person(row)

    def change(self, person_id: int, role: str, skills: tuple[str, ...]) -> Person:
        """Another role, other skills (StoreError for a role that does not exist, or where no owner would be left)."""
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
            if row.role == OWNER and row.pin_hash:
                _keep_an_owner(session, row)
            for task in session.scalars(select(TaskRow).where(TaskRow.person_id == person_id, TaskRow.state != DONE)):
                stop_clock(session, task, now)
                task.person_id, task.state = None, OPEN
            session.execute(update(PersonRow).where(PersonRow.id == person_id).values(left_at=now, pin_hash=""))

    # --- signing in ------------------------------------------------------------------------------------------------

    def first_owner(self, name: str, pin: str) -> Person:
        """The first start: whoever makes the store is its owner, with a PIN or without (then everybody is trusted)."""
        if self.all():
            raise StoreError("owner: there are people here already: sign in as one of them")
        person = self.add(name, OWNER)
        if pin:
            person = self.set_pin(person.id, pin)
            self.sign_in(person.name, pin)
        return person

    def set_pin(self, person_id: int, pin: str, old: str = "") -> Person:
        """Give a PIN: the owner to anybody, everybody else to themselves with the old one. Signing in is wanted from
        the first PIN on, so the first one is an owner's.

        Raises
        ------
        StoreError : a PIN that is none, or the first one for somebody who is no owner.
        NotAllowedError : it is somebody else's, or the old one is wrong.
        """
        if not pin.isascii() or not pin.isdigit() or not SHORTEST_PIN <= len(pin) <= LONGEST_PIN:
            raise StoreError(f"PIN: not accepted: {SHORTEST_PIN} to {LONGEST_PIN} digits")
        hashed = _hashed(pin)
        with self._store.transaction() as session:
            row = _row(session, person_id)
            signed = self._store.signed_in
            if signed is not None and signed.id == person_id and signed.role != OWNER:
                if row.pin_hash and not _matches(row.pin_hash, old):
                    raise NotAllowedError("PIN: the old one is wrong: the PIN that you signed in with")
            else:
                self._store.guard(session, PEOPLE)
                anybody = session.scalars(select(PersonRow.id).where(PersonRow.pin_hash != "")).first()
                if anybody is None and row.role != OWNER:
                    raise StoreError(
                        f"PIN: {row.name} is no owner: the first PIN is the owner's, who then gives the others theirs"
                    )
            row.pin_hash, row.wrong_pins, row.locked_until = hashed, 0, None
            return _person(row)

    def wanted(self) -> bool:
        """Whether people sign in here: whether anybody has a PIN."""
        with self._store.transaction() as session:
            return (
                session.scalars(
                    select(PersonRow.id).where(PersonRow.pin_hash != "", PersonRow.left_at.is_(None)).limit(1)
                ).first()
                is not None
            )

    def sign_in(self, name: str, pin: str) -> Person:
        """Be somebody from now on; after five wrong PINs nobody is for five minutes.

        Raises
        ------
        NotAllowedError : wrong, or locked; it does not say which of the two was wrong.
        """
        with self._store.transaction() as session:
            now = self._store.now()
            row = session.scalars(
                select(PersonRow)
                .where(PersonRow.name == name.strip(), PersonRow.left_at.is_(None), PersonRow.pin_hash != "")
                .with_for_update()
            ).first()
            refused = _refusal(row, pin, now)
            person = None if row is None else _person(row)
        if refused or person is None:
            raise NotAllowedError(refused)
        self._store.signed_in, self._store.by = person, person.name
        return person

    def sign_out(self) -> None:
        """Be nobody."""
        self._store.signed_in, self._store.by = None, ""


def _refusal(row: PersonRow | None, pin: str, now: datetime) -> str:
    if row is None:
        return "sign in: name or PIN is wrong: your own"
    # A clock that was set back must not lock anybody out for longer than the lock lasts.
    if row.locked_until is not None and now < row.locked_until <= now + LOCKED:
        minutes = (row.locked_until - now).total_seconds() / 60
        return f"sign in: locked after {MOST_WRONG} wrong PINs: again in {max(minutes, 1):.0f} min"
    if _matches(row.pin_hash, pin):
        row.wrong_pins, row.locked_until = 0, None
        return ""
    row.wrong_pins += 1
    if row.wrong_pins >= MOST_WRONG:
        row.wrong_pins, row.locked_until = 0, now + LOCKED
        return f"sign in: locked after {MOST_WRONG} wrong PINs: again in {LOCKED.total_seconds() / 60:.0f} min"
    return "sign in: name or PIN is wrong: your own"


def _hashed(pin: str) -> str:
    from argon2 import PasswordHasher

    return PasswordHasher().hash(pin)


def _matches(hashed: str, pin: str) -> bool:
    from argon2 import PasswordHasher
    from argon2.exceptions import InvalidHashError, VerificationError

    try:
        return PasswordHasher().verify(hashed, pin)
    except (VerificationError, InvalidHashError):
        return False


def _keep_an_owner(session: Session, row: PersonRow) -> None:
    """Somebody who can change people is always left."""
    others = select(PersonRow.id).where(PersonRow.role == OWNER, PersonRow.id != row.id, PersonRow.left_at.is_(None))
    if row.pin_hash:
        others = others.where(PersonRow.pin_hash != "")
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
    return Person(row.id, row.name, row.role, tuple(row.skills), bool(row.pin_hash))
