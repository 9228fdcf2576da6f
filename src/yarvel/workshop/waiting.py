"""Edits that are not stored yet, on disk: each is written down as it is made, so that neither a crash nor a server that
is away loses it. One file a window; a window that starts takes over the files of those that are gone."""

from __future__ import annotations

import fcntl
import json
import os
from collections.abc import Iterable, Mapping
from contextlib import suppress
from dataclasses import asdict
from datetime import date
from pathlib import Path
from typing import IO, Any

from yarvel.workshop.dockets import DocketEdit

NEW = 0
"""Stands for a docket that is not taken in yet."""


class WaitingEdits:
    """This window's file of waiting edits, one JSON object a line; held by a lock while the window lives."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._file: IO[str] | None = None

    def add(self, docket_id: int, edit: DocketEdit) -> None:
        """Write an edit down (OSError where the disk is full or cannot be written to)."""
        file = self._opened()
        file.write(_line(docket_id, edit))
        file.flush()

    def replace(self, waiting: Mapping[int, DocketEdit]) -> None:
        """Only these wait now."""
        if self._file is None and not waiting:
            return
        if not waiting:
            file = self._opened()
            file.seek(0)
            file.truncate()
            return
        # The new file is whole before it takes the old one's place: nothing is lost where the disk is full or we die.
        held, self._file = self._file, None
        try:
            file = self._opened()
            file.writelines(_line(docket_id, edit) for docket_id, edit in waiting.items())
            file.flush()
        except OSError:
            if self._file is not None:
                Path(self._file.name).unlink(missing_ok=True)
                with suppress(OSError):
                    self._file.close()
            self._file = held
            raise
        if held is not None:
            Path(held.name).unlink(missing_ok=True)
            held.close()

    def taken_over(self) -> dict[int, DocketEdit]:
        """What windows that are gone have left, by docket; their files go away with ``forget``."""
        found: dict[int, DocketEdit] = {}
        for path in self._left():
            for docket_id, edit in _read(path):
                found[docket_id] = found[docket_id].then(edit) if docket_id in found else edit
        return found

    def forget(self) -> None:
        """What was taken over is written down here by now: away with the others' files."""
        for path in self._left():
            path.unlink(missing_ok=True)

    def close(self) -> None:
        """Let go of the file; away with it where nothing waits."""
        if self._file is None:
            return
        path = Path(self._file.name)
        with suppress(OSError):
            if self._file.seek(0, os.SEEK_END) == 0:
                path.unlink(missing_ok=True)
        self._file.close()
        self._file = None

    def _left(self) -> Iterable[Path]:
        mine = None if self._file is None else Path(self._file.name).name
        for path in sorted(self._folder.glob("*.jsonl")) if self._folder.is_dir() else ():
            if path.name == mine:
                continue
            with path.open() as file:
                try:
                    fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
                except OSError:
                    continue  # its window is alive
            yield path

    def _opened(self) -> IO[str]:
        if self._file is None:
            self._folder.mkdir(parents=True, exist_ok=True)
            number = 1
            while True:
                try:
                    file = (self._folder / f"{os.getpid()}-{number}.jsonl").open("x+", encoding="utf-8")
                    break
                except FileExistsError:
                    number += 1
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
            self._file = file
        return self._file


def _line(docket_id: int, edit: DocketEdit) -> str:
    return json.dumps({"docket": docket_id, **asdict(edit)}, default=_dated) + "\n"


def _dated(value: Any) -> Any:
    if isinstance(value, date):
        return {"date": value.isoformat()}
    raise TypeError(f"{value!r} cannot be written down")


def _read(path: Path) -> list[tuple[int, DocketEdit]]:
    """All whole lines of a file; one that was cut off at the end was never finished."""
    found = []
    for line in path.read_text(encoding="utf-8", errors="replace").splitlines():
        try:
            held = json.loads(line)
            found.append((int(held["docket"]), DocketEdit(
                tuple(held["job_patches"]), _undated(held["fields"]), tuple(held["job_seen"]),
                _undated(held["fields_seen"]))))
        except (ValueError, KeyError, TypeError):
            continue
    return found


def _undated(fields: dict[str, Any]) -> dict[str, Any]:
    return {name: date.fromisoformat(value["date"]) if isinstance(value, dict) and set(value) == {"date"} else value
            for name, value in fields.items()}
