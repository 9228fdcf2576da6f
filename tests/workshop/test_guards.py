"""Nothing changes without an act, and no act without its author: what a database holds to by itself, whoever writes."""

from __future__ import annotations

import json
from collections.abc import Iterator
from datetime import date, datetime
from pathlib import Path

import pytest
from sqlalchemy import text

from tests.private_server import PrivateServer
from tests.ready import as_keeper
from tests.stated import MOMENT
from yarvel.cli import main
from yarvel.demo.scenario import fill
from yarvel.figures.errors import StoreError
from yarvel.workshop.dockets.edit_rights import acts_of
from yarvel.workshop.dockets.records import DOCUMENTS, FIELDS, HANDED_OVER, SILENT, STATES, DocketEdit
from yarvel.workshop.drawer.stock import StockItem
from yarvel.workshop.preparing import prepare_machine
from yarvel.workshop.replaying import replay
from yarvel.workshop.storage import guards
from yarvel.workshop.storage.location import location
from yarvel.workshop.storage.rights import ROLES, WHO_MAY, NotAllowedError
from yarvel.workshop.storage.schema import ChangeRow
from yarvel.workshop.store import Store
from yarvel.workshop.touching import touches

PINS = {"Oona": "4411", "Lev": "1357", "Yusra": "24682", "Ib": "8080"}
PEOPLE = {"Lev": "lead", "Yusra": "bench", "Ib": "front desk"}


@pytest.fixture(params=["file", "team"])
def store(request: pytest.FixtureRequest, tmp_path: Path) -> Iterator[Store]:
    made = Store(tmp_path / "s.sqlite" if request.param == "file" else request.getfixturevalue("team_store"), by="Orla")
    yield made
    made.close()


@pytest.fixture
def staffed(team_store: str) -> Iterator[Store]:
    """A team of four with a docket, tasks and a drawer; the owner is signed in."""
    made = Store(team_store)
    made.people.first_owner("Oona", PINS["Oona"])
    for name, role in PEOPLE.items():
        person = made.people.add(name, role)
        made.people.set_pin(person.id, PINS[name])
    docket = made.new_docket("Saltmarsh", "band")
    made.tasks.plan_tasks(docket.id, [("size", 20.0), ("polish", 30.0)])
    made.drawer.add([StockItem(kind="head", code="H-1", quantity=5.0)])
    made.fine.add("bought", "18k-yellow", 20.0)
    yield made
    made.close()


def say(store: Store, statement: str, act: bool = True) -> None:
    """Plain SQL of a window, as something that it says it does."""
    with store.transaction() as session:
        if act:
            store.enter(session)
        session.execute(text(statement))


def effects(store: Store, table: str) -> list[tuple[str, object, object]]:
    query = "SELECT row_key, before, after FROM effects WHERE table_name = :table ORDER BY id"
    with store.transaction() as session:
        rows = session.execute(text(query), {"table": table}).all()
    return [(key, *map(plain, held)) for key, *held in rows]


def plain(held: object) -> object:
    """A file hands its JSON out as text."""
    return json.loads(held) if isinstance(held, str) else held


# --- plain SQL in the windows' role ----------------------------------------------------------------------------------

CHANGES = (
    "UPDATE dockets SET state = 'handed over'",
    "UPDATE dockets SET deposit = 500",
    "UPDATE tasks SET dropped_at = '2031-04-09 08:30'",
    "UPDATE settings SET value = '{\"bench_fee\": \"x\"}' WHERE name = 'stations/torch'",
    "INSERT INTO settings (name, value) VALUES ('house_rules', '{\"notch_target\": \"all of it\"}')",
    "INSERT INTO tasks (docket_id, position, operation, state, standard_minutes, note, ticks, wait_minutes, station) "
    "VALUES (1, 9, 'polish', 'open', 5, '', '[]', 0, '')",
    "UPDATE stock_items SET quantity = 0",
    'UPDATE dockets SET job_document = \'{"format": "yarvel-job/1", "head": {"claws": 6}}\'',
    'UPDATE dockets SET job_document = \'{"format": "yarvel-job/1", "stone": {"width_mm": 5.1}}\'',
)


