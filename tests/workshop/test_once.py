"""What is done has a name, and is in the store once: over a wire that answers late, a window that dies, and a second
try by somebody else."""

from __future__ import annotations

import re
import threading
from collections.abc import Callable, Iterator
from datetime import datetime, timedelta
from pathlib import Path

import pytest
from msgspec.structs import replace
from sqlalchemy import create_engine, select, text

from tests.patience import GIVE_UP_S
from tests.stated import MOMENT
from yarvel import clock
from yarvel.day.axis import Hours
from yarvel.figures.custom import metals_from
from yarvel.figures.errors import DoneAlreadyError, StoreError
from yarvel.figures.rules import HouseRules
from yarvel.workshop.acts import Act, GiveBack, TakeLot, TakeStock, WeighMetal, act_from, do
from yarvel.workshop.dockets.records import DocketEdit
from yarvel.workshop.drawer.stock import LOT, StockItem
from yarvel.workshop.storage.authors import Author
from yarvel.workshop.storage.identity import new_id
from yarvel.workshop.storage.location import location
from yarvel.workshop.storage.schema import ActRow, SettingRow
from yarvel.workshop.storage.settings import document
from yarvel.workshop.store import Store
from yarvel.workshop.waiting import WaitingActs, WaitingEdits
from yarvel.workshop.work.errands import USUAL
from yarvel.workshop.work.snapshot import USUAL_STATIONS
from yarvel.workshop.work.standards import STANDARDS

WEIGHED = WeighMetal(kind="bought", alloy="18k-yellow", mass_g=12.5)


@pytest.fixture
def store(each_store: Store) -> Store:
    return each_store


def acts(store: Store) -> list[tuple[str, str, str]]:
    with store.transaction() as session:
        return [(row.id, row.deed, row.by) for row in session.scalars(select(ActRow).order_by(ActRow.seq))]


def at_once(store: Store, act: Act) -> None:
    """The first COMMIT is late: it is tried again on another connection, which waits for it."""
    begun, trying, finish = threading.Event(), threading.Event(), threading.Event()
    slow, answers = Store(store.location, clock=store.now), list[object]()
    whole = slow.transaction

    def first() -> None:
        late = slow.acting(act.author, act.stamp())
        with whole() as session:
            late.enter(session)
            act.deed.do(_within(late, session), act.at)
            begun.set()
            assert finish.wait(GIVE_UP_S)

    def again() -> None:
        trying.set()
        answers.append(do(store, act))

    threads = [threading.Thread(target=first), threading.Thread(target=again)]
    threads[0].start()
    assert begun.wait(GIVE_UP_S)
    threads[1].start()
    assert trying.wait(GIVE_UP_S)  # from here on it waits for the other one's COMMIT
    finish.set()
    for thread in threads:
        thread.join(GIVE_UP_S)
    slow.close()
    assert answers == [None]


def _within(store: Store, session: object) -> Store:
    """The store, all of whose transactions are this one."""
    from contextlib import contextmanager

    @contextmanager
    def same():  # type: ignore[no-untyped-def]
        yield session

    store.transaction = same  # type: ignore[method-assign]
    return store


def test_a_line_of_metal_whose_commit_was_late_stands_once(store: Store) -> None:
    at_once(store, Act(WEIGHED, MOMENT, Author("Tilda"), new_id()))
    assert [entry.mass for entry in store.fine.entries()] == [12.5]


def test_a_lot_given_back_over_a_late_wire_is_one_lot(store: Store) -> None:
    docket, orla = store.new_docket("Saltmarsh"), store.people.add("Orla")
    lot = {"kind": LOT, "code": "OC-1", "metal": "18k-yellow", "mass_g": 1.24, "shape": "sheet"}
    act = Act(GiveBack(lot, docket.id, orla.id), MOMENT, Author("Orla"), new_id())
    at_once(store, act)
    assert [item.code for item in store.drawer.items()] == ["OC-1"]
    assert [entry.mass for entry in store.fine.entries()] == [1.24]


