"""A month that is signed off is sealed: nothing gets into it, nobody is overwritten, and a change of it is told."""

from __future__ import annotations

import sqlite3
import threading
from collections.abc import Callable, Iterator
from contextlib import closing
from datetime import datetime, timedelta
from pathlib import Path

import pytest
from msgspec.structs import replace
from sqlalchemy import create_engine, text
from sqlalchemy.exc import DBAPIError

from tests import stated
from tests.patience import GIVE_UP_S
from tests.private_server import PrivateServer
from tests.ready import as_keeper, database_with
from yarvel import clock
from yarvel.cli import main
from yarvel.figures.errors import StoreError
from yarvel.workshop.acts import Act, WeighMetal, do
from yarvel.workshop.metal.fine_sums import month_sums
from yarvel.workshop.metal.seals_seen import note_seals, older_than_seals
from yarvel.workshop.replaying import replay
from yarvel.workshop.storage.authors import Author
from yarvel.workshop.storage.backup import backup
from yarvel.workshop.storage.identity import new_id
from yarvel.workshop.storage.migrating import bring_up_to_date
from yarvel.workshop.storage.places import seals_file
from yarvel.workshop.store import Store

pytestmark = pytest.mark.keeper
NOW = datetime(2031, 4, 9, 8, 30)
GOLD = "18k-yellow"
REFUSED = r"signed off|never altered"


@pytest.fixture(params=["file", "team"])
def store(request: pytest.FixtureRequest, tmp_path: Path) -> Iterator[Store]:
    place = tmp_path / "store.sqlite" if request.param == "file" else request.getfixturevalue("team_store")
    made = Store(place, clock=lambda: NOW, by="Yusra")
    for month in (1, 2, 3):
        made.fine.add("bought", GOLD, 10.0 * month, at=datetime(2031, month, 15))
    yield made
    made.close()


def weighed(at: datetime, grams: float = 1.0) -> Act:
    return Act(WeighMetal(kind="bought", alloy=GOLD, mass_g=grams), at, Author("Yusra"), new_id())


def placed(store: Store, act: Act) -> tuple[datetime, str]:
    before = {entry.id for entry in store.fine.entries()}
    do(store, act)
    (entry,) = (entry for entry in store.fine.entries() if entry.id not in before)
    return entry.at, entry.note


def test_a_later_month_seals_what_was_left_open_before_it(store: Store) -> None:
    """An earlier month that nobody signed moves nothing of a later one that somebody did."""
    first = store.closings.close("2031-02")
    assert (first.lines, first.sums) == (2, {GOLD: {"bought": 30_000}})
    with pytest.raises(StoreError, match="2031-01: was signed off with 2031-02, by Yusra"):
        store.closings.close("2031-01")
    assert placed(store, weighed(datetime(2031, 1, 20)))[0] == NOW
    second = store.closings.close("2031-03")
    assert (second.lines, second.sums) == (1, {GOLD: {"bought": 30_000}})
    assert first.digest != second.digest and store.closings.verify() == []
    assert month_sums(store, 2031, 3)[0].closing == 60.0


def test_the_houses_zone_decides_months_on_every_machine(store: Store, machines_wall: Callable[[str], None]) -> None:
    """A line of 31 March, half past eleven at night in Anchorage, is of March there, whatever the zone of the machine
    on which the month is signed off; days are told on the house's wall."""
    rules = store.house.rules()
    store.house.keep(rules.but(custom=replace(rules.custom, zone="America/Anchorage")), rules)
    late = datetime(2031, 4, 1, 7, 30)  # 23:30 in Anchorage, UTC-8 in summer; common practice: IANA's database
    store.fine.add("bought", GOLD, 5.0, at=late)
    for zone in ("Pacific/Auckland", "UTC"):
        machines_wall(zone)
        there = Store(store.location, clock=lambda: NOW, by="Lev")
        assert clock.local(late) == datetime(2031, 3, 31, 23, 30)
        assert clock.kept(datetime(2031, 3, 31, 23, 30)) == late
        assert [line.moved["bought"] for line in month_sums(there, 2031, 3)] == [35.0]
        there.close()
    seal = store.closings.close("2031-03")
    with store.transaction() as session:
        row = session.execute(text("SELECT until, zone FROM month_seals")).one()
    assert (str(row.until)[:19], row.zone) == ("2031-04-01 08:00:00", "America/Anchorage")
    assert seal.lines == 4 and store.closings.verify() == []
    with pytest.raises(StoreError, match="'Europe/Yarvel' is not known here: a name such as Europe/Lisbon"):
        store.house.keep(rules.but(custom=replace(rules.custom, zone="Europe/Yarvel")))


