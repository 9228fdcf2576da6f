"""A store survives its own changes: killed at any moment, refused by a full disk, wanted by two windows at once."""

from __future__ import annotations

import gzip
import re
import shutil
import sqlite3
import subprocess
import sys
from collections.abc import Callable
from contextlib import closing
from datetime import date, datetime
from pathlib import Path

import pytest
from sqlalchemy import create_engine, delete, func, insert, inspect, select, text

from tests.patience import GIVE_UP_S
from yarvel.figures.errors import StoreError
from yarvel.figures.rules import HouseRules
from yarvel.planning.job import from_document
from yarvel.planning.plan import plan
from yarvel.planning.repair import NEIGHBOUR_BAND
from yarvel.route.checks import checks
from yarvel.workshop.dockets.claw_chart import found_on
from yarvel.workshop.replaying import replay
from yarvel.workshop.storage.backup import summary
from yarvel.workshop.storage.identity import is_of_before
from yarvel.workshop.storage.layout import HEAD
from yarvel.workshop.storage.location import location
from yarvel.workshop.storage.migrating import SCRIPTS, bring_up_to_date, known_revisions, migrated, stored_revision
from yarvel.workshop.storage.on_disk import check_digest
from yarvel.workshop.storage.schema import ActRow, Base, ChangeRow, CustomerRow, FineRow, PhotographRow
from yarvel.workshop.storage.settings import entries
from yarvel.workshop.store import Store
from yarvel.workshop.work.docket_work import way_of

LAYOUTS = Path(__file__).parent / "layouts"
MOMENTS = 20
TOP = Path(__file__).parents[2]
KILLED = """
import os, signal, shutil, sys
from pathlib import Path
import sqlalchemy, sqlalchemy.dialects.sqlite, alembic.command, alembic.config, alembic.script
from yarvel.workshop.storage import migrating
from yarvel.workshop.storage import on_disk

first, folder, moments = Path(sys.argv[1]), Path(sys.argv[2]), int(sys.argv[3])
NAMES = {"execute", "executescript", "backup", "commit", "rollback", "fsync", "replace", "link", "unlink", "rename",
         "open", "connect", "executemany", "close"}

def run(path, kill_at):
    \"\"\"Migrate, and die at the n-th call that touches the disk; returns how many there were.\"\"\"
    seen = [0]

    def watched(frame, event, what):
        if event == "c_call" and what.__name__ in NAMES:
            seen[0] += 1
            if seen[0] == kill_at:
                os.kill(os.getpid(), signal.SIGKILL)

    sys.setprofile(watched)
    try:
        migrating.bring_up_to_date(path)
    except migrating.StoreError:
        pass
    sys.setprofile(None)
    return seen[0]

def place(name):
    path = folder / name / "store.sqlite"
    path.parent.mkdir(parents=True)
    if first.name != "nothing":
        shutil.copy(first, path)
    return path

run(place("first"), 0)  # what is imported and compiled is not counted
whole = run(place("whole"), 0)
assert whole > 2, whole
for number in range(moments):
    path = place(f"killed-{number}")
    child = os.fork()
    if child == 0:
        run(path, 1 + number * (whole - 1) // max(moments - 1, 1))
        os._exit(7)
    _, status = os.waitpid(child, 0)
    assert os.WIFSIGNALED(status), (number, status)
"""


def old_store(layout: str, folder: Path) -> Path:
    """A small store as a Yarvel of that layout wrote it."""
    path = folder / f"layout-{layout}.sqlite"
    path.write_bytes(gzip.decompress((LAYOUTS / f"layout-{layout}.sqlite.gz").read_bytes()))
    return path


def newer_store(folder: Path) -> Path:
    path = old_store("0006", folder)
    with closing(sqlite3.connect(path)) as connection:
        connection.execute("UPDATE alembic_version SET version_num = '9999'")
        connection.commit()
    return path


def nothing(folder: Path) -> Path:
    return folder / "nothing"


def everything(path: Path) -> dict[str, object]:
    """What a store's file says of itself, in whatever order its constraints stand, and all of its rows."""
    with closing(sqlite3.connect(path)) as connection:
        told: dict[str, object] = {
            f"{kind} {name}": sorted(re.findall(r"[^\s,]+", sql or ""))
            for kind, name, sql in connection.execute("SELECT type, name, sql FROM sqlite_master")
        }
        names = "SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'docket_words_%'"
        tables = [name for (name,) in connection.execute(names)]
        return told | {name: connection.execute(f'SELECT * FROM "{name}"').fetchall() for name in tables}


