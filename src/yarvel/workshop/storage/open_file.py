"""The file of an open store stays the one that was opened: whoever deletes, moves or replaces it is noticed before
anything is written.

SQLite keeps the newest pages in a file beside the store (``-wal``). Where a sync tool puts another store under the
name, that file must never be taken for the new one's: which file it belongs to is written down while a store is open.
"""

from __future__ import annotations

import json
import os
from contextlib import suppress
from pathlib import Path

from yarvel.figures.errors import StoreMovedError
from yarvel.workshop.storage.on_disk import FileIdentity, free_name, identity_of


class OpenFile:
    """The file of one open store."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self._opened = identity_of(path)

    def note(self) -> None:
        """The store is open: remember which file it is, and write down whose the pages beside it are."""
        self._opened = identity_of(self.path)
        wal = identity_of(_wal(self.path))
        if self._opened is None or wal is None:
            return
        identities = {"store": [self._opened.device, self._opened.inode], "pages": [wal.device, wal.inode]}
        with suppress(OSError):  # a folder that cannot be written to: then nothing is written at all
            _note(self.path).write_text(json.dumps(identities), encoding="utf-8")

    def check(self) -> None:
        """Refuse to go on where the path leads to another file, or to none.

        Raises
        ------
        StoreMovedError : deleted, moved, replaced, or its folder is gone.
        """
        identity = identity_of(self.path)
        if identity == self._opened:
            return
        fate = "is gone: it was deleted or moved" if identity is None else "was replaced by another file"
        raise StoreMovedError(
            f"{self.path}: {fate} while it was open: the file that was opened, back in its place; what you do waits on "
            "this machine, and “Save the store elsewhere” keeps all of it under another name"
        )

    @property
    def moved(self) -> bool:
        """Whether the path leads elsewhere by now."""
        return identity_of(self.path) != self._opened

    def forget(self) -> None:
        """The store is closed; where its pages went into it, nothing needs to be remembered."""
        if not _wal(self.path).exists():
            with suppress(OSError):
                _note(self.path).unlink(missing_ok=True)


def put_strange_pages_aside(path: Path) -> Path | None:
    """Before a store is opened: pages beside it that belong to a file which is no longer there go out of its way.

    They are kept; returns where. They stay where they were moved together with their store, or where nothing is known.
    """
    try:
        identities = json.loads(_note(path).read_text(encoding="utf-8"))
        store, pages = FileIdentity(*identities["store"]), FileIdentity(*identities["pages"])
    except (OSError, ValueError, KeyError, TypeError):
        return None
    wal = _wal(path)
    if identity_of(wal) != pages or identity_of(path) in (store, None):
        return None
    target = free_name(path.with_name(f"{path.name}.pages-of-another"))
    with suppress(OSError):
        os.rename(wal, target)
        path.with_name(f"{path.name}-shm").unlink(missing_ok=True)
        _note(path).unlink(missing_ok=True)
        return target
    return None


def _wal(path: Path) -> Path:
    return path.with_name(f"{path.name}-wal")


def _note(path: Path) -> Path:
    return path.with_name(f"{path.name}.open")
