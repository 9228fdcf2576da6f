"""Other cuts in the window: chosen, measured, drawn; claws moved on the plan view; bodies turned."""

from __future__ import annotations

import os
import signal
from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QComboBox, QFileDialog

from tests.desk.conftest import Hand
from tests.desk.test_head_styles import choose_cut
from yarvel.desk.bench.body_requests import BodyRequests
from yarvel.figures.figure import FigureKey
from yarvel.heads.styles import styles_for
from yarvel.stones.cuts import CUTS

LONG = [key for key, cut in CUTS.items() if not cut.is_round]


def measured(key: str) -> tuple[str, str]:
    cut = CUTS[key]
    return (
        ("6.4", "6.4")
        if cut.square or key in ("heart", "trillion")
        else ("12.2", "6.1")
        if key == "marquise"
        else ("8.9", "6.2")
    )


@pytest.mark.parametrize("key", LONG)
def test_a_cut_is_chosen_measured_and_drawn(key: str, hand: Hand) -> None:
    length, width = measured(key)
    choose_cut(hand, key, length, width)
    assert hand.value("stone.length") == float(length) and hand.value("stone.width") == float(width)
    station = hand.window.run.stations[1]
    shown = {path for path, field in station.numbers.items() if field.isVisible()}
    assert {f"stone.{name}" for name in CUTS[key].fields} <= shown
    assert not station.readings.isVisible()
    keys = {text.key for text in hand.window.sheet.figure_texts()}
    assert {"stone.length", "stone.width", "seat.depth"} <= keys
    hand.open_station("Head")
    combo = hand.field("head.style")
    assert isinstance(combo, QComboBox)
    assert [combo.itemData(place) for place in range(combo.count())] == styles_for(CUTS[key])


