"""What goes wrong in a workshop: the power, the disk, the server, the clock. Nothing acknowledged is ever lost."""

from __future__ import annotations

import json
import os
import shutil
import sqlite3
import subprocess
import sys
import threading
from collections import Counter
from collections.abc import Iterator
from contextlib import closing
from datetime import datetime, timedelta
from pathlib import Path

import pytest
from sqlalchemy import event

from tests.patience import GIVE_UP_S
from tests.private_server import PrivateServer
from yarvel.clock import kept
from yarvel.figures.errors import StoreError, StoreGoneError
from yarvel.workshop.dockets.records import DocketEdit
from yarvel.workshop.store import Store

KILLS = 50
TOP = Path(__file__).parents[2]
KILLED = """
import json, os, random, signal, sys
from yarvel.workshop.dockets.records import DocketEdit
from yarvel.workshop.store import Store

place, kills, chance = sys.argv[1], int(sys.argv[2]), random.Random(4)
store = Store(place)
docket = store.new_docket("Saltmarsh")
store.close()

def write(pipe):
    mine, count = Store(place), 0
    held = mine.docket(docket.id).job_document.get("note") or 0
    while True:
        count += 1
        mine.edit(docket.id, DocketEdit(job_patches=({"note": held + count},), fields={"item": f"edit {held + count}"}))
        os.write(pipe, f"{held + count}\\n".encode())

told = []
for _ in range(kills):
    reading, writing = os.pipe()
    child = os.fork()
    if child == 0:
        os.close(reading)
        write(writing)
    os.close(writing)
    got, stored = b"", chance.randrange(1, 4)
    while got.count(b"\\n") < stored:  # so many are stored
        got += os.read(reading, 65536)
    for _ in range(chance.randrange(0, 400_000)):  # and it is at any point of the next one
        pass
    os.kill(child, signal.SIGKILL)
    os.waitpid(child, 0)
    while more := os.read(reading, 65536):
        got += more
    os.close(reading)
    last = int(got.decode().split()[-1])
    store = Store(place)
    held = store.docket(docket.id)
    lines = [change for change in store.history(docket.id) if change.field == "edit"]
    store.close()
    told.append((last, held.job_document["note"], held.item, lines[-1].after["job"]["note"], len(lines)))
print(json.dumps(told))
"""


@pytest.mark.parametrize("store_kind", ["file", "team"])
def test_killed_fifty_times_while_writing(place: Path | str) -> None:
    done = subprocess.run(
        [sys.executable, "-c", KILLED, str(place), str(KILLS)],
        capture_output=True,
        text=True,
        timeout=GIVE_UP_S,
        check=False,
        cwd=TOP,
    )
    assert done.returncode == 0, done.stderr
    told = json.loads(done.stdout)
    assert len(told) == KILLS
    for acknowledged, stored, item, after, lines in told:
        assert stored >= acknowledged, "what was acknowledged is there"
        assert item == f"edit {stored}" and after == stored, "whole or not at all"
        assert lines == stored, "a line of history for every change, and for no other"
    if isinstance(place, Path):
        with closing(sqlite3.connect(place)) as connection:
            assert connection.execute("PRAGMA integrity_check").fetchone() == ("ok",)


@pytest.fixture
def own_server() -> Iterator[PrivateServer]:
    made = PrivateServer()
    yield made
    made.remove()


def test_a_server_stopped_and_started_while_three_write(own_server: PrivateServer) -> None:
    """An edit whose answer was lost is tried again: it is there once."""
    url = own_server.make_database()
    store = Store(url)
    docket = store.new_docket("Saltmarsh")
    counts, away, ended = Counter[str](), Counter[str](), threading.Event()
    hands, moved = ("a", "b", "c"), threading.Condition()

    def write(hand: str) -> None:
        mine, count = Store(url, by=hand), 0
        while not ended.is_set():
            seen = {hand: count} if count else {}
            edit = DocketEdit(
                job_patches=(), fields={"claw_chart": {hand: count + 1}}, job_seen=(), fields_seen={"claw_chart": seen}
            )
            try:
                mine.edit(docket.id, edit)
            except StoreGoneError:
                with moved:
                    away[hand] += 1
                    moved.notify_all()
                continue
            count += 1
            with moved:
                counts[hand] = count
                moved.notify_all()
        mine.close()

    def wait_for_each(of: Counter[str], more: int) -> None:
        """Until that has happened to each of them so much more often."""
        with moved:
            wanted = {hand: of[hand] + more for hand in hands}
            assert moved.wait_for(lambda: all(of[hand] >= wanted[hand] for hand in hands), GIVE_UP_S)

    threads = [threading.Thread(target=write, args=(hand,)) for hand in hands]
    for thread in threads:
        thread.start()
    for mode in ("fast", "immediate"):
        wait_for_each(counts, 12)
        own_server.stop(mode)
        wait_for_each(away, 1)
        own_server.start()
    wait_for_each(counts, 12)
    ended.set()
    for thread in threads:
        thread.join(timeout=GIVE_UP_S)
    assert store.docket(docket.id).claw_chart == dict(counts)
    assert len([change for change in store.history(docket.id) if change.field == "claw_chart"]) == counts.total()
    store.close()


