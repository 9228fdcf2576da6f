"""What waits on a machine's disk is there once, whole, whoever starts and is killed at the same moment."""

from __future__ import annotations

import errno
import json
import os
import random
import signal
from pathlib import Path

import pytest

from yarvel.workshop.storage import journal as journals
from yarvel.workshop.storage.journal import Journal

WRITERS, STARTERS = 120, 40


def in_a_child(what: object) -> int:
    """Have something done by a process of its own; returns its number."""
    child = os.fork()
    if child == 0:
        try:
            what()  # type: ignore[operator]
        finally:
            os._exit(0)
    return child


def test_no_line_is_lost_while_windows_write_start_and_are_killed(tmp_path: Path) -> None:
    """Each writer says on a pipe that its line is on the disk, and dies. Each starter takes over what lies there into
    its own journal, and is killed somewhere on the way, or not. In the end every line that was told is there."""
    chance, folder = random.Random(7), tmp_path / "waiting"
    reading, writing = os.pipe()

    def writer(number: int) -> None:
        mine = Journal(folder, "lines")
        mine.add(f"line {number}")
        os.write(writing, f"{number}\n".encode())
        os.kill(os.getpid(), signal.SIGKILL)

    def starter(rest: int) -> None:
        mine = Journal(folder, "lines")
        for line in mine.left():
            mine.add(line)
        for _ in range(rest):  # it may be killed before, while or after it forgets
            pass
        mine.forget()
        for _ in range(rest):
            pass

    children: list[int] = []
    begun: list[int] = []
    for number in range(WRITERS):
        children.append(in_a_child(lambda number=number: writer(number)))
        if number % (WRITERS // STARTERS) == 0:
            rest = chance.randrange(0, 200_000)
            begun.append(in_a_child(lambda rest=rest: starter(rest)))
        if len(begun) > 3:
            os.kill(begun.pop(chance.randrange(len(begun))), signal.SIGKILL)
            children.append(-1)
    while True:  # every child that is left
        try:
            os.wait()
        except ChildProcessError:
            break
    os.close(writing)
    told = b""
    while more := os.read(reading, 65536):
        told += more
    os.close(reading)
    last = Journal(folder, "lines")
    kept = last.left()
    acknowledged = {f"line {number}" for number in told.decode().split()}
    assert len(acknowledged) == WRITERS
    assert acknowledged <= set(kept), "told to be on the disk, and there"
    last.close()


def test_a_file_is_held_while_it_is_read_and_until_it_may_go(tmp_path: Path) -> None:
    gone = in_a_child(lambda: Journal(tmp_path, "lines").add("left behind"))
    os.waitpid(gone, 0)
    first, second = Journal(tmp_path, "lines"), Journal(tmp_path, "lines")
    assert first.left() == ["left behind"]
    assert second.left() == [] and len(list(tmp_path.glob("*.lines"))) == 1, "somebody has it"
    first.close()  # it ended before it had written the line down anywhere else
    assert second.left() == ["left behind"]
    second.add("left behind")
    second.forget()
    assert len(list(tmp_path.glob("*.lines"))) == 1
    second.close()


def test_a_file_of_a_living_window_is_left_alone(tmp_path: Path) -> None:
    mine, other = Journal(tmp_path, "lines"), Journal(tmp_path, "lines")
    mine.add("typed here")
    assert other.left() == []
    other.forget()
    mine.add("and here")
    (path,) = tmp_path.glob("*.lines")
    assert path.read_text().splitlines() == ["typed here", "and here"]
    mine.close()


def test_no_file_has_a_name_before_it_is_locked_and_whole(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    seen: list[list[str]] = []
    flock, fsync = journals.fcntl.flock, os.fsync

    def look(*arguments: object) -> None:
        seen.append([path.name for path in tmp_path.glob("*.lines")])

    monkeypatch.setattr(journals.fcntl, "flock", lambda *arguments: (look(), flock(*arguments)))
    monkeypatch.setattr(os, "fsync", lambda *arguments: (look(), fsync(*arguments)))
    mine = Journal(tmp_path, "lines")
    mine.replace(["one", "two"])
    assert seen[:2] == [[], []] and len(seen) == 3 and len(seen[2]) == 1
    mine.close()


def test_names_are_never_used_again(tmp_path: Path) -> None:
    mine, names = Journal(tmp_path, "lines"), set[str]()
    for number in range(20):
        mine.replace([str(number)])
        names |= {path.name for path in tmp_path.iterdir()}
    assert len(names) == 20
    mine.close()


def test_a_full_disk_leaves_what_was_there(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    mine = Journal(tmp_path, "lines")
    mine.add("kept")

    def full(_file: object) -> None:
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr(journals, "_flush", full)
    with pytest.raises(OSError, match="No space"):
        mine.replace(["new", "lines"])
    monkeypatch.undo()
    (path,) = tmp_path.iterdir()
    assert path.read_text() == "kept\n"
    mine.add(json.dumps("goes on"))
    assert path.read_text().splitlines() == ["kept", '"goes on"']
    mine.close()
