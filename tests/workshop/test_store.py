"""The store: nothing typed is lost, nothing newer is touched, every change is told."""

from __future__ import annotations

import shutil
import sqlite3
import threading
from contextlib import closing
from datetime import date, datetime
from pathlib import Path

import pytest
from alembic.script import ScriptDirectory

from yarvel.demo.scenario import OPENED_FIRST, fill
from yarvel.exchange.job_file import checked_job
from yarvel.figures.errors import StoreError
from yarvel.figures.figure import FigureKey
from yarvel.figures.rules import HouseRules, rules_from
from yarvel.planning.job import merge_patch
from yarvel.planning.plan import plan
from yarvel.workshop.dockets.records import Docket, DocketEdit
from yarvel.workshop.drawer.drawer_store import rules_of
from yarvel.workshop.drawer.stock import BUR, PLATE, StockItem
from yarvel.workshop.drawer.stock import HEAD as HEADS
from yarvel.workshop.peek import peek, peek_rules
from yarvel.workshop.storage.layout import HEAD
from yarvel.workshop.storage.migrating import SCRIPTS
from yarvel.workshop.storage.places import default_store, demo_store
from yarvel.workshop.storage.schema import SettingRow
from yarvel.workshop.store import Store


def test_a_docket_is_taken_in_under_the_next_number(store: Store) -> None:
    numbers = [store.new_docket(item=item).number for item in ("ring", "brooch")]
    assert numbers == ["31-0001", "31-0002"]


def test_an_edit_is_kept_and_told_in_the_history(store: Store) -> None:
    docket = store.new_docket("Saltmarsh Rings")
    after = store.edit(
        docket.id,
        DocketEdit(
            job_patches=({"stone": {"diameters_mm": [5.1]}},),
            fields={"customer": "Saltmarsh", "promised_on": date(2031, 5, 2)},
        ),
    )
    assert after.job_document["stone"] == {"diameters_mm": [5.1]}
    assert (after.customer, after.promised_on, after.version) == ("Saltmarsh", date(2031, 5, 2), 2)
    assert [(change.field, change.before, change.after) for change in store.history(docket.id)][1:] == [
        (
            "edit",
            {"job": {"stone": None}, "customer": "Saltmarsh Rings", "promised_on": None},
            {"job": {"stone": {"diameters_mm": [5.1]}}, "customer": "Saltmarsh", "promised_on": "2031-05-02"},
        )
    ], "one act, one line, and only what changed"


def test_a_change_of_the_job_is_a_patch_each_way(store: Store) -> None:
    """What leads back leads back: act by act from what is there to what was taken in."""
    docket = store.new_docket()
    for patch in ({"stone": {"depth_mm": 3.1}}, {"stone": {"depth_mm": 3.2}, "head": {"claws": 6}}, {"head": None}):
        store.edit(docket.id, DocketEdit(job_patches=(patch,)))
    held = store.docket(docket.id).job_document
    lines = [change for change in store.history(docket.id) if change.field == "job"]
    assert [line.after for line in lines][1] == {"stone": {"depth_mm": 3.2}, "head": {"claws": 6}}
    for line in reversed(lines):
        assert merge_patch(held, line.after) == held
        held = merge_patch(held, line.before)
    assert held == docket.job_document


def test_an_edit_that_changes_nothing_is_no_change(store: Store) -> None:
    docket = store.new_docket("Saltmarsh Rings")
    assert store.edit(docket.id, DocketEdit(job_patches=(), fields={"customer": "Saltmarsh Rings"})).version == 1
    assert len(store.history(docket.id)) == 1


def test_drafts_are_kept_but_not_told(store: Store) -> None:
    docket = store.new_docket()
    assert store.edit(docket.id, DocketEdit(job_patches=(), fields={"drafts": {"stone.depth_mm": "4,x"}})).drafts == {
        "stone.depth_mm": "4,x"
    }
    assert len(store.history(docket.id)) == 1