@pytest.mark.parametrize("statement", CHANGES)
def test_nothing_changes_without_an_act(staffed: Store, statement: str) -> None:
    if "settings SET" in statement:
        staffed.day.keep_station("torch", 3)
    with pytest.raises(StoreError, match="without an act that says so"):
        say(staffed, statement, act=False)
    say(staffed, statement)


@pytest.mark.parametrize("statement", CHANGES)
def test_nobody_changes_what_is_not_theirs(staffed: Store, statement: str) -> None:
    """By the same table as the program: who may not there, may not by plain SQL."""
    staffed.day.keep_station("torch", 3)
    may = {
        CHANGES[0]: {"Oona", "Lev", "Ib"},
        CHANGES[1]: {"Oona", "Lev", "Ib"},
        CHANGES[2]: {"Oona", "Lev", "Yusra", "Ib"},  # a docket put aside takes its tasks along
        CHANGES[3]: {"Oona", "Lev"},
        CHANGES[4]: {"Oona", "Lev"},
        CHANGES[5]: {"Oona", "Lev", "Yusra"},
        CHANGES[6]: {"Oona", "Lev", "Yusra"},
        CHANGES[7]: {"Oona", "Lev", "Yusra"},
        CHANGES[8]: {"Oona", "Lev", "Yusra", "Ib"},  # everybody measures
    }[statement]
    for name in ("Ib", "Yusra", "Lev", "Oona"):
        hand = Store(staffed.location)
        hand.people.sign_in(name, PINS[name])
        if name in may:
            say(hand, statement)
            hand.close()
            break
        with pytest.raises(StoreError, match=f"{PEOPLE.get(name, 'owner')}: may not change"):
            say(hand, statement)
        hand.close()


def test_the_front_desk_puts_a_docket_aside_while_its_clock_runs(staffed: Store) -> None:
    """What leaves with it is not the front desk's to change otherwise."""
    task = staffed.tasks.tasks()[0]
    staffed.tasks.start(task.id, next(person.id for person in staffed.people.all() if person.name == "Yusra"))
    hand = Store(staffed.location)
    hand.people.sign_in("Ib", PINS["Ib"])
    assert hand.edit(1, DocketEdit(fields={"withdrawn": "taken in twice"})).withdrawn
    assert staffed.tasks.tasks() == []
    with staffed.transaction() as session:
        assert session.execute(text("SELECT count(*) FROM task_times WHERE stopped_at IS NULL")).scalar_one() == 0
    with pytest.raises(StoreError, match="front desk: may not"):
        say(hand, "UPDATE tasks SET note = 'hello'")
    hand.close()


def test_a_docket_changed_by_plain_sql_has_its_line_under_whoever_did_it(staffed: Store) -> None:
    hand = Store(staffed.location)
    hand.people.sign_in("Ib", PINS["Ib"])
    say(hand, "UPDATE dockets SET deposit = 500, item = 'ring'")
    line = hand.history(1)[-1]
    assert (line.by, line.field) == ("Ib", "edit")
    assert line.before == {"item": "band", "deposit": None} and line.after == {"item": "ring", "deposit": 500.0}
    with pytest.raises(StoreError, match="nobody releases in another's name"):
        say(hand, "UPDATE dockets SET released_by = 'Oona'")
    hand.close()


def test_what_is_dropped_or_counted_by_plain_sql_is_written_down(staffed: Store) -> None:
    before = len(effects(staffed, "tasks"))
    say(staffed, "UPDATE tasks SET dropped_at = '2031-04-09 08:30'")
    dropped = effects(staffed, "tasks")[before:]
    assert len(dropped) == 2
    assert all(held == {"dropped_at": None} and set(after) == {"dropped_at"} for _key, held, after in dropped)
    with staffed.transaction() as session:
        by = session.execute(
            text(
                'SELECT DISTINCT acts."by" FROM effects JOIN acts ON acts.id = effects.act '
                "WHERE effects.table_name = 'tasks'"
            )
        ).scalars()
        assert list(by) == ["Oona"]
    for statement in ("INSERT INTO effects (table_name, row_key, before, after) VALUES ('x', '1', '1', '1')",):
        with pytest.raises(StoreError, match="permission denied"):
            say(staffed, statement)