def test_two_things_that_look_alike_are_two(store: Store) -> None:
    """The same grams of the same alloy at the same moment, weighed twice: two names, two lines."""
    for act in (Act(WEIGHED, MOMENT, Author("Tilda"), new_id()) for _ in range(2)):
        do(store, act)
        do(store, act)
    assert [entry.mass for entry in store.fine.entries()] == [12.5, 12.5]
    docket, orla = store.new_docket("Saltmarsh"), store.people.add("Orla")
    store.drawer.add([StockItem(kind="head", code="H-1", quantity=5.0)])
    store.drawer.add([StockItem(kind=LOT, code="L-1", metal="18k-yellow", shape="sheet", mass_g=9.0)])
    head, lot = (next(item.id for item in store.drawer.items() if item.code == code) for code in ("H-1", "L-1"))
    for deed in (TakeStock(head, docket.id), TakeLot(lot, docket.id, 2.0, None, orla.id)):
        for act in (Act(deed, MOMENT, Author("Orla"), new_id()) for _ in range(2)):
            do(store, act)
            do(store, act)
    kept = {item.code: (item.quantity, item.mass_g) for item in store.drawer.items()}
    assert kept["H-1"][0] == 3.0 and kept["L-1"][1] == 5.0


def test_a_name_stands_for_one_content(store: Store) -> None:
    docket, name = store.new_docket("Saltmarsh"), new_id()
    store.edit(docket.id, DocketEdit(fields={"item": "An"}, id=name))
    with pytest.raises(StoreError, match="something else was stored under its name"):
        store.edit(docket.id, DocketEdit(fields={"item": "Anneliese"}, id=name))
    assert store.docket(docket.id).item == "An"


def test_what_is_sent_again_is_no_second_line_of_history(store: Store) -> None:
    """A window that died between commit and emptying its journal: the next one sends all of it again."""
    docket = store.new_docket("Saltmarsh", item="A")
    edits = [
        DocketEdit(fields={"item": after}, fields_seen={"item": before}, id=new_id())
        for before, after in (("A", "B"), ("B", "C"))
    ]
    for edit in (*edits, *edits, edits[0]):
        assert store.edit(docket.id, edit).item in ("B", "C")
    told = [(change.before, change.after) for change in store.history(docket.id) if change.field == "item"]
    assert told == [("A", "B"), ("B", "C")] and store.docket(docket.id).item == "C"


def test_a_docket_is_taken_in_once_with_what_was_typed(store: Store) -> None:
    edit = DocketEdit(fields={"customer": "Saltmarsh", "item": "sleeper hoop"}, id=new_id(), author=Author("Tilda"))
    mine = store.acting(edit.author)
    first, again = mine.take_in(edit), mine.take_in(edit)
    assert first == again and (first.customer, first.item) == ("Saltmarsh", "sleeper hoop")
    assert len(store.dockets()) == 1
    assert [(deed, by) for _, deed, by in acts(store)] == [("take-in", "Tilda")]
    with pytest.raises(StoreError), store.transaction() as session:
        mine.enter(session, edit.stamp("take-in"))


def test_what_is_refused_leaves_no_act_behind(store: Store) -> None:
    docket = store.new_docket("Saltmarsh")
    before = acts(store)
    with pytest.raises(StoreError):
        store.edit(docket.id, DocketEdit(fields={"nonsense": 1}, id=new_id()))
    with pytest.raises(StoreError):
        do(store, Act(WeighMetal(kind="bought", alloy="brass", mass_g=1.0), MOMENT, Author("Tilda"), new_id()))
    assert acts(store) == before


def test_every_line_names_the_act_that_wrote_it(store: Store) -> None:
    docket, name = store.new_docket("Saltmarsh"), new_id()
    store.edit(docket.id, DocketEdit(fields={"item": "ring"}, id=name))
    weighed = Act(WEIGHED, MOMENT, Author("Tilda"), new_id())
    do(store, weighed)
    with store.transaction() as session:
        lines = session.execute(text("SELECT act FROM changes WHERE field = 'item'")).scalars().all()
        metal = session.execute(text("SELECT act FROM fine_entries")).scalars().all()
    assert (lines, metal) == ([name], [weighed.id])


