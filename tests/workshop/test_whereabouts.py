"""Where a docket is, told from what the store knows."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date, datetime, timedelta
from pathlib import Path

import pytest

from yarvel.clock import kept
from yarvel.day.dispatch import dispatch
from yarvel.workshop.dockets.records import READY, DocketEdit
from yarvel.workshop.store import Store
from yarvel.workshop.whereabouts import whereabouts
from yarvel.workshop.work.day_reading import read, shown_document
from yarvel.workshop.work.tasks import Wanted

MONDAY = datetime(2031, 3, 3, 8, 0)
WORK = (Wanted("head", 60.0, 0.0, "bench"), Wanted("set", 30.0, 0.0, "bench"))


@pytest.fixture
def clock() -> list[datetime]:
    return [MONDAY]


@pytest.fixture
def small(tmp_path: Path, clock: list[datetime]) -> Iterator[Store]:
    store = Store(tmp_path / "a.sqlite", clock=lambda: kept(clock[0]))
    store.people.add("Orla", "lead", ("mounting", "setting", "checking"))
    store.new_docket("Saltmarsh", "Ring", date(2031, 3, 6), state="in work")
    yield store
    store.close()


def test_from_the_bench_to_the_assay_office_and_back(small: Store, clock: list[datetime]) -> None:
    assert whereabouts(small, small.docket(1)) == "Nobody has been given its work yet."
    head, setting = small.tasks.plan_tasks(1, WORK)
    assert whereabouts(small, small.docket(1)) == "Next: Make the head.", "no plan was shown yet"
    reading = read(small.day.snapshot())
    small.day.kept.keep(shown_document(reading, dispatch(reading.shop), MONDAY))
    told = whereabouts(small, small.docket(1)).split("\n")
    assert told == ["Next: Make the head, by the plan Mon 3 Mar 8:00.", "Ready by the plan Mon 3 Mar."]
    orla = small.people.all()[0].id
    clock[0] += timedelta(minutes=5)
    small.tasks.start(head.id, orla)
    told = whereabouts(small, small.docket(1)).split("\n")
    assert told[0] == "In Orla's hands since 8:05: Make the head." and told[1].startswith("Next: Set the stone")
    clock[0] += timedelta(minutes=60)
    small.tasks.stop(head.id, done=True)
    small.day.errands.send(head.id, "out-hallmark")
    out = next(task for task in small.tasks.tasks(1) if task.operation == "out-hallmark")
    small.tasks.start(out.id, orla)
    clock[0] += timedelta(minutes=10)
    small.tasks.stop(out.id, done=True)
    told = whereabouts(small, small.docket(1)).split("\n")  # five days later is a Saturday: shut
    assert told[0] == "Out of the house: assay office, back Mon 10 Mar." and "Set the stone" in told[1]
    clock[0] = datetime(2031, 3, 10, 8, 0)
    assert "Out of the house" not in whereabouts(small, small.docket(1))
    small.tasks.start(setting.id, orla)
    small.tasks.stop(setting.id, done=True)
    assert whereabouts(small, small.docket(1)) == "All its work is done."
    small.edit(1, DocketEdit(job_patches=(), fields={"state": READY}, job_seen=(), fields_seen={"state": "in work"}))
    assert whereabouts(small, small.docket(1)) == "", "its state says it"
