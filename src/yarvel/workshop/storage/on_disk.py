"""What makes a file surely there: flushed with its folder, under a name that nothing had before, with its digest beside
it; and which file it is that a path leads to."""

from __future__ import annotations

import errno
import fcntl
import hashlib
import os
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

from msgspec import Struct

from yarvel.figures.errors import StoreError

_BLOCK = 1 << 20


class FileIdentity(Struct, frozen=True):
    """Which file it is, whatever its name: the device, and its number there."""

    device: int
    inode: int


def identity_of(path: Path) -> FileIdentity | None:
    """The file that a path leads to now; None where it leads nowhere."""
    try:
        state = path.stat()
    except OSError:
        return None
    return FileIdentity(state.st_dev, state.st_ino)


def flush_file(path: Path) -> None:
    """Have the disk hold what was written into a file (OSError where it cannot)."""
    with path.open("rb+") as file:
        os.fsync(file.fileno())


def flush_folder(folder: Path) -> None:
    """Have the disk hold a folder's names; nothing where its file system cannot do that."""
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    except OSError as error:
        if error.errno not in (errno.EINVAL, errno.ENOTSUP, errno.EBADF):
            raise
    finally:
        os.close(handle)


def put_in_place(part: Path, target: Path) -> None:
    """Give a finished file its name, in one step that a kill cannot halve; whatever has that name already stays.

    Raises
    ------
    FileExistsError : the name is taken.
    OSError : the folder cannot be written to.
    """
    flush_file(part)
    try:
        os.link(part, target)
    except OSError as error:
        if isinstance(error, FileExistsError):
            raise
        # A file system without links, a memory stick's: looked at first, then renamed.
        if target.exists():
            raise FileExistsError(errno.EEXIST, os.strerror(errno.EEXIST), str(target)) from error
        part.rename(target)
    else:
        part.unlink()
    flush_folder(target.parent)


@contextmanager
def held_folder(folder: Path) -> Iterator[None]:
    """One after another into a folder: whoever writes copies there waits for whoever does already."""
    handle = os.open(folder, os.O_RDONLY)
    try:
        with suppress(OSError):  # a file system without locks: as if alone
            fcntl.flock(handle, fcntl.LOCK_EX)
        yield
    finally:
        os.close(handle)


def free_name(wanted: Path) -> Path:
    """This name, or the first of ``name-2``, ``name-3`` … that nothing has."""
    number, free = 1, wanted
    while os.path.lexists(free) or os.path.lexists(digest_file(free)):
        number += 1
        free = wanted.with_name(f"{wanted.name}-{number}")
    return free


def drop(*paths: Path) -> None:
    """Take away what could not be finished, where that can be done."""
    for path in paths:
        with suppress(OSError):
            path.unlink(missing_ok=True)


def digest_file(path: Path) -> Path:
    """Where the digest of a copy stands, as ``sha256sum -c`` reads it."""
    return path.with_name(f"{path.name}.sha256")


def digest_of(path: Path) -> str:
    """SHA-256 of a whole file, as hexadecimal digits."""
    sha256 = hashlib.sha256()
    with path.open("rb") as file:
        while block := file.read(_BLOCK):
            sha256.update(block)
    return sha256.hexdigest()


def write_digest(path: Path, name: str) -> Path:
    """Write the digest of ``path`` as that of the file ``name`` beside it; returns where."""
    target = digest_file(path.with_name(name))
    part = target.with_name(f"{target.name}.part")
    try:
        part.write_text(f"{digest_of(path)}  {name}\n", encoding="utf-8")
        flush_file(part)
        part.replace(target)
    except OSError:
        drop(part)
        raise
    return target


def check_digest(path: Path) -> bool:
    """Hold a copy against the digest beside it; False where there is none.

    Raises
    ------
    StoreError : the copy is not what was written, or the digest cannot be read.
    """
    beside = digest_file(path)
    try:
        said = beside.read_text(encoding="utf-8").split()
    except FileNotFoundError:
        return False
    except (OSError, UnicodeDecodeError) as error:
        raise StoreError(f"{beside}: cannot be read: the digest as it was written with the copy") from error
    if not said or said[0] != digest_of(path):
        raise StoreError(
            f"{path}: is not what was written (its SHA-256 is another than {beside.name} says): another copy"
        )
    return True
