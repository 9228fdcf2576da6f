"""Where stores live: the XDG data folder, the demo's beside the workshop's own, or wherever a setting says."""

from __future__ import annotations

import os
from pathlib import Path

from yarvel.figures.errors import StoreError


def data_folder() -> Path:
    """Yarvel's folder under the XDG data folder (StoreError where there is neither that nor a home folder)."""
    return _xdg("XDG_DATA_HOME", ".local/share")


def log_file() -> Path:
    """Where what nobody expected is written down (StoreError as ``data_folder``)."""
    return _xdg("XDG_STATE_HOME", ".local/state") / "yarvel.log"


def seals_file() -> Path:
    """What this machine has seen of months that were signed off (StoreError as ``data_folder``)."""
    return _xdg("XDG_STATE_HOME", ".local/state") / "seals.json"


def _xdg(variable: str, below_home: str) -> Path:
    base = os.environ.get(variable, "")
    if base and Path(base).is_absolute():
        return Path(base) / "yarvel"
    try:
        return Path.home() / below_home / "yarvel"
    except RuntimeError as error:  # no HOME, and nobody of this number in the list of users
        raise StoreError(
            f"{variable}: is not set, and whoever runs Yarvel has no home folder: set {variable} or HOME to a folder "
            "that can be written to, or name the store with --store PATH"
        ) from error


def default_store() -> Path:
    """The workshop's own store."""
    return data_folder() / "workshop.sqlite"


def demo_store(which: str = "small") -> Path:
    """A demo's store, in a folder of its own."""
    return data_folder() / "demo" / ("workshop.sqlite" if which == "small" else f"{which}.sqlite")


def setting_file() -> Path:
    """Where this machine's user has written which store to open: one line, a path or an address."""
    return _xdg("XDG_CONFIG_HOME", ".config") / "store"


def chosen_store() -> Path | str:
    """The store to open where none is named: by the setting, else the workshop's own.

    Raises
    ------
    StoreError : the setting holds a password, or there is no place for a store of one's own.
    """
    file = setting_file()
    try:
        said = file.read_text(encoding="utf-8").strip()
    except (OSError, UnicodeDecodeError):
        said = ""
    if holds_password(said):
        raise StoreError(f"{file}: holds a password: an address without one; keep the password in ~/.pgpass")
    return said or default_store()


def choose_store(where: str | None) -> None:
    """Write the setting, readable by nobody else; None: the workshop's own again (OSError where it cannot be written;
    StoreError for an address with a password)."""
    file = setting_file()
    if where is None:
        file.unlink(missing_ok=True)
        return
    if holds_password(where):
        raise StoreError("use-store: an address without a password: keep that in ~/.pgpass")
    file.parent.mkdir(parents=True, exist_ok=True)
    part = file.with_name(file.name + ".part")
    part.unlink(missing_ok=True)
    with os.fdopen(os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "w", encoding="utf-8") as out:
        out.write(where + "\n")
    part.replace(file)


def holds_password(address: str) -> bool:
    """Whether the address of a store has a password in it, before the host or behind the question mark."""
    if "://" not in address:
        return False
    rest = address.split("://", 1)[1]
    who, at, _ = rest.rpartition("@")
    return (bool(at) and ":" in who) or "password=" in rest.rpartition("?")[2].lower()
