"""What is read from outside: a file, not a pipe that never ends or a device."""

from __future__ import annotations

import errno
import os
import stat
from pathlib import Path


def check_regular(path: Path) -> None:
    """Refuse what is no plain file, before it is opened.

    Raises
    ------
    OSError : there is none of that name, or it is a folder, a pipe or a device.
    """
    kind = path.stat().st_mode
    if stat.S_ISDIR(kind):
        raise IsADirectoryError(errno.EISDIR, os.strerror(errno.EISDIR), str(path))
    if not stat.S_ISREG(kind):
        raise OSError(errno.EINVAL, "no plain file, but a pipe or a device", str(path))
