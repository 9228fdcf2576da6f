"""Where stores live: the XDG data folder, the demo's beside the workshop's own, or wherever a setting says."""

from __future__ import annotations

import os
from pathlib import Path


def data_folder() -> Path:
    """Yarvel's folder under the XDG data folder."""
    base = os.environ.get("XDG_DATA_HOME", "")
    return (Path(base) if base and Path(base).is_absolute() else Path.home() / ".local" / "share") / "yarvel"


def default_store() -> Path:
    """The workshop's own store."""
    return data_folder() / "workshop.sqlite"


def demo_store() -> Path:
    """The demo's store, in a folder of its own."""
    return data_folder() / "demo" / "workshop.sqlite"


def setting_file() -> Path:
    """Where this machine's user has written which store to open: one line, a path or an address."""
    base = os.environ.get("XDG_CONFIG_HOME", "")
    return (Path(base) if base and Path(base).is_absolute() else Path.home() / ".config") / "yarvel" / "store"


def chosen_store() -> Path | str:
    """The store to open where none is named: by the setting, else the workshop's own."""
    try:
        said = setting_file().read_text(encoding="utf-8").strip()
    except (OSError, UnicodeDecodeError):
        said = ""
    return said or default_store()


def choose_store(where: str | None) -> None:
    """Write the setting; None: the workshop's own again (OSError where it cannot be written)."""
    file = setting_file()
    if where is None:
        file.unlink(missing_ok=True)
        return
    file.parent.mkdir(parents=True, exist_ok=True)
    part = file.with_name(file.name + ".part")
    part.write_text(where + "\n", encoding="utf-8")
    part.replace(file)
