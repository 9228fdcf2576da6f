"""What a team's database holds off by itself, with the windows' own role and plain SQL; and a server that hangs."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path

import pytest
from sqlalchemy import Engine, create_engine, text
from sqlalchemy.exc import DBAPIError

from tests.patience import GIVE_UP_S
from tests.private_server import PrivateServer, binaries
from tests.ready import stand_still
from tests.workshop.test_migrating import old_store
from yarvel.cli import main
from yarvel.figures.errors import StoreError, StoreGoneError
from yarvel.workshop.dockets.records import DocketEdit
from yarvel.workshop.preparing import prepare_machine, prepare_store
from yarvel.workshop.storage.authors import Author
from yarvel.workshop.storage.location import location
from yarvel.workshop.storage.moving import move_store
from yarvel.workshop.storage.rights import NotSignedInError
from yarvel.workshop.store import Store

MACHINE = "yarvel_bench"
TEAM_SQL = Path(__file__).parents[2] / "share" / "team.sql"


@pytest.fixture(scope="module")
def guarded_server() -> Iterator[PrivateServer]:
    """A server of its own: roles are the whole server's."""
    made = PrivateServer()
    psql = [str(binaries() / "psql"), "-X", "-q", "-h", "127.0.0.1", "-p", str(made.port), "-U", "keeper"]
    psql += ["-d", "postgres", "-v", "owner_password=o", "-f", str(TEAM_SQL)]
    subprocess.run(psql, check=True, capture_output=True, timeout=GIVE_UP_S)
    prepare_store(location(f"postgresql://yarvel_owner@127.0.0.1:{made.port}/yarvel"))
    stand_still(f"postgresql://yarvel_owner@127.0.0.1:{made.port}/yarvel")
    assert prepare_machine(location(f"{made.address}/yarvel"), "bench") == MACHINE
    made.say("CREATE DATABASE yarvel_ready TEMPLATE yarvel")
    yield made
    made.remove()


@pytest.fixture
def windows(guarded_server: PrivateServer) -> Iterator[str]:
    """The windows' address of a fresh team's database."""
    yield f"postgresql://{MACHINE}@127.0.0.1:{guarded_server.port}/yarvel"
    guarded_server.say("DROP DATABASE yarvel WITH (FORCE)")
    guarded_server.say("CREATE DATABASE yarvel OWNER yarvel_owner TEMPLATE yarvel_ready")
    guarded_server.say("GRANT CONNECT ON DATABASE yarvel TO yarvel")


@pytest.fixture
def staffed(windows: str) -> Iterator[Store]:
    store = Store(windows)
    store.people.first_owner("Oona", "4411")
    hand = store.people.add("Yusra", "bench")
    store.people.set_pin(hand.id, "24682")
    yield store
    store.close()


@pytest.fixture
def sql(windows: str) -> Iterator[Engine]:
    engine = create_engine(location(windows).url)
    yield engine
    engine.dispose()


def refused(engine: Engine, statement: str, **values: object) -> str:
    with pytest.raises(DBAPIError) as caught, engine.begin() as connection:
        connection.execute(text(statement), values)
    return str(caught.value.orig)


def write(store: Store, statement: str, **values: object) -> None:
    """Plain SQL as somebody who says that they do something."""
    with store.transaction() as session:
        store.enter(session)
        session.execute(text(statement), values)


LINE = (
    'INSERT INTO changes (docket_id, at, "by", field, before, after) '
    "VALUES (1, '2031-04-09 08:31', :by, 'photograph', '1', '2')"
)
METAL = (
    'INSERT INTO fine_entries (at, "by", kind, alloy, mass_g, note) '
    "VALUES ('2031-04-09 08:29', :by, 'bought', :alloy, :mass, '')"
)


