"""Where stores live: the XDG data folder, the demo's beside the workshop's own."""

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