@pytest.mark.parametrize(
    ("statement", "why"),
    [
        ("UPDATE dockets SET number = '31-9999'", "permission denied"),
        ("UPDATE dockets SET id = 77", "permission denied"),
        ("INSERT INTO dockets (id, number) VALUES (9, '31-0009')", "permission denied"),
        ("SELECT nextval('dockets_id_seq')", "permission denied"),
        ("LOCK TABLE dockets IN ACCESS EXCLUSIVE MODE", "permission denied"),
        ("UPDATE people SET database_role = 'windows'", "permission denied"),
        ("SELECT yarvel_tell_docket(1, '{}', '{\"item\": \"x\"}', timestamp '2031-01-01 00:00')", "permission denied"),
        (
            "CREATE OR REPLACE FUNCTION yarvel_now() RETURNS timestamp LANGUAGE sql AS 'SELECT null'",
            "permission denied",
        ),
        ("DELETE FROM touches", "permission denied"),
        ("UPDATE acts SET \"by\" = 'Lev'", "permission denied"),
    ],
)
def test_what_a_window_has_no_right_to_at_all(staffed: Store, statement: str, why: str) -> None:
    with pytest.raises(StoreError, match=why):
        say(staffed, statement)


DOCKET = (
    "INSERT INTO dockets (number, customer, item, state, job_document, drafts, ticks, customer_kind, metal, mark, "
    "reported, condition, earlier_number, claw_chart, measured, released_by, release_reason, estimate, withdrawn, "
    "importance, approved, words, version, created_at, updated_at) VALUES ('{}', 'x', 'x', 'taken in', '{{}}', '{{}}', "
    "'[]', '', '', '', '', '', '', '{{}}', '{{}}', '', '', '{{}}', '', '', '{{}}', '', 7, '2031-04-09 08:30', "
    "'1999-01-01 00:00')"
)


def test_numbers_are_given_out_one_by_one(staffed: Store) -> None:
    """A number at the end of the range kept everybody from taking in."""
    hand = Store(staffed.location)
    hand.people.sign_in("Ib", PINS["Ib"])
    with pytest.raises(StoreError, match="given out one by one"):
        say(hand, DOCKET.format("31-99999999"))
    with pytest.raises(StoreError, match="another stone of no docket"):
        say(hand, DOCKET.format("31-0700/2"))
    with pytest.raises(StoreError, match="no line says that it was taken in"):
        say(hand, DOCKET.format("31-0002"))
    with pytest.raises(StoreError, match="something in it is not accepted"):
        say(hand, DOCKET.format("３１-0001"))
    assert hand.new_docket("Saltmarsh").number == "31-0002"
    hand.close()


def test_times_and_versions_are_the_servers(staffed: Store) -> None:
    say(staffed, "UPDATE dockets SET item = 'ring', version = 1, updated_at = '2099-01-01 00:00'")
    docket = staffed.docket(1)
    assert docket.version == 2 and docket.updated_at == datetime(2031, 4, 9, 8, 30)
    with staffed.transaction() as session:
        session.execute(
            text("INSERT INTO acts (id, deed, stored_at, \"by\") VALUES (:id, 'edit', '1999-01-01 00:00', 'Oona')"),
            {"id": "x" * 36},
        )
    with staffed.transaction() as session:
        stored = session.execute(text("SELECT stored_at FROM acts WHERE id = :id"), {"id": "x" * 36}).scalar_one()
    assert stored == datetime(2031, 4, 9, 8, 30)


