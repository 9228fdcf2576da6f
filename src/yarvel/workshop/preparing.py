"""A team's database made ready by its owner: the newest layout, and a role for the windows that may do no more than
they need. What has happened (history, photographs, fine book) that role can add to and read, never alter."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager
from typing import TYPE_CHECKING

from msgspec import to_builtins

from yarvel.figures.errors import StoreError
from yarvel.workshop.storage import guards
from yarvel.workshop.storage.location import Location
from yarvel.workshop.storage.migrating import bring_up_to_date, first_line
from yarvel.workshop.touching import touches, updated_columns

if TYPE_CHECKING:
    from sqlalchemy import Connection

ROLE = "yarvel"
"""The windows' role, as ``share/team.sql`` makes it."""
_COUNTED = ("id", "seq")
"""Keys that the server counts up by itself."""
KEPT_FOR_EVER = ("acts", "month_seals", "changes", "photographs", "fine_entries", "customers")
"""Tables that are only added to."""
_SECRET = ("pins", "sessions", "pin_tries")
"""Tables that no window reads: functions of the owner's compare and count in them."""
_READ = ("put_aside", "effects", "touches", "machines")
"""Tables that windows read, and the database fills."""
_MACHINE = re.compile(r"[A-Za-z][A-Za-z0-9-]{0,29}")
"""What a machine is called."""
MOST_CONNECTIONS = 24
"""Of one machine: each of its windows has three to six."""


def prepare_roles(place: Location, role: str = ROLE) -> dict[str, str]:
    """A role of the database for everybody who works here and has none yet, each a member of the windows' role: what
    stands in the history under a name was then written by that role. Returns the new roles by name; they log in once
    the server's keeper has given them a password.

    Raises
    ------
    StoreError : the address is not of somebody who may make roles, or there is no such store.
    """
    from sqlalchemy import select, update

    from yarvel.workshop.storage.schema import PersonRow

    logins = {}
    with _as_keeper(place) as connection:
        query = select(PersonRow.id, PersonRow.name).where(PersonRow.left_at.is_(None), PersonRow.database_role == "")
        for person_id, name in connection.execute(query.order_by(PersonRow.id)).all():
            logins[name] = _login(connection, str(person_id), role)
            connection.execute(update(PersonRow).where(PersonRow.id == person_id).values(database_role=logins[name]))
    return logins


def prepare_machine(place: Location, name: str, role: str = ROLE) -> str:
    """A login of the database for one machine, a member of the windows' role and with a limit of connections: wrong
    PINs count apart there, and a token counts nowhere else. Returns its name; it logs in once the server's keeper has
    given it a password. Again for the same machine, nothing changes.

    Raises
    ------
    StoreError : a name that is none, or the address is not of somebody who may make roles.
    """
    if not _MACHINE.fullmatch(name):
        raise StoreError(f"--machine: {name!r} is not accepted: letters, digits and hyphens, up to 30, such as bench-1")
    with _as_keeper(place) as connection:
        return _login(connection, name.lower(), role)


@contextmanager
def _as_keeper(place: Location) -> Iterator[Connection]:
    """One transaction of somebody who may make roles."""
    from sqlalchemy.exc import SQLAlchemyError

    if place.path is not None:
        raise StoreError(f"{place}: a file has no roles: a team's database")
    engine = place.engine()
    try:
        with engine.begin() as connection:
            yield connection
    except SQLAlchemyError as error:
        raise StoreError(
            f"{place}: {first_line(error)}: the address of somebody who may make roles, such as the server's superuser"
        ) from error
    finally:
        engine.dispose()


def _login(connection: Connection, name: str, role: str) -> str:
    """A login within the windows' role, by the database's name: roles are the whole server's, and it may have several
    teams. Made where there is none."""
    from sqlalchemy import text

    quote = connection.dialect.identifier_preparer.quote
    login = f"{connection.execute(text('SELECT current_database()')).scalar_one()}_{name}"
    if connection.execute(text("SELECT 1 FROM pg_roles WHERE rolname = :role"), {"role": login}).first() is None:
        connection.execute(
            text(
                f"CREATE ROLE {quote(login)} LOGIN NOSUPERUSER NOCREATEDB NOCREATEROLE "
                f"CONNECTION LIMIT {MOST_CONNECTIONS} IN ROLE {quote(role)}"
            )
        )
    return login


def prepare_store(place: Location, role: str = ROLE) -> list[str]:
    """Bring a team's database to the newest layout and grant the windows' role what it needs; returns what was granted.

    Raises
    ------
    StoreError : it is a file, cannot be reached, is not owned by whoever the address names, or there is no such role.
    """
    from sqlalchemy import delete, insert, text
    from sqlalchemy.exc import SQLAlchemyError
    from sqlalchemy.orm import Session

    from yarvel.workshop.house_store import settle
    from yarvel.workshop.storage.schema import TouchesRow

    if place.path is not None:
        raise StoreError(f"{place}: a file needs no preparing: postgresql://yarvel_owner@host/database")
    bring_up_to_date(place)
    engine = place.engine()
    try:
        with engine.begin() as connection:
            if connection.execute(text("SELECT 1 FROM pg_roles WHERE rolname = :role"), {"role": role}).first() is None:
                raise StoreError(f"--role: the server has no role {role!r}: one that share/team.sql made")
            name = engine.dialect.identifier_preparer.quote(role)
            grants = _grants(name)
            for grant in grants:
                connection.execute(text(grant))
            guards.put_on(connection)
            connection.execute(delete(TouchesRow))
            connection.execute(insert(TouchesRow), [to_builtins(touch) for touch in touches()])
            with Session(connection) as session:
                settle(session)
                session.flush()
    except SQLAlchemyError as error:
        error_lines = str(getattr(error, "orig", error)).strip().splitlines()
        raise StoreError(
            f"{place}: {error_lines[0] if error_lines else 'cannot be prepared'}: the address of the database's owner"
        ) from error
    finally:
        engine.dispose()
    return [grant for grant in grants if grant.startswith("GRANT")]


def _grants(role: str) -> list[str]:
    """What the windows may: read what is no secret, add rows, alter columns that are theirs; no sequence, no key, no
    lock of a whole table."""
    from yarvel.workshop.storage.schema import Base

    grants = [
        f"REVOKE ALL ON ALL SEQUENCES IN SCHEMA public FROM {role}",
        f"GRANT USAGE ON SCHEMA public TO {role}",
        f"GRANT SELECT ON alembic_version TO {role}",
    ]
    for table in Base.metadata.sorted_tables:
        grants.append(f"REVOKE ALL ON {table.name} FROM {role}")
        if table.name in _SECRET:
            continue
        grants.append(f"GRANT SELECT ON {table.name} TO {role}")
        if table.name in _READ:
            continue
        added = [column.name for column in table.columns if not (column.primary_key and column.name in _COUNTED)]
        grants.append(f"GRANT INSERT ({_listed(added)}) ON {table.name} TO {role}")
        if table.name not in (*KEPT_FOR_EVER, "alloys"):
            grants.append(f"GRANT UPDATE ({_listed(updated_columns(table.name))}) ON {table.name} TO {role}")
    return grants


def _listed(names: list[str]) -> str:
    return ", ".join(f'"{name}"' for name in names)
