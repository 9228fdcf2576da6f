"""Both kinds of store: a file, and a database of a private PostgreSQL."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.ready import Fill, file_with, morning
from yarvel.workshop.store import Store


def pytest_generate_tests(metafunc: pytest.Metafunc) -> None:
    """Every test of the store runs on both kinds, but those that look into the file itself."""
    on_both = (
        "test_store",
        "test_tasks",
        "test_people",
        "test_merging",
        "test_fine_book",
        "test_acts",
        "test_sums",
        "test_customers",
        "test_minutes",
        "test_kept_plan",
    )
    if "store" in metafunc.fixturenames and metafunc.module.__name__.endswith(on_both):
        kinds = ["file"] if "store_path" in metafunc.fixturenames else ["file", "team"]
        metafunc.parametrize("store_kind", kinds)


@pytest.fixture
def store_kind() -> str:
    return "file"


@pytest.fixture
def place(request: pytest.FixtureRequest, store_kind: str, tmp_path: Path, filling: Fill) -> Path | str:
    """Where this test's store is."""
    if store_kind == "team":
        return str(request.getfixturevalue("team_store"))
    return file_with(tmp_path / "workshop" / "store.sqlite", filling)


@pytest.fixture
def store(place: Path | str) -> Iterator[Store]:
    made = Store(place, clock=morning)
    yield made
    made.close()
