"""Lines on this machine's disk that must not be lost: one file a window, held by a lock while the window lives; a
window that starts takes over the files of those that are gone.

A line is on the disk, not only with the operating system, when the call that wrote it returns. A file gets its name,
which no other file ever has, once it is locked and its lines are on the disk: whoever finds one that nobody holds finds
all of it. It is read under its lock, which is held until the file may go.
"""

from __future__ import annotations

import fcntl
import os
from collections.abc import Iterable
from contextlib import suppress
from pathlib import Path
from typing import IO

from yarvel.workshop.storage.identity import new_id
from yarvel.workshop.storage.on_disk import flush_folder, free_name

_UNFINISHED = ".unfinished"
"""Behind the name of a file that is not whole yet: nobody looks for it."""


class Journal:
    """This window's lines in a folder; ``ending`` says of which kind they are. Nothing is made until a line is.

    ``spoiled`` tells what lay there that could not be read, and where it was put.
    """

    def __init__(self, folder: Path, ending: str) -> None:
        self._folder, self._ending = folder, ending
        self._file: IO[str] | None = None
        self._path = folder
        self._taken: dict[Path, int] = {}
        self.spoiled: list[str] = []

    def add(self, line: str) -> None:
        """Write a line down (OSError where the disk is full or cannot be written to)."""
        if self._file is None:
            self._begin([line])
            return
        self._file.write(line + "\n")
        _flush(self._file)

    def replace(self, lines: Iterable[str]) -> None:
        """Only these lines from now on (OSError: those that were there are still there)."""
        wanted = list(lines)
        if not wanted:
            if self._file is not None:
                self._file.seek(0)
                self._file.truncate()
                _flush(self._file)
            return
        # The new file is whole, and on the disk, before the old one goes: nothing is lost where the disk is full or the
        # power goes.
        old, path = self._file, self._path
        self._begin(wanted)
        if old is not None:
            path.unlink(missing_ok=True)
            old.close()

    def left(self) -> list[str]:
        """The lines of windows that are gone, whose files nobody else can take any more; they go with ``forget``. What
        cannot be read is put aside."""
        self._take()
        lines: list[str] = []
        for path, handle in self._taken.items():
            try:
                os.lseek(handle, 0, os.SEEK_SET)
                with open(handle, encoding="utf-8", errors="replace", closefd=False) as file:
                    lines += file.read().splitlines()
            except OSError as error:
                self._put_aside(path, error)
        return lines

    def forget(self) -> None:
        """What was taken over is in the store or written down here by now: away with the others' files."""
        for path in self._taken:
            with suppress(OSError):
                path.unlink(missing_ok=True)
        self._let_go()

    def _let_go(self) -> None:
        for handle in self._taken.values():
            os.close(handle)
        self._taken.clear()

    def __del__(self) -> None:
        self._let_go()

    def close(self) -> None:
        """Let go of the file, away with it where it holds nothing; and of those that were taken and not forgotten."""
        self._let_go()
        if self._file is None:
            return
        with suppress(OSError):
            if self._file.seek(0, os.SEEK_END) == 0:
                self._path.unlink(missing_ok=True)
        with suppress(OSError):
            self._file.close()
        self._file = None

    def _take(self) -> None:
        for path in sorted(self._folder.glob(f"*.{self._ending}")) if self._folder.is_dir() else ():
            if path in self._taken or (self._file is not None and path == self._path):
                continue
            try:
                if not path.is_file():
                    raise OSError(0, "no file")
                handle = os.open(path, os.O_RDWR | os.O_CLOEXEC)
            except FileNotFoundError:
                continue  # somebody else has just taken it over
            except OSError as error:
                self._put_aside(path, error)
                continue
            if _locked(handle) and _is_there(path, handle):
                self._taken[path] = handle
            else:  # its window is alive, or somebody else has just taken it over
                os.close(handle)

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

    def _begin(self, lines: list[str]) -> None:
        """A new file with these lines, locked before it has a name that anybody looks for."""
        self._folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        path = self._folder / f"{new_id()}.{self._ending}"
        unfinished = path.with_name(path.name + _UNFINISHED)
        os.close(os.open(unfinished, os.O_RDWR | os.O_CREAT | os.O_EXCL, 0o600))
        file = unfinished.open("r+", encoding="utf-8")
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
            file.writelines(line + "\n" for line in lines)
            _flush(file)
            unfinished.rename(path)
            flush_folder(self._folder)
        except OSError:
            for name in (unfinished, path):
                name.unlink(missing_ok=True)
            with suppress(OSError):
                file.close()
            raise
        self._file, self._path = file, path


def _locked(handle: int) -> bool:
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        return False
    return True


def _is_there(path: Path, handle: int) -> bool:
    """Whether the file that is held is still the one of that name."""
    try:
        named = path.stat()
    except OSError:
        return False
    held = os.fstat(handle)
    return (named.st_dev, named.st_ino) == (held.st_dev, held.st_ino)


def _flush(file: IO[str]) -> None:
    file.flush()
    os.fsync(file.fileno())