@pytest.mark.parametrize("at", ["1970-01-01 00:00", "2099-01-01 00:00", "2031-02-28 00:00"])
def test_metal_is_not_dated_by_plain_sql(staffed: Store, at: str) -> None:
    line = 'INSERT INTO fine_entries (at, "by", kind, alloy, mass_g, note) VALUES '
    with pytest.raises(StoreError, match="last 35 days"):
        say(staffed, f"{line} ('{at}', 'Oona', 'bought', '18k-yellow', 3, '')")


def test_an_act_of_another_transaction_does_for_nothing(staffed: Store) -> None:
    with staffed.transaction() as session:
        staffed.enter(session)
    with pytest.raises(StoreError, match="without an act"):
        say(staffed, "UPDATE dockets SET item = 'ring'", act=False)


def test_which_store_it_is_needs_nobody_signed_in(staffed: Store) -> None:
    """A window asks before anybody has given a PIN, also where nobody had asked before there were any."""
    keeper = Store(as_keeper(str(staffed.location).replace("+psycopg", "")))
    with keeper.transaction() as session:
        session.execute(text("DELETE FROM settings WHERE name = 'store_id'"))
    keeper.close()
    window = Store(staffed.location)
    made = window.house.identity()
    assert made and window.house.identity() == made == staffed.house.identity()
    with pytest.raises(StoreError, match="without an act"):
        say(window, "INSERT INTO settings (name, value) VALUES ('hours', '{}')", act=False)
    window.close()


# --- the same on both kinds ------------------------------------------------------------------------------------------


def test_the_history_of_an_edit_is_the_same_whoever_writes_it(tmp_path: Path, team_store: str) -> None:
    """A server writes the lines itself; on a file the program does."""
    told = []
    for place in (tmp_path / "s.sqlite", team_store):
        store = Store(place, by="Orla")
        docket = store.new_docket("Saltmarsh", "band")
        for edit in (
            DocketEdit(job_patches=({"stone": {"cut": "round", "width_mm": 5.2}, "head": {"claws": 6}},)),
            DocketEdit(job_patches=({"head": {"claws": None, "style": "basket"}},), fields={"item": "ring"}),
            DocketEdit(job_patches=({"head": None},)),
            DocketEdit(fields={"deposit": 120.0, "promised_on": datetime(2031, 5, 2).date(), "ticks": ["a", "b"]}),
            DocketEdit(fields={"claw_chart": {"1": {"worn": True}}, "measured": {"size": "M"}}),
            DocketEdit(fields={"claw_chart": {"1": {"worn": False}, "2": {}}}),
            DocketEdit(fields={"drafts": {"stone.width_mm": "5,"}, "estimate": {"total": 12.5}}),
            DocketEdit(fields={"state": "planned", "deposit": None}),
        ):
            store.edit(docket.id, edit)
        told.append([(line.field, line.before, line.after, line.by) for line in store.history(docket.id)])
        store.close()
    assert told[0] == told[1] and len(told[0]) == 8


def test_what_an_act_came_to_is_written_down_by_the_database(store: Store) -> None:
    docket, orla = store.new_docket("Saltmarsh"), store.people.add("Orla")
    (task,) = store.tasks.plan_tasks(docket.id, [("size", 20.0)])
    store.tasks.start(task.id, orla.id)
    store.tasks.drop(task.id)
    store.drawer.add([StockItem(kind="head", code="H-1", quantity=5.0)])
    (item,) = store.drawer.items()
    store.drawer.change(item.id, 3.0, "", (5.0, ""))
    store.day.keep_station("torch", 3)
    began, *changed = [(held or {}, after) for _key, held, after in effects(store, "tasks")]
    assert began[0] == {} and [set(held) for held, _ in changed] == [{"state", "person_id"}, {"state", "dropped_at"}]
    assert effects(store, "stock_items")[-1] == (str(item.id), {"quantity": 5.0}, {"quantity": 3.0})
    assert effects(store, "settings")[-1][0] == "stations/torch"
    with store.transaction() as session:
        orphans = session.execute(text("SELECT id FROM effects WHERE act NOT IN (SELECT id FROM acts)")).all()
    assert orphans == [], "each under the act that did it"


