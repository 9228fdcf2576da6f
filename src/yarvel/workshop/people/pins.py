"""PINs: what is derived from one is compared with a digest, and wrong ones are counted and lock.

On a team's server its own functions compare and count, by the server's clock, and no window can read the digests. On a
file this module does, which keeps honest people from mistakes.
"""

from __future__ import annotations

import base64
import hashlib
import os
import secrets
from datetime import datetime, timedelta

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from yarvel.figures.errors import StoreError
from yarvel.workshop.storage.rights import OWNER, NotAllowedError, NotSignedInError
from yarvel.workshop.storage.schema import PersonRow, PinRow

SHORTEST_PIN, LONGEST_PIN = 4, 12
MOST_WRONG = 5
LOCKED = timedelta(minutes=5)

COST = "m=65536,t=3,p=4"
"""Memory in KiB, passes, lanes: the second recommended option of RFC 9106, section 4, with its salt and length."""
_LENGTH = 32
RIGHT, WRONG, LOCKED_WORD = "right", "wrong", "locked"


def check_pin(pin: str) -> None:
    """StoreError for a PIN that is none."""
    if not pin.isascii() or not pin.isdigit() or not SHORTEST_PIN <= len(pin) <= LONGEST_PIN:
        raise StoreError(f"PIN: not accepted: {SHORTEST_PIN} to {LONGEST_PIN} digits")


def new_salt() -> str:
    """How a new PIN is derived: the function, its cost, and a salt of its own. Anybody may read it."""
    return f"argon2id$v=19${COST}${base64.b64encode(os.urandom(16)).decode().rstrip('=')}"


def proof_of(pin: str, salt: str) -> str:
    """What shows that somebody knows a PIN: Argon2id of it with that person's salt, hexadecimal (StoreError for a salt
    that is none)."""
    from argon2.low_level import Type, hash_secret_raw

    try:
        kind, version, cost, salted = salt.split("$")
        costs = {name: int(value) for name, value in (part.split("=") for part in cost.split(","))}
        raw = hash_secret_raw(
            pin.encode(),
            base64.b64decode(salted + "=" * (-len(salted) % 4)),
            costs["t"],
            costs["m"],
            costs["p"],
            _LENGTH,
            Type.ID,
            int(version.removeprefix("v=")),
        )
    except (ValueError, KeyError) as error:
        raise StoreError("PIN: how it is derived cannot be read: a new PIN, given by the owner") from error
    if kind != "argon2id":
        raise StoreError(f"PIN: derived by {kind}: a new PIN, given by the owner")
    return raw.hex()


def digest_of(text: str) -> str:
    """SHA-256, hexadecimal."""
    return hashlib.sha256(text.encode()).hexdigest()


def new_token() -> str:
    """What a window shows after signing in."""
    return secrets.token_urlsafe(32)


def pins_wanted(session: Session) -> bool:
    """Whether anybody who works here has a PIN."""
    query = select(PersonRow.id).where(PersonRow.pin_salt != "", PersonRow.left_at.is_(None)).limit(1)
    return session.scalars(query).first() is not None


def prove(session: Session, person: PersonRow, proof: str, token: str, now: datetime) -> str:
    """Hold a proof against a person's digest: "right", "wrong", or "locked" with the seconds left."""
    if _on_server(session):
        return str(session.scalar(select(func.yarvel_sign_in(person.id, proof, token))))
    return _prove(session, person.id, proof, now)


def _prove(session: Session, person_id: int, proof: str, now: datetime) -> str:
    row = session.get(PinRow, person_id)
    if row is None:
        return WRONG
    if row.locked_until is not None:
        if row.tried_at is not None and now < row.tried_at:
            row.locked_until = now + LOCKED  # a clock that was put back: the lock begins anew, it does not fall
            row.tried_at = now
        if now < row.locked_until:
            return f"{LOCKED_WORD} {(row.locked_until - now).total_seconds():.0f}"
    row.tried_at = now
    if row.digest == digest_of(proof):
        row.wrong, row.locked_until = 0, None
        return RIGHT
    row.wrong += 1
    if row.wrong >= MOST_WRONG:
        row.wrong, row.locked_until = 0, now + LOCKED
        return f"{LOCKED_WORD} {LOCKED.total_seconds():.0f}"
    return WRONG


def put_pin(session: Session, person: PersonRow, pin: str, old: str, me: PersonRow | None, now: datetime) -> str:
    """Give somebody a PIN; who may is said by ``me``. Returns "right" or what stands against it."""
    salt = new_salt()
    proof, known = proof_of(pin, salt), proof_of(old, person.pin_salt) if person.pin_salt and old else ""
    if _on_server(session):
        return str(session.scalar(select(func.yarvel_set_pin(person.id, salt, proof, known))))
    said = _may_put(session, person, known, me, now)
    if said == RIGHT:
        row = session.get(PinRow, person.id) or PinRow(person_id=person.id)
        row.digest, row.wrong, row.locked_until = digest_of(proof), 0, None
        session.add(row)
        person.pin_salt = salt
    return said


def _may_put(session: Session, person: PersonRow, known: str, me: PersonRow | None, now: datetime) -> str:
    if not pins_wanted(session):
        return RIGHT if person.role == OWNER else "first"
    if me is None:
        return "unsigned"
    if me.role == OWNER:
        return RIGHT
    return _prove(session, person.id, known, now) if me.id == person.id else "not allowed"


def drop_pin(session: Session, person: PersonRow) -> None:
    """Somebody does not sign in any more."""
    if _on_server(session):
        if session.scalar(select(func.yarvel_drop_pin(person.id))) != RIGHT:
            raise NotAllowedError("PIN: is taken away by an owner only")
        return
    row = session.get(PinRow, person.id)
    if row is not None:
        session.delete(row)
    person.pin_salt = ""


def refuse(said: str, name: str) -> None:
    """Say what stands against a PIN (nothing where it was right).

    Raises
    ------
    NotAllowedError, StoreError : by what was said.
    """
    if said == RIGHT:
        return
    if said.startswith(LOCKED_WORD):
        minutes = max(float(said.split()[1]) / 60, 1)
        raise NotAllowedError(f"sign in: locked after {MOST_WRONG} wrong PINs: again in {minutes:.0f} min")
    if said == "first":
        raise StoreError(f"PIN: {name} is no owner: the first PIN is the owner's, who then gives the others theirs")
    if said == "unsigned":
        raise NotSignedInError("nobody is signed in: to give a PIN, sign in with one")
    if said == WRONG:
        raise NotAllowedError("PIN: the old one is wrong: the PIN that you signed in with")
    raise NotAllowedError("PIN: is not yours to give: your own, or an owner")


def _on_server(session: Session) -> bool:
    return session.get_bind().dialect.name == "postgresql"
