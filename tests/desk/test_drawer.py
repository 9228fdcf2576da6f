"""The drawer's window: filters, counting, CSV in and out, heads ranked for the stone in hand, its burs in the seats."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import QCoreApplication, Qt
from PySide6.QtWidgets import QFileDialog
from pytestqt.qtbot import QtBot

from tests.desk.conftest import Hand
from yarvel.demo.drawer import drawer
from yarvel.desk.drawer.window import DrawerWindow
from yarvel.desk.session.edits import style_patch
from yarvel.desk.widgets.plain_table import choose_row
from yarvel.exchange.drawer_file import read_drawer, write_drawer
from yarvel.route.running import route_of
from yarvel.workshop.drawer.stock import BAIL, BEZEL, HEAD, MOUNT, SOLDER, TUBE, StockItem
from yarvel.workshop.store import Store


@pytest.fixture
def window(hand: Hand) -> DrawerWindow:
    hand.press(Qt.Key.Key_F4)
    made = hand.window.drawer.window
    assert made is not None
    hand.bot.waitUntil(lambda: len(made.table.items) > 0)
    return made


def cell(window: DrawerWindow, row: int, name: str) -> str:
    column = next(place for place, (key, _) in enumerate(window.table._columns) if key == name)
    return str(window.table.data(window.table.index(row, column)))


def filtered(bot: QtBot, window: DrawerWindow, words: str = "", low: str = "", high: str = "") -> int:
    for line, text in ((window.words, words), (window.low, low), (window.high, high)):
        line.selectAll()
        bot.keyClick(line, Qt.Key.Key_Delete)
        bot.keyClicks(line, text)
    bot.waitUntil(lambda: not window._typing.isActive())
    QCoreApplication.processEvents()
    return window.table.rowCount()


def choose(window: DrawerWindow, kind: str) -> None:
    window.kind.setCurrentIndex(window.kind.findData(kind))
    window.kind.activated.emit(window.kind.currentIndex())


def test_filters_narrow_what_is_shown(window: DrawerWindow, qtbot: QtBot) -> None:
    assert window.table.rowCount() == len(drawer())
    choose(window, SOLDER)
    assert window.table.rowCount() == 6
    assert filtered(qtbot, window, "easy white") == 1
    choose(window, HEAD)
    assert filtered(qtbot, window, "", "6.5", "7") == len(
        [item for item in drawer() if item.kind == HEAD and 6.5 <= (item.size_mm or 0) <= 7]
    )
    assert filtered(qtbot, window, "zzz") == 0
    assert "take some away" in window.told.text()


def test_heads_are_ranked_for_the_stone_in_hand_and_taken(window: DrawerWindow, hand: Hand) -> None:
    window.ranked.setChecked(True)
    assert cell(window, 0, "verdict") == "fits" and "notch 0." in cell(window, 0, "why")
    assert "By hand: notch 0.33" in window.told.text()
    best = window.table.item_at(0)
    assert best.metal == hand.window.session.document["head"]["metal"], "of its equals the one in the job's metal first"
    hand.bot.mouseClick(window.buttons["take"], Qt.MouseButton.LeftButton)
    head = hand.window.session.document["head"]
    assert (head["style"], head["made_for_mm"], head["claw_mm"]) == ("bought", best.size_mm, best.claw_mm)
    assert hand.value("seat.notch_ratio") == pytest.approx(float(cell(window, 0, "notch")), abs=0.005)
    hand.type_over("stone.mean_diameter", "5.1")
    hand.bot.waitUntil(lambda: window.table.item_at(0).size_mm != best.size_mm)


def test_a_head_that_is_taken_leaves_the_count(window: DrawerWindow, hand: Hand) -> None:
    """One less, told and undone, also faster than the watcher looks: the store is then as it knew it."""
    hand.window.dockets.watcher.finish()
    window.ranked.setChecked(True)
    best = window.table.item_at(0)
    assert best.quantity is not None and best.quantity > 1

    def counted() -> float | None:
        return next(item for item in window.table.items if item.id == best.id).quantity

    hand.bot.mouseClick(window.buttons["take"], Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: counted() == best.quantity - 1)
    said = f"{best.quantity - 1:g} left in the drawer. Undo puts it back."
    hand.bot.waitUntil(lambda: said in window.told.text())
    hand.window.undo()
    hand.bot.waitUntil(lambda: counted() == best.quantity)
    assert hand.window.session.document["head"]["style"] == "bought", "the next undo takes the head off the job"
    hand.window.undo()
    assert hand.window.session.document["head"].get("made_for_mm") != best.size_mm


def test_what_changed_while_the_drawer_was_closed_is_there_when_it_opens(window: DrawerWindow, hand: Hand) -> None:
    first = window.table.items[0]
    window.close()
    hand.window.dockets.ask(lambda store: store.drawer.remove([first.id]), lambda _done: None)
    hand.settle()
    hand.window.drawer.open()
    hand.bot.waitUntil(lambda: first.id not in {item.id for item in window.table.items})


def test_heads_for_a_long_stone_are_ranked_among_their_like(window: DrawerWindow, hand: Hand) -> None:
    """An oval sees the oval heads alone; the one taken comes with all that is known of it, and agrees with its row."""
    hand.window.session.patch(
        {"stone": {"cut": "oval", "diameters_mm": None, "length_mm": 7.6, "width_mm": 5.65, "depth_mm": 3.3}}, "Oval"
    )
    hand.settle()
    window.ranked.setChecked(True)
    ovals = [item for item in drawer() if item.cut == "oval"]
    assert window.table.rowCount() == len(ovals)
    best = window.table.item_at(0)
    assert (best.size_mm, cell(window, 0, "size_mm"), cell(window, 0, "verdict")) == (7.7, "7.70 × 5.60", "fits")
    assert window.table.item_at(len(ovals) - 1).size_mm == 9.2, "what does not hold the stone comes last"
    hand.bot.mouseClick(window.buttons["take"], Qt.MouseButton.LeftButton)
    hand.settle()
    head = hand.window.session.document["head"]
    taken = (head["made_for_mm"], head["made_for_width_mm"], head["height_tip_mm"], head["foot_mm"], head["rail_mm"])
    assert taken == (7.7, 5.6, best.height_tip_mm, best.foot_mm, best.rail_mm) and "height_mm" not in head
    assert hand.value("seat.notch_ratio") == pytest.approx(float(cell(window, 0, "notch")), abs=0.005)


def test_a_stone_that_no_head_is_made_for_is_told_so(window: DrawerWindow, hand: Hand) -> None:
    hand.window.session.set_cut("trillion")
    window.ranked.setChecked(True)
    assert "the drawer has nothing for its cut" in window.told.text()
    assert not window.buttons["take"].isVisible()


def test_counting_again_is_kept(window: DrawerWindow, hand: Hand, demo_path: Path) -> None:
    choose(window, "wire")
    column = next(place for place, (key, _) in enumerate(window.table._columns) if key == "quantity")
    index = window.table.index(0, column)
    assert window.table.data(index).endswith("mm")
    assert window.table.setData(index, "275 mm")
    assert not window.table.setData(index, "lots")
    item = window.table.item_at(0)
    hand.settle()

    def counted() -> float | None:
        return next(kept.quantity for kept in Store(demo_path).drawer.items() if kept.id == item.id)

    hand.bot.waitUntil(lambda: counted() == 275)


def test_csv_comes_in_whole_or_not_at_all_and_goes_out(
    window: DrawerWindow, hand: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    bad = tmp_path / "bad.csv"
    bad.write_text("kind,code,size_mm\nbur,A,2\nbur,B,huge\n", encoding="utf-8")
    before = len(window.table.items)
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a, **_k: (str(bad), ""))
    hand.bot.mouseClick(window.buttons["bring-in"], Qt.MouseButton.LeftButton)
    assert "row 3 column size_mm" in window.told.text() and len(window.table.items) == before
    good = tmp_path / "good.csv"
    good.write_text("kind,code,size_mm,shape\nbur,Z6.81,6.81,setting\n", encoding="utf-8")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a, **_k: (str(good), ""))
    hand.bot.mouseClick(window.buttons["bring-in"], Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: len(window.table.items) == before + 1)
    out = tmp_path / "out.csv"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(out), ""))
    hand.bot.mouseClick(window.buttons["write"], Qt.MouseButton.LeftButton)
    assert len(read_drawer(out)) == before + 1
    assert hand.window.session.plan is not None
    assert hand.window.session.plan.bur_steps_mm[-1] == 6.81, "a bur brought in counts for the seat at once"


def test_what_is_taken_out_of_use_goes_from_the_list_and_stays_in_the_store(window: DrawerWindow, hand: Hand) -> None:
    before = len(window.table.items)
    choose_row(window.rows, 1)
    hand.bot.mouseClick(window.buttons["remove"], Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: len(window.table.items) == before - 1)


def test_the_workshops_own_burs_make_the_steps(hand: Hand) -> None:
    hand.settle()
    assert hand.window.session.plan is not None
    assert hand.window.session.plan.bur_steps_mm == (6.4, 6.6, 6.8)


def test_fifty_thousand_rows_are_all_there(window: DrawerWindow, qtbot: QtBot, tmp_path: Path) -> None:
    """No timing here; see make bench."""
    many = [
        StockItem(
            kind=HEAD,
            code=f"K{place:05d}",
            metal="18k-yellow",
            size_mm=3 + place % 60 / 10,
            claws=4 + place % 3,
            claw_mm=0.9,
            height_mm=4.0,
        )
        for place in range(50_000)
    ]
    write_drawer(many, tmp_path / "many.csv")
    window.take(read_drawer(tmp_path / "many.csv"))
    assert window.table.rowCount() == 50_000
    assert filtered(qtbot, window, "k31234") == 1
    window.ranked.setChecked(True)
    filtered(qtbot, window)
    assert window.table.rowCount() == 50_000 and cell(window, 0, "verdict") == "fits"


def test_an_empty_drawer_says_what_to_do(window: DrawerWindow) -> None:
    window.take([])
    assert "Bring in a CSV file" in window.told.text()


def row_of(window: DrawerWindow, kind: str) -> int:
    return next(row for row in range(window.table.rowCount()) if window.table.item_at(row).kind == kind)


def test_a_ready_mount_is_taken_with_its_ring(window: DrawerWindow, hand: Hand) -> None:
    """Ring and head exist from then on: nothing of them is made, the ring is resized, and the stone is only set."""
    hand.window.session.set_value("stone.diameters_mm", [6.86], "Stone")
    hand.settle()
    window.ranked.setChecked(True)
    row = row_of(window, MOUNT)
    mount = window.table.item_at(row)
    assert cell(window, row, "kind") == MOUNT and cell(window, row, "size_mm") == "6.90"
    choose_row(window.rows, row)
    hand.bot.mouseClick(window.buttons["take"], Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: "left in the drawer" in window.told.text())
    document = hand.window.session.document
    assert document["head"]["exists"] and document["shank"]["exists"] and document["fit"]["method"] == "on-flat"
    assert document["shank"]["width_mm"] == mount.width_mm
    assert document["shank"]["resized_from"] == {"system": "mm", "value": f"{mount.inside_mm:g}"}
    assert "larger" in cell(window, row_of(window, MOUNT), "why") or "smaller" in cell(window, row, "why")
    plan = hand.window.session.plan
    assert plan is not None
    kinds = {step.operation.kind.key for step in route_of(plan).steps}
    assert "close-claws" in kinds and not kinds & {"bend-u", "roll", "cut-grooves", "drive-collet"}


def test_a_bezel_is_ranked_and_taken_as_it_measures(window: DrawerWindow, hand: Hand) -> None:
    hand.window.session.patch(style_patch(hand.window.session.document, "tube"), "Tube")
    hand.window.session.set_value("stone.diameters_mm", [6.86], "Stone")
    hand.settle()
    window.ranked.setChecked(True)
    assert "tubes and bezels, best first" in window.told.text()
    assert {window.table.item_at(row).kind for row in range(window.table.rowCount())} == {TUBE, BEZEL}
    best = window.table.item_at(0)
    assert (best.code, cell(window, 0, "verdict")) == ("BZ7.7", "fits") and "rim 0.42 mm" in cell(window, 0, "why")
    hand.bot.mouseClick(window.buttons["take"], Qt.MouseButton.LeftButton)
    hand.settle()
    head = hand.window.session.document["head"]
    assert (head["outside_mm"], head["wall_mm"], head["height_mm"]) == (7.7, 0.85, 4.6) and head["seated"]
    assert hand.value("seat.remaining") == pytest.approx(float(cell(window, 0, "lip")), abs=0.006)
    hand.type_over("head.tube_outer", "7.5")
    assert hand.window.session.document["head"]["outside_mm"] == 7.5
    narrow = next(row for row in range(window.table.rowCount()) if window.table.item_at(row).code == "BZ4.4")
    choose_row(window.rows, narrow)
    hand.bot.mouseClick(window.buttons["take"], Qt.MouseButton.LeftButton)
    assert "BZ4.4 does not go with this job" in window.told.text() and "no wall is left" in window.told.text()


def test_a_pendants_bail_is_chosen_beside_its_head(window: DrawerWindow, hand: Hand) -> None:
    """Ranked for ring and chain where bails are looked at; taken with its ring as wide as it needs, and counted."""
    document = hand.window.session.document
    bail = {"inside_mm": 2.4, "wire_mm": 0.8, "chain_end_mm": 2.7}
    gone = {**dict.fromkeys(document["fit"]), "method": "pendant", "bail": bail}
    hand.window.session.patch({"shank": None, "fit": gone}, "Pendant")
    hand.settle()
    window.ranked.setChecked(True)
    assert "heads and mounts, best first" in window.told.text()
    choose(window, SOLDER)
    assert "Nothing to rank" in window.told.text() and window.table.rowCount() == 6
    choose(window, BAIL)
    assert "bails, best first" in window.told.text() and "By hand" not in window.told.text()
    assert {window.table.item_at(row).kind for row in range(window.table.rowCount())} == {BAIL}
    assert cell(window, 0, "verdict") == "fits" and cell(window, 0, "chain") == "0.70"
    metal = hand.window.session.document["head"]["metal"]
    assert window.table.item_at(0).metal == metal, "of its equals the one in the job's metal first"
    row = next(row for row in range(window.table.rowCount()) if window.table.item_at(row).code == "BL43-4")
    assert cell(window, row, "verdict") == "wider ring"
    choose_row(window.rows, row)
    hand.bot.mouseClick(window.buttons["take"], Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: "BL43-4 is the bail of this job now; 0 left in the drawer" in window.told.text())
    held = hand.window.session.document["fit"]["bail"]
    assert held["bought"] == {"opening_mm": 4.3, "wire_mm": 2.9, "mass_g": 0.48, "joint": "soldered"}
    plan = hand.window.session.plan
    assert plan is not None and held["inside_mm"] > 2.9
    assert {call.code: call.level for call in plan.diagnostics}["bail-in-ring"] == "ok"
    hand.window.undo()
    hand.bot.waitUntil(lambda: next(item for item in window.table.items if item.code == "BL43-4").quantity == 1)


def test_no_bail_is_ranked_for_a_ring_behind_its_stone(window: DrawerWindow, hand: Hand) -> None:
    document = hand.window.session.document
    gone = {**dict.fromkeys(document["fit"]), "method": "pendant", "bail": {"place": "behind"}}
    hand.window.session.patch({"shank": None, "fit": gone}, "Pendant")
    hand.settle()
    choose(window, BAIL)
    window.ranked.setChecked(True)
    assert not window.kind.isEnabled() and "heads and mounts, best first" in window.told.text()