def test_nothing_is_pressed_after_it_is_stored(store: Store) -> None:
    """By a machine whose clock is three months ahead."""
    ahead = Act(WEIGHED, MOMENT, Author("Tilda"), new_id())
    edit = DocketEdit(fields={"item": "ring"}, id=new_id(), pressed=MOMENT + timedelta(days=92))
    store.edit(store.new_docket().id, edit)
    do(store, ahead)
    with store.transaction() as session:
        for row in session.scalars(select(ActRow)):
            assert row.pressed_at == row.stored_at == MOMENT


@pytest.mark.keeper
def test_acts_are_never_altered(store: Store) -> None:
    do(store, Act(WEIGHED, MOMENT, Author("Tilda"), new_id()))
    for statement in ("UPDATE acts SET deed = 'x'", "DELETE FROM acts"):
        with pytest.raises(StoreError, match="never altered"), store.transaction() as session:
            session.execute(text(statement))


def test_names_are_uuids_of_version_seven_in_the_order_of_their_moments() -> None:
    """RFC 9562, section 5.7: 48 bits of milliseconds, version 7, variant 10."""
    names = [new_id() for _ in range(400)]
    assert len(set(names)) == 400
    for name in names:
        assert re.fullmatch(r"[0-9a-f]{8}-[0-9a-f]{4}-7[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}", name)
    ms = [int(name.replace("-", "")[:12], 16) for name in names]
    stated = int((MOMENT - type(MOMENT)(1970, 1, 1)).total_seconds() * 1000)
    assert ms == sorted(ms) and stated <= ms[0] < stated + 600_000


def test_names_go_through_the_journal(tmp_path: Path) -> None:
    edit = DocketEdit(fields={"item": "ring"}, id=new_id(), follows=new_id(), pressed=MOMENT)
    act = Act(WEIGHED, MOMENT, Author("Tilda"), new_id())
    edits, deeds = WaitingEdits(tmp_path), WaitingActs(tmp_path)
    edits.add(7, edit)
    edits.add(edit.id, edit)
    deeds.replace([act])
    edits.close()
    deeds.close()
    assert WaitingEdits(tmp_path).taken_over() == {7: (edit,), edit.id: (edit,)}
    assert WaitingActs(tmp_path).taken_over() == [act] == [act_from(act.document())]
    assert act.stamp() == act_from(act.document()).stamp()


def test_a_docket_that_waited_for_an_earlier_yarvel_is_taken_in_as_one(tmp_path: Path) -> None:
    """Up to layout 0016 such lines had the number nought and no name."""
    waiting = WaitingEdits(tmp_path)
    waiting.add(0, DocketEdit(fields={"customer": "Saltmarsh"}))
    waiting.add(0, DocketEdit(fields={"item": "ring"}))
    waiting.close()
    ((key, edits),) = WaitingEdits(tmp_path).taken_over().items()
    assert isinstance(key, str) and [edit.id for edit in edits] == [key]
    assert edits[0].fields == {"customer": "Saltmarsh", "item": "ring"}


@pytest.fixture
def locked(team_store: str) -> Iterator[tuple[str, int, Callable[[str, str], str]]]:
    """A team with an owner who has a PIN; a connection that tries one, in whatever zone it likes to say it is in."""
    store = Store(team_store)
    owner = store.people.first_owner("Tilda", "97531")
    store.close()
    engine = create_engine(location(team_store).url)

    def tried(zone: str, proof: str) -> str:
        with engine.begin() as connection:
            connection.execute(text(f"SET TIME ZONE '{zone}'"))
            said = connection.execute(
                text("SELECT yarvel_sign_in(:who, :proof, :token)"),
                {"who": owner.id, "proof": proof, "token": new_id()},
            )
            return str(said.scalar_one())

    yield team_store, owner.id, tried
    engine.dispose()


def test_a_lock_of_pins_holds_in_every_zone(locked: tuple[str, int, Callable[[str, str], str]]) -> None:
    """Whoever sets another zone after each five tries neither has more tries nor locks somebody for days."""
    _, _, tried = locked
    assert [tried("UTC", "wrong") for _ in range(5)] == ["wrong"] * 4 + ["locked 300"]
    for zone in ("UTC", "Pacific/Kiritimati", "Etc/GMT+12", "<x>-167:59", "<x>+167:59"):
        said = tried(zone, "wrong")
        assert said.startswith("locked ") and 0 < int(said.split()[1]) <= 300, zone


