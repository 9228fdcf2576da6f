"""The plan that stands is a row: on top of the one that it was made from, with its cause, whoever else keeps one."""

from __future__ import annotations

import threading
from concurrent.futures import ThreadPoolExecutor
from datetime import datetime
from typing import Any

import pytest
from sqlalchemy import select, text

from tests.patience import GIVE_UP_S
from tests.workshop.test_migrating import old_store
from yarvel.figures.errors import StoreError
from yarvel.workshop.storage.identity import new_id
from yarvel.workshop.storage.schema import ActRow, DayPlanRow
from yarvel.workshop.store import Store

WINDOWS = 8


def made_on(standing: dict[str, Any], hour: int, **more: object) -> dict[str, Any]:
    """A plan of one task, made from what stands."""
    named = new_id()
    tasks = {"3": [[1, f"2031-03-03T{hour:02d}:00"]]}
    return {
        "id": named,
        "replaces": standing.get("id", ""),
        "cause": "act",
        "after": 1,
        "root": named,
        "before": standing.get("root", ""),
        "on": "2031-03-03",
        "tasks": tasks,
        "minutes": {},
        **more,
    }


def rows(store: Store) -> list[DayPlanRow]:
    with store.transaction() as session:
        found = list(session.scalars(select(DayPlanRow).order_by(DayPlanRow.seq)))
        session.expunge_all()
    return found


def test_each_plan_stands_on_the_one_before_and_says_why(store: Store) -> None:
    """All that stood are known by name, cause and act; only the newest has its tasks."""
    assert store.day.kept.standing() == {}
    for hour, cause in enumerate(("act", "time", "offer", "undo"), start=8):
        document = made_on(store.day.kept.standing(), hour, cause=cause)
        assert store.day.kept.keep(document) and store.day.kept.standing() == document
        assert store.day.kept.keep(document), "kept already"
    kept = rows(store)
    assert [row.cause for row in kept] == ["act", "time", "offer", "undo"]
    assert [row.replaces for row in kept] == ["", *(row.id for row in kept[:-1])]
    assert [bool(row.content) for row in kept] == [False, False, False, True]
    with store.transaction() as session:
        deeds = {row.act: session.scalar(select(ActRow.deed).where(ActRow.id == row.act)) for row in kept}
    assert len(deeds) == 4 and set(deeds.values()) == {"keep-plan"}


def test_of_windows_that_keep_at_once_one_does(store: Store) -> None:
    """All made theirs from one plan and keep it in the same moment: one is told that it stands, the others that not."""
    first = made_on({}, 8)
    assert store.day.kept.keep(first)
    stores = [Store(store.location, clock=store.now) for _ in range(WINDOWS)]
    gate = threading.Barrier(WINDOWS)

    def keep(number: int) -> bool:
        document = made_on(first, 9 + number)
        gate.wait(GIVE_UP_S)
        return stores[number].day.kept.keep(document)

    with ThreadPoolExecutor(WINDOWS) as pool:
        told = list(pool.map(keep, range(WINDOWS)))
    for one in stores:
        one.close()
    assert told.count(True) == 1
    assert store.day.kept.standing()["tasks"]["3"][0][1] == f"2031-03-03T{9 + told.index(True):02d}:00"
    assert len(rows(store)) == 2


def test_the_database_itself_holds_one_on_top_of_each(store: Store) -> None:
    """Plain SQL, past all that a window looks at first."""
    first = made_on({}, 8)
    assert store.day.kept.keep(first) and store.day.kept.keep(made_on(first, 9))
    second = text(
        "INSERT INTO day_plans (id, replaces, cause, after_act, root, root_before, content, act) "
        "VALUES (:id, :replaces, 'act', 1, '', '', '{}', '')"
    )

    def insert() -> None:
        with store.transaction() as session:
            store.enter(session)
            session.execute(second, {"id": new_id(), "replaces": first["id"]})

    with pytest.raises(StoreError, match="the same is there already"):
        insert()
    assert len(rows(store)) == 2


def test_the_plan_of_an_older_store_stands_and_is_gone_from_the_settings(
    tmp_path_factory: pytest.TempPathFactory,
) -> None:
    store = Store(old_store("0019", tmp_path_factory.mktemp("old")), clock=lambda: datetime(2031, 3, 3, 8))
    standing = store.day.kept.standing()
    assert standing["id"] == standing["root"] and standing["after"] == 4 and standing["on"] == "2031-03-03"
    assert standing["tasks"]["11"] == [[2, "2031-03-03T08:00"]] and standing["minutes"] == {"7": 297.0, "2": 297.0}
    with store.transaction() as session:
        assert session.execute(text("SELECT count(*) FROM settings WHERE name = 'day_plan'")).scalar() == 0
    assert store.day.kept.keep(made_on(standing, 9))
    store.close()
