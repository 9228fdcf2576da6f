"""The open store is deleted, moved or replaced: nothing is said to be stored that is not, and two stores never mix."""

from __future__ import annotations

import os
import shutil
import sqlite3
import subprocess
import sys
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

import pytest

from tests.patience import GIVE_UP_S
from yarvel.exchange.photograph import SmallPhotograph
from yarvel.figures.errors import StoreError, StoreMovedError
from yarvel.workshop.dockets.records import DocketEdit
from yarvel.workshop.drawer.stock import StockItem
from yarvel.workshop.storage.backup import summary
from yarvel.workshop.storage.location import location
from yarvel.workshop.storage.on_disk import identity_of
from yarvel.workshop.storage.open_file import put_strange_pages_aside
from yarvel.workshop.store import Store
from yarvel.workshop.waiting import WaitingEdits

TOP = Path(__file__).parents[2]


def delete(path: Path, _spare: Path) -> None:
    path.unlink()


def move(path: Path, spare: Path) -> None:
    path.rename(spare)


def move_folder(path: Path, spare: Path) -> None:
    path.parent.rename(spare)


def replace(path: Path, spare: Path) -> None:
    other = Store(spare)
    other.new_docket("Of another store")
    other.close()
    os.replace(spare, path)


@pytest.mark.parametrize("change", [delete, move, move_folder, replace])
def test_a_store_that_is_no_longer_there_takes_nothing_and_can_be_saved(
    change: Callable[[Path, Path], None], store: Store, store_path: Path, tmp_path: Path
) -> None:
    docket = store.new_docket("Saltmarsh")
    change(store_path, tmp_path / "spare")
    assert store.moved
    with pytest.raises(StoreMovedError, match=r"deleted or moved|replaced by another"):
        store.edit(docket.id, DocketEdit(job_patches=(), fields={"item": "ring"}))
    with pytest.raises(StoreMovedError):
        store.docket(docket.id)
    target = tmp_path / "saved.sqlite"
    store.save_elsewhere(target)
    again = Store(target)
    assert again.docket(docket.id) == docket and again.house.identity() == again.house.identity()
    again.edit(docket.id, DocketEdit(job_patches=(), fields={"item": "ring"}))
    again.close()
    store.close()
    if change is replace:
        theirs = Store(store_path)
        assert [held.customer for held in theirs.dockets()] == ["Of another store"]
        theirs.close()
        assert summary(store_path).rows["dockets"] == 1


def test_a_file_put_back_is_worked_on_again(store: Store, store_path: Path, tmp_path: Path) -> None:
    docket = store.new_docket("Saltmarsh")
    store_path.rename(tmp_path / "spare")
    with pytest.raises(StoreMovedError):
        store.edit(docket.id, DocketEdit(job_patches=(), fields={"item": "ring"}))
    (tmp_path / "spare").rename(store_path)
    assert store.edit(docket.id, DocketEdit(job_patches=(), fields={"item": "ring"})).item == "ring"


OTHER = """
import sys, time
from yarvel.workshop.drawer.stock import StockItem
from yarvel.workshop.store import Store
store = Store(sys.argv[1])
docket = store.new_docket("Theirs")
print(docket.id, flush=True)
sys.stdin.readline()
print(len(store.dockets()), store.docket(docket.id).customer, flush=True)
store.close()
"""


def process(script: str, path: Path) -> subprocess.Popen[str]:
    command = [sys.executable, "-c", script, str(path)]
    return subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, cwd=TOP)


def test_closing_the_old_store_leaves_the_pages_of_the_new_one(store: Store, store_path: Path, tmp_path: Path) -> None:
    """A window on the replaced file closes while another one works on the file that took its name."""
    script = (
        "import sys\nfrom pathlib import Path\nfrom yarvel.workshop.store import Store\nstore = Store(sys.argv[1])\n"
        "store.new_docket('Mine')\nprint('ready', flush=True)\nsys.stdin.readline()\nstore.close()\n"
    )
    store.close()
    old = subprocess.Popen(
        [sys.executable, "-c", script, str(store_path)],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        text=True,
        cwd=TOP,
    )
    assert old.stdout is not None and old.stdin is not None and old.stdout.readline() == "ready\n"
    replace(store_path, tmp_path / "spare")
    new = subprocess.Popen(
        [sys.executable, "-c", OTHER, str(store_path)],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        text=True,
        cwd=TOP,
    )
    assert new.stdout is not None and new.stdin is not None and new.stdout.readline()
    pages = identity_of(store_path.with_name("store.sqlite-wal"))
    assert pages is not None
    old.stdin.write("\n")
    old.stdin.close()
    assert old.wait(timeout=GIVE_UP_S) == 0
    assert identity_of(store_path.with_name("store.sqlite-wal")) == pages, "the other window's, not the old store's"
    new.stdin.write("\n")
    new.stdin.close()
    assert new.stdout.read().split() == ["2", "Theirs"]
    assert new.wait(timeout=GIVE_UP_S) == 0
    old.stdout.close()
    new.stdout.close()
    with closing(sqlite3.connect(store_path)) as connection:
        assert connection.execute("PRAGMA integrity_check").fetchone() == ("ok",)
        assert connection.execute("SELECT count(*) FROM dockets").fetchone() == (2,)


