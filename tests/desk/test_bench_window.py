"""The bench window from the first reading to the printed sheet, through its visible controls."""

from __future__ import annotations

import math
from collections.abc import Callable
from pathlib import Path

import pytest
from msgspec.structs import replace
from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt, QTimer, QUrl
from PySide6.QtGui import QDropEvent, QGuiApplication
from PySide6.QtWidgets import QApplication, QComboBox, QDialog, QFileDialog, QLabel, QLineEdit, QPushButton, QWidget

from tests.desk.conftest import Hand
from tests.pdf_text import whole_text
from yarvel.desk.bench.calls_panel import CallCard
from yarvel.desk.dialogs.accept_call import AcceptDialog
from yarvel.desk.dialogs.made_collet import MadeColletDialog
from yarvel.desk.dialogs.shortcuts import ShortcutsDialog
from yarvel.desk.finder.dialog import Finder
from yarvel.desk.house.house_rules import HouseRulesDialog
from yarvel.desk.stations.work_station import WorkStation
from yarvel.drawing.primitives import Facets
from yarvel.exchange.job_file import read_job
from yarvel.figures.figure import FigureKey
from yarvel.figures.rules import HouseRules
from yarvel.planning.diagnostics.diagnostic import Diagnostic
from yarvel.workshop.store import Store

CONTROL = Qt.KeyboardModifier.ControlModifier
SHIFT = Qt.KeyboardModifier.ShiftModifier


def card(hand: Hand, code: str) -> CallCard:
    hand.calm()
    return next(
        card
        for card in hand.window.calls.cards
        if card.isVisible() and card.call is not None and card.call.code == code
    )


def choose(hand: Hand, name: str, text: str) -> None:
    combo = hand.field(name)
    assert isinstance(combo, QComboBox)
    combo.setCurrentIndex(combo.findText(text))
    combo.activated.emit(combo.currentIndex())
    hand.calm()


def in_dialog(hand: Hand, kind: type[QDialog], act: Callable[[QDialog], None]) -> None:
    """Act in the next modal dialog of a kind as soon as it is shown."""

    def look() -> None:
        dialog = next(
            (widget for widget in QApplication.topLevelWidgets() if isinstance(widget, kind) and widget.isVisible()),
            None,
        )
        if dialog is None:
            QTimer.singleShot(20, look)
        else:
            act(dialog)

    QTimer.singleShot(20, look)