def test_two_windows_on_one_docket_keep_both_changes(store: Store, store_path: Path) -> None:
    other = Store(store_path)
    docket = store.new_docket()
    store.edit(docket.id, DocketEdit(job_patches=({"stone": {"depth_mm": 3.1}},)))
    both = other.edit(docket.id, DocketEdit(job_patches=({"stone": {"species": "ruby"}},), fields={"item": "brooch"}))
    other.close()
    assert both.job_document["stone"] == {"depth_mm": 3.1, "species": "ruby"}
    assert both.version == 3


def test_writers_side_by_side_lose_nothing(store: Store, store_path: Path) -> None:
    docket = store.new_docket()

    def write(name: str) -> None:
        own = Store(store_path)
        for number in range(12):
            own.edit(docket.id, DocketEdit(job_patches=({name: {f"v{number}": number}},)))
        own.close()

    threads = [threading.Thread(target=write, args=(name,)) for name in ("one", "two", "three")]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    after = store.docket(docket.id)
    assert all(len(after.job_document[name]) == 12 for name in ("one", "two", "three"))
    assert after.version == 37


@pytest.mark.parametrize(
    ("words", "found"),
    [("", 3), ("salt", 2), ("salt brooch", 1), ("0003", 1), ("%", 3), ("SALT_", 2), ("nothing", 0), ("taken", 3)],
)
def test_finding(store: Store, words: str, found: int) -> None:
    for customer, item in (("Saltmarsh", "ring"), ("Saltmarsh", "brooch"), ("Ferry", "")):
        store.new_docket(customer, item)
    assert len(store.dockets(words)) == found


def test_what_is_not_there_or_not_a_field_is_refused(store: Store) -> None:
    with pytest.raises(StoreError, match="docket 99: not in this store"):
        store.docket(99)
    docket = store.new_docket()
    with pytest.raises(StoreError, match="version: not a field of a docket"):
        store.edit(docket.id, DocketEdit(job_patches=(), fields={"version": 7}))


def test_house_rules_are_kept(store: Store) -> None:
    assert store.house.rules() == HouseRules()
    store.house.keep(rules_from({"splay_deg": 9.0}))
    assert store.house.rules() == rules_from({"splay_deg": 9.0})


def test_edits_that_waited_are_applied_in_their_order(store: Store) -> None:
    docket = store.new_docket(job_document={"format": "yarvel-job/1", "stone": {"depth_mm": 3.0}})
    waited = DocketEdit(job_patches=({"stone": None},), fields={"item": "ring"}).then(
        DocketEdit(job_patches=({"stone": {}},), fields={"item": "brooch"})
    )
    assert bool(waited)
    assert not DocketEdit()
    after = store.edit(docket.id, waited)
    assert after.job_document["stone"] == {}
    assert after.item == "brooch"


def test_the_layout_named_is_that_of_the_newest_migration() -> None:
    assert ScriptDirectory(str(SCRIPTS)).get_current_head() == HEAD


def test_a_store_from_a_newer_yarvel_is_refused_and_left_alone(store: Store, store_path: Path) -> None:
    store.new_docket("Saltmarsh")
    store.close()
    with closing(sqlite3.connect(store_path)) as connection:
        connection.execute("UPDATE alembic_version SET version_num = '9999'")
        connection.commit()
    before = store_path.read_bytes()
    with pytest.raises(StoreError, match=r"written by a newer Yarvel \(its layout is 9999\)"):
        Store(store_path)
    assert store_path.read_bytes() == before