def test_pages_that_a_killed_window_left_are_not_taken_for_another_stores(tmp_path: Path) -> None:
    path = tmp_path / "store.sqlite"
    script = (
        "import os, signal, sys\nfrom yarvel.workshop.store import Store\nstore = "
        "Store(sys.argv[1])\nstore.new_docket('Killed')\nos.kill(os.getpid(), signal.SIGKILL)\n"
    )
    assert subprocess.run([sys.executable, "-c", script, str(path)], check=False, cwd=TOP).returncode == -9
    wal = path.with_name("store.sqlite-wal")
    assert wal.stat().st_size > 0
    whole = tmp_path / "whole"
    whole.mkdir()
    for name in ("store.sqlite", "store.sqlite-wal", "store.sqlite.open"):
        shutil.copy(tmp_path / name, whole / name)
    moved_along = Store(whole / "store.sqlite")
    assert moved_along.strange_pages is None
    assert [held.customer for held in moved_along.dockets()] == ["Killed"], "moved together they belong together"
    moved_along.close()
    other = Store(tmp_path / "other.sqlite")
    other.new_docket("Synced")
    other.close()
    os.replace(tmp_path / "other.sqlite", path)  # as a sync tool puts it there
    store = Store(path)
    assert store.strange_pages is not None and store.strange_pages.exists(), "kept, out of the way"
    assert [held.customer for held in store.dockets()] == ["Synced"]
    store.close()
    assert put_strange_pages_aside(path) is None


@pytest.mark.parametrize(
    "name", ["a#b.sqlite", "a?mode=memory.sqlite", "50%20off.sqlite", "two words.sqlite", "file:x"]
)
def test_a_store_of_any_name_opens_is_watched_and_copied(name: str, tmp_path: Path) -> None:
    from yarvel.workshop.storage.backup import backup, restore

    path = tmp_path / name
    store = Store(path)
    store.new_docket("Saltmarsh")
    made = backup(path, tmp_path / "copies" / name)
    store.close()
    assert path.exists() and made.rows["dockets"] == 1
    restore(tmp_path / "copies" / name, path, store.now())
    assert summary(path).rows["dockets"] == 1
    assert {found.name for found in tmp_path.iterdir()} >= {name, "copies"}


def test_stores_whose_names_differ_in_the_ending_share_nothing(tmp_path: Path) -> None:
    from yarvel.workshop.storage.backup import folder_of

    one, two = tmp_path / "shop.sqlite", tmp_path / "shop.db"
    for path in (one, two):
        Store(path).close()
    mine = WaitingEdits(location(one).waiting_folder, location(one).former_waiting_folder)
    mine.add(1, DocketEdit(job_patches=(), fields={"item": "of the first"}))
    mine.close()
    theirs = WaitingEdits(location(two).waiting_folder, location(two).former_waiting_folder)
    assert theirs.taken_over() == {}
    assert folder_of(one) != folder_of(two) and location(one).window_file != location(two).window_file
    former = tmp_path / "shop.waiting"
    old = WaitingEdits(former)
    old.add(1, DocketEdit(job_patches=(), fields={"item": "of which?"}))
    old.close()
    assert location(one).former_waiting_folder is None, "nobody can tell whose it is: it stays where it lies"
    two.unlink()
    assert location(one).former_waiting_folder == former
    held = WaitingEdits(location(one).waiting_folder, former).taken_over()
    assert [edit.fields["item"] for edit in held[1]] == ["of the first", "of which?"], "each act is an edit, in order"


def test_an_edit_for_another_store_is_put_aside(tmp_path: Path) -> None:
    left = WaitingEdits(tmp_path)
    left.store_id = "one"
    left.add(1, DocketEdit(job_patches=(), fields={"item": "ring"}))
    left.close()
    mine = WaitingEdits(tmp_path)
    mine.store_id = "two"
    assert mine.taken_over() == {}
    assert "of another store" in " ".join(mine.spoiled)
    assert "ring" in (tmp_path / "of-another-store.log").read_text()


def test_what_lies_among_waiting_edits_and_cannot_be_read_is_put_aside_and_told(tmp_path: Path) -> None:
    (tmp_path / "7-1.jsonl").mkdir()
    os.mkfifo(tmp_path / "7-2.jsonl")
    left = WaitingEdits(tmp_path)
    left.add(3, DocketEdit(job_patches=(), fields={"item": "ring"}))
    left.close()
    mine = WaitingEdits(tmp_path)
    assert set(mine.taken_over()) == {3}
    assert len(mine.spoiled) == 2 and all("kept as" in line for line in mine.spoiled)
    assert not list(tmp_path.glob("7-*.jsonl"))