def test_from_the_first_reading_to_the_bench_sheet(
    open_hand: Callable[[Path], Hand], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A new store, one docket: readings by gauge and Enter, size, method, PDF, close without saving, reopen."""
    path = tmp_path / "fresh.sqlite"
    hand = open_hand(path)
    assert hand.window.session.plan is None
    hand.press(Qt.Key.Key_N, CONTROL)
    hand.bot.waitUntil(lambda: hand.window.session.is_new)
    hand.bot.waitUntil(lambda: hand.field("stone.diameters_mm.0").hasFocus())
    for text in ("5.21", "5.27"):
        hand.keys(text)
        hand.press(Qt.Key.Key_Return)
    hand.press(Qt.Key.Key_Return)
    hand.keys("3,2")
    assert hand.value("stone.mean_diameter") == pytest.approx(5.24)
    assert hand.value("stone.depth") == 3.2
    hand.press(Qt.Key.Key_5, CONTROL)
    choose(hand, "shank.size.system", "UK")
    hand.type("shank.size.value", "L½")
    choose(hand, "fit.method", "Inset in a gap")
    hand.type("shank.width_mm", "2.4")
    assert hand.value("shank.inside_circumference") == pytest.approx(37.5 + 1.25 * 11.5)
    assert hand.value("shank.gap_inside") > 0
    target = tmp_path / "sheet.pdf"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(target), ""))
    hand.press(Qt.Key.Key_P, CONTROL | SHIFT)
    assert "5.24" in whole_text(target)
    assert "written to" in hand.shown("banner")
    before = dict(hand.window.session.document)
    number = hand.window.session.docket.number if hand.window.session.docket else ""
    hand.window.close()
    again = open_hand(path)
    assert again.window.session.document == before
    assert number in again.window.windowTitle()


def test_figures_follow_at_every_keystroke(hand: Hand) -> None:
    hand.open_station("Head")
    hand.type("head.claw_mm", "1")
    assert hand.value("head.claw") == 1.0
    hand.keys(".15")
    assert hand.value("head.claw") == 1.15
    texts = [text.text for text in hand.window.sheet.figure_texts() if text.key == "head.claw"]
    assert texts == ["1.15 claw"]


def test_a_refused_value_stays_marked_and_the_rest_goes_on(hand: Hand) -> None:
    hand.open_station("Stone")
    hand.type("stone.depth_mm", "9.9")
    field = hand.window.run.stations[1].numbers["stone.depth_mm"]
    assert field.edit.text() == "9.9"
    assert field.edit.property("wrong") is True
    assert "more than the stone is wide" in field.mark.text()
    assert field.mark.text().endswith("Accepted: a depth up to the smallest width. Until then 4.21 holds")
    assert hand.value("stone.depth") == 4.21
    hand.type("stone.girdle_mm", "0.2")
    assert hand.value("stone.girdle") == 0.2
    assert field.edit.text() == "9.9"
    hand.type("stone.depth_mm", "4.3")
    assert not field.mark.isVisible()
    assert hand.value("stone.depth") == 4.3


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("abc", "no number"),
        ("-3", "0.2 to 40 mm"),
        ("1e9", "0.2 to 40 mm"),
        ("nan", "0.2 to 40 mm"),
        ("0", "0.2 to 40 mm"),
    ],
)
def test_bad_readings_say_what_is_accepted(hand: Hand, text: str, told: str) -> None:
    hand.open_station("Stone")
    hand.type("stone.depth_mm", text)
    assert told in hand.window.run.stations[1].numbers["stone.depth_mm"].mark.text()
    assert hand.value("stone.depth") == 4.21


def test_a_value_refused_before_is_taken_once_another_makes_it_fit(hand: Hand) -> None:
    hand.open_station("Stone")
    hand.type("stone.diameters_mm.1", "")
    hand.type("stone.diameters_mm.0", "3.1")
    assert "stone.diameters_mm" in hand.window.session.drafts
    hand.type("stone.depth_mm", "1.9")
    assert hand.window.session.drafts == {}
    assert hand.value("stone.mean_diameter") == 3.1
    assert hand.value("stone.depth") == 1.9


def test_typing_on_to_nonsense_takes_back_what_was_accepted_on_the_way(hand: Hand) -> None:
    hand.open_station("Stone")
    hand.type("stone.depth_mm", "3.9")
    hand.window.session.end_burst()
    hand.type("stone.depth_mm", "4.0x")
    assert hand.value("stone.depth") == 3.9
    assert hand.window.session.undo_stack.count() == 1
    assert hand.window.session.drafts == {"stone.depth_mm": "4.0x"}


def test_a_reading_can_be_cleared_and_typed_anew(hand: Hand) -> None:
    hand.open_station("Stone")
    hand.type("stone.diameters_mm.1", "")
    hand.type("stone.diameters_mm.0", "")
    assert hand.window.session.plan is None
    hand.type("stone.diameters_mm.0", "6.6")
    assert hand.value("stone.depth") == 4.21
    assert hand.value("stone.mean_diameter") == 6.6


def test_readings_are_kept_beside_one_another(hand: Hand) -> None:
    hand.open_station("Stone")
    hand.type("stone.diameters_mm.2", "6.82")
    assert hand.window.session.document["stone"]["diameters_mm"] == [6.84, 6.79, 6.82]
    assert hand.field("stone.diameters_mm.3").isVisible()
    assert hand.value("stone.mean_diameter") == pytest.approx((6.84 + 6.79 + 6.82) / 3)


def test_undo_and_redo_go_step_by_step(hand: Hand) -> None:
    hand.open_station("Head")
    hand.type("head.claw_mm", "1.2")
    hand.open_station("Seat")
    hand.type("head.notch_ratio", "0.3")
    assert hand.window.session.undo_stack.count() == 2
    hand.window.sheet.setFocus()
    hand.press(Qt.Key.Key_Z, CONTROL)
    assert hand.value("seat.notch_ratio") == pytest.approx(0.46)
    hand.press(Qt.Key.Key_Z, CONTROL)
    assert hand.value("head.claw") != 1.2
    hand.press(Qt.Key.Key_Z, CONTROL | SHIFT)
    hand.press(Qt.Key.Key_Z, CONTROL | SHIFT)
    assert (hand.value("head.claw"), hand.value("seat.notch_ratio")) == (1.2, pytest.approx(0.3))


def test_undo_reaches_the_job_while_a_field_has_the_focus(hand: Hand) -> None:
    hand.open_station("Head")
    hand.type("head.claw_mm", "1.2")
    hand.press(Qt.Key.Key_M, CONTROL)
    assert hand.field("head.claw_mm").hasFocus()
    hand.press(Qt.Key.Key_Z, CONTROL)
    assert hand.value("head.claw") == 1.2
    hand.press(Qt.Key.Key_Z, CONTROL)
    assert hand.value("head.claw") == 1.05
    hand.calm()
    assert hand.field("head.claw_mm").property("text") == ""
    hand.press(Qt.Key.Key_Z, CONTROL | SHIFT)
    assert hand.value("head.claw") == 1.2


def test_a_remedy_is_previewed_taken_undone_and_redone(hand: Hand) -> None:
    button = card(hand, "notch-too-deep").remedy
    assert button.text() == "Notch 0.33 of the claw"
    button.rested.emit(True)
    assert hand.window.session.preview is not None
    assert hand.window.session.preview.plan[FigureKey("seat.notch_ratio")] == pytest.approx(0.33)
    assert hand.value("seat.notch_ratio") == pytest.approx(0.46)
    button.rested.emit(False)
    assert hand.window.session.preview is None
    hand.bot.mouseClick(button, Qt.MouseButton.LeftButton)
    assert hand.value("seat.notch_ratio") == pytest.approx(0.33)
    hand.calm()
    assert "notch-too-deep" not in [call.code for call in hand.window.calls.shown_calls()]
    hand.press(Qt.Key.Key_Z, CONTROL)
    assert hand.value("seat.notch_ratio") == pytest.approx(0.46)
    hand.press(Qt.Key.Key_Z, CONTROL | SHIFT)
    assert hand.value("seat.notch_ratio") == pytest.approx(0.33)


def test_a_long_remedy_folds_and_widens_nothing(hand: Hand) -> None:
    """However much a button says, the cards stay as wide as their panel."""
    hand.judge()
    panel = hand.window.calls
    one = next(card for card in panel.cards if card.remedy.isVisible())
    assert one.call is not None
    one.show_call(
        replace(one.call, remedy_label="Six claws, lift the lower ring by 0.55 mm, and a wider band"), panel._colours
    )
    hand.calm()
    assert "\n" in one.remedy.text() and one.remedy.accessibleName().startswith("Six claws, lift the lower ring")
    assert one.width() <= panel.viewport().width() and panel.widget().width() <= panel.viewport().width()


def test_the_worst_remedy_by_key(hand: Hand) -> None:
    hand.calm()
    hand.press(Qt.Key.Key_M, CONTROL)
    assert hand.value("seat.notch_ratio") == pytest.approx(0.33)


def test_calls_that_hold_are_folded_and_unfold(hand: Hand) -> None:
    hand.calm()
    assert all(call.level != "ok" for call in hand.window.calls.shown_calls())
    hand.bot.mouseClick(hand.window.calls.holding, Qt.MouseButton.LeftButton)
    assert hand.window.session.plan is not None
    assert len(hand.window.calls.shown_calls()) == len(hand.window.session.plan.diagnostics)


def test_dragging_the_seat_line_is_one_step(hand: Hand) -> None:
    before = hand.value("seat.plane_above_finger")
    scale = hand.window.sheet.drawing.scale * hand.window.sheet.per_mm if hand.window.sheet.drawing else 1
    hand.drag("seat-height", QPoint(0, -40))
    assert hand.value("seat.plane_above_finger") == pytest.approx(before + 40 / scale, abs=0.02)
    assert hand.window.session.undo_stack.count() == 1
    assert hand.window.session.plan is not None
    assert hand.window.session.plan.figures[FigureKey("stone.depth")].plus_minus > 0
    hand.window.undo()
    assert hand.value("seat.plane_above_finger") == pytest.approx(before)


def test_the_seat_line_itself_can_be_taken_hold_of(hand: Hand) -> None:
    sheet = hand.window.sheet
    assert sheet.drawing is not None
    grip = next(found for found in sheet.drawing.grips if found.name == "seat-height")
    on_line = QPointF(grip.at[0] * sheet.per_mm - 60, grip.at[1] * sheet.per_mm + 2)
    assert sheet.grip_at(on_line) is grip
    assert sheet.grip_at(on_line + QPointF(0, 12)) is None
    before = hand.value("seat.plane_above_finger")
    hand.bot.mousePress(sheet, Qt.MouseButton.LeftButton, pos=on_line.toPoint())
    hand.bot.mouseMove(sheet, on_line.toPoint() - QPoint(0, 25))
    hand.bot.mouseRelease(sheet, Qt.MouseButton.LeftButton, pos=on_line.toPoint() - QPoint(0, 25))
    assert hand.value("seat.plane_above_finger") > before + 0.5


def test_dragging_the_opening_changes_the_notch(hand: Hand) -> None:
    before = hand.value("head.inner_opening")
    scale = hand.window.sheet.drawing.scale * hand.window.sheet.per_mm if hand.window.sheet.drawing else 1
    hand.drag("opening", QPoint(6, 0))
    assert hand.value("head.inner_opening") == pytest.approx(before + 12 / scale, abs=0.02)
    assert hand.value("seat.notch_ratio") < 0.46


def test_a_drag_too_far_stops_at_what_is_possible(hand: Hand) -> None:
    hand.drag("opening", QPoint(400, 0))
    assert hand.value("seat.notch_ratio") == pytest.approx(0.05)
    assert hand.window.session.drafts == {}


def test_a_figure_opens_its_working_and_can_be_copied(hand: Hand) -> None:
    hand.click_figure("head.inner_opening")
    assert hand.shown("working.value").startswith("5.85 mm  ±")
    formula = hand.window.working.formula.accessibleName()
    assert "D − 2·ρ·w" in formula and "6.815 − 2·0.46·1.05" in formula
    assert "Origin: geometry" in hand.shown("working.text")
    hand.window.working.copy()
    assert QGuiApplication.clipboard().text() == "5.85 mm"


@pytest.mark.parametrize(
    ("key", "typed", "figure", "value"),
    [
        ("head.inner_opening", "6.2", "head.inner_opening", 6.2),
        ("seat.plane_above_finger", "5.4", "seat.plane_above_finger", 5.4),
        ("seat.table_above_finger", "7", "seat.table_above_finger", 7.0),
        ("seat.culet_above_finger", "2.4", "seat.culet_above_finger", 2.4),
        ("seat.ring_above_finger", "4.1", "seat.ring_above_finger", 4.1),
        ("stone.crown_height", "1.1", "stone.crown_height", 1.1),
        ("stone.mean_diameter", "6.7", "stone.mean_diameter", 6.7),
        ("seat.depth", "0.35", "seat.depth", 0.35),
        ("seat.remaining", "0.7", "seat.remaining", 0.7),
        ("head.outer_over_claws", "8.1", "head.outer_over_claws", 8.1),
        ("head.claw", "1.1", "head.claw", 1.1),
        ("shank.width", "3", "shank.width", 3.0),
    ],
)
def test_figures_on_the_sheet_are_typed_over(hand: Hand, key: str, typed: str, figure: str, value: float) -> None:
    hand.type_over(key, typed)
    assert hand.value(figure) == pytest.approx(value, abs=0.005)
    assert hand.window.session.undo_stack.count() == 1


def test_a_figure_typed_over_with_nonsense_says_so_and_changes_nothing(hand: Hand) -> None:
    before = dict(hand.window.session.document)
    hand.type_over("head.claw", "7")
    assert "Accepted:" in hand.shown("banner")
    assert hand.window.session.document == before
    hand.press(Qt.Key.Key_Escape)
    hand.bot.waitUntil(lambda: hand.window.findChild(QLineEdit, "sheet.editor") is None)


def test_a_figure_that_is_gone_while_it_is_typed_over_is_told(hand: Hand) -> None:
    hand.bot.mouseDClick(hand.window.sheet, Qt.MouseButton.LeftButton, pos=hand.figure_point("head.claw"))
    hand.window.session.set_value("head.style", "tube", "Style")
    hand.bot.keyClicks(hand.field("sheet.editor"), "1.1")
    hand.bot.keyClick(hand.field("sheet.editor"), Qt.Key.Key_Return)
    assert "no longer there" in hand.shown("banner")
    hand.window.dockets.open(3)
    hand.bot.waitUntil(lambda: hand.window.findChild(QLineEdit, "sheet.editor") is None)


def test_a_figure_that_follows_says_that_it_follows(hand: Hand) -> None:
    hand.bot.mouseDClick(hand.window.sheet, Qt.MouseButton.LeftButton, pos=hand.figure_point("head.upper_ring_outer"))
    assert "follows from other figures" in hand.shown("banner")


def test_the_sheet_by_keys_alone(hand: Hand) -> None:
    sheet = hand.window.sheet
    sheet.setFocus()
    hand.press(Qt.Key.Key_Right)
    first = sheet.chosen_key
    hand.press(Qt.Key.Key_Right)
    assert sheet.chosen_key != first
    hand.press(Qt.Key.Key_Left)
    assert sheet.chosen_key == first
    before = hand.value("seat.plane_above_finger")
    hand.press(Qt.Key.Key_PageUp)
    assert hand.value("seat.plane_above_finger") == pytest.approx(before + 0.05, abs=0.006)
    hand.press(Qt.Key.Key_Greater)
    assert hand.value("seat.notch_ratio") < 0.46
    while sheet.chosen_key != "head.claw":
        hand.press(Qt.Key.Key_Down)
    hand.press(Qt.Key.Key_Return)
    hand.keys("1.2")
    hand.press(Qt.Key.Key_Return)
    assert hand.value("head.claw") == 1.2


def test_a_tube_shows_a_tubes_fields(hand: Hand) -> None:
    hand.open_station("Head")
    choose(hand, "head.style", "Tube")
    hand.type("head.wall_mm", "0.9")
    assert hand.value("head.wall") == 0.9
    assert not hand.window.run.stations[2].numbers["head.claw_mm"].isVisible()


def test_a_size_is_typed_in_any_system(hand: Hand, open_hand: Callable[[Path], Hand], demo_path: Path) -> None:
    """Whatever stands in the box; what was chosen there is remembered, and what was typed by name is not."""
    hand.open_station("Shank")
    field, box = hand.field("shank.size.value"), hand.field("shank.size.system")
    assert isinstance(field, QLineEdit) and isinstance(box, QComboBox)
    choose(hand, "shank.size.system", "ISO")
    hand.type("shank.size.value", "N")
    assert box.currentData() == "UK" and field.text() == "N"
    assert hand.value("shank.inside_diameter") == pytest.approx((37.5 + 1.25 * 13) / math.pi)
    hand.type("shank.size.value", "US 6½", enter=True)
    assert (box.currentData(), field.text()) == ("US", "6½")
    assert hand.value("shank.inside_diameter") == pytest.approx(11.6332 + 0.8128 * 6.5)
    hand.type("shank.size.value", "54", enter=True)
    assert box.currentData() == "ISO" and hand.value("shank.inside_diameter") == pytest.approx(54 / math.pi)
    hand.type("shank.size.value", "6", enter=True)
    problem = hand.window.session.problems["shank.size.value"]
    assert "several systems" in problem.wrong and "US 6" in problem.accepted
    assert hand.value("shank.inside_diameter") == pytest.approx(54 / math.pi), "nothing is guessed"
    hand.type("shank.size.value", "54", enter=True)
    choose(hand, "shank.size.system", "UK")
    hand.settle()
    hand.window.close()
    again = open_hand(demo_path)
    again.window.dockets.take_in()
    again.calm()
    again.open_station("Stone")
    again.type("stone.depth_mm", "4.1")
    again.settle()
    again.open_station("Shank")
    box = again.field("shank.size.system")
    assert isinstance(box, QComboBox) and box.currentData() == "UK"


def test_sizes_change_system_without_changing_the_finger(hand: Hand) -> None:
    hand.open_station("Shank")
    before = hand.value("shank.inside_diameter")
    choose(hand, "shank.size.system", "US")
    assert hand.value("shank.inside_diameter") == pytest.approx(before, abs=0.11)
    hand.type("shank.size.value", "banana")
    assert "no size" in hand.window.session.problems["shank.size.value"].wrong
    assert hand.value("shank.inside_diameter") == pytest.approx(before, abs=0.11)
    hand.type("shank.size.value", "6")
    hand.type("shank.size.value", "")
    hand.field("shank.width_mm").setFocus()
    assert hand.field("shank.size.value").property("text") == "6"
    assert hand.value("shank.width") == 2.6
    away = next(
        button
        for button in hand.window.run.stations[4].findChildren(QPushButton)
        if button.text() == "Take the shank away"
    )
    hand.bot.mouseClick(away, Qt.MouseButton.LeftButton)
    assert hand.window.session.plan is not None
    assert hand.window.session.plan.band is None


def test_take_in_names_the_docket(hand: Hand) -> None:
    hand.open_station("Take in")
    hand.type("docket.customer", "Saltmarsh Rings")
    hand.type("docket.promised_on", "2031-05-02")
    assert "Saltmarsh Rings" in hand.window.windowTitle()
    hand.type("docket.promised_on", "soon")
    assert hand.field("docket.promised_on").property("wrong") is True
    assert hand.window.session.docket is not None
    assert str(hand.window.session.docket.promised_on) == "2031-05-02"


def test_checks_are_ticked_and_opened_again_by_a_change(hand: Hand) -> None:
    hand.open_station("Checks")
    station = hand.window.run.stations[6]
    boxes = [box for box in station.findChildren(QWidget) if box.metaObject().className() == "QCheckBox"]
    hand.calm()
    for box in boxes:
        hand.window.run.ensureWidgetVisible(box)
        hand.bot.mouseClick(box, Qt.MouseButton.LeftButton, pos=QPoint(8, box.height() // 2))
    assert station.telling() == f"{len(boxes)} of {len(boxes)} ticked"
    assert station.state() == "ok"
    hand.type_over("head.inner_opening", "6.1")
    assert station.telling() == f"{len(boxes) - 1} of {len(boxes)} ticked"


def test_handing_over_with_checks_open_is_a_caution(hand: Hand) -> None:
    hand.open_station("Hand over")
    choose(hand, "docket.state", "Ready")
    assert hand.window.session.docket is not None
    assert hand.window.session.docket.state == "ready"
    assert hand.window.run.stations[7].state() == "caution"


def test_the_station_work_goes_down_the_route(hand: Hand) -> None:
    """Each operation large with its figures, its look and its caution."""
    hand.open_station("Work")
    hand.settle()
    station = next(station for station in hand.window.run.stations if isinstance(station, WorkStation))
    told = []
    station.list.setFocus()
    for row in range(station.list.count()):
        if station.list.item(row).data(Qt.ItemDataRole.UserRole):
            station.list.setCurrentRow(row)
            told.append(station.findChild(QLabel, "work.text").text())  # type: ignore[union-attr]
    whole = " ".join(told)
    for piece in (
        "Claws to the upper ring. Hard solder, flows 825 °C; 4 joints",
        "acid into water",
        "First cut with the bur of 6.4, the first that touches: it takes 0.28 mm a side",
        "Burs: 6.4 (0.28 a side) → 6.6 (0.38 a side) → 6.8 (0.48 a side)",
        "eye protection",
        "never close across two",
        "Local codes",
    ):
        assert piece in whole, piece
    keys = station.list.operation_keys()
    assert len(told) == len(keys) and keys[0] == "roll-shank" and keys[-1] == "release-piece"


def key_in_hand(station: WorkStation, key: str) -> None:
    """Choose an operation in the list."""
    rows = range(station.list.count())
    station.list.setCurrentRow(
        next(row for row in rows if station.list.item(row).data(Qt.ItemDataRole.UserRole) == key)
    )


def test_operations_are_ticked_moved_left_out_and_added_by_hand(hand: Hand) -> None:
    hand.open_station("Work")
    hand.settle()
    session = hand.window.session
    station = next(station for station in hand.window.run.stations if isinstance(station, WorkStation))
    key_in_hand(station, "level-tops-head")
    hand.bot.keyClick(station.list, Qt.Key.Key_Space)
    assert session.docket is not None and "level-tops-head" in session.docket.ticks
    hand.bot.keyClick(station.list, Qt.Key.Key_Down, Qt.KeyboardModifier.AltModifier)
    hand.bot.waitUntil(
        lambda: session.document.get("route", {}).get("after") == [["level-tops-head", "scribe-girdle-head"]]
    )
    hand.bot.waitUntil(lambda: any("too early" in station.list.item(row).text() for row in range(station.list.count())))
    assert "not tops level" in " ".join(line.step.unmet[0] for line in station._lines.values() if line.step.unmet), (
        "what no longer holds is said where it stands"
    )
    hand.bot.keyClick(station.list, Qt.Key.Key_Up, Qt.KeyboardModifier.AltModifier)
    hand.bot.waitUntil(
        lambda: not any("too early" in station.list.item(row).text() for row in range(station.list.count()))
    )
    key_in_hand(station, "thin-tips-claws")
    station.refresh()
    inside = station.list.viewport().rect()
    assert inside.contains(station.list.visualItemRect(station.list.currentItem())), "told anew, it is in sight still"
    hand.bot.mouseClick(hand.field("work.strike"), Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: "thin-tips-claws" not in station.list.operation_keys())
    key_in_hand(station, "level-tops-head")
    choose(hand, "route.methods", "Clamp level")
    hand.bot.waitUntil(lambda: "clamp" in station.findChild(QLabel, "work.text").text())  # type: ignore[union-attr]
    assert "level-tops-head" in session.docket.ticks, "ticked still"
    choose(hand, "route.methods", "Level tops")
    hand.bot.waitUntil(lambda: "methods" not in session.document["route"])
    key_in_hand(station, "polish-piece")
    assert not station.way.isVisible(), "there is one way of it"
    hand.unfold("another operation")
    station.added.combo.setCurrentIndex(station.added.combo.findData("tumble"))
    hand.window.run.ensureWidgetVisible(hand.field("work.add"))
    hand.bot.mouseClick(hand.field("work.add"), Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: any(key.startswith("tumble-") for key in station.list.operation_keys()))
    hand.window.run.ensureWidgetVisible(hand.field("work.usual"))
    hand.bot.mouseClick(hand.field("work.usual"), Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: "thin-tips-claws" in station.list.operation_keys() and "route" not in session.document)


def test_readings_of_a_made_collet_are_taken_at_its_measuring(hand: Hand) -> None:
    """Planned first; four readings, and what is marked by them follows; what was ticked before stays ticked."""
    session = hand.window.session
    session.patch({"head": {"style": "tapered-collet", "claws": None, "claw_mm": None}}, "Another style")
    hand.open_station("Work")
    hand.settle()
    station = next(station for station in hand.window.run.stations if isinstance(station, WorkStation))
    key_in_hand(station, "drive-collet-collet")
    assert not hand.window.findChild(QPushButton, "work.readings").isVisible()
    hand.bot.keyClick(station.list, Qt.Key.Key_Space)
    assert session.docket is not None and session.plan is not None
    (before,) = (tick for tick in session.docket.ticks if tick.startswith("drive-collet"))
    foot = session.plan[FigureKey("collet.foot_diameter")]
    key_in_hand(station, "measure-part-collet")

    def act(dialog: QDialog) -> None:
        assert isinstance(dialog, MadeColletDialog)
        assert dialog.fields["foot_mm"].value() == pytest.approx(foot, abs=0.01)
        dialog.fields["foot_mm"].setValue(foot + 0.15)
        hand.bot.mouseClick(dialog.buttons.buttons()[0], Qt.MouseButton.LeftButton)

    in_dialog(hand, MadeColletDialog, act)
    hand.window.run.ensureWidgetVisible(hand.field("work.readings"))
    hand.bot.mouseClick(hand.field("work.readings"), Qt.MouseButton.LeftButton)
    hand.settle()
    assert session.plan[FigureKey("collet.foot_diameter")] == pytest.approx(foot + 0.15, abs=0.01)
    (after,) = (tick for tick in session.docket.ticks if tick.startswith("drive-collet"))
    assert after != before and any(tick.startswith("measure-part-collet") for tick in session.docket.ticks)
    rows = [station.list.item(row) for row in range(station.list.count())]
    checked = {row.data(Qt.ItemDataRole.UserRole) for row in rows if row.checkState() == Qt.CheckState.Checked}
    assert {"drive-collet-collet", "measure-part-collet"} <= checked
    hand.open_station("Head")
    assert not hand.window.findChild(QWidget, "head.wall_mm").isVisible(), "it follows from what was measured"


def test_an_operation_is_dragged_to_its_place(hand: Hand) -> None:
    """Dropped on a line, it comes before that line; dropped under the last, it comes last."""
    hand.open_station("Work")
    hand.settle()
    station = next(station for station in hand.window.run.stations if isinstance(station, WorkStation))

    def drop(key: str, onto: str) -> None:
        key_in_hand(station, key)
        move, left = Qt.DropAction.MoveAction, Qt.MouseButton.LeftButton
        at = place(onto) if onto else QPoint(5, 10_000)
        station.list.dropEvent(QDropEvent(QPointF(at), move, QMimeData(), left, Qt.KeyboardModifier.NoModifier))

    def place(key: str) -> QPoint:
        rows = range(station.list.count())
        row = next(row for row in rows if station.list.item(row).data(Qt.ItemDataRole.UserRole) == key)
        return station.list.visualItemRect(station.list.item(row)).center()

    drop("polish-piece", "round-tips-claws")
    keys = station.list.operation_keys
    hand.bot.waitUntil(lambda: keys().index("polish-piece") == keys().index("round-tips-claws") - 1)
    drop("scribe-girdle-head", "")
    hand.bot.waitUntil(lambda: keys()[-1] == "scribe-girdle-head")
    hand.window.session.undo_stack.undo()
    hand.window.session.undo_stack.undo()
    hand.settle()
    assert "route" not in hand.window.session.document and keys()[-1] == "release-piece"


def test_what_was_moved_of_another_head_stands_aside(hand: Hand) -> None:
    """The head's style is changed after the work was: said in the panel, and all is there again after undo."""
    session = hand.window.session
    session.patch({"route": {"after": [["saw-off-stays-claws", "release-piece"]]}}, "Move")
    hand.open_station("Head")
    choose(hand, "head.style", "Tube")
    panel = hand.window.calls
    hand.bot.waitUntil(lambda: any("saw-off-stays-claws" in one.text() for one in panel.findChildren(QLabel)))
    station = next(station for station in hand.window.run.stations if isinstance(station, WorkStation))
    hand.open_station("Work")
    assert "saw-off-stays-claws" not in station.list.operation_keys() and station.list.operation_keys()
    session.undo_stack.undo()
    hand.settle()
    assert station.list.operation_keys()[-1] == "saw-off-stays-claws"


def test_a_call_is_taken_as_it_is_by_name_and_reason(hand: Hand) -> None:
    """Both are wanted; it stays with its card, is undone like all else, and comes back when its figure moves."""
    hand.calm()
    card = next(card for card in hand.window.calls.cards if card.call is not None and card.call.open)
    code = card.call.code if card.call is not None else ""

    def act(dialog: QDialog) -> None:
        assert isinstance(dialog, AcceptDialog) and not dialog.accepting.isEnabled()
        hand.bot.keyClicks(dialog.by, "Yusra")
        assert not dialog.accepting.isEnabled()
        hand.bot.keyClicks(dialog.why, "the customer wants it so")
        hand.bot.mouseClick(dialog.accepting, Qt.MouseButton.LeftButton)

    in_dialog(hand, AcceptDialog, act)
    hand.window.calls.ensureWidgetVisible(card)
    hand.bot.mouseClick(card.accepting, Qt.MouseButton.LeftButton)
    session = hand.window.session

    def call() -> Diagnostic:
        assert session.plan is not None
        return next(call for call in session.plan.diagnostics if call.code == code)

    assert call().accepted_by == "Yusra" and not call().open
    panel = hand.window.calls
    hand.bot.waitUntil(lambda: any("the customer wants it so" in one.text() for one in panel.findChildren(QLabel)))
    session.undo_stack.undo()
    assert call().open
    session.undo_stack.redo()
    assert not call().open


def test_the_sheet_shows_the_piece_as_it_is_at_an_operation(hand: Hand) -> None:
    """Stone out before it is set, claws straight until closed, nothing to drag; whole again with the station closed."""
    hand.open_station("Work")
    hand.settle()
    station = next(station for station in hand.window.run.stations if isinstance(station, WorkStation))

    def stones() -> int:
        drawing = hand.window.sheet.drawing
        assert drawing is not None
        return sum(isinstance(item, Facets) and item.fill == "stone" for item in drawing.items)

    def drawn_at(key: str) -> tuple[int, int]:
        key_in_hand(station, key)
        drawing = hand.window.sheet.drawing
        assert drawing is not None
        return stones(), len(drawing.grips)

    assert drawn_at("level-tops-head") == (0, 0)
    assert drawn_at("close-claws-claws")[0] > 0
    alone = hand.window.sheet.drawing
    assert alone is not None
    key_in_hand(station, "bend-to-shape-upper-ring")
    ring = hand.window.sheet.drawing
    assert ring is not None and len(ring.items) < len(alone.items) / 2, "one ring, no band, no claws"
    hand.open_station("Stone")
    assert hand.window.sheet.drawing is not None and len(hand.window.sheet.drawing.grips) > 0 and stones() > 0


def test_a_docket_is_found_in_a_few_keystrokes(hand: Hand) -> None:
    def act(dialog: QDialog) -> None:
        assert isinstance(dialog, Finder)
        hand.bot.keyClicks(dialog.words, "quillon six")
        hand.bot.waitUntil(lambda: dialog.rows.count() == 1)
        hand.bot.keyClick(dialog.words, Qt.Key.Key_Return)

    in_dialog(hand, Finder, act)
    hand.press(Qt.Key.Key_F, CONTROL)
    hand.bot.waitUntil(
        lambda: hand.window.session.docket is not None and hand.window.session.docket.customer.startswith("Quillon")
    )
    assert hand.value("shank.gap_inside") > 0


def test_the_finder_says_what_to_do_when_nothing_is_found(hand: Hand) -> None:
    told: list[str] = []

    def act(dialog: QDialog) -> None:
        assert isinstance(dialog, Finder)
        hand.bot.keyClicks(dialog.words, "zzz")
        hand.bot.waitUntil(lambda: dialog._empty.text() != "")
        told.append(dialog._empty.text())
        dialog.reject()

    in_dialog(hand, Finder, act)
    hand.window.finding.open()
    assert told and told[0].startswith("Nothing holds these words: take some away.")


def test_house_rules_change_every_plan_and_are_kept(hand: Hand, demo_path: Path) -> None:
    def act(dialog: QDialog) -> None:
        assert isinstance(dialog, HouseRulesDialog)
        edit = dialog.edits["notch_caution"]
        edit.setText("")
        hand.bot.keyClicks(edit, "0.9")
        dialog.buttons.button(dialog.buttons.StandardButton.Ok).click()
        assert dialog.isVisible()
        edit.setText("")
        hand.bot.keyClicks(edit, "0.47")
        dialog.buttons.button(dialog.buttons.StandardButton.Ok).click()

    in_dialog(hand, HouseRulesDialog, act)
    hand.press(Qt.Key.Key_H, CONTROL)
    hand.calm()
    assert "notch-too-deep" not in [call.code for call in hand.window.calls.shown_calls()]
    hand.settle()
    hand.window.close()
    assert Store(demo_path).house.rules() == HouseRules(notch_caution=0.47)


def test_f1_lists_every_shortcut(hand: Hand) -> None:
    shown: list[str] = []

    def act(dialog: QDialog) -> None:
        shown.extend(label.text() for label in dialog.findChildren(QWidget) if hasattr(label, "text"))
        dialog.reject()

    in_dialog(hand, ShortcutsDialog, act)
    hand.press(Qt.Key.Key_F1)
    assert {"Undo", "Ctrl+Z", "Find anything", "Ctrl+F", "Station stone", "Ctrl+2"} <= set(shown)


def test_light_and_dark(hand: Hand) -> None:
    hand.press(Qt.Key.Key_L, CONTROL)
    first = hand.window.sheet.grab().toImage().pixelColor(4, 300).lightness()
    hand.press(Qt.Key.Key_L, CONTROL)
    second = hand.window.sheet.grab().toImage().pixelColor(4, 300).lightness()
    assert abs(first - second) > 120


def test_a_job_file_goes_out_and_comes_in_by_drop(hand: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    target = tmp_path / "out.json"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(target), ""))
    hand.press(Qt.Key.Key_S, CONTROL | Qt.KeyboardModifier.ShiftModifier)
    assert read_job(target, HouseRules()) == hand.window.session.job
    hand.settle()
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(target))])
    hand.window.dropEvent(
        QDropEvent(
            QPointF(600, 300), Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
        )
    )
    hand.bot.waitUntil(lambda: hand.window.session.docket is not None and hand.window.session.docket.item == "out")
    assert read_job(target, HouseRules()) == hand.window.session.job


