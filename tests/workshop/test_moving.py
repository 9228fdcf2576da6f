"""A store is carried over whole, in all directions; what cannot be is refused and nothing is kept or changed."""

from __future__ import annotations

import hashlib
import subprocess
from collections.abc import Callable
from datetime import date, datetime
from io import BytesIO
from pathlib import Path

import pytest
from PIL import Image
from sqlalchemy import create_engine, text
from sqlalchemy.exc import ProgrammingError

from tests.patience import GIVE_UP_S
from tests.private_server import PrivateServer, binaries
from tests.ready import file_with
from yarvel.cli import main
from yarvel.demo.scenario import fill
from yarvel.exchange.photograph import small_photograph
from yarvel.figures.errors import StoreError
from yarvel.workshop.acts import Act, WeighMetal, do
from yarvel.workshop.dockets.records import DocketEdit
from yarvel.workshop.preparing import KEPT_FOR_EVER, prepare_store
from yarvel.workshop.storage.identity import new_id
from yarvel.workshop.storage.location import location
from yarvel.workshop.storage.moving import contents, move_store
from yarvel.workshop.store import Store
from yarvel.workshop.waiting import WaitingEdits

TEAM_SQL = Path(__file__).parents[2] / "share" / "team.sql"


def with_everything(store: Store) -> None:
    """Something is in every table."""
    fill(store, date(2031, 4, 9))
    owner = next(person for person in store.people.all() if person.role == "owner")
    store.people.set_pin(owner.id, "97531")
    store.people.sign_in(owner.name, "97531")
    store.house.keep(store.house.rules())
    task = store.tasks.tasks()[0]
    store.tasks.start(task.id, owner.id)
    store.tasks.stop(task.id)
    store.fine.add("issued", "18k-yellow", 4.25, owner.id)
    picture = BytesIO()
    Image.new("RGB", (300, 200), (120, 90, 30)).save(picture, "PNG")
    small = small_photograph(picture.getvalue(), Path("seat.png"))
    store.photographs.add(store.dockets(limit=1)[0].id, small, "the seat")
    store.fine.add("bought", "18k-yellow", 31.0, at=datetime(2031, 2, 3, 9))
    store.closings.close("2031-02")
    store.day.kept.keep({"on": "2031-04-09", "tasks": {}, "minutes": {}})
    do(store, Act(WeighMetal(kind="bought", alloy="18k-yellow", mass_g=4.0), store.now(), store.author, new_id()))


@pytest.fixture
def full(tmp_path: Path) -> Path:
    return file_with(tmp_path / "full.sqlite", with_everything)


def moved(source: Path | str, target: Path | str) -> dict[str, int]:
    rows = move_store(location(source), location(target)).rows
    filled = {name: count for name, count in rows.items() if name not in ("put_aside", "sessions")}
    assert all(filled.values()), "something of every table was carried over"
    return rows


def test_to_a_team_and_back_and_to_another_file(full: Path, team: str, tmp_path: Path) -> None:
    before = hashlib.sha256(full.read_bytes()).hexdigest()
    there = moved(full, team)
    assert hashlib.sha256(full.read_bytes()).hexdigest() == before, "what was moved from is as it was"
    back = moved(team, tmp_path / "back.sqlite")
    again = moved(tmp_path / "back.sqlite", tmp_path / "again.sqlite")
    assert there == back == again
    first, last = Store(full), Store(tmp_path / "again.sqlite")
    assert first.dockets(limit=1000) == last.dockets(limit=1000)
    docket = next(made for made in last.dockets(limit=1000) if last.photographs.of(made.id))
    assert first.photographs.of(docket.id) == last.photographs.of(docket.id)
    assert first.history(docket.id) == last.history(docket.id)
    assert [made.id for made in last.dockets("seat")] == [made.id for made in first.dockets("seat")], "words are found"
    first.close()
    last.close()


def test_the_next_rows_get_the_next_numbers(full: Path, team: str) -> None:
    moved(full, team)
    store = Store(team)
    owner = next(person for person in store.people.all() if person.has_pin)
    store.people.sign_in(owner.name, "97531")
    taken = {docket.number for docket in store.dockets(limit=1000)}
    made = store.new_docket("Ferry & Shaw")
    assert made.number not in taken
    store.edit(made.id, DocketEdit(job_patches=(), fields={"item": "band"}))
    assert [change.field for change in store.history(made.id)] == ["docket", "item"]
    store.close()


def left_behind(source: Path) -> None:
    waiting = WaitingEdits(location(source).waiting_folder)
    waiting.add(1, DocketEdit(job_patches=(), fields={"item": "x"}))
    waiting.close()


@pytest.mark.parametrize(
    ("spoil", "told"),
    [
        (lambda _source, target: Store(target).new_docket() and None, "is there already"),
        (lambda source, _target: left_behind(source), "edits wait on this machine"),
        (lambda source, _target: source.unlink(), "there is no store"),
        (lambda source, _target: source.write_bytes(b"no store at all" * 100), "not a database"),
    ],
)
def test_what_cannot_be_moved_is_refused(
    full: Path, tmp_path: Path, spoil: Callable[[Path, Path], None], told: str
) -> None:
    target = tmp_path / "target.sqlite"
    spoil(full, target)
    with pytest.raises(StoreError, match=told):
        move_store(location(full), location(target))
    assert not target.exists() or len(Store(target).dockets()) == (told == "is there already")


