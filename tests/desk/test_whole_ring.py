"""The window driven for every way a head meets its shank, for joints, setting, templates, alloys and pendants."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from pathlib import Path

import pytest
from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QApplication, QDialog, QFileDialog, QLabel, QLineEdit

from tests.desk.conftest import Hand
from yarvel.desk.house.alloys import AlloysDialog
from yarvel.desk.papers.templates import PDF, TemplatesDialog
from yarvel.exchange.price_file import Prices, write_prices
from yarvel.figures.figure import FigureKey
from yarvel.heads.places import numbers
from yarvel.shanks.methods import METHODS


def level(hand: Hand, code: str) -> str:
    plan = hand.window.session.plan
    assert plan is not None
    return next(call.level for call in plan.diagnostics if call.code == code)


def figures(hand: Hand) -> set[str]:
    """The keys of the figures of the plan in hand."""
    plan = hand.window.session.plan
    return set() if plan is None else {key.key for key in plan.figures}


def test_a_ring_cast_in_one_piece_is_chosen_and_drawn(hand: Hand) -> None:
    """A dome, cast claws, one casting: no notch, no blank, no joint; and every method is tried in this file."""
    assert {*STYLES, "cast-on"} == set(METHODS)
    hand.open_station("Stone")
    hand.choose("stone.cut", "round-cabochon")
    hand.open_station("Head")
    hand.choose("head.style", "cast-claw")
    hand.open_station("Shank")
    hand.type("shank.width_mm", "4.2")
    hand.choose("fit.method", "cast-on")
    plan = hand.window.session.plan
    assert plan is not None and plan.job.head.notch_ratio == 0 and not plan.joints
    hand.window.switch_sheet()
    hand.calm()
    drawing = hand.window.sheet.drawing
    assert drawing is not None
    keys = {text.key for text in drawing.texts() if text.key}
    assert "shank.foot_sunk" in keys and "shank.blank_length" not in keys


def words(hand: Hand, name: str) -> str:
    label = hand.window.findChild(QLabel, name)
    assert label is not None
    return label.text()


STYLES = {
    "let-in": "tube",
    "inset": "wire-basket",
    "on-flat": "wire-basket",
    "fish-mouth": "tube",
    "peg": "bought",
    "basket-point": "wire-basket",
    "split-shoulder": "tapered-collet",
}


@pytest.mark.parametrize("method", list(STYLES))
def test_every_method_is_chosen_drawn_and_told(method: str, hand: Hand) -> None:
    """Style and method from their lists; figures, whole ring and steps follow; undo brings all back."""
    before = hand.window.session.document
    hand.open_station("Head")
    hand.choose("head.style", STYLES[method])
    hand.open_station("Shank")
    hand.type("shank.width_mm", "4.2")
    hand.choose("fit.method", method)
    plan = hand.window.session.plan
    assert plan is not None and plan.job.fit is not None and plan.job.fit.method == method
    assert "decides the height" in words(hand, "fit.decided")
    hand.window.switch_sheet()
    hand.calm()
    drawing = hand.window.sheet.drawing
    assert drawing is not None
    texts = {text.key: text.text for text in drawing.texts() if text.key}
    assert texts["shank.blank_length"] == plan.figures[FigureKey("shank.blank_length")].text()
    assert any("Section in the plane of the band" in text.text for text in drawing.texts())
    hand.click_figure("shank.blank_length")
    assert hand.window.sheet.chosen_key == "shank.blank_length"
    hand.open_station("Work")
    hand.settle()
    rows = hand.window.run.stations[5].list
    assert any("Fit head and shank" in rows.item(row).text() for row in range(rows.count()))
    while hand.window.session.undo_stack.canUndo():
        hand.window.session.undo_stack.undo()
    assert hand.window.session.document == before


def test_a_style_that_the_fit_cannot_take_brings_the_usual_fit(hand: Hand) -> None:
    hand.open_station("Head")
    hand.choose("head.style", "tube")
    hand.open_station("Shank")
    hand.choose("fit.method", "fish-mouth")
    hand.open_station("Head")
    hand.choose("head.style", "wire-basket")
    assert hand.window.session.document["fit"]["method"] == "on-flat" and not hand.window.session.problems


def test_a_taper_is_typed_and_drawn(hand: Hand) -> None:
    hand.open_station("Shank")
    hand.unfold("changes along the ring")
    hand.type("shank.head_width_mm", "3.4")
    hand.type("shank.head_thickness_mm", "1.5")
    assert hand.value("shank.width") == pytest.approx(3.4) and hand.value("shank.back_width") == pytest.approx(2.6)
    hand.window.switch_sheet()
    hand.calm()
    keys = {text.key for text in hand.window.sheet.figure_texts()}
    assert {"shank.width", "shank.back_width", "shank.back_thickness"} <= keys


def test_a_neighbours_band_and_its_remedy(hand: Hand) -> None:
    hand.open_station("Shank")
    hand.type("fit.beside_mm", "2.4")
    assert level(hand, "worn-by-neighbour") in ("caution", "stop")
    call = next(call for call in hand.window.session.plan.diagnostics if call.code == "worn-by-neighbour")  # type: ignore[union-attr]
    hand.window.session.take_remedy(call)
    assert level(hand, "worn-by-neighbour") == "ok"


def test_an_old_slot_and_another_size(hand: Hand) -> None:
    hand.open_station("Shank")
    hand.choose("fit.method", "inset")
    hand.unfold("a ring that exists already")
    hand.type("shank.resized_from", "J½")
    assert hand.window.session.document["shank"]["resized_from"] == {"system": "UK", "value": "J½"}
    assert hand.value("resize.change") == pytest.approx(1.25, abs=1e-6)
    hand.type("shank.resized_from", "99x")
    assert "shank.resized_from" in hand.window.session.drafts
    hand.type("shank.resized_from", "")
    assert "resized_from" not in hand.window.session.document["shank"]
    hand.type("fit.slot.inside_mm", "4.6")
    hand.type("fit.slot.left_mm", "1.3")
    hand.type("fit.slot.right_mm", "1.6")
    assert level(hand, "slot-worn") == "caution"
    hand.type("fit.slot.inside_mm", "")
    assert "slot" not in hand.window.session.document["fit"]


def test_a_pendant_is_hung_and_taken_down(hand: Hand) -> None:
    hand.open_station("Shank")
    hand.window.session.patch({"shank": None, "fit": None}, "Take the shank away")
    hand.calm()
    hand.bot.mouseClick(hand.field("fit.hang"), Qt.MouseButton.LeftButton)
    hand.calm()
    assert hand.window.session.document["fit"] == {"method": "pendant"}
    hand.type("fit.bail.chain_end_mm", "3.6")
    assert level(hand, "chain-opening") == "stop"
    hand.type("fit.bail.inside_mm", "4.2")
    assert level(hand, "chain-opening") == "ok"
    assert hand.window.run.stations[4].telling() == "pendant · ring 4.20 inside"
    hand.type("fit.bail.bought.opening_mm", "3.4", enter=True)
    hand.settle()
    hand.type("fit.bail.bought.wire_mm", "0.9", enter=True)
    hand.choose("fit.bail.bought.joint", "soldered")
    assert hand.window.session.document["fit"]["bail"]["bought"] == {
        "opening_mm": 3.4,
        "wire_mm": 0.9,
        "joint": "soldered",
    }
    assert level(hand, "bail-in-ring") == "ok"
    hand.type("fit.bail.bought.opening_mm", "", enter=True)
    hand.settle()
    assert "bought" not in hand.window.session.document["fit"]["bail"]
    assert hand.window.session.plan is not None and hand.window.session.plan.joints[-1].group == "bail-to-head"
    hand.type("fit.bail.height_mm", "1.3", enter=True)
    hand.choose("fit.bail.place", "behind")
    assert hand.window.session.document["fit"]["bail"] == {"chain_end_mm": 3.6, "inside_mm": 4.2, "place": "behind"}
    fields = hand.window.run.stations[4].numbers
    assert not any(fields[f"fit.bail.{name}"].isVisible() for name in ("height_mm", "bought.opening_mm"))
    hand.window.undo()
    assert hand.window.session.document["fit"]["bail"]["height_mm"] == 1.3, "one step back"


def test_a_group_of_joints_gets_its_grade_and_what_melts_is_said(hand: Hand) -> None:
    hand.open_station("Work")
    hand.unfold("solder, group by group")
    session = hand.window.session
    hand.choose("joints.grades.shank-seam", "fused")
    assert session.document["joints"]["grades"] == {"shank-seam": "fused"}
    hand.settle()
    station = hand.window.run.stations[5]
    assert "fuse-shank-seam" in station.list.operation_keys()
    hand.choose("joints.grades.claws-to-upper-ring", "easy")
    hand.settle()
    assert any("this heat opens" in told for line in station._lines.values() for told in line.step.unmet)
    hand.choose("joints.school", "one-grade")
    assert level(hand, "one-grade-with-care") == "note"


def test_setting_by_schools_and_by_level(hand: Hand) -> None:
    hand.open_station("Work")
    station = hand.window.run.stations[5]

    def told() -> str:
        return " ".join(line.text for line in station._lines.values())

    assert "A pusher with a smooth face" in told()
    hand.unfold("schools")
    hand.choose("setting.closing", "pliers")
    hand.choose("setting.seat", "file-first")
    hand.settle()
    assert "Pliers across each pair" in told() and "three-square file" in told()
    hand.choose("setting.closing", "pliers-pusher")
    hand.choose("setting.tips", "after")
    hand.settle()
    assert (
        "notched pusher" in told()
        and "cup bur or beader" in told()
        and "burnish-claws" in station.list.operation_keys()
    )
    assert hand.field("setting.closing").findData("rocker") < 0, "a rocker is for rims"  # type: ignore[attr-defined]
    hand.choose("setting.jaws", "nylon")
    assert hand.window.session.document["setting"]["jaws"] == "nylon"
    hand.choose("setting.closing", "block")
    assert "jaws" not in hand.window.session.document["setting"], "no pliers, no jaws"
    hand.choose("setting.closing", "pusher")
    hand.unfold("is the table level?")
    by_claw = (11.2, 10.9, 10.9, 11.2)
    for claw, height in enumerate(by_claw, start=1):
        field = hand.field(f"setting.table_heights_mm.{claw - 1}")
        assert field.accessibleName() == f"Height of the table at claw {claw}, mm", "by their numbers, clockwise"
        hand.type(f"setting.table_heights_mm.{claw - 1}", f"{height}")
    assert level(hand, "stone-not-level") == "caution"
    assert "lies low towards 6" in words(hand, "setting.level")
    hand.type("setting.table_heights_mm.2", "abc")
    assert "0 to 60" in words(hand, "setting.level")
    plan = hand.window.session.plan
    assert plan is not None
    kept = [by_claw[called - 1] for called in numbers(plan.shape.places)]
    assert hand.window.session.document["setting"]["table_heights_mm"] == kept, "each with its claw"


def test_one_metal_for_the_piece_until_somebody_says_otherwise(hand: Hand) -> None:
    """A white head gets a white shank; a band of another metal that was chosen, or that is there, stays."""
    session = hand.window.session
    session.patch({"shank": None, "fit": None, "head": {"metal": "18k-white"}}, "A head alone")
    hand.open_station("Shank")
    hand.type("shank.size.value", "ISO 54", enter=True)
    assert session.document["shank"]["metal"] == "18k-white"
    hand.open_station("Head")
    hand.choose("head.metal", "platinum-950")
    assert session.document["shank"]["metal"] == "platinum-950", "it goes with the head"
    hand.press(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    hand.calm()
    assert (session.document["head"]["metal"], session.document["shank"]["metal"]) == ("18k-white",) * 2
    hand.open_station("Shank")
    hand.choose("shank.metal", "18k-yellow")
    hand.open_station("Head")
    hand.choose("head.metal", "platinum-950")
    assert session.document["shank"]["metal"] == "18k-yellow", "two colours were meant"
    session.patch({"shank": {"metal": "platinum-950", "exists": True}}, "A ring that is there")
    hand.choose("head.metal", "18k-white")
    assert session.document["shank"]["metal"] == "platinum-950", "what is there is what it is"


def test_the_work_begins_with_what_is_there(hand: Hand) -> None:
    hand.open_station("Work")
    hand.unfold("where the work begins")
    station = hand.window.run.stations[5]
    assert "roll-shank" in station.list.operation_keys()
    hand.choose("shank.exists", True)
    hand.settle()
    assert "roll-shank" not in station.list.operation_keys()
    hand.choose("head.exists", True)
    hand.settle()
    hand.choose("stone.state", "held")
    hand.settle()
    keys = station.list.operation_keys()
    assert "seat-stone-stone" not in keys and "release-piece" in keys, "nothing is heated: the stone stays in"
    hand.choose("head.exists", False)
    hand.settle()
    assert "state" not in hand.window.session.document["stone"] and "level-tops-head" in station.list.operation_keys()


def test_stock_in_hand_is_typed_as_people_say_it(hand: Hand) -> None:
    hand.open_station("Shank")
    hand.unfold("metal to cut, draw and roll")
    hand.type("shank.stock", "2 x 2 x 30", enter=True)
    hand.settle()
    assert hand.window.session.document["shank"]["stock"] == {"across_mm": 2.0, "down_mm": 2.0, "length_mm": 30.0}
    assert level(hand, "stock-short") == "caution"
    hand.type("shank.stock", "two by two", enter=True)
    assert any("three numbers in mm" in label.text() for label in hand.window.run.stations[4].findChildren(QLabel))
    assert hand.window.session.document["shank"]["stock"]["length_mm"] == 30.0, "what was accepted holds"
    hand.type("shank.stock", "", enter=True)
    hand.settle()
    assert "stock" not in hand.window.session.document["shank"]


def answering(kind: type, act: Callable[[object], None]) -> None:
    """Do something with the dialog of this kind once it is up."""

    def look() -> None:
        dialog = next(
            (widget for widget in QApplication.topLevelWidgets() if isinstance(widget, kind) and widget.isVisible()),
            None,
        )
        if dialog is None:
            QTimer.singleShot(30, look)
        else:
            act(dialog)

    QTimer.singleShot(30, look)


def test_templates_are_shown_corrected_and_written(hand: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    target = tmp_path / "templates.pdf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_args, **_kwargs: (str(target), ""))

    def act(dialog: object) -> None:
        assert isinstance(dialog, TemplatesDialog)
        bar = dialog.findChild(QLineEdit, "templates.across_mm")
        assert bar is not None
        bar.setFocus()
        bar.selectAll()
        hand.bot.keyClicks(bar, "19")
        assert not dialog.buttons[PDF].isEnabled()
        bar.selectAll()
        hand.bot.keyClicks(bar, "49.5")
        hand.bot.mouseClick(dialog.buttons[PDF], Qt.MouseButton.LeftButton)

    answering(TemplatesDialog, act)
    hand.window.papers.templates()
    assert target.read_bytes().startswith(b"%PDF") and str(target) in hand.window.banner.text()
    assert hand.window.papers.printer().across_mm == 49.5


def test_an_alloys_density_changes_every_mass(hand: Hand) -> None:
    hand.judge()
    before = hand.value("shank.mass")

    def act(dialog: object) -> None:
        assert isinstance(dialog, AlloysDialog)
        edit = dialog.edits["18k-yellow", "density"]
        edit.setFocus()
        edit.selectAll()
        hand.bot.keyClicks(edit, "99")
        label = dialog.findChild(QLabel, "alloys.problem")
        assert label is not None and "4 to 23" in label.text()
        edit.selectAll()
        hand.bot.keyClicks(edit, "14")
        hand.bot.mouseClick(dialog.buttons.button(dialog.buttons.StandardButton.Ok), Qt.MouseButton.LeftButton)

    answering(AlloysDialog, act)
    hand.window.house.edit_alloys()
    hand.bot.waitUntil(lambda: "shank.mass" in figures(hand) and hand.value("shank.mass") != before)
    assert hand.value("shank.mass") == pytest.approx(before * 14 / 15.5)
    assert level(hand, "alloy-density") == "caution"


def test_metal_to_cut_is_listed(hand: Hand) -> None:
    hand.open_station("Shank")
    hand.unfold("metal to cut, draw and roll")
    hand.judge()
    hand.bot.waitUntil(lambda: "issue" in words(hand, "shank.material"))
    text = words(hand, "shank.material")
    assert "Claws as U-pieces" in text and "square stock" in text and "issue" in text


def test_metal_prices_come_from_a_file(hand: Hand, tmp_path: Path) -> None:
    """Into the lines, with their day; kept with the button; one that is none is told and changes nothing."""
    path = tmp_path / "prices.json"
    write_prices(Prices(datetime(2020, 1, 2, 9), {"Au": 80.0, "Ag": 1.0, "Pt": 30.0}), path)
    dialog = AlloysDialog(hand.window.session.rules, hand.window)
    hand.bot.addWidget(dialog)
    dialog.show()
    dialog.take_prices(tmp_path / "none.json")
    assert "a price file that can be read" in hand_text(dialog, "alloys.problem")
    dialog.take_prices(path)
    assert float(dialog.edits["sterling-silver", "price_per_g"].text()) == pytest.approx(0.93, abs=0.01)
    told = hand_text(dialog, "alloys.told")
    assert "Metal prices of 2020-01-02. They are stale" in told and "None for 18k white, Pd" in told
    dialog._on_accepted()
    kept = dialog.result_rules
    assert kept is not None and kept.custom.prices_on == "2020-01-02"
    assert ("sterling-silver", "price_per_g", 0.93) in kept.custom.alloys


def hand_text(dialog: QDialog, name: str) -> str:
    """What a label says."""
    label = dialog.findChild(QLabel, name)
    assert label is not None
    return label.text()


def test_sections_along_the_band_are_typed_in_one_line(hand: Hand) -> None:
    """Flat at the head, half-round behind; what is not accepted stays, with what is; nothing takes them away."""
    hand.open_station("Shank")
    hand.choose("shank.profile", "half-round")
    hand.unfold("changes along the ring")
    hand.choose("shank.head_profile", "flat")
    hand.type("shank.stations", "45 3.4 x 1.7 flat; 100 2.5 x 1.9 half-round", enter=True)
    shank = hand.window.session.document["shank"]
    assert shank["head_profile"] == "flat" and [one["turn_deg"] for one in shank["stations"]] == [45, 100]
    assert hand.field("shank.stations").text() == "45° 3.4 × 1.7 flat; 100° 2.5 × 1.9 half-round"
    long = hand.value("shank.blank_length")
    hand.type("shank.stations", "45 oval", enter=True)
    assert hand.field("shank.stations").text() == "45 oval" and hand.value("shank.blank_length") == pytest.approx(long)
    hand.type("shank.stations", "", enter=True)
    assert "stations" not in hand.window.session.document["shank"]