def test_a_bad_job_file_is_refused_in_one_line(hand: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    bad = tmp_path / "bad.json"
    bad.write_text('{"format": "yarvel-job/1", "stone": {"diameters_mm": [-1]}}')
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_a, **_k: (str(bad), ""))
    before = dict(hand.window.session.document)
    hand.press(Qt.Key.Key_O, CONTROL)
    assert hand.shown("banner") == ("bad.json was not taken in. stone.diameters_mm.0: -1 is not accepted: 0.5 to 40 mm")
    assert hand.window.session.document == before


def test_a_sheet_that_cannot_be_written_says_so(hand: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(tmp_path / "no" / "x.pdf"), ""))
    hand.window.papers.write_pdf()
    assert "could not be written: there is no such folder" in hand.shown("banner")


def test_every_control_has_a_name_for_those_who_do_not_see_it(hand: Hand) -> None:
    for station in hand.window.run.stations:
        hand.open_station(station.TITLE)
        hand.calm()
        for kind in (QLineEdit, QComboBox):
            for control in hand.window.findChildren(kind):
                if control.isVisible():
                    assert control.accessibleName(), control.objectName()
    assert all(head.accessibleName() for head in hand.window.run.heads)


def test_nothing_is_cut_off_at_1280_by_800(hand: Hand) -> None:
    for station in hand.window.run.stations:
        hand.open_station(station.TITLE)
        hand.calm()
        for panel in (hand.window.run, hand.window.calls, hand.window.working):
            inside = panel.widget()
            assert inside is not None
            assert inside.width() <= panel.viewport().width(), (station.TITLE, type(panel).__name__)
