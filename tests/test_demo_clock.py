"""A made-up workshop lives at a day of its own; no other store ever does."""

from __future__ import annotations

from datetime import timedelta
from pathlib import Path

import pytest

from tests import stated
from tests.ready import file_with
from yarvel import clock
from yarvel.app import prepare_store
from yarvel.demo.scenario import BEGINS
from yarvel.workshop.dockets.records import DocketEdit
from yarvel.workshop.storage.places import demo_store
from yarvel.workshop.store import Store

MINUTE = timedelta(minutes=1)


def test_the_demo_begins_at_its_own_morning_and_goes_on_from_where_it_was_left(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    path = demo_store()
    assert prepare_store(path, "small") and abs(clock.local_now() - BEGINS) < MINUTE
    left = clock.kept(BEGINS) + timedelta(days=2, hours=3)
    clock.begin_at(left)
    store = Store(path)
    store.edit(1, DocketEdit(job_patches=(), fields={"item": "sleeper hoop"}))
    store.close()
    stated.begin()
    assert prepare_store(path, "small") and left < clock.now() < left + 2 * MINUTE


@pytest.mark.parametrize("demo", ["", "small", "large"])
def test_a_store_that_is_there_is_never_moved_to_another_day(demo: str, tmp_path: Path) -> None:
    """Named with --store, beside --demo or not: what is done in it counts by the machine's clock."""
    before = clock.now()
    assert not prepare_store(file_with(tmp_path / "workshop.sqlite"), demo)
    assert before <= clock.now() < before + MINUTE
