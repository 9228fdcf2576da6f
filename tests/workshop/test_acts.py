"""Acts that waited are done once, at the time at which they happened; what is late is refused with the reason."""

from __future__ import annotations

from datetime import datetime, timedelta
from pathlib import Path

import pytest

from yarvel.figures.errors import StoreError
from yarvel.workshop.acts import GIVE, START, STOP, TICK, WEIGH, Act, do
from yarvel.workshop.store import Store
from yarvel.workshop.tasks import OPEN, STARTED
from yarvel.workshop.waiting import WaitingActs

AT = datetime(2031, 4, 9, 7, 0)


def twice(store: Store, act: Act) -> None:
    do(store, act)
    do(store, act)


def test_an_act_done_again_happens_once(store: Store) -> None:
    orla, benno = (store.people.add(name, "bench", ()) for name in ("Orla", "Benno"))
    docket = store.new_docket("Saltmarsh")
    task = store.tasks.plan_tasks(docket.id, [("Solder", 20.0)])[0]
    twice(store, Act(START, {"task": task.id, "person": orla.id}, AT))
    held = store.tasks.tasks()[0]
    assert (held.state, held.started_at) == (STARTED, AT), "when it happened, not when it was stored"
    twice(store, Act(TICK, {"task": task.id, "line": "Shank seam", "ticked": True}, AT))
    twice(store, Act(STOP, {"task": task.id, "done": False, "note": "flux is out"}, AT + timedelta(minutes=12)))
    twice(store, Act(GIVE, {"task": task.id, "person": benno.id, "note": ""}, AT + timedelta(minutes=13)))
    held = store.tasks.tasks()[0]
    assert (held.state, held.taken, held.person, held.ticks, held.note) == (
        OPEN,
        12.0,
        "Benno",
        ("Shank seam",),
        "flux is out",
    )
    told = [change.after for change in store.history(docket.id) if change.field == "Solder"]
    assert told[:2] == ["started by Orla", "stopped"]
    twice(
        store,
        Act(
            WEIGH,
            {
                "kind": "issued",
                "alloy": "18k-yellow",
                "mass": 4.2,
                "person": orla.id,
                "docket": docket.number,
                "note": "",
            },
            AT,
        ),
    )
    do(
        store,
        Act(
            WEIGH,
            {
                "kind": "issued",
                "alloy": "18k-yellow",
                "mass": 4.2,
                "person": orla.id,
                "docket": docket.number,
                "note": "",
            },
            AT + timedelta(seconds=9),
        ),
    )
    assert [(entry.at, entry.mass) for entry in store.fine.entries()] == [(AT, 4.2), (AT + timedelta(seconds=9), 4.2)]


def test_the_history_names_who_did_it_and_who_stored_it(store: Store) -> None:
    orla = store.people.add("Orla", "bench", ())
    docket = store.new_docket()
    task = store.tasks.plan_tasks(docket.id, [("Solder", 20.0)])[0]
    store.by = "Benno"
    do(store, Act(START, {"task": task.id, "person": orla.id}, AT, "Orla"))
    do(store, Act(STOP, {"task": task.id, "done": True, "note": ""}, AT + timedelta(minutes=9), "Benno"))
    told = [(change.after, change.by, change.at) for change in store.history(docket.id) if change.field == "Solder"]
    assert told == [("started by Orla", "Orla, stored by Benno", AT), ("done", "Benno", AT + timedelta(minutes=9))]
    assert store.by == "Benno"


def test_what_comes_too_late_is_refused(store: Store) -> None:
    orla = store.people.add("Orla", "bench", ())
    task = store.tasks.plan_tasks(store.new_docket().id, [("Solder", 20.0)])[0]
    store.tasks.start(task.id, orla.id, AT + timedelta(minutes=30))
    for act in (
        Act(STOP, {"task": task.id, "done": True, "note": ""}, AT),
        Act(GIVE, {"task": task.id, "person": None, "note": ""}, AT),
    ):
        with pytest.raises(StoreError, match="was started again after 07:00 UTC"):
            do(store, act)
    assert store.tasks.tasks()[0].state == STARTED
    with pytest.raises(StoreError, match="is no act: one of start a task"):
        do(store, Act("melt it", {}, AT))


def test_acts_wait_in_their_order(tmp_path: Path) -> None:
    acts = [Act(TICK, {"task": 3, "line": f"line {number}", "ticked": True}, AT, "Orla") for number in range(3)]
    theirs = WaitingActs(tmp_path)
    theirs.replace(acts)
    mine = WaitingActs(tmp_path)
    assert mine.taken_over() == [], "its window is alive"
    theirs.close()
    with next(tmp_path.glob("*.acts")).open("a") as file:
        file.write('{"name": "tick a li')
    assert mine.taken_over() == acts
    mine.replace(acts[1:])
    mine.forget()
    mine.close()
    last = WaitingActs(tmp_path)
    assert last.taken_over() == acts[1:]
    last.forget()
    assert not list(tmp_path.iterdir())