def test_going_from_round_to_oval_and_back_is_two_steps_of_undo(hand: Hand) -> None:
    before = hand.window.session.document
    choose_cut(hand, "oval", "8.4", "6.2")
    assert "diameters_mm" not in hand.window.session.document["stone"]
    for _ in range(8):
        if hand.window.session.document == before:
            break
        hand.press(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        hand.calm()
    assert hand.window.session.document == before


def test_a_length_that_does_not_go_with_the_width_is_told(hand: Hand) -> None:
    choose_cut(hand, "oval", "8.4", "6.2")
    hand.type("stone.length_mm", "5")
    field = hand.window.run.stations[1].numbers["stone.length_mm"]
    assert "does not go with a width of 6.2 mm" in field.mark.text()
    assert hand.value("stone.length") == 8.4


def test_a_style_that_does_not_suit_the_new_cut_gives_way(hand: Hand) -> None:
    choose_cut(hand, "princess", "6.0", "6.0")
    hand.open_station("Head")
    hand.choose("head.style", "v-claw")
    hand.open_station("Stone")
    hand.choose("stone.cut", "oval-cabochon")
    assert hand.window.session.document["head"]["style"] == "wire-basket"


def test_figures_of_a_long_stone_are_typed_over(hand: Hand) -> None:
    choose_cut(hand, "oval", "8.4", "6.2")
    hand.type_over("stone.length", "9.1")
    assert hand.value("stone.length") == 9.1
    hand.type_over("head.inner_opening", "5.6")
    assert hand.value("head.inner_opening") == pytest.approx(5.6, abs=0.001)


def test_a_claw_is_moved_on_the_plan_view_and_holding_follows(hand: Hand) -> None:
    before = hand.value("head.open_arc")
    hand.drag("claw-0", QPoint(-18, -14))
    moved = hand.window.session.document["head"]["claw_places_deg"]
    assert len(moved) == 4
    assert hand.value("head.open_arc") > before + 5
    hand.open_station("Head")
    hand.bot.mouseClick(hand.field("head.usual_places"), Qt.MouseButton.LeftButton)
    hand.calm()
    assert hand.value("head.open_arc") == before
    hand.press(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert hand.window.session.document["head"]["claw_places_deg"] == moved


def test_a_claw_is_moved_by_keys(hand: Hand) -> None:
    hand.window.sheet.setFocus()
    hand.press(Qt.Key.Key_C)
    for _ in range(3):
        hand.press(Qt.Key.Key_BracketLeft)
    assert hand.window.session.plan is not None
    assert any(abs(azimuth - 48) < 0.6 for azimuth in hand.window.session.plan.claw_azimuths_deg)


def test_another_number_of_claws_gives_up_places_chosen_by_hand(hand: Hand) -> None:
    hand.drag("claw-1", QPoint(12, 9))
    hand.open_station("Head")
    hand.choose("head.claws", 6)
    assert "claw_places_deg" not in hand.window.session.document["head"]
    assert hand.value("head.open_arc") == 60


def test_what_bodies_tell_agrees_with_what_formulas_told(hand: Hand) -> None:
    """The process beside the window plans by the same rules, burs and draw plate: nothing told before is told anew."""

    def told() -> dict[str, tuple[object, ...]]:
        assert hand.window.session.plan is not None
        return {call.code: (call.level, call.figure, call.message) for call in hand.window.session.plan.diagnostics}

    hand.settle()
    assert hand.window.session.rules.custom.burs_mm, "the workshop has burs of its own"
    hand.window.dockets.open(1)
    hand.settle()
    before = told()
    hand.judge()
    after = told()
    assert {code: after[code] for code in before} == before
    assert "bur-between-sizes" in before and set(after) > set(before)


def test_bodies_are_judged_when_the_hand_rests_and_turned_by_keys(hand: Hand) -> None:
    """The real process beside the window."""
    window = hand.window
    window.bodies.begin()
    hand.press(Qt.Key.Key_T, Qt.KeyboardModifier.ControlModifier)
    hand.bot.waitUntil(lambda: window.turning.view.triangle_count > 1000)
    assert window.session.plan is not None
    hand.bot.waitUntil(lambda: FigureKey("head.mass") in window.session.plan.figures)
    assert {"gallery-cut-away", "stone-in-band"} <= {call.code for call in window.session.plan.diagnostics}
    view = window.turning.view
    first = view.grab().toImage()
    view.setFocus()
    hand.press(Qt.Key.Key_Right)
    hand.press(Qt.Key.Key_Up)
    assert view.grab().toImage() != first
    hand.press(Qt.Key.Key_3)
    assert (view.yaw, view.pitch) == (0.0, 90.0)
    answered = window.bodies.answered
    hand.type_over("head.claw", "1.1")
    hand.bot.waitUntil(lambda: window.bodies.answered > answered)
    hand.press(Qt.Key.Key_T, Qt.KeyboardModifier.ControlModifier)
    assert not window.turning.isVisible()


def test_a_body_process_that_dies_is_started_again(hand: Hand) -> None:
    bodies: BodyRequests = hand.window.bodies
    bodies.begin()
    hand.bot.waitUntil(lambda: bodies.answered == 1)
    assert bodies._process.id
    os.kill(bodies._process.id, signal.SIGKILL)
    hand.type_over("head.claw", "1.12")
    hand.bot.waitUntil(lambda: bodies.answered == 2)


@pytest.mark.parametrize(
    ("action", "name"),
    [("write_solid", "x.3mf"), ("write_solid", "x.stl"), ("write_drawing", "x.dxf"), ("write_drawing", "x.svg")],
)
def test_bodies_and_drawing_are_written_from_the_menu(
    action: str, name: str, hand: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    target = tmp_path / name
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(target), ""))
    getattr(hand.window.papers, action)()
    assert target.stat().st_size > 1000
    assert str(target) in hand.shown("banner")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_a, **_k: (str(tmp_path / "none" / name), ""))
    getattr(hand.window.papers, action)()
    assert "could not be written" in hand.shown("banner")


def test_making_lines_stand_with_their_figures(open_hand: Callable[[Path], Hand], demo_path: Path) -> None:
    hand = open_hand(demo_path)
    hand.window.dockets.open(6)
    hand.bot.waitUntil(lambda: hand.window.session.docket is not None and hand.window.session.docket.id == 6)
    hand.open_station("Work")
    hand.settle()
    station = hand.window.run.stations[5]
    text = " ".join(line.text for line in station._lines.values())
    assert "Drill the relief hole" in text and "fold to 90°" in text and "never across two corners" in text


def test_shoulders_are_asked_for_measured_and_taken_away(hand: Hand) -> None:
    hand.open_station("Shank")
    hand.unfold("small rounds in the shoulders")
    hand.choose("shank.shoulder.setting", "bezel")
    hand.type("shank.shoulder.diameter_mm", "1.8")
    hand.choose("shank.shoulder.count", 2)
    assert hand.value("shoulder.outer") == pytest.approx(2.5) and hand.value("shoulder.count") == 2
    hand.choose("shank.shoulder.setting", "carved")
    hand.calm()
    assert hand.value("shoulder.cut_down") > 0 and hand.value("shoulder.side_cut") > 0
    hand.window.switch_sheet()
    hand.calm()
    hand.window.switch_sheet()
    hand.type("shank.shoulder.diameter_mm", "9")
    assert "0.8 to 4" in hand.window.run.stations[4].numbers["shank.shoulder.diameter_mm"].mark.text()
    hand.choose("shank.shoulder.setting", "")
    assert "shoulder" not in hand.window.session.document["shank"]
    assert hand.window.session.plan is not None and FigureKey("shoulder.first") not in hand.window.session.plan.figures