def test_a_house_is_in_the_zone_of_its_first_machine(
    tmp_path: Path, machines_wall: Callable[[str], None], server: PrivateServer
) -> None:
    """Written down once; a second machine elsewhere does not move it. A server is settled when it is prepared."""
    machines_wall("Asia/Kathmandu")
    file = Store(tmp_path / "house.sqlite", by="Yusra")
    file.house.identity()
    file.close()
    for place in (tmp_path / "house.sqlite", as_keeper(database_with(server, fill_nothing))):
        machines_wall("America/Bogota")
        second = Store(place, by="Lev")
        second.house.identity()
        assert second.house.rules().custom.zone == clock.zone_name() == "Asia/Kathmandu"
        assert clock.local(datetime(2031, 4, 9, 0, 0)) == datetime(2031, 4, 9, 5, 45)
        assert second.closings.verify() == replay(second) == []
        second.close()
        machines_wall("Asia/Kathmandu")


def fill_nothing(store: Store) -> None:
    """A store of its own for whoever asks for this."""


@pytest.fixture
def machines_wall() -> Iterator[Callable[[str], None]]:
    """Sets the zone of this machine; afterwards it is the stated one again, and the house's that of the machine."""
    yield stated.live_in
    stated.live_in(stated.ZONE)
    clock.live_in("")


@pytest.mark.parametrize(
    ("at", "stands", "said"),
    [
        (datetime(2031, 4, 8, 9, 0), datetime(2031, 4, 8, 9, 0), ""),
        (datetime(2031, 3, 31, 9, 0), datetime(2031, 3, 31, 9, 0), ""),
        (datetime(2031, 3, 1, 9, 0), NOW, "weighed 2031-03-01 10:00"),
        (datetime(1970, 1, 1), NOW, "weighed 1970-01-01 01:00"),
        (datetime(2031, 7, 9, 8, 30), NOW, "its machine's clock said 2031-07-09 10:30"),
        (datetime(2099, 1, 1), NOW, "its machine's clock said 2099-01-01 01:00"),
        (NOW + timedelta(seconds=40), NOW, ""),
    ],
)
def test_no_clock_of_a_machine_decides_where_metal_stands(
    store: Store, at: datetime, stands: datetime, said: str
) -> None:
    """In the month in which it was weighed, not longer than 35 days ago, never in a time that has not come."""
    assert placed(store, weighed(at)) == (stands, said)


def test_metal_weighed_while_the_wire_was_cut_is_never_refused(store: Store) -> None:
    store.closings.close("2031-03")
    assert placed(store, weighed(datetime(2031, 3, 30, 9, 0))) == (NOW, "weighed 2031-03-30 11:00")
    assert store.closings.verify() == []


