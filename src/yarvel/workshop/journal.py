"""Lines on this machine's disk that must not be lost: one file a window, held by a lock while the window lives; a
window that starts takes over the files of those that are gone."""

from __future__ import annotations

import fcntl
import os
from collections.abc import Iterable, Iterator
from contextlib import suppress
from pathlib import Path
from typing import IO


class Journal:
    """This window's lines in a folder; ``ending`` says of which kind they are. Nothing is made until a line is."""

    def __init__(self, folder: Path, ending: str) -> None:
        self._folder, self._ending = folder, ending
        self._file: IO[str] | None = None

    def add(self, line: str) -> None:
        """Write a line down (OSError where the disk is full or cannot be written to)."""
        file = self._opened()
        file.write(line + "\n")
        file.flush()

    def replace(self, lines: Iterable[str]) -> None:
        """Only these lines from now on (OSError: those that were there are still there)."""
        wanted = list(lines)
        if self._file is None and not wanted:
            return
        if not wanted:
            file = self._opened()
            file.seek(0)
            file.truncate()
            return
        # The new file is whole before it takes the old one's place: nothing is lost where the disk is full or we die.
        held, self._file = self._file, None
        try:
            file = self._opened()
            file.writelines(line + "\n" for line in wanted)
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

    def left(self) -> list[str]:
        """The lines of windows that are gone; their files go away with ``forget``."""
        return [
            line for path in self._left() for line in path.read_text(encoding="utf-8", errors="replace").splitlines()
        ]

    def forget(self) -> None:
        """What was taken over is written down here by now: away with the others' files."""
        for path in self._left():
            path.unlink(missing_ok=True)

    def close(self) -> None:
        """Let go of the file; away with it where it holds nothing."""
        if self._file is None:
            return
        path = Path(self._file.name)
        with suppress(OSError):
            if self._file.seek(0, os.SEEK_END) == 0:
                path.unlink(missing_ok=True)
        with suppress(OSError):
            self._file.close()
        self._file = None

    def _left(self) -> Iterator[Path]:
        mine = None if self._file is None else Path(self._file.name).name
        for path in sorted(self._folder.glob(f"*.{self._ending}")) if self._folder.is_dir() else ():
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
                    file = (self._folder / f"{os.getpid()}-{number}.{self._ending}").open("x+", encoding="utf-8")
                    break
                except FileExistsError:
                    number += 1
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
            self._file = file
        return self._file