def test_a_new_store_is_what_all_migrations_make_of_nothing(tmp_path: Path) -> None:
    """Where it is not, tools/newest_layout.py was not run after a migration was added."""
    migrated(tmp_path / "long.sqlite")
    bring_up_to_date(tmp_path / "short.sqlite")
    assert everything(tmp_path / "short.sqlite") == everything(tmp_path / "long.sqlite")


@pytest.mark.parametrize("first", [nothing, lambda folder: old_store("0005", folder), newer_store])
def test_killed_at_twenty_moments_of_a_migration(first: Callable[[Path], Path], tmp_path: Path) -> None:
    source = first(tmp_path)
    before = summary(source) if source.exists() else None
    done = subprocess.run(
        [sys.executable, "-c", KILLED, str(source), str(tmp_path), str(MOMENTS)],
        capture_output=True,
        text=True,
        timeout=GIVE_UP_S,
        check=False,
        cwd=TOP,
    )
    assert done.returncode == 0, done.stderr
    wanted = tmp_path / "whole" / "store.sqlite"
    for number in range(MOMENTS):
        path = tmp_path / f"killed-{number}" / "store.sqlite"
        if first is newer_store:
            assert summary(path) == before, "a downgrade is refused and nothing is touched"
            with pytest.raises(StoreError, match="written by a newer Yarvel"):
                bring_up_to_date(path)
            continue
        bring_up_to_date(path)
        assert stored_revision(path) == HEAD
        assert summary(path).rows == summary(wanted).rows
        copies = [copy for copy in path.parent.glob("store.sqlite.before-*") if copy.suffix != ".sha256"]
        whole = [copy for copy in copies if not copy.name.endswith(".part")]
        assert len(whole) >= (before is not None), "the copy from before is there"
        for copy in whole:
            assert check_digest(copy) and summary(copy) == before, "and is as it was before"


def test_a_full_disk_leaves_the_store_as_it_was_and_says_where_the_copy_is(tmp_path: Path) -> None:
    path = old_store("0001", tmp_path)
    before = summary(path)
    script = (
        "import resource, signal, sys\nfrom yarvel.workshop.storage.migrating import bring_up_to_date\nfrom "
        "yarvel.figures.errors import StoreError\nsignal.signal(signal.SIGXFSZ, signal.SIG_IGN)\nsize = "
        "int(sys.argv[2])\nresource.setrlimit(resource.RLIMIT_FSIZE, (size, size))\ntry:\n    "
        "bring_up_to_date(sys.argv[1])\nexcept StoreError as error:\n    print(error)\n"
    )
    for size, told in ((20_000, "with room"), (path.stat().st_size, "before-")):
        done = subprocess.run(
            [sys.executable, "-c", script, str(path), str(size)],
            capture_output=True,
            text=True,
            timeout=GIVE_UP_S,
            check=False,
            cwd=TOP,
        )
        assert told in done.stdout and "the store is as it was" in done.stdout, done.stdout + done.stderr
        assert len(done.stdout.strip().splitlines()) == 1
        assert summary(path) == before
    bring_up_to_date(path)
    assert stored_revision(path) == HEAD


AT_ONCE = """
import os, sys
import alembic.command, alembic.script
from yarvel.workshop.store import Store
from yarvel.workshop.work.docket_work import way_of

reading, writing = os.pipe()
children = []
for _ in range(4):
    child = os.fork()
    if child == 0:
        os.close(writing)
        os.read(reading, 1)  # all begin when the pipe closes
        os.write(1, b"%d\\n" % len(Store(sys.argv[1]).dockets()))  # a line in one piece: four write into one pipe
        os._exit(0)
    children.append(child)
os.close(writing)
assert [os.waitpid(child, 0)[1] for child in children] == [0] * 4
"""


