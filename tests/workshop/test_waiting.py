"""Edits wait on disk; other windows see a change."""

from __future__ import annotations

import queue
import resource
import signal
import subprocess
import sys
import threading
from contextlib import suppress
from datetime import date
from pathlib import Path

import pytest

from tests.patience import GIVE_UP_S
from yarvel.workshop.dockets.records import DocketEdit
from yarvel.workshop.storage.location import location
from yarvel.workshop.storage.watching import watch
from yarvel.workshop.store import Store
from yarvel.workshop.waiting import WaitingEdits, gathered

EDIT = DocketEdit(
    job_patches=({"stone": {"depth_mm": 3.2}},),
    fields={"promised_on": date(2031, 5, 2), "item": "ring"},
    job_seen=({"stone": {"depth_mm": None}},),
    fields_seen={"promised_on": None, "item": ""},
)


def test_what_a_killed_window_left_is_taken_over_whole(tmp_path: Path) -> None:
    write = (
        "import sys, os, signal\nfrom pathlib import Path\nfrom tests.workshop.test_waiting import EDIT\nfrom "
        "yarvel.workshop.waiting import WaitingEdits\nwaiting = WaitingEdits(Path(sys.argv[1]))\nwaiting.add(7, "
        "EDIT)\nwaiting.add(7, EDIT)\nwaiting.add(8, EDIT)\nos.kill(os.getpid(), signal.SIGKILL)"
    )
    done = subprocess.run(
        [sys.executable, "-c", write, str(tmp_path)],
        capture_output=True,
        text=True,
        check=False,
        cwd=Path(__file__).parents[2],
    )
    assert done.returncode == -9, done.stderr
    with next(tmp_path.glob("*.jsonl")).open("a") as file:
        file.write('{"docket": 9, "job_pat')
    mine = WaitingEdits(tmp_path)
    assert mine.taken_over() == {7: (EDIT, EDIT), 8: (EDIT,)}
    mine.forget()
    assert not list(tmp_path.glob("*.jsonl"))


def test_edits_of_one_act_are_one() -> None:
    """Letters of a word are one edit, another word is another; what the history does not tell goes with either."""
    letters = [
        DocketEdit(job_patches=(), fields={"item": word}, job_seen=(), fields_seen={"item": ""}, act="typing item")
        for word in ("b", "ba", "band")
    ]
    draft = DocketEdit(job_patches=(), fields={"drafts": {"stone.depth_mm": "4,x"}})
    held: tuple[DocketEdit, ...] = ()
    for edit in (letters[0], draft, *letters[1:], DocketEdit(job_patches=(), fields={"state": "ready"}), letters[0]):
        held = gathered(held, edit)
    assert [edit.fields.get("item", edit.fields.get("state")) for edit in held] == ["band", "ready", "b"]
    assert held[0].fields["drafts"] and held[0].fields_seen == {"item": ""}


def test_what_a_living_window_holds_is_left_to_it(tmp_path: Path) -> None:
    theirs, mine = WaitingEdits(tmp_path), WaitingEdits(tmp_path)
    theirs.add(7, EDIT)
    mine.add(8, EDIT)
    assert mine.taken_over() == {}
    mine.forget()
    theirs.replace({})
    theirs.close()
    mine.close()
    assert WaitingEdits(tmp_path).taken_over() == {8: (EDIT,)}


def test_only_what_still_waits_is_kept_and_a_full_disk_takes_nothing_away(tmp_path: Path) -> None:
    mine = WaitingEdits(tmp_path)
    mine.add(7, EDIT)
    mine.replace({8: (EDIT,)})
    mine.add(8, EDIT)
    assert len(list(tmp_path.glob("*.jsonl"))) == 1
    resource.setrlimit(resource.RLIMIT_FSIZE, (700, resource.getrlimit(resource.RLIMIT_FSIZE)[1]))
    before = signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
    try:
        with pytest.raises(OSError, match="too large"):
            mine.replace({8: (DocketEdit(job_patches=(), fields={"item": "x" * 900}),)})
    finally:
        resource.setrlimit(resource.RLIMIT_FSIZE, (resource.RLIM_INFINITY, resource.RLIM_INFINITY))
        signal.signal(signal.SIGXFSZ, before)
    mine._journal._file.close()  # type: ignore[union-attr]
    other = WaitingEdits(tmp_path)
    assert other.taken_over() == {8: (EDIT, EDIT)}


def test_a_full_disk_is_told(tmp_path: Path) -> None:
    (tmp_path / "file").write_text("")
    with pytest.raises(OSError, match=r"Not a directory|File exists"):
        WaitingEdits(tmp_path / "file").add(7, EDIT)


@pytest.mark.parametrize("store_kind", ["file", "team"])
def test_another_window_sees_a_change_within_a_second(place: Path | str) -> None:
    mine, other, stop, told = Store(place), Store(place), threading.Event(), queue.Queue[int]()
    watcher = threading.Thread(
        target=watch, args=(location(place), stop, lambda: told.put(len(other.dockets()))), daemon=True
    )
    watcher.start()
    count, seen = 0, 0
    while not seen:  # until the watcher has begun to look
        count += 1
        mine.new_docket("Saltmarsh")
        with suppress(queue.Empty):
            seen = told.get(timeout=1.0)
    while seen < count:
        seen = told.get(timeout=GIVE_UP_S)
    mine.new_docket("Saltmarsh")
    while seen == count:  # what came before may be told twice
        seen = told.get(timeout=GIVE_UP_S)
    assert seen == count + 1
    stop.set()
    watcher.join(timeout=GIVE_UP_S)
    mine.close()
    other.close()