def test_a_full_disk_takes_nothing_and_loses_nothing(store_path: Path) -> None:
    store = Store(store_path)
    docket = store.new_docket("Saltmarsh")
    big = {f"claw {number}": "x" * 200 for number in range(400)}
    size: list[int] = [0]

    @event.listens_for(store._engine, "checkout")
    def _limit(connection: sqlite3.Connection, *_: object) -> None:
        connection.execute(f"PRAGMA max_page_count = {size[0] or 1_000_000}")

    size[0] = 1  # SQLite takes the pages that there are
    with pytest.raises(StoreGoneError, match="full"):
        store.edit(docket.id, DocketEdit(job_patches=(), fields={"claw_chart": big}))
    assert store.docket(docket.id) == docket
    assert len(store.history(docket.id)) == 1
    size[0] = 0
    assert store.edit(docket.id, DocketEdit(job_patches=(), fields={"claw_chart": big})).claw_chart == big
    store.close()


def test_a_folder_that_cannot_be_written_to_is_told(tmp_path: Path) -> None:
    """As somebody without rights: the tests may run as root, who has them all."""
    closed = tmp_path / "closed"
    closed.mkdir(mode=0o755)
    made = Store(closed / "store.sqlite")
    made.new_docket("Saltmarsh")
    made.close()
    for path in closed.iterdir():
        path.chmod(0o444)
    closed.chmod(0o555)
    script = (
        "import os, sys\nfrom yarvel.workshop.store import Store\nfrom yarvel.figures.errors import StoreError\nimport "
        "yarvel.workshop.storage.migrating, alembic.command, sqlalchemy.dialects.sqlite\n"
        "os.umask(0)\nif os.getuid() == 0: "
        "os.setgroups([]); os.setegid(65534); os.seteuid(65534)\nfor place in (sys.argv[1] + '/store.sqlite', "
        "sys.argv[1] + '/new/store.sqlite'):\n    try:\n        Store(place).new_docket()\n        print('written')\n  "
        "  except StoreError as error:\n        print(error)\n"
    )
    for parent in tmp_path.parents:
        if parent.stat().st_uid == os.getuid() and len(parent.parts) > 2:
            parent.chmod(0o755)
    tmp_path.chmod(0o755)
    done = subprocess.run(
        [sys.executable, "-c", script, str(closed)], capture_output=True, text=True, check=False, cwd=TOP
    )
    assert done.returncode == 0, done.stderr
    held, new = done.stdout.strip().splitlines()
    assert "a folder that can be written to" in held and "a folder that can be written to" in new
    closed.chmod(0o755)


@pytest.mark.parametrize("share", [0.02, 0.3, 0.6, 0.95])
def test_a_store_cut_off_is_told_and_left_as_it_is(store_path: Path, share: float) -> None:
    store = Store(store_path)
    for number in range(40):
        store.new_docket("Saltmarsh", item=f"ring {number} " + "x" * 300)
    store.close()
    whole = store_path.read_bytes()
    cut = whole[: int(len(whole) * share)]
    shutil.rmtree(store_path.parent)
    store_path.parent.mkdir()
    store_path.write_bytes(cut)
    try:
        broken = Store(store_path)
        broken.dockets("ring")
        for docket in broken.dockets(limit=1000):
            broken.history(docket.id)
        told = ""
    except StoreError as error:
        told = str(error)
    assert any(word in told for word in ("a whole store", "a store that Yarvel made")), told
    assert store_path.read_bytes() == cut


def test_a_clock_that_goes_backwards(store_path: Path) -> None:
    """Numbers stay unique, times are never negative, and the history stays in the order in which things happened."""
    at = [kept(datetime(2031, 1, 1, 0, 5))]
    store = Store(store_path, clock=lambda: at[0])
    owner = store.people.add("Yusra", "owner", ())
    first = store.new_docket("Saltmarsh")
    task = store.tasks.plan_tasks(first.id, [("Solder", 20.0)])[0]
    store.tasks.start(task.id, owner.id)
    at[0] -= timedelta(minutes=20)
    assert store.tasks.stop(task.id).taken == 0.0
    second = store.new_docket("Ferry")
    assert {first.number, second.number} == {"31-0001", "30-0001"}
    store.edit(first.id, DocketEdit(job_patches=(), fields={"item": "band"}))
    at[0] -= timedelta(days=3)
    store.edit(first.id, DocketEdit(job_patches=(), fields={"item": "ring"}))
    changes = [change for change in store.history(first.id) if change.field == "item"]
    assert [change.after for change in changes] == ["band", "ring"] and changes[0].at > changes[1].at
    assert store.docket(first.id).version == first.version + 2
    store.close()