def test_a_store_that_is_open_in_a_window_is_not_moved_away_from(full: Path, tmp_path: Path) -> None:
    window = Store(full)
    window.house.rules()
    with pytest.raises(StoreError, match="open in a window"):
        move_store(location(full), location(tmp_path / "away.sqlite"))
    window.close()


def test_a_team_that_still_works_is_not_moved_away_from(full: Path, team: str, tmp_path: Path) -> None:
    moved(full, team)
    store = Store(team)
    store.house.rules()
    with pytest.raises(StoreError, match="other connections are open"):
        move_store(location(team), location(tmp_path / "away.sqlite"))
    store.close()


def test_a_team_that_works_on_is_copied_into_a_file(
    full: Path, team: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    moved(full, team)
    store = Store(team)
    assert main(["--store", team, "backup", str(tmp_path / "copy.sqlite")]) == 0
    assert "verified" in capsys.readouterr().out
    copy = Store(tmp_path / "copy.sqlite")
    assert copy.dockets(limit=1000) == store.dockets(limit=1000)
    copy.close()
    assert main(["--store", team, "backup", str(tmp_path / "copy.sqlite")]) == 2
    assert "is there already" in capsys.readouterr().err
    for told in ("verified", "today's copy is there"):
        assert main(["--store", team, "backup", "--nightly", str(tmp_path / "copies")]) == 0
        assert told in capsys.readouterr().out
    assert len(list((tmp_path / "copies").glob("*.sqlite"))) == 1
    assert main(["--store", team, "restore", str(tmp_path / "copy.sqlite")]) == 2
    assert "move-store" in capsys.readouterr().err
    store.close()


def test_from_the_command_line(full: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["move-store", str(full), str(tmp_path / "there.sqlite")]) == 0
    told = capsys.readouterr().out
    engine = location(full).engine()
    with engine.connect() as connection:
        held = contents(connection)
    engine.dispose()
    assert f"{sum(held.rows.values())} rows" in told and held.digest[:16] in told
    assert main(["move-store", str(full), str(tmp_path / "there.sqlite")]) == 2
    assert "is there already" in capsys.readouterr().err
    assert main(["prepare-store", str(full)]) == 2
    assert "needs no preparing" in capsys.readouterr().err


def test_a_team_starts_with_one_sql_file_and_its_role_cannot_alter_what_happened(
    server: PrivateServer, full: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    psql = [
        str(binaries() / "psql"),
        "-X",
        "-q",
        "-h",
        "127.0.0.1",
        "-p",
        str(server.port),
        "-U",
        "keeper",
        "-d",
        "postgres",
        "-v",
        "owner_password=o'wn",
        "-f",
        str(TEAM_SQL),
    ]
    done = subprocess.run(psql, capture_output=True, text=True, check=False, timeout=GIVE_UP_S)
    assert done.returncode == 0, done.stderr
    owner = f"postgresql://yarvel_owner@127.0.0.1:{server.port}/yarvel"
    windows = f"postgresql://yarvel_bench@127.0.0.1:{server.port}/yarvel"
    try:
        with pytest.raises(StoreError, match="not permitted to log in"):
            Store(windows.replace("yarvel_bench", "yarvel"))
        assert main(["prepare-store", "--machine", "bench", owner.replace("yarvel_owner", "keeper")]) == 0
        with pytest.raises(StoreError, match="its owner runs yarvel prepare-store"):
            Store(windows)
        with pytest.raises(StoreError, match="no role 'nobody'"):
            prepare_store(location(owner), "nobody")
        assert main(["prepare-store", owner]) == 0
        assert main(["move-store", str(full), owner]) == 0
        assert main(["prepare-store", owner]) == 0, "and again, when nothing changed"
        assert (
            'GRANT INSERT ("docket_id", "at", "by", "field", "before", "after", "act") ON changes TO yarvel'
            in capsys.readouterr().out
        )
        store = Store(windows)
        store.people.sign_in(next(person.name for person in store.people.all() if person.has_pin), "97531")
        docket = store.new_docket("Ferry & Shaw")
        store.edit(docket.id, DocketEdit(job_patches=(), fields={"item": "band"}))
        assert store.people.all() and store.drawer.items() and store.tasks.tasks()
        store.close()
        engine = create_engine(location(windows).url)
        for table in KEPT_FOR_EVER:
            for statement in (
                f"UPDATE {table} SET \"by\" = 'Nobody'",
                f"DELETE FROM {table}",
                f"TRUNCATE {table}",
                f"DROP TABLE {table}",
                f"ALTER TABLE {table} DISABLE TRIGGER ALL",
            ):
                with engine.connect() as connection, pytest.raises(ProgrammingError, match=r"permission|must be owner"):
                    connection.execute(text(statement))
        for statement in ("DELETE FROM dockets", "CREATE TABLE mine (x int)"):
            with engine.connect() as connection, pytest.raises(ProgrammingError, match="permission denied"):
                connection.execute(text(statement))
        engine.dispose()
    finally:
        server.say("DROP DATABASE IF EXISTS yarvel WITH (FORCE)")
        server.say("DROP ROLE IF EXISTS yarvel_bench")
        server.say("DROP ROLE IF EXISTS yarvel")
        server.say("DROP ROLE IF EXISTS yarvel_owner")