@pytest.mark.parametrize("layout", ["", "0003", "0006"])
def test_windows_that_start_at_once_on_an_old_file_wait_for_one_another(layout: str, tmp_path: Path) -> None:
    path = old_store(layout, tmp_path) if layout else tmp_path / "new.sqlite"
    done = subprocess.run([sys.executable, "-c", AT_ONCE, str(path)], capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr
    told = done.stdout.split()
    assert len(told) == 4 and len(set(told)) == 1
    copies = [copy for copy in tmp_path.glob("*.before-*") if copy.suffix != ".sha256"]
    assert len(copies) == (1 if layout and layout != HEAD else 0)


@pytest.mark.parametrize("layout", sorted(path.name[7:11] for path in LAYOUTS.glob("*.gz")))
def test_a_store_of_every_layout_comes_up_to_date_with_all_that_was_in_it(layout: str, tmp_path: Path) -> None:
    path = old_store(layout, tmp_path)
    with closing(sqlite3.connect(path)) as connection:
        held = connection.execute("SELECT id, number, customer, item FROM dockets ORDER BY id").fetchall()
        history = connection.execute("SELECT count(*) FROM changes").fetchone()[0]
    store = Store(path)
    dockets = sorted(store.dockets(), key=lambda docket: docket.id)
    assert [(made.id, made.number, made.customer, made.item) for made in dockets] == held
    assert sum(len(store.history(made.id)) for made in dockets) >= history
    assert "26-0001" in [made.number for made in store.dockets("iolite")], "words are found"
    assert store.house.rules().notch_target == 0.34
    store.close()
    assert check_digest(next(tmp_path.glob(f"*.before-{HEAD}"))) if layout != HEAD else True


def test_dockets_of_a_landed_layout_are_found_as_people_spell_them(tmp_path: Path) -> None:
    """A layout that is in use is never changed behind its stores: what it lacked comes with the next."""
    path = old_store("0007", tmp_path)
    with closing(sqlite3.connect(path)) as connection:
        connection.execute("UPDATE dockets SET customer = 'Björk', words = 'björk' WHERE id = 1")
        connection.commit()
    store = Store(path)
    assert [made.id for made in store.dockets("bjork")] == [made.id for made in store.dockets("bjoerk")] == [1]
    store.close()


def test_parts_of_the_work_are_kept_by_key(tmp_path: Path) -> None:
    """Tasks by key, ticks of checks by key and figures, what somebody else wrote as it was; minutes are a pace now."""
    path = old_store("0008", tmp_path)
    store = Store(path)
    tasks = store.tasks.tasks()
    assert {task.operation for task in tasks} >= {"stock", "head", "fit", "solder", "seat", "set", "finish", "release"}
    assert all(task.label != task.operation for task in tasks)
    held = next(docket for docket in map(store.docket, {task.docket_id for task in tasks}) if docket.ticks)
    assert held.ticks == ("stone-measured@6.81 4.21", "straight", "level", "spacing", "a line of somebody's own")
    planned_again = plan(from_document(held.job_document), HouseRules(), samples=0)
    assert {check.mark for check in checks(planned_again)} >= set(held.ticks[:4]), "still ticked"
    mended = next(docket for docket in map(store.docket, {task.docket_id for task in tasks}) if docket.claw_chart)
    assert way_of(mended) == "re-tip"
    assert store.tasks.standards()["head"].pace == pytest.approx(150) and store.tasks.standards()["solder"].pace == 90
    assert any("Cut 60.1 mm of it." in task.ticks for task in tasks)
    store.close()


def test_findings_are_kept_by_key(tmp_path: Path) -> None:
    """Charts of before named them; what was found, measured and chosen is the same."""
    store = Store(old_store("0009", tmp_path))
    (mended,) = (docket for docket in store.dockets("old ring") if docket.claw_chart)
    findings = [claw.finding for claw in found_on(mended, 6)]
    assert findings == ["worn-tip", "thin-side", "neighbour", "bent", "cracked", "sound"]
    assert [row["finding"] for row in mended.claw_chart["claws"]] == findings
    assert mended.claw_chart["cause"] == NEIGHBOUR_BAND and way_of(mended) == "new-claws"
    assert all(claw.tip == 0.3 for claw in found_on(mended, 6)) and mended.claw_chart["cost"] == 41.5
    store.close()


def test_settings_of_a_store_of_before_are_rows_with_all_that_stood_in_them(tmp_path: Path) -> None:
    store = Store(old_store("0020", tmp_path))
    people = {person.name: person.id for person in store.people.all()}
    hours = store.day.hours()
    assert (hours.week[5], hours.week[6], sorted(hours.holidays)) == (
        ((540, 720),),
        (),
        [date(2031, 5, 1), date(2031, 12, 25)],
    )
    assert store.day.own_weeks() == {people["Bram"]: (((480, 720),),) * 5 + ((), ())}
    assert (store.day.stations()["torch"], store.day.stations()["laser"]) == (1, 3)
    assert [absence.id for absence in store.day.absences()] == [2, 1], "the third was withdrawn"
    assert store.day.errands.all()["hallmark"].back == 6 and store.day.snapshot().together == ((14, 23),)
    paces = store.tasks.standards()
    assert (paces["head"].pace, paces["solder"].pace, store.customers.told()) == (150.0, 120.0, {1: "2031-04-14"})
    with store.transaction() as session:
        assert entries(session, "former_hours")[str(people["Bram"])] == [["2031-04-14", None]]
    store.day.withdraw_absence(3, withdrawn=False)
    assert store.day.add_absence(people["Bram"], datetime(2031, 4, 20), datetime(2031, 4, 21)).id == 4


def test_lines_of_before_have_acts_of_their_own_and_every_copy_the_same(tmp_path: Path, team: str) -> None:
    """On a file, on another copy of it, and where it was carried to a server by the Yarvel that wrote it."""

    def acts(store: Store) -> list[tuple[object, ...]]:
        with store.transaction() as session:
            rows = session.execute(select(ActRow.seq, ActRow.id, ActRow.by, ActRow.stored_at).order_by(ActRow.seq))
            found = [tuple(row) for row in rows]
            unnamed = [
                session.scalar(select(func.count()).select_from(row).where(row.act == ""))
                for row in (ChangeRow, FineRow, PhotographRow, CustomerRow)
            ]
        assert unnamed == [0, 0, 0, 0] and store.closings.verify() == replay(store) == []
        return found

    first = old_store("0020", tmp_path)
    (tmp_path / "other").mkdir()
    copied = old_store("0020", tmp_path / "other")
    with closing(sqlite3.connect(first)) as connection:
        lines = connection.execute("SELECT DISTINCT docket_id, at, by FROM changes WHERE act = ''").fetchall()
        named = connection.execute("SELECT count(*) FROM acts").fetchone()[0]
    store = Store(first)
    told = acts(store)
    assert [seq for seq, *_ in told if int(str(seq)) > 0] == list(range(1, named + 1)), "acts of since keep their count"
    before = [row for row in told if int(str(row[0])) <= 0]
    assert len(before) >= len(lines) > 5 and all(is_of_before(str(row[1])) for row in before)
    assert [row[3] for row in before] == sorted(row[3] for row in before)  # type: ignore[type-var]
    as_it_was_on_a_server(copied, team)
    for place in (copied, team):
        other = Store(place)
        assert acts(other) == told
        other.close()
    line = next(change for made in store.dockets() for change in store.history(made.id))
    with pytest.raises(StoreError, match="never altered"), store.transaction() as session:
        session.execute(text(f"UPDATE changes SET act = '' WHERE at = '{line.at}'"))
    store.close()


def as_it_was_on_a_server(path: Path, team: str) -> None:
    """A server of that layout with what the file holds; whoever opens it brings it up to date there."""
    from alembic import command
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(SCRIPTS))
    engine, file = location(team).engine(), create_engine(f"sqlite:///{path}")
    with file.connect() as source, engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "0020")
        connection.execute(delete(Base.metadata.tables["alloys"]))
        there = inspect(source).get_table_names()
        for table in Base.metadata.sorted_tables:
            rows = source.execute(select(table)).mappings().all() if table.name in there else []
            if rows:
                connection.execute(insert(table), [dict(row) for row in rows])
    engine.dispose()
    file.dispose()