def test_secrets_cannot_be_read_and_people_cannot_be_changed_past_the_functions(staffed: Store, sql: Engine) -> None:
    for statement in (
        "SELECT digest FROM pins",
        "SELECT * FROM sessions",
        "UPDATE pins SET wrong = 0",
        "DELETE FROM pins",
        "UPDATE pin_tries SET wrong = 0",
        "UPDATE people SET pin_salt = ''",
    ):
        assert "permission denied" in refused(sql, statement)
    for statement in (
        "UPDATE people SET role = 'owner' WHERE name = 'Yusra'",
        "INSERT INTO people (name, role, skills) VALUES ('Me', 'owner', '[]')",
    ):
        assert "people are changed by an owner" in refused(sql, statement)
    with sql.connect() as connection:
        salt = connection.execute(text("SELECT pin_salt FROM people WHERE name = 'Yusra'")).scalar_one()
        assert salt.startswith("argon2id$")
        assert connection.execute(text("SELECT yarvel_drop_pin(1)")).scalar_one() == "not allowed"
        said = connection.execute(text("SELECT yarvel_set_pin(1, 'x', 'y', '')")).scalar_one()
        assert said == "unsigned"


def test_a_forged_line_or_mass_is_refused(staffed: Store, sql: Engine) -> None:
    docket = staffed.new_docket("Saltmarsh")
    assert docket.id == 1
    assert "nobody is signed in" in refused(sql, LINE, by="Oona")
    mine = Store(staffed.location)
    mine.people.sign_in("Yusra", "24682")
    with pytest.raises(StoreError, match="signed as Oona, by Yusra"):
        write(mine, LINE, by="Oona")
    with pytest.raises(StoreError, match="what a docket became is written by the server"):
        write(mine, LINE.replace("photograph", "item"), by="Yusra")
    write(mine, LINE, by="Yusra")
    mine.close()
    with staffed.transaction() as session:
        for alloy, mass in (
            ("18k-yellow", "NaN"),
            ("18k-yellow", "Infinity"),
            ("unobtainium", "2"),
            ("18k-yellow", "0"),
        ):
            with pytest.raises(DBAPIError, match="fine_entries_"), session.begin_nested():
                session.execute(text(METAL), {"by": "Oona", "alloy": alloy, "mass": float(mass)})
        for statement in (
            "UPDATE dockets SET state = 'stolen'",
            "UPDATE dockets SET weight_in_g = 'NaN'",
        ):
            with pytest.raises(DBAPIError, match="dockets_"), session.begin_nested():
                session.execute(text(statement))
    assert staffed.fine.entries() == []


def test_what_waited_is_stored_by_its_authors_own_token(staffed: Store, windows: str) -> None:
    docket = staffed.new_docket("Saltmarsh")
    hand = Store(windows)
    hand.people.sign_in("Yusra", "24682")
    theirs = hand.author
    hand.people.sign_in("Oona", "4411")
    edit = DocketEdit(job_patches=({"head": {"claws": 6}},), author=theirs)
    hand.acting(edit.author).edit(docket.id, edit)
    assert hand.history(docket.id)[-1].by == "Yusra"
    forged = Author("Yusra", theirs.id, "no token of the server's")
    with pytest.raises(NotSignedInError, match="sign in again"):
        hand.acting(forged).edit(docket.id, DocketEdit(job_patches=({"head": {"claws": 5}},)))
    hand.close()


def test_each_person_may_have_a_role_so_that_names_are_the_databases_too(
    staffed: Store, windows: str, guarded_server: PrivateServer, capsys: pytest.CaptureFixture[str]
) -> None:
    docket = staffed.new_docket("Saltmarsh")
    base = f"@127.0.0.1:{guarded_server.port}/yarvel"
    assert main(["prepare-store", "--roles", f"postgresql://yarvel_owner{base}"]) == 2
    assert "who may make roles" in capsys.readouterr().err
    assert main(["prepare-store", "--roles", f"postgresql://keeper{base}"]) == 0
    told = capsys.readouterr().out
    assert "2 new roles" in told and "Yusra: yarvel_2" in told
    assert main(["prepare-store", "--roles", f"postgresql://keeper{base}"]) == 0, "and again, when nothing changed"
    hand = Store(f"postgresql://yarvel_2{base}")
    hand.people.sign_in("Yusra", "24682")
    hand.edit(docket.id, DocketEdit(job_patches=({"head": {"claws": 6}},)))
    with pytest.raises(StoreError, match="signed as Oona, by Yusra"):
        hand.acting(staffed.author).edit(docket.id, DocketEdit(job_patches=({"head": {"claws": 5}},)))
    assert [change.by for change in hand.history(docket.id)] == ["Oona", "Yusra"]
    hand.close()
    for role in ("yarvel_1", "yarvel_2"):
        guarded_server.say(f"DROP ROLE {role}")