def test_what_an_act_came_to_is_never_altered(store: Store) -> None:
    store.people.add("Orla")
    for statement in ("UPDATE effects SET after = '1'", "DELETE FROM effects"):
        with pytest.raises(StoreError, match=r"never altered|permission denied"):
            say(store, statement)


# --- rights as data --------------------------------------------------------------------------------------------------


def test_rights_on_a_server_are_those_of_the_program(staffed: Store) -> None:
    with staffed.transaction() as session:
        rows = session.execute(text("SELECT table_name, column_name, part, role FROM touches")).all()
    kept = {tuple(row) for row in rows}
    assert kept == {(touch.table_name, touch.column_name, touch.part, touch.role) for touch in touches()}
    for role in ROLES:
        for name in FIELDS:
            for value in STATES if name == "state" else ("x",):
                rights = acts_of(DocketEdit(fields={name: value}))
                may = all(role in WHO_MAY[right] for right in rights)
                part = value if value == HANDED_OVER else ""
                assert (("dockets", name, part, role) in kept) == may, (name, value, role)


def test_what_the_guards_pass_over_is_what_the_history_does_not_tell() -> None:
    assert {name for name in guards.SILENT_COLUMNS if name in FIELDS} == set(SILENT)
    assert set(guards.DOCUMENT_COLUMNS) == {"job_document", *DOCUMENTS} - set(SILENT)


# --- machines --------------------------------------------------------------------------------------------------------


@pytest.fixture
def machines(staffed: Store, server: PrivateServer) -> Iterator[list[Store]]:
    """Machines of the same team, each by a login of its own: two, and one where nobody will have signed in."""
    keeper = f"{server.address}/{staffed.location.url.rpartition('/')[2]}"
    names = ("bench-1", "Desk", "stranger")
    logins = [prepare_machine(location(keeper), name, "windows") for name in names]
    assert logins == [prepare_machine(location(keeper), name, "windows") for name in names], "again"
    stores = [Store(keeper.replace("keeper@", f"{login}@")) for login in logins]
    yield stores
    for store in stores:
        store.close()
    for login in logins:
        server.say(f'DROP ROLE "{login}"')


def guess(machine: Store) -> None:
    for _ in range(5):
        with pytest.raises(NotAllowedError):
            machine.people.sign_in("Oona", "0000")


def test_wrong_pins_on_one_machine_lock_no_other(machines: list[Store]) -> None:
    bench, desk, _stranger = machines
    for machine in (bench, desk):
        machine.people.sign_in("Yusra", PINS["Yusra"])
    guess(bench)
    with pytest.raises(NotAllowedError, match="locked"):
        bench.people.sign_in("Oona", PINS["Oona"])
    assert desk.people.sign_in("Oona", PINS["Oona"]).name == "Oona"


def test_machines_where_nobody_signed_in_count_together_and_lock_none_that_is_known(machines: list[Store]) -> None:
    bench, desk, stranger = machines
    bench.people.sign_in("Yusra", PINS["Yusra"])
    guess(stranger)
    with pytest.raises(NotAllowedError, match="locked"):
        desk.people.sign_in("Oona", PINS["Oona"])
    assert bench.people.sign_in("Oona", PINS["Oona"]).name == "Oona"


def test_a_token_counts_for_the_machine_that_it_was_given_to(machines: list[Store]) -> None:
    bench, desk, _stranger = machines
    bench.people.sign_in("Oona", PINS["Oona"])
    desk.be(bench.author)
    with pytest.raises(NotAllowedError, match="sign in again"):
        desk.edit(1, DocketEdit(fields={"item": "ring"}))
    assert bench.edit(1, DocketEdit(fields={"item": "ring"})).item == "ring"


def test_a_machines_name_is_checked_and_a_file_has_none(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["prepare-store", "--machine", "bench 1; DROP", "postgresql://keeper@127.0.0.1:9/x"]) == 2
    assert "letters, digits and hyphens" in capsys.readouterr().err
    assert main(["prepare-store", "--machine", "bench-1", str(tmp_path / "s.sqlite")]) == 2


