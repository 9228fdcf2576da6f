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
from pathlib import Path

import pytest

from tests.patience import GIVE_UP_S
from yarvel.figures.errors import StoreError
from yarvel.figures.rules import HouseRules
from yarvel.planning.job import from_document
from yarvel.planning.plan import plan
from yarvel.planning.repair import NEIGHBOUR_BAND
from yarvel.route.checks import checks
from yarvel.workshop.dockets.claw_chart import found_on
from yarvel.workshop.storage.backup import summary
from yarvel.workshop.storage.layout import HEAD
from yarvel.workshop.storage.migrating import SCRIPTS, bring_up_to_date, known_revisions, migrated, stored_revision
from yarvel.workshop.storage.on_disk import check_digest
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
        print(len(Store(sys.argv[1]).dockets()), flush=True)
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