def test_two_leads_who_sign_at_once_sign_once(store: Store) -> None:
    """And a line that is weighed meanwhile is in the seal, or in the month after it."""
    failed: list[BaseException] = []
    began = threading.Barrier(5)

    def run(what: object, month: str) -> None:
        mine = Store(store.location, clock=lambda: NOW, by="Yusra")
        try:
            began.wait(GIVE_UP_S)
            if what == "sign":
                mine.closings.close(month)
            else:
                do(mine, weighed(datetime(2031, 3, 31, 12)))
        except BaseException as error:
            failed.append(error)
        mine.close()

    threads = [threading.Thread(target=run, args=("sign", "2031-03")) for _ in range(2)]
    threads += [threading.Thread(target=run, args=("weigh", "")) for _ in range(3)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(GIVE_UP_S)
    assert failed == []
    (sealed,) = store.closings.all().values()
    late = [entry for entry in store.fine.entries() if entry.at == NOW]
    assert sealed.lines + len(late) == 6 and store.closings.verify() == []


def test_months_signed_off_at_once_by_two_both_stand(store: Store) -> None:
    """They are rows: nobody's is written over."""
    store.closings.close("2031-01")
    other = Store(store.location, clock=lambda: NOW, by="Yusra")
    other.closings.close("2031-02")
    store.closings.close("2031-03")
    other.close()
    assert list(store.closings.all()) == ["2031-01", "2031-02", "2031-03"]


@pytest.mark.parametrize(
    "statement",
    [
        'INSERT INTO fine_entries (at, kind, alloy, mass_g, "by") '
        "VALUES ('2031-03-20 09:00:00', 'bought', '18k-yellow', 5, '')",
        "UPDATE month_seals SET lines = 7",
        "DELETE FROM month_seals",
    ],
)
def test_nothing_gets_past_a_seal_by_sql(store: Store, statement: str) -> None:
    store.closings.close("2031-03")
    if store.location.is_server:  # the owner's own statements are the owner's; the windows' role is another
        engine = create_engine(store.location.url)
        with engine.begin() as connection:
            for role in ("CREATE ROLE sealed_try", "GRANT ALL ON ALL TABLES IN SCHEMA public TO sealed_try"):
                connection.execute(text(role))
            connection.execute(text("GRANT ALL ON ALL SEQUENCES IN SCHEMA public TO sealed_try"))
        with engine.connect() as connection:
            connection.execute(text("SET ROLE sealed_try"))
            with pytest.raises(DBAPIError, match=REFUSED):
                connection.execute(text(statement))
        with engine.begin() as connection:
            connection.execute(text("DROP OWNED BY sealed_try"))
            connection.execute(text("DROP ROLE sealed_try"))
        engine.dispose()
    else:
        with pytest.raises(StoreError, match=REFUSED), store.transaction() as session:
            session.execute(text(statement))
    assert store.closings.verify() == []


@pytest.mark.parametrize(
    ("statement", "told"),
    [
        ("UPDATE fine_entries SET mass_g = 21 WHERE id = 2", "2031-02: its lines, or a month before it"),
        ("DELETE FROM fine_entries WHERE id = 2", "2031-02: 1 lines, signed off with 2"),
        ("UPDATE fine_entries SET at = '2031-03-02 09:00:00' WHERE id = 2", "2031-02: 1 lines, signed off with 2"),
        (
            "UPDATE month_seals SET digest = 'x' || substr(digest, 2) WHERE month = '2031-02'",
            "2031-03: its lines, or a",
        ),
        ("UPDATE month_seals SET sums = '{}' WHERE month = '2031-02'", "2031-02: its sums are not those"),
    ],
)
def test_what_is_altered_with_the_guards_taken_off_is_told(
    tmp_path: Path, statement: str, told: str, capsys: pytest.CaptureFixture[str]
) -> None:
    path = tmp_path / "store.sqlite"
    store = Store(path, clock=lambda: NOW, by="Yusra")
    for month in (1, 2, 3):
        store.fine.add("bought", GOLD, 10.0 * month, at=datetime(2031, month, 15))
    store.closings.close("2031-02")
    store.closings.close("2031-03")
    store.close()
    assert main(["--store", str(path), "verify"]) == 0
    assert "2 months are what was signed off" in capsys.readouterr().out
    with closing(sqlite3.connect(path)) as connection:
        triggers = connection.execute("SELECT name FROM sqlite_master WHERE type = 'trigger'").fetchall()
        for (name,) in triggers:
            connection.execute(f"DROP TRIGGER {name}")
        connection.execute(statement)
        connection.commit()
    assert main(["--store", str(path), "verify"]) == 1
    assert told in capsys.readouterr().err


def test_months_of_before_are_sealed_as_they_stood(tmp_path: Path) -> None:
    """Signed off in whatever order, without sums: they take no line, and say so; what follows goes on from them."""
    path = tmp_path / "store.sqlite"
    store = Store(path, clock=lambda: NOW)
    store.fine.add("bought", GOLD, 10.0, at=datetime(2031, 1, 15))
    store.close()
    from tests.workshop.test_migrating import old_store

    old = old_store("0016", tmp_path)
    with closing(sqlite3.connect(old)) as connection:
        signed = '{"2026-03": {"by": "Tilda", "on": "2026-04-02"}, "2026-02": {"by": "Orla", "on": "2026-05-01"}}'
        connection.execute("DELETE FROM settings WHERE name = 'closed_months'")
        connection.execute("INSERT INTO settings (name, value) VALUES ('closed_months', ?)", (signed,))
        connection.commit()
    bring_up_to_date(old)
    mine = Store(old, clock=lambda: NOW, by="Yusra")
    months = mine.closings.all()
    assert [(month, one.by, one.on) for month, one in months.items()] == [
        ("2026-02", "Orla", "2026-05-01"),
        ("2026-03", "Tilda", "2026-04-02"),
    ]
    assert all("before months were sealed" in one.note and not one.digest for one in months.values())
    assert mine.fine.add("bought", GOLD, 1.0, at=datetime(2026, 3, 9)).at == NOW
    mine.closings.close("2026-04")
    assert mine.closings.verify() == []
    mine.close()


def test_a_team_goes_by_its_servers_clock(team_store: str, monkeypatch: pytest.MonkeyPatch) -> None:
    """A machine that is three months ahead; a stated day, as tests and the demo have it, is asked itself."""
    store = Store(team_store)
    with store.transaction() as session:
        assert store.moment(session) - store.now() < timedelta(seconds=60)

    def ahead() -> datetime:
        return NOW + timedelta(days=92)

    monkeypatch.setattr(clock, "_of_the_machine", ahead)
    monkeypatch.setattr(clock, "_source", ahead)
    assert clock.is_the_machines(clock.now)
    with store.transaction() as session:
        assert timedelta(days=91) < store.now() - store.moment(session) < timedelta(days=93)
    entry = store.fine.add("bought", GOLD, 1.0)
    assert store.now() - entry.at > timedelta(days=91)
    store.close()


def signed(path: Path, *months: str) -> Store:
    store = Store(path, clock=lambda: NOW, by="Yusra")
    for month in months:
        store.closings.close(month)
    note_seals(store, store.house.identity())
    return store


@pytest.mark.parametrize("there", [True, False])
def test_a_copy_older_than_a_months_end_says_so_when_it_is_put_back(
    there: bool, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    """Held against the store that it replaces; where that is gone, against what this machine has seen."""
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    path, before, after = (tmp_path / name for name in ("store.sqlite", "before.sqlite", "after.sqlite"))
    signed(path, "2031-01").close()
    backup(path, before)
    signed(path, "2031-02", "2031-03").close()
    backup(path, after)
    if not there:
        path.unlink()
    assert main(["--store", str(path), "restore", str(before)]) == 0
    said = capsys.readouterr().out
    assert ("2031-02 (by Yusra on 2031-04-09), 2031-03" in said) is there
    assert "older than the end of" in said and "2031-03 (by Yusra on 2031-04-09)" in said and "2031-01" not in said
    assert main(["--store", str(path), "restore", str(after)]) == 0
    assert "older than" not in capsys.readouterr().out, "it has all of them"


def test_what_this_machine_has_seen_of_months_ends(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """An earlier end never takes the place of a later one, a file of something else is nothing, nor is a full disk."""
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    path, copy = tmp_path / "store.sqlite", tmp_path / "copy.sqlite"
    signed(path, "2031-02").close()
    backup(path, copy)
    signed(path, "2031-03").close()
    older = Store(copy, clock=lambda: NOW)
    note_seals(older, older.house.identity())
    older.close()
    assert "2031-03" in older_than_seals(copy, tmp_path / "nothing.sqlite")
    signed(tmp_path / "another.sqlite", "2031-03").close()
    assert "2031-03" in older_than_seals(copy, tmp_path / "nothing.sqlite"), "another store's end is another one"
    seals_file().write_text('{"x": 5}')
    assert older_than_seals(copy, tmp_path / "nothing.sqlite") == ""
    seals_file().unlink()
    seals_file().mkdir()
    signed(path).close()
    assert older_than_seals(copy, path) != "", "the store that it replaces says so itself"