def test_every_layout_has_a_store_here() -> None:
    assert {path.name[7:11] for path in LAYOUTS.glob("*.gz")} >= known_revisions() - {HEAD}


def test_migrations_are_frozen_history() -> None:
    for script in SCRIPTS.rglob("*.py"):
        assert not re.search(r"^\s*(from|import) yarvel", script.read_text(), re.MULTILINE), script.name


def test_a_new_findable_field_opens_older_stores(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """What today's code looks for does not reach into the migrations of old."""
    monkeypatch.setattr("yarvel.workshop.dockets.words.FINDABLE", ("a_field_of_tomorrow",))
    bring_up_to_date(old_store("0005", tmp_path))


def test_a_damaged_store_is_told_with_the_place_of_its_copy(tmp_path: Path) -> None:
    path = old_store("0005", tmp_path)
    Store(path).close()
    copy = next(copy for copy in tmp_path.glob("*.before-*") if copy.suffix != ".sha256")
    data = bytearray(path.read_bytes())
    data[:100] = b"\0" * 100
    path.write_bytes(data)
    with pytest.raises(StoreError) as caught:
        Store(path)
    assert str(copy) in str(caught.value) and "\n" not in str(caught.value)


def test_an_older_copy_is_never_written_over(tmp_path: Path) -> None:
    path = old_store("0005", tmp_path)
    held = path.with_name(f"{path.name}.before-{HEAD}")
    held.write_bytes(b"the only good copy")
    shutil.copy(path, tmp_path / "again.sqlite")
    bring_up_to_date(path)
    assert held.read_bytes() == b"the only good copy"
    assert summary(path.with_name(f"{held.name}-2")) == summary(tmp_path / "again.sqlite")