def test_wrong_pins_of_two_windows_count_together_by_the_servers_clock(staffed: Store, windows: str) -> None:
    """A window half a minute behind got in."""
    behind = Store(windows, clock=lambda: datetime(2001, 1, 1))
    for number in range(5):
        with pytest.raises(StoreError):
            (staffed if number % 2 else behind).people.sign_in("Yusra", "0000")
    with pytest.raises(StoreError, match="locked"):
        behind.people.sign_in("Yusra", "24682")
    behind.close()


@pytest.mark.parametrize("layout", ["0005", "0006", "0007"])
def test_a_store_of_before_comes_to_a_team_with_all_that_was_in_it(
    layout: str, team: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    """Rows that break the new checks are mended or put aside and listed, on a file and on a server."""
    path = old_store(layout, tmp_path)
    first = Store(path)
    listed = first.house.put_aside()
    assert {(table, row) for table, row, _why, _done in listed} == {
        ("tasks", 9),
        ("tasks", 10),
        ("task_times", 3),
        ("fine_entries", 4),
        ("fine_entries", 5),
        ("dockets", 4),
    }
    assert first.docket(4).state == "on hold" and len(first.fine.entries()) == 3
    first.close()
    move_store(location(path), location(team))
    assert main(["--store", str(path), "put-aside"]) == 0
    told = capsys.readouterr().out
    assert "fine_entries 4: an alloy that does not exist: put aside" in told and "mended: state = 'on hold'" in told
    store = Store(team)
    assert store.house.put_aside() == listed and len(store.dockets()) == 4
    if layout != "0005":
        assert store.people.sign_in("Bram", "0815").role == "bench", "PINs are what they were"
    store.close()


@pytest.mark.parametrize("layout", ["0001", "0002", "0003", "0004", "0005", "0006"])
def test_a_servers_own_older_layout_is_upgraded_and_mended(layout: str, team: str) -> None:
    from alembic import command
    from alembic.config import Config

    from yarvel.workshop.storage.migrating import SCRIPTS

    engine = create_engine(location(team).url)
    with engine.begin() as connection:
        config = Config()
        config.set_main_option("script_location", str(SCRIPTS))
        config.attributes["connection"] = connection
        command.upgrade(config, layout)
        at, job = "2026-03-02 08:15", '{"format": "yarvel-job/1"}'
        connection.execute(
            text(
                "INSERT INTO dockets (id, number, customer, item, state, job_document, drafts, ticks, version, "
                "created_at, updated_at) VALUES (1, '26-0001', 'Otter & Quay', 'ring', 'lost', :job, '{}', '[]', 1, "
                ":at, :at), (2, '２６-0002', 'Otter & Quay', 'ring', 'planned', :job, '{}', '[]', 1, :at, :at)"
            ),
            {"job": job, "at": at},
        )
        if layout > "0003":
            connection.execute(text("INSERT INTO people (id, name, role, skills) VALUES (1, 'Bram', 'wizard', '[]')"))
        if layout > "0004":
            for mass in ("NaN", "2.5"):
                connection.execute(
                    text(
                        "INSERT INTO fine_entries (at, by, kind, alloy, mass_g, note) VALUES (:at, 'Bram', 'bought', "
                        "'18k-yellow', :mass, '')"
                    ),
                    {"at": at, "mass": float(mass)},
                )
    engine.dispose()
    store = Store(team)
    assert [(made.number, made.state) for made in sorted(store.dockets(), key=lambda made: made.number)] == [
        ("00-0002", "planned"),
        ("26-0001", "on hold"),
    ]
    assert [(line.field, line.before, line.after) for line in store.history(2)] == [("number", "２６-0002", "00-0002")]
    assert [person.role for person in store.people.all()] == (["bench"] if layout > "0003" else [])
    assert [entry.mass for entry in store.fine.entries()] == ([2.5] if layout > "0004" else [])
    assert len(store.house.put_aside()) == 1 + (layout > "0003") + (layout > "0004")
    store.close()


def test_a_row_held_elsewhere_is_told_in_five_seconds(team_store: str) -> None:
    store = Store(team_store)
    docket = store.new_docket("Saltmarsh")
    holder = create_engine(location(team_store).url)
    with holder.connect() as held:
        held.execute(text("SELECT * FROM dockets FOR UPDATE"))
        began = time.monotonic()
        with pytest.raises(StoreGoneError, match="lock timeout"):
            store.edit(docket.id, DocketEdit(job_patches=(), fields={"item": "ring"}))
        assert time.monotonic() - began < 20, "by itself it would wait for ever"
    holder.dispose()
    assert store.edit(docket.id, DocketEdit(job_patches=(), fields={"item": "ring"})).item == "ring"
    store.close()


def test_a_frozen_server_is_told_in_five_seconds_and_worked_with_again(team_store: str) -> None:
    """Its processes stand still, its connections stay open: only a deadline of the client's own helps."""
    store = Store(team_store)
    docket = store.new_docket("Saltmarsh")
    with store.transaction() as session:
        backend = session.execute(text("SELECT pg_backend_pid()")).scalar_one()
    began = time.monotonic()
    with pytest.raises(StoreGoneError):
        freeze_and_ask(store)
    assert time.monotonic() - began < 20, "the connection in hand is let go; by itself it would wait for ever"
    os.kill(backend, signal.SIGCONT)
    assert store.edit(docket.id, DocketEdit(job_patches=(), fields={"item": "ring"})).item == "ring"
    store.close()


@pytest.mark.keeper
def test_reading_goes_on_while_somebody_writes(tmp_path: Path, team_store: str) -> None:
    for place in (tmp_path / "store.sqlite", team_store):
        store = Store(place)
        docket = store.new_docket("Saltmarsh")
        answers: list[str] = []
        reader = store.reader()
        with store.transaction() as session:
            session.execute(text("UPDATE dockets SET item = 'being written'"))
            hand = threading.Thread(target=read_beside, args=(reader, docket.id, answers))
            hand.start()
            hand.join(timeout=GIVE_UP_S)
            assert answers == [""], "neither waits for the other"
        if store.path is None:
            with pytest.raises(StoreError, match="read-only"):
                reader.edit(docket.id, DocketEdit(job_patches=(), fields={"item": "x"}))
        reader.close()
        store.close()


def freeze_and_ask(store: Store) -> None:
    with store.transaction() as session:
        os.kill(session.execute(text("SELECT pg_backend_pid()")).scalar_one(), signal.SIGSTOP)
        session.execute(text("SELECT 1"))


def read_beside(reader: Store, docket_id: int, answers: list[str]) -> None:
    answers.append(reader.docket(docket_id).item)


KILLED_MOVE = """
import os, signal, sys
from yarvel.workshop.storage import moving
from yarvel.workshop.storage.location import location
copied = moving._copy

def copy(read, write, table):
    copied(read, write, table)
    if table.name == sys.argv[3]:
        os.kill(os.getpid(), signal.SIGKILL)

moving._copy = copy
moving.move_store(location(sys.argv[1]), location(sys.argv[2]))
"""


@pytest.mark.parametrize("table", ["alloys", "dockets", "fine_entries"])
def test_a_move_to_a_server_that_is_killed_is_taken_up_again(table: str, team: str, tmp_path: Path) -> None:
    path = old_store("0006", tmp_path)
    Store(path).close()
    command = [sys.executable, "-c", KILLED_MOVE, str(path), team, table]
    assert subprocess.run(command, check=False, cwd=TEAM_SQL.parents[1]).returncode == -9
    store = Store(team)
    assert store.dockets() == [], "as if never begun"
    store.close()
    engine = create_engine(location(team).url)
    with engine.begin() as connection:  # the empty store that the look just made its own
        connection.execute(text("DELETE FROM settings"))
    engine.dispose()
    assert move_store(location(path), location(team)).rows["dockets"] == 4
