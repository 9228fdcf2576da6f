"""Copies: whole while the store is written to, verified, kept a fortnight, put back without losing anything."""

from __future__ import annotations

import sqlite3
import subprocess
import sys
import threading
from contextlib import closing
from datetime import date, datetime, timedelta
from pathlib import Path

import pytest

from tests.patience import GIVE_UP_S
from tests.ready import Fill
from yarvel.demo.scenario import fill
from yarvel.figures.errors import StoreError
from yarvel.workshop.dockets.records import DocketEdit
from yarvel.workshop.storage.backup import KEPT_DAYS, backup, folder_of, nightly, restore, summary
from yarvel.workshop.storage.on_disk import check_digest
from yarvel.workshop.store import Store

NOW = datetime(2031, 4, 9, 21, 15)


def with_demo(store: Store) -> None:
    """The made-up workshop."""
    fill(store, date(2031, 4, 9))


@pytest.fixture
def filling() -> Fill:
    return with_demo


@pytest.fixture
def filled(store: Store, store_path: Path) -> Path:
    assert len(store.dockets()) == 10
    return store_path


def test_a_copy_is_the_same_by_counts_and_digest(filled: Path, tmp_path: Path) -> None:
    target = tmp_path / "usb" / "copy.sqlite"
    made = backup(filled, target)
    assert made == summary(target) == summary(filled)
    assert made.rows["dockets"] == 10 and made.rows["tasks"] > 20 and not list(target.parent.glob("*.part"))


def test_a_copy_taken_while_others_write_is_whole(filled: Path, tmp_path: Path) -> None:
    stop = threading.Event()

    def write() -> None:
        other = Store(filled)
        number = 0
        while not stop.is_set():
            number += 1
            other.edit(1, DocketEdit(job_patches=(), fields={"customer": f"Saltmarsh {number}"}))
        other.close()

    thread = threading.Thread(target=write)
    thread.start()
    try:
        for number in range(4):
            made = backup(filled, tmp_path / f"copy{number}.sqlite")
            assert made.rows["dockets"] == 10
    finally:
        stop.set()
        thread.join()


def test_what_is_put_back_is_the_copy_and_nothing_is_lost(store: Store, filled: Path, tmp_path: Path) -> None:
    copy = tmp_path / "copy.sqlite"
    before = backup(filled, copy)
    store.edit(1, DocketEdit(job_patches=(), fields={"customer": "Somebody else"}))
    store.close()
    later = summary(filled)
    made, kept = restore(copy, filled, NOW)
    assert made == before == summary(filled) and kept is not None
    assert summary(kept) == later, "what was there is beside it"
    again = Store(filled)
    assert again.docket(1).customer == "Ferry Lane Pawn & Loan"
    again.close()


def test_a_store_that_is_written_to_is_not_replaced(store: Store, filled: Path, tmp_path: Path) -> None:
    copy = tmp_path / "copy.sqlite"
    backup(filled, copy)
    store.dockets()
    with pytest.raises(StoreError, match="is open in a window"):
        restore(copy, filled, NOW)
    store.close()
    with closing(sqlite3.connect(filled)) as busy:
        busy.execute("BEGIN IMMEDIATE")
        with pytest.raises(StoreError, match="is open in a window"):
            restore(copy, filled, NOW)
        busy.rollback()


@pytest.mark.parametrize("damage", ["text", "cut", "empty", "other"])
def test_what_is_no_whole_store_is_not_put_back(damage: str, store: Store, filled: Path, tmp_path: Path) -> None:
    copy = tmp_path / "copy.sqlite"
    backup(filled, copy)
    data = copy.read_bytes()
    if damage == "other":
        copy.unlink()
        with closing(sqlite3.connect(copy)) as other:
            other.execute("CREATE TABLE people (name TEXT)")
            other.commit()
    else:
        copy.write_bytes({"text": b"no store at all", "cut": data[: len(data) // 2], "empty": b""}[damage])
    store.close()
    held = summary(filled)
    with pytest.raises(StoreError):
        restore(copy, filled, NOW)
    assert summary(filled) == held


def test_a_large_store_is_copied_by_a_process_of_its_own(filled: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("yarvel.workshop.storage.backup.LARGE_BYTES", 1000)
    made = nightly(filled, date(2031, 4, 9))
    assert made is not None and summary(made) == summary(filled)
    folder_of(filled).chmod(0o755)
    blocked = folder_of(filled) / "nightly-2031-04-10.sqlite.part"
    blocked.mkdir()
    with pytest.raises(StoreError, match="a folder with room"):
        nightly(filled, date(2031, 4, 10))


def test_a_full_or_read_only_place_is_told_and_leaves_nothing(
    filled: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    file = tmp_path / "file"
    file.write_text("not a folder")
    with pytest.raises(StoreError, match="can be written to"):
        backup(filled, file / "copy.sqlite")

    def full(_path: Path) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("yarvel.workshop.storage.on_disk.flush_file", full)
    with pytest.raises(StoreError, match="No space left on device"):
        backup(filled, tmp_path / "copy.sqlite")
    assert not list(tmp_path.glob("copy*"))
    with pytest.raises(StoreError, match="is there already"):
        backup(filled, filled)


def test_a_fortnight_of_nights_is_kept(filled: Path) -> None:
    start = date(2031, 4, 1)
    for night in range(KEPT_DAYS + 6):
        assert nightly(filled, start + timedelta(days=night)) is not None
        assert nightly(filled, start + timedelta(days=night)) is None
    kept = sorted(path.name for path in folder_of(filled).glob("*.sqlite"))
    assert all(check_digest(path) for path in folder_of(filled).glob("*.sqlite"))
    assert len(kept) == KEPT_DAYS and kept[-1] == "nightly-2031-04-20.sqlite" and kept[0] == "nightly-2031-04-07.sqlite"


def test_from_the_command_line(filled: Path, store: Store, tmp_path: Path) -> None:
    store.close()
    copy = tmp_path / "copy.sqlite"

    def run(*words: str) -> subprocess.CompletedProcess[str]:
        return subprocess.run(
            [sys.executable, "-m", "yarvel.cli", "--store", str(filled), *words],
            capture_output=True,
            text=True,
            timeout=GIVE_UP_S,
            check=False,
        )

    done = run("backup", str(copy))
    assert (done.returncode, done.stderr) == (0, "") and "verified" in done.stdout
    assert run("restore", str(copy)).returncode == 0
    broken = run("restore", str(tmp_path / "nothing.sqlite"))
    assert broken.returncode == 2 and "there is no store" in broken.stderr and "Traceback" not in broken.stderr
