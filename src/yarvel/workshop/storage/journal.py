"""Lines on this machine's disk that must not be lost: one file a window, held by a lock while the window lives; a
window that starts takes over the files of those that are gone.

A line is on the disk, not only with the operating system, when the call that wrote it returns.
"""

from __future__ import annotations

import fcntl
import os
from collections.abc import Iterable, Iterator
from contextlib import suppress
from pathlib import Path
from typing import IO

from yarvel.workshop.storage.on_disk import flush_folder, free_name


class Journal:
    """This window's lines in a folder; ``ending`` says of which kind they are. Nothing is made until a line is.

    ``spoiled`` tells what lay there that could not be read, and where it was put.
    """

    def __init__(self, folder: Path, ending: str) -> None:
        self._folder, self._ending = folder, ending
        self._file: IO[str] | None = None
        self.spoiled: list[str] = []

    def add(self, line: str) -> None:
        """Write a line down (OSError where the disk is full or cannot be written to)."""
        file = self._opened()
        file.write(line + "\n")
        _flush(file)

    def replace(self, lines: Iterable[str]) -> None:
        """Only these lines from now on (OSError: those that were there are still there)."""
        wanted = list(lines)
        if self._file is None and not wanted:
            return
        if not wanted:
            file = self._opened()
            file.seek(0)
            file.truncate()
            _flush(file)
            return
        # The new file is whole, and on the disk, before it takes the old one's place: nothing is lost where the disk is
        # full or the power goes.
        handle, self._file = self._file, None
        try:
            file = self._opened()
            file.writelines(line + "\n" for line in wanted)
            _flush(file)
        except OSError:
            if self._file is not None:
                Path(self._file.name).unlink(missing_ok=True)
                with suppress(OSError):
                    self._file.close()
            self._file = handle
            raise
        if handle is not None:
            Path(handle.name).unlink(missing_ok=True)
            handle.close()

    def left(self) -> list[str]:
        """The lines of windows that are gone; their files go away with ``forget``. What cannot be read is put aside."""
        lines: list[str] = []
        for path in self._left():
            try:
                lines += path.read_text(encoding="utf-8", errors="replace").splitlines()
            except OSError as error:
                self._put_aside(path, error)
        return lines

    def forget(self) -> None:
        """What was taken over is written down here by now: away with the others' files."""
        for path in self._left():
            with suppress(OSError):
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
            try:
                if not path.is_file():
                    raise OSError(0, "no file")
                with path.open() as file:
                    try:
                        fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
                    except OSError:
                        continue  # its window is alive
            except OSError as error:
                self._put_aside(path, error)
                continue
            yield path

    def _put_aside(self, path: Path, error: OSError) -> None:
        """Something that is no journal lies among them: out of the way, and told; nothing stops for it."""
        target = free_name(path.with_name(f"unreadable-{path.name}.aside"))
        reason = error.strerror or "cannot be read"
        try:
            path.rename(target)
        except OSError:
            self.spoiled.append(f"{path} cannot be read ({reason}) and is left where it is.")
            return
        self.spoiled.append(f"{path.name} could not be read ({reason}); it is kept as {target}.")

    def _opened(self) -> IO[str]:
        if self._file is None:
            self._folder.mkdir(parents=True, exist_ok=True, mode=0o700)
            number = 1
            while True:
                try:
                    path = self._folder / f"{os.getpid()}-{number}.{self._ending}"
                    os.close(os.open(path, os.O_RDWR | os.O_CREAT | os.O_EXCL, 0o600))
                    break
                except FileExistsError:
                    number += 1
            file = path.open("r+", encoding="utf-8")
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
            self._file = file
            flush_folder(self._folder)
        return self._file


def _flush(file: IO[str]) -> None:
    file.flush()
    os.fsync(file.fileno())