def test_a_waiting_edit_is_on_the_disk_when_it_is_written_down(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Flushed before the file has its name, and that before the old one goes; the folder with each."""
    told: list[str] = []
    flush, unlink = os.fsync, Path.unlink

    def fsync(handle: int) -> None:
        told.append(f"flush {os.readlink(f'/proc/self/fd/{handle}').rpartition('/')[2]}")
        flush(handle)

    monkeypatch.setattr(os, "fsync", fsync)
    monkeypatch.setattr(Path, "unlink", lambda path, **more: (told.append(f"drop {path.name}"), unlink(path, **more)))
    mine = WaitingEdits(tmp_path / "waiting")
    mine.add(1, DocketEdit(job_patches=(), fields={"item": "ring"}))
    (first,) = (path.name for path in (tmp_path / "waiting").iterdir())
    assert told == [f"flush {first}.unfinished", "flush waiting"]
    told.clear()
    mine.replace({1: (DocketEdit(job_patches=(), fields={"item": "band"}),)})
    (second,) = (path.name for path in (tmp_path / "waiting").iterdir())
    assert first != second and told == [f"flush {second}.unfinished", "flush waiting", f"drop {first}"]
    mine.close()


@pytest.mark.parametrize(
    ("edit", "told"),
    [
        (
            DocketEdit(job_patches=(), fields={"item": "a\0b"}),
            r"31-0001\.item: holds a sign that is no letter \(U\+0000\)",
        ),
        (DocketEdit(job_patches=(), fields={"item": "\ud800"}), r"31-0001\.item: holds a sign that is no letter"),
        (
            DocketEdit(job_patches=(), fields={"item": "x" * 1_000_000}),
            r"31-0001\.item: 1,000,000 letters: at most 20,000",
        ),
        (DocketEdit(job_patches=(), fields={"weight_in_g": float("nan")}), r"31-0001\.weight_in_g: nan is no number"),
        (
            DocketEdit(job_patches=({"stone": {"depth_mm": float("inf")}},)),
            r"31-0001\.job\.stone\.depth_mm: inf is no number",
        ),
        (DocketEdit(job_patches=({"stone": {"species": "a\0"}},)), r"31-0001\.job\.stone\.species: holds a sign"),
        (
            DocketEdit(job_patches=(), fields={"claw_chart": {"claws": [{"tip": float("nan")}]}}),
            r"claw_chart\.claws\.tip: nan",
        ),
        (
            DocketEdit(job_patches=(), fields={"state": "stolen"}),
            r"31-0001\.state: 'stolen' is not accepted: one of taken in",
        ),
        (DocketEdit(job_patches=({"format": None},)), r"31-0001\.job\.format: None is not accepted: yarvel-job/1"),
        (DocketEdit(job_patches=({"format": "other/9"},)), r"31-0001\.job\.format: 'other/9' is not accepted"),
        (DocketEdit(job_patches=(), fields={"ticks": "level"}), r"31-0001\.ticks: is not accepted: a list of texts"),
        (DocketEdit(job_patches=(), fields={"stones_price": -1}), r"31-0001\.stones_price: -1 is not accepted"),
    ],
)
def test_what_a_store_cannot_hold_is_refused_on_entry_with_the_docket(
    edit: DocketEdit, told: str, store: Store
) -> None:
    docket = store.new_docket("Saltmarsh")
    with pytest.raises(StoreError, match=told):
        store.edit(docket.id, edit)
    assert store.docket(docket.id) == docket


@pytest.mark.parametrize("bad", ["a\0b", "\ud800", "x" * 100_000])
def test_no_text_of_any_kind_that_could_not_be_moved_gets_in(bad: str, store: Store) -> None:
    """A file took NULs that a server refuses, and could then never be moved to one."""
    hand = store.people.add("Orla")
    task = store.tasks.plan_tasks(store.new_docket().id, [("Solder", 20.0)])[0]
    for act in (
        lambda: store.new_docket(customer=bad),
        lambda: store.people.add(bad),
        lambda: store.people.change(hand.id, "bench", (bad,)),
        lambda: store.tasks.plan_tasks(task.docket_id, [(bad, 5.0)]),
        lambda: store.tasks.plan_tasks(task.docket_id, [("Close", float("nan"))]),
        lambda: store.tasks.give(task.id, hand.id, bad),
        lambda: store.tasks.stop(task.id, note=bad),
        lambda: store.tasks.tick(task.id, bad, True),
        lambda: store.fine.add("bought", "18k-yellow", 2.0, note=bad),
        lambda: store.drawer.add([StockItem("bur", bad)]),
        lambda: store.drawer.add([StockItem("bur", "S5", size_mm=float("inf"))]),
        lambda: store.photographs.add(task.docket_id, SmallPhotograph(1, 1, b"x"), bad),
    ):
        with pytest.raises(StoreError):
            act()
    assert [person.name for person in store.people.all()] == ["Orla"] and store.drawer.items() == []
