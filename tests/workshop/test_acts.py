"""Acts that waited are done once, at the time at which they happened; what is late is refused with the reason."""

from __future__ import annotations

from datetime import datetime, timedelta
from pathlib import Path

import pytest

from yarvel.figures.errors import StoreError
from yarvel.workshop.acts import DEEDS, Act, GiveTask, StartTask, StopTask, TickLine, WeighMetal, act_from, do
from yarvel.workshop.storage.authors import Author
from yarvel.workshop.storage.rights import NotAllowedError
from yarvel.workshop.storage.task_states import OPEN, STARTED
from yarvel.workshop.store import Store
from yarvel.workshop.waiting import WaitingActs

AT = datetime(2031, 4, 9, 7, 0)


def twice(store: Store, act: Act) -> None:
    do(store, act)
    do(store, act)


def test_an_act_done_again_happens_once(store: Store) -> None:
    orla, benno = (store.people.add(name, "bench", ()) for name in ("Orla", "Benno"))
    docket = store.new_docket("Saltmarsh")
    task = store.tasks.plan_tasks(docket.id, [("Solder", 20.0)])[0]
    twice(store, Act(StartTask(task.id, orla.id), AT))
    held = store.tasks.tasks()[0]
    assert (held.state, held.started_at) == (STARTED, AT), "when it happened, not when it was stored"
    twice(store, Act(TickLine(task.id, "shank-seam", True), AT))
    twice(store, Act(StopTask(task.id, False, "flux is out"), AT + timedelta(minutes=12)))
    twice(store, Act(GiveTask(task.id, benno.id), AT + timedelta(minutes=13)))
    held = store.tasks.tasks()[0]
    assert (held.state, held.taken, held.person, held.ticks, held.note) == (
        OPEN,
        12.0,
        "Benno",
        ("shank-seam",),
        "flux is out",
    )
    told = [change.after for change in store.history(docket.id) if change.field == "Solder"]
    assert told[:2] == ["started by Orla", "stopped"]
    twice(
        store,
        Act(
            WeighMetal(kind="issued", alloy="18k-yellow", mass_g=4.2, person_id=orla.id, docket_number=docket.number),
            AT,
        ),
    )
    do(
        store,
        Act(
            WeighMetal(kind="issued", alloy="18k-yellow", mass_g=4.2, person_id=orla.id, docket_number=docket.number),
            AT + timedelta(seconds=9),
        ),
    )
    assert [(entry.at, entry.mass) for entry in store.fine.entries()] == [(AT, 4.2), (AT + timedelta(seconds=9), 4.2)]


@pytest.mark.keeper
def test_an_act_stands_under_whoever_did_it_not_under_who_is_here_now(store: Store) -> None:
    orla = store.people.add("Orla", "bench", ())
    docket = store.new_docket()
    task = store.tasks.plan_tasks(docket.id, [("Solder", 20.0)])[0]
    store.author = Author("Benno")
    do(store, Act(StartTask(task.id, orla.id), AT, Author("Orla")))
    do(store, Act(StopTask(task.id, True), AT + timedelta(minutes=9), Author("Benno")))
    told = [(change.after, change.by, change.at) for change in store.history(docket.id) if change.field == "Solder"]
    assert told == [("started by Orla", "Orla", AT), ("done", "Benno", AT + timedelta(minutes=9))]
    assert store.by == "Benno"


@pytest.mark.keeper
def test_an_act_has_the_rights_of_whoever_did_it(store: Store) -> None:
    """Not of whoever signs in next: a bench hand's metal is refused though an owner is here."""
    oona = store.people.first_owner("Oona", "4411")
    hand = store.people.add("Yusra", "bench")
    metal = WeighMetal(kind="issued", alloy="18k-yellow", mass_g=42.0, person_id=hand.id)
    with pytest.raises(NotAllowedError, match="bench: may not write in the fine book"):
        do(store, Act(metal, AT, Author("Yusra", hand.id)))
    with pytest.raises(NotAllowedError, match="nobody is signed in"):
        do(store, Act(metal, AT))
    with pytest.raises(NotAllowedError, match="is not Oona"):
        do(store, Act(metal, AT, Author("Yusra", oona.id)))
    assert store.fine.entries() == []
    do(store, Act(metal, AT, store.author))
    assert [entry.by for entry in store.fine.entries()] == ["Oona"]
    store.people.left(hand.id)
    with pytest.raises(NotAllowedError, match="does not work here any more"):
        do(store, Act(metal, AT, Author("Yusra", hand.id)))


def test_what_comes_too_late_is_refused(store: Store) -> None:
    orla = store.people.add("Orla", "bench", ())
    task = store.tasks.plan_tasks(store.new_docket().id, [("Solder", 20.0)])[0]
    store.tasks.start(task.id, orla.id, AT + timedelta(minutes=30))
    for act in (
        Act(StopTask(task.id, True), AT),
        Act(GiveTask(task.id, None), AT),
    ):
        with pytest.raises(StoreError, match="was started again after"):
            do(store, act)
    assert store.tasks.tasks()[0].state == STARTED
    with pytest.raises(StoreError, match="is no act: one of start-task"):
        act_from({"deed": "melt-it", "at": AT.isoformat()})
    for key in DEEDS:
        with pytest.raises(StoreError, match="is not whole"):
            act_from({"deed": key, "at": AT.isoformat(), "surprise": 1})


def test_what_waited_under_an_earlier_yarvel_is_still_done() -> None:
    held = {
        "name": "stop a task",
        "arguments": {"task": 3, "done": True, "note": "x"},
        "at": AT.isoformat(),
        "by": "Orla",
    }
    assert act_from(held) == Act(StopTask(3, True, "x"), AT, Author("Orla"))
    held = {
        "name": "weigh metal",
        "arguments": {"kind": "issued", "alloy": "a", "mass": 2.0, "person": 1, "docket": "26-0001", "note": ""},
        "at": AT.isoformat(),
        "by": "",
    }
    assert act_from(held).deed == WeighMetal(kind="issued", alloy="a", mass_g=2.0, person_id=1, docket_number="26-0001")


def test_acts_wait_in_their_order(tmp_path: Path) -> None:
    acts = [Act(TickLine(3, f"line {number}", True), AT, Author("Orla", 7, "secret")) for number in range(3)]
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