@pytest.mark.keeper
def test_no_function_of_the_server_reads_a_clock_that_a_window_sets(team_store: str) -> None:
    engine = create_engine(location(team_store).url)
    with engine.connect() as connection:
        bodies = connection.execute(text("SELECT proname, prosrc FROM pg_proc WHERE proname LIKE 'yarvel_%'")).all()
    engine.dispose()
    assert len(bodies) >= 10
    for name, body in bodies:
        assert not re.search(r"local(time|timestamp)|current_(time|date|timestamp)", body, re.IGNORECASE), name
        assert len(re.findall(r"\b(?:now|clock_timestamp)\(\)", body)) == body.count("AT TIME ZONE 'UTC'"), name


def test_what_is_done_already_says_so(store: Store) -> None:
    act = Act(WEIGHED, MOMENT, Author("Tilda"), new_id())
    do(store, act)
    mine = store.acting(act.author, act.stamp())
    with pytest.raises(DoneAlreadyError):
        act.deed.do(mine, act.at)


@pytest.mark.keeper
def test_nobody_is_told_the_names_of_constraints(store: Store) -> None:
    docket = store.new_docket("Saltmarsh")
    for statement in (
        f"UPDATE dockets SET weight_in_g = -4 WHERE id = {docket.id}",
        f"UPDATE dockets SET number = NULL WHERE id = {docket.id}",
        "INSERT INTO alloys (key) VALUES ('18k-yellow')",
    ):
        with pytest.raises(StoreError) as caught, store.transaction() as session:
            session.execute(text(statement))
        told = str(caught.value).removeprefix(str(store.location))
        assert "look" in told and not re.search(r"constraint|duplicate|violates|_", told), told