# --- what stands is what acts made of it -----------------------------------------------------------------------------


def worked(store: Store) -> None:
    """Something of everything that is written down."""
    docket, orla = store.new_docket("Saltmarsh", "band"), store.people.add("Orla")
    for edit in (
        DocketEdit(job_patches=({"stone": {"cut": "round", "width_mm": 5.2}, "head": {"claws": 6}},)),
        DocketEdit(job_patches=({"head": {"claws": None}},), fields={"item": "ring", "promised_on": date(2031, 5, 2)}),
        DocketEdit(fields={"claw_chart": {"1": {"worn": True}}}),
        DocketEdit(fields={"claw_chart": {"1": {"worn": False}}, "ticks": ["straight"]}),
    ):
        store.edit(docket.id, edit)
    (task,) = store.tasks.plan_tasks(docket.id, [("size", 20.0)])
    store.tasks.start(task.id, orla.id)
    store.tasks.stop(task.id, done=True)
    store.day.keep_station("torch", 3)
    store.drawer.add([StockItem(kind="head", code="H-1", quantity=5.0)])


def test_what_stands_is_what_acts_made_of_it(store: Store) -> None:
    worked(store)
    assert replay(store) == []


@pytest.mark.keeper
@pytest.mark.parametrize(
    ("statement", "told"),
    [
        ("UPDATE dockets SET item = 'brooch'", "docket 31-0001: item is not what Orla made it"),
        ("UPDATE dockets SET customer = 'Finch'", "docket 31-0001: customer is not what it was taken in with"),
        ("UPDATE dockets SET deposit = 40", "docket 31-0001: deposit is not what it was taken in with"),
        ("UPDATE dockets SET claw_chart = '{}'", "docket 31-0001: claw_chart is not what"),
        ("UPDATE dockets SET job_document = '{\"stone\": {}}'", "docket 31-0001: job is not what"),
        ("UPDATE tasks SET standard_minutes = 3", "tasks 1: standard_minutes is not what was written down of it"),
        ("UPDATE task_times SET stopped_at = '2031-04-09 23:00:00'", "task_times 1: stopped_at is not what"),
        ("UPDATE settings SET value = '9' WHERE name = 'stations/torch'", "settings stations/torch: value is not"),
        ("UPDATE stock_items SET quantity = 1", "stock_items 1: quantity is not"),
        ("DELETE FROM settings WHERE name = 'stations/torch'", "settings stations/torch: is gone"),
    ],
)
def test_what_was_changed_past_every_guard_is_told(store: Store, statement: str, told: str) -> None:
    """By somebody who could take the guards off: the owner of a file, or a server's keeper."""
    worked(store)
    with store.transaction() as session:
        guards.take_off(session.connection())
        session.execute(text(statement))
        guards.put_on(session.connection())
    assert [line[: len(told)] for line in replay(store)] == [told]


def test_a_line_under_another_name_than_its_acts_is_told(tmp_path: Path) -> None:
    store = Store(tmp_path / "s.sqlite", by="Orla")
    docket = store.new_docket("Saltmarsh")
    with store.transaction() as session:
        store.enter(session)
        for by, act in (("Lev", session.info["act"]), ("Orla", "x" * 36)):
            line = ChangeRow(docket_id=docket.id, at=MOMENT, by=by, field="photograph", before=None, after="a", act=act)
            session.add(line)
    assert [line.partition(": ")[2] for line in replay(store)] == [
        "says Lev, its act was Orla's",
        "names no act that is there",
    ]
    assert main(["--store", str(tmp_path / "s.sqlite"), "verify"]) == 1
    store.close()


def test_the_made_up_workshop_is_what_its_acts_made_it(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = tmp_path / "s.sqlite"
    store = Store(path)
    fill(store, MOMENT.date())
    store.close()
    assert main(["--store", str(path), "verify"]) == 0
    assert "All else is what acts made of it." in capsys.readouterr().out