def test_a_copy_is_made_before_a_migration(
    store: Store, store_path: Path, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    store.new_docket("Saltmarsh")
    store.close()
    scripts = tmp_path / "migrations"
    shutil.copytree(SCRIPTS, scripts)
    (scripts / "versions" / "9999_test.py").write_text(
        'from alembic import op\nimport sqlalchemy as sa\nrevision = "9999"\n'
        f'down_revision = "{HEAD}"\n'
        'def upgrade():\n    op.add_column("dockets", sa.Column("shelf", sa.Text()))\n'
    )
    monkeypatch.setattr("yarvel.workshop.storage.migrating.SCRIPTS", scripts)
    monkeypatch.setattr("yarvel.workshop.storage.migrating.HEAD", "9999")
    again = Store(store_path)
    assert again.dockets()[0].customer == "Saltmarsh"
    again.close()
    copy = store_path.with_name("store.sqlite.before-9999")
    with closing(sqlite3.connect(copy)) as connection:
        assert connection.execute("SELECT version_num FROM alembic_version").fetchone() == (HEAD,)
        assert connection.execute("SELECT customer FROM dockets").fetchone() == ("Saltmarsh",)


def test_a_path_may_hold_any_letters(tmp_path: Path) -> None:
    path = tmp_path / "Ring & 50% (neu)?#" / "wörk shop.sqlite"
    made = Store(path)
    made.new_docket("Saltmarsh")
    made.close()
    assert Store(path).dockets()[0].customer == "Saltmarsh"
    assert peek(path, None) is not None
    assert [entry.name for entry in tmp_path.iterdir()] == ["Ring & 50% (neu)?#"]


def test_what_is_no_store_is_refused(tmp_path: Path) -> None:
    text, other = tmp_path / "notes.txt", tmp_path / "other.sqlite"
    text.write_text("not a database, " * 100)
    with closing(sqlite3.connect(other)) as connection:
        connection.execute("CREATE TABLE songs (name TEXT)")
        connection.commit()
    for path in (text, other):
        before = path.read_bytes()
        with pytest.raises(StoreError, match="a store that Yarvel made, or a new file"):
            Store(path)
        assert path.read_bytes() == before
    blocked = tmp_path / "file"
    blocked.write_text("")
    with pytest.raises(StoreError, match="a folder that can be written to"):
        Store(blocked / "deep" / "store.sqlite")


def test_a_store_cut_off_in_the_middle_is_told_and_not_written_to(store: Store, store_path: Path) -> None:
    for number in range(40):
        store.new_docket(f"customer {number}", "x" * 400)
    store.close()
    with closing(sqlite3.connect(store_path)) as connection:
        connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    cut = store_path.read_bytes()[: store_path.stat().st_size // 2]
    store_path.write_bytes(cut)
    with pytest.raises(StoreError):
        Store(store_path).dockets()
    assert store_path.read_bytes()[:1000] == cut[:1000]


def test_peek_sees_what_the_store_sees(store: Store, store_path: Path) -> None:
    first = store.new_docket(
        "Saltmarsh", "ring", date(2031, 5, 2), {"format": "yarvel-job/1", "stone": {"diameters_mm": [5.0]}}
    )
    store.edit(first.id, DocketEdit(job_patches=(), fields={"drafts": {"stone.depth_mm": "x"}, "ticks": ["level"]}))
    second = store.new_docket("Ferry")
    assert peek(store_path, first.id) == store.docket(first.id)
    assert isinstance(peek(store_path, None), Docket)
    assert peek(store_path, second.id) == second
    assert peek(store_path.with_name("none.sqlite"), 1) is None


def test_house_rules_are_peeked_as_the_store_has_them(store: Store, store_path: Path) -> None:
    """With the drawer's burs and plate, without what is taken out of it; the usual rule where one cannot be read."""
    assert peek_rules(store_path) == rules_of(store) == HouseRules()
    store.house.keep(HouseRules().but(splay_deg=9.5))
    store.drawer.add([StockItem(BUR, size_mm=size) for size in (2.1, 1.4, 3.0)])
    store.drawer.add([StockItem(PLATE, size_mm=0.9), StockItem(BUR, shape="hart", size_mm=1.3)])
    store.drawer.remove([item.id for item in store.drawer.items() if item.size_mm == 3.0])
    seen = peek_rules(store_path)
    assert seen == rules_of(store) and seen is not None
    assert (seen.splay_deg, seen.custom.burs_mm, seen.custom.plate_mm) == (9.5, (1.4, 2.1), (0.9,))
    with store.transaction() as session:
        session.merge(SettingRow(name="house_rules", value={"splay_deg": "steep"}))
    usual = peek_rules(store_path)
    assert usual == rules_of(store) and usual is not None
    assert (usual.splay_deg, usual.custom.burs_mm) == (HouseRules().splay_deg, (1.4, 2.1)), "steep is no angle"
    assert peek_rules(store_path.with_name("none.sqlite")) is None
    assert not store_path.with_name("none.sqlite").exists()


def test_the_made_up_workshop_is_whole(store: Store) -> None:
    fill(store, date(2031, 4, 9))
    dockets = store.dockets()
    assert len(dockets) == OPENED_FIRST
    for docket in dockets:
        made = plan(checked_job(docket.job_document, HouseRules()), HouseRules())
        assert made[FigureKey("stone.weight_model")] > 0
    assert max(docket.created_at for docket in dockets) == datetime(2031, 4, 9, 8, 30)


def test_stores_live_under_the_xdg_data_folder(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> None:
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    assert default_store() == tmp_path / "yarvel" / "workshop.sqlite"
    assert demo_store().parent == tmp_path / "yarvel" / "demo"
    monkeypatch.setenv("XDG_DATA_HOME", "not/absolute")
    assert default_store() == Path.home() / ".local" / "share" / "yarvel" / "workshop.sqlite"


def test_the_drawer_is_kept_counted_and_never_lost(store: Store, store_path: Path) -> None:
    store.drawer.add(
        [
            StockItem(BUR, "B1", size_mm=5.5, shape="setting"),
            StockItem(
                kind=HEADS, code="H1", metal="18k-yellow", size_mm=6.0, claws=4, claw_mm=1.0, height_mm=4.5, quantity=3
            ),
        ]
    )
    bur, head = store.drawer.items()
    assert (bur.kind, head.code, head.claws) == (BUR, "H1", 4)
    store.drawer.change(head.id, 2, "one went to the window")
    store.drawer.remove([bur.id])
    left = [(item.code, item.quantity, item.note) for item in store.drawer.items()]
    assert left == [("H1", 2, "one went to the window")]
    store.drawer.add([StockItem(HEADS, "H2", size_mm=6.5, claws=4, claw_mm=1.0, height_mm=4.0)], replacing=(HEADS,))
    assert [item.code for item in store.drawer.items()] == ["H2"]
    with closing(sqlite3.connect(store_path)) as connection:
        assert connection.execute("SELECT count(*) FROM stock_items").fetchone() == (3,)


def test_two_people_change_the_house_rules(store: Store) -> None:
    seen = store.house.rules()
    store.house.keep(rules_from({"splay_deg": 9.0}), seen)
    kept = store.house.keep(rules_from({"hour_rate": 75.0}), seen)
    assert (kept.splay_deg, kept.hour_rate) == (9.0, 75.0), "different rules: both count"
    with pytest.raises(StoreError, match=r"splay_deg is 9\.0 by now"):
        store.house.keep(rules_from({"splay_deg": 8.0}), seen)
    assert store.house.rules() == kept
    assert store.house.keep(rules_from({"hour_rate": 75.0}), kept).splay_deg == HouseRules().splay_deg, "back to usual"


def test_two_people_count_the_drawer(store: Store) -> None:
    store.drawer.add([StockItem(BUR, "B1", size_mm=5.5, shape="setting", quantity=3)])
    bur = store.drawer.items()[0]
    store.drawer.change(bur.id, 2, bur.note, (bur.quantity, bur.note))
    store.drawer.change(bur.id, bur.quantity, "blunt", (bur.quantity, bur.note))
    held = store.drawer.items()[0]
    assert (held.quantity, held.note) == (2, "blunt"), "one counts, one notes: both are kept"
    with pytest.raises(StoreError, match="counted by somebody else meanwhile, 2"):
        store.drawer.change(bur.id, 5, "blunt", (bur.quantity, "blunt"))
    with pytest.raises(StoreError, match="noted by somebody else meanwhile"):
        store.drawer.change(bur.id, 2, "lost", (2, ""))
    with pytest.raises(StoreError, match="something that is in the drawer"):
        store.drawer.change(999, 1, "")
    assert store.drawer.items()[0] == held
