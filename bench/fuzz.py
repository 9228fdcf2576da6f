"""Ten thousand spoiled inputs an importer: each is read, or refused in clear lines; anything else ends the bench."""

from __future__ import annotations

import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from tests.exchange.importers import IMPORTERS, spoiled

from yarvel.figures.errors import YarvelError

CASES = 10_000
Told = Callable[[str, float, str, str], None]


def fuzz(told: Told, cases: int = CASES) -> None:
    """Every importer in its turn."""
    with tempfile.TemporaryDirectory() as folder:
        for name, (make, read) in IMPORTERS.items():
            start = time.perf_counter()
            refused = spoil(Path(folder) / "in.zip", make(), read, cases)
            took = time.perf_counter() - start
            told(f"{name}: {cases:,} spoiled inputs, unforeseen errors", 0, "errors", f"goal 0 ({took:.0f} s)")
            told(f"{name}: refused in clear lines", refused, "cases", "")


def spoil(path: Path, whole: bytes, read: Callable[[Path], object], cases: int) -> int:
    """So many spoiled inputs to one importer; how many it refused."""
    refused = 0

    @settings(max_examples=cases, deadline=None, database=None, suppress_health_check=list(HealthCheck))
    @given(st.data())
    def one(data: st.DataObject) -> None:
        nonlocal refused
        path.write_bytes(data.draw(spoiled(whole)))
        try:
            read(path)
        except YarvelError:
            refused += 1

    one()
    return refused