def all_at_once(store: Store, what: Callable[[Store, int], object], count: int = 12) -> None:
    """Have so many windows do something at the same moment."""
    began, failed = threading.Barrier(count), list[BaseException]()

    def run(number: int) -> None:
        mine = Store(store.location, clock=store.now)
        try:
            began.wait(GIVE_UP_S)
            what(mine, number)
        except BaseException as error:
            failed.append(error)
        mine.close()

    threads = [threading.Thread(target=run, args=(number,)) for number in range(count)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(GIVE_UP_S)
    assert failed == []


def test_settings_of_many_windows_all_stand(store: Store) -> None:
    """Absences, hours, closed days, stations, ways out, customers told, paces: rows, and nobody's is written over."""
    people = [store.people.add(f"Hand {number}") for number in range(12)]
    dockets = [store.new_docket(f"Customer {number}") for number in range(12)]
    begins = datetime(2031, 4, 10, 9)
    all_at_once(store, lambda mine, n: mine.day.add_absence(people[n].id, begins, begins + timedelta(hours=2)))
    assert len({absence.id for absence in store.day.absences()}) == 12
    assert {absence.person_id for absence in store.day.absences()} == {person.id for person in people}
    week = (((540, 720),),) * 5 + ((), ())
    all_at_once(store, lambda mine, n: mine.day.keep_own_week(people[n].id, week))
    assert set(store.day.own_weeks()) == {person.id for person in people}
    all_at_once(store, lambda mine, n: mine.customers.tell(dockets[n].id, begins.date()))
    assert set(store.customers.told()) == {docket.id for docket in dockets}
    week = store.day.hours().week
    days = [datetime(2031, 12, 1 + number).date() for number in range(12)]

    def shut_or_shorten(mine: Store, n: int) -> None:
        """Seven shorten a weekday each, the others shut a day of December each, all from one sight of the hours."""
        shorter = (*week[:n], ((480, 600 + 5 * n),), *week[n + 1 :])
        mine.day.keep_hours(Hours(shorter) if n < 7 else Hours(week, frozenset({days[n]})), Hours(week))

    all_at_once(store, shut_or_shorten)
    hours = store.day.hours()
    assert hours == Hours(tuple(((480, 600 + 5 * n),) for n in range(7)), frozenset(days[7:]))
    stations, errands = list(USUAL_STATIONS), list(USUAL)
    all_at_once(store, lambda mine, n: mine.day.keep_station(stations[n], 10 + n), len(stations))
    assert list(store.day.stations().values()) == [10 + n for n in range(len(stations))]
    all_at_once(store, lambda mine, n: mine.day.errands.keep(replace(errands[n], back=20 + n)), len(errands))
    assert [errand.back for errand in store.day.errands.all().values()] == [20 + n for n in range(len(errands))]
    parts = list(STANDARDS)[:12]
    all_at_once(store, lambda mine, n: mine.tasks.keep_pace(parts[n], 50 + n))
    paces = store.tasks.standards()
    assert [paces[part].pace for part in parts] == [50.0 + number for number in range(12)]


def test_of_two_who_change_one_thing_the_second_is_asked(store: Store) -> None:
    """From one sight of it: nothing is written over, and whoever was faster is named; nobody clashes with themselves,
    nor where both say the same."""
    orla = store.people.add("Orla").id
    lev, tilda = (store.acting(Author(name)) for name in ("Lev", "Tilda"))
    seen, errand, week = store.day.hours(), USUAL[0], (((540, 720),),) * 5 + ((), ())
    short, shorter = (Hours((((480, end),), *seen.week[1:])) for end in (720, 600))
    changes: dict[str, Callable[[Store, int], None]] = {
        "hours of Mon": lambda mine, n: mine.day.keep_hours((short, shorter)[n], seen),
        "hours of Orla": lambda mine, n: mine.day.keep_own_week(orla, (week, week[:4] + ((),) * 3)[n], None),
        "at once, torch": lambda mine, n: mine.day.keep_station("torch", 5 + n, 2),
        "to the assay office": lambda mine, n: mine.day.errands.keep(replace(errand, back=20 + n), errand),
    }
    for what, change in changes.items():
        for which in (0, 1, 0):
            change(lev, which)
        with pytest.raises(StoreError, match=f"{what}: changed meanwhile by Lev: look again"):
            change(tilda, 1)
        change(tilda, 0)
    assert store.day.hours() == short and store.day.own_weeks() == {orla: week}
    assert (store.day.stations()["torch"], store.day.errands.all()[errand.key].back) == (5, 20)
    for number in range(1, 5):  # each shuts another day, from a sight in which all others are open
        mine = store.acting(Author(f"Hand {number}"))
        mine.day.keep_hours(Hours((*short.week[:number], (), *short.week[number + 1 :])), short)
    with pytest.raises(StoreError, match="open on no day"):
        tilda.day.keep_hours(Hours(((), *short.week[1:])), short)
    assert sum(map(bool, store.day.hours().week)) == 1


def test_what_was_refused_of_the_house_changes_nothing_of_it(store: Store) -> None:
    seen = store.day.hours()
    store.day.keep_station("torch", 4)
    mine = store.acting(Author("Tilda"))
    with pytest.raises(StoreError, match="at once, torch"):
        mine.day.keep_house(Hours(seen.week, frozenset({MOMENT.date()})), {"torch": 3}, [], seen, {"torch": 2})
    assert store.day.hours() == seen


def test_whoever_left_is_neither_pinned_nor_absent(store: Store) -> None:
    orla, docket = store.people.add("Orla"), store.new_docket("Saltmarsh")
    task = store.tasks.plan_tasks(docket.id, [("solder", 20.0)])[0]
    store.people.left(orla.id)
    begins = datetime(2031, 4, 10, 9)
    for attempt in (
        lambda: store.day.add_absence(orla.id, begins, begins + timedelta(hours=2)),
        lambda: store.day.pin(task.id, orla.id, None),
        lambda: store.day.pin(task.id, 999, None),
    ):
        with pytest.raises(StoreError, match="somebody who works here"):
            attempt()
    assert store.tasks.tasks()[0].person == ""


def test_an_alloy_of_the_workshops_own_is_not_like_itself() -> None:
    _, problems = metals_from({"own-g": {"label": "G", "like": "own-g", "parts": {"Au": 1.0}}})
    assert [(problem.path, problem.wrong) for problem in problems] == [
        ("rules.metals.own-g.like", "is this alloy itself")
    ]


SPOILT = {
    "notch_target": "a third",
    "culet_least_mm": 99.0,
    "nonsense": 4,
    "splay_deg": 9.5,
    "alloys": {"18k-yellow": {"price_per_g": 61.0}, "14k-yellow": ["none"]},
    "metals": {"own-ash": 3},
    "species": [1, 2],
    "currency": "EUR",
}


@pytest.mark.keeper
def test_rules_that_cannot_be_read_keep_nobody_out(store: Store) -> None:
    """By plain SQL, or by another Yarvel: the usual ones count, what is good stays, nothing is lost."""
    with store.transaction() as session:
        session.merge(SettingRow(name="house_rules", value=SPOILT))
    rules = store.house.rules()
    usual = HouseRules()
    assert (rules.splay_deg, rules.custom.currency, rules.notch_target) == (9.5, "EUR", usual.notch_target)
    assert (
        rules.custom.alloys == (("18k-yellow", "price_per_g", 61.0),) and rules.culet_least_mm == usual.culet_least_mm
    )
    bad = ["alloys.14k-yellow", "culet_least_mm", "metals.own-ash", "nonsense", "notch_target", "species"]
    assert store.house.unreadable_rules() == bad
    kept = store.house.keep(rules.but(splay_deg=11.0), rules)
    assert kept.splay_deg == store.house.rules().splay_deg == 11.0 and store.house.unreadable_rules() == []
    with store.transaction() as session:
        beside = document(session, "house_rules_unread")
    assert sorted(beside) == bad and beside["notch_target"] == "a third"


def test_two_who_pin_one_task_at_once_both_know(store: Store) -> None:
    """The second is told where it is by now, and by whom; nobody clashes with themselves."""
    docket = store.new_docket("Saltmarsh")
    ids = {name: store.people.add(name).id for name in ("Lev", "Tilda")}
    (task,) = store.tasks.plan_tasks(docket.id, [("size", 20.0)])
    nine, ten = (datetime(2031, 4, 10, hour).isoformat() for hour in (9, 10))
    lev, tilda = (store.acting(Author(name)) for name in ids)
    unseen = ("", None)
    lev.day.pin(task.id, ids["Lev"], nine, MOMENT, unseen)
    with pytest.raises(StoreError, match="set to Lev, from 10 Apr 11:00 meanwhile, by Lev: look again"):
        tilda.day.pin(task.id, ids["Tilda"], ten, MOMENT, unseen)
    lev.day.pin(task.id, ids["Lev"], ten, MOMENT, unseen)
    tilda.day.pin(task.id, ids["Tilda"], nine, MOMENT, ("Lev", ten))
    (held,) = store.tasks.tasks()
    assert (held.person, held.pinned_at) == ("Tilda", datetime(2031, 4, 10, 9))


def test_an_act_that_takes_another_back_names_it(store: Store) -> None:
    first = Act(WEIGHED, MOMENT, Author("Tilda"), new_id())
    back = Act(WEIGHED, MOMENT, Author("Tilda"), new_id(), first.id)
    for act in (first, back):
        do(store, act_from(act.document()))
    with store.transaction() as session:
        names = session.execute(text("SELECT id, follows FROM acts ORDER BY seq DESC LIMIT 2")).all()
    assert [tuple(row) for row in names] == [(back.id, first.id), (first.id, "")]


def test_a_machines_clock_is_set_right_by_its_server(team_store: str, monkeypatch: pytest.MonkeyPatch) -> None:
    """Its guards' clock stands at the tests' moment, years ahead of this machine's."""
    monkeypatch.setattr(clock, "_ahead", timedelta())
    monkeypatch.setattr(clock, "_source", clock._of_the_machine)
    assert abs(clock.now() - MOMENT) > timedelta(days=300)
    store = Store(team_store)
    assert abs(clock.now() - MOMENT) < timedelta(hours=1)
    docket = store.new_docket("Saltmarsh")
    assert docket.number == "31-0001" and abs(docket.created_at - MOMENT) < timedelta(hours=1)
    store.close()
    clock.begin_at(datetime(2029, 1, 1))
    clock.agree_with(MOMENT)
    assert clock.now().year == 2029, "a stated moment stays stated"
