"""What the window remembers, what other windows see, what lists and panes do."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path

import pytest
from hypothesis import given
from PySide6.QtCore import QPoint, QPointF, Qt, QTimer
from PySide6.QtGui import QEnterEvent, QGuiApplication
from PySide6.QtPrintSupport import QPrintPreviewWidget
from PySide6.QtWidgets import QApplication, QLabel

from tests.desk.conftest import Hand
from tests.strategies import BUILT, jobs
from yarvel.clock import today
from yarvel.demo.scenario import OPENED_FIRST
from yarvel.desk.papers.papers import bench_pages
from yarvel.desk.papers.preview import Preview
from yarvel.desk.stations.head import HeadStation
from yarvel.desk.stations.seat import SeatStation
from yarvel.desk.stations.shank import ShankStation
from yarvel.desk.stations.stone import StoneStation
from yarvel.desk.stations.take_in import read_date
from yarvel.desk.stations.work_station import WorkStation
from yarvel.desk.widgets.figure_list import FigureRow
from yarvel.exchange.job_file import parse_job
from yarvel.figures.rules import HouseRules, WorkshopData
from yarvel.planning.job import Job
from yarvel.planning.plan import plan
from yarvel.planning.weighing import weighed
from yarvel.workshop.dockets.records import DocketEdit
from yarvel.workshop.store import Store


def test_panes_docket_station_and_theme_are_remembered(
    hand: Hand, open_hand: Callable[[Path], Hand], demo_path: Path
) -> None:
    hand.window.dockets.open(3)
    hand.bot.waitUntil(lambda: hand.window.session.docket is not None and hand.window.session.docket.id == 3)
    hand.open_station("Work")
    hand.window._panes.setSizes([360, 600, 320])
    hand.calm()
    sizes = hand.window._panes.sizes()
    hand.window.switch_theme()
    theme = hand.window._theme
    hand.window.close()
    again = open_hand(demo_path)
    assert again.window.session.docket is not None
    assert again.window.session.docket.id == 3
    assert again.window.run.stations[again.window.run.open_place].TITLE == "Work"
    assert again.window._panes.sizes() == sizes
    assert again.window._theme == theme
    again.window.switch_theme()


def test_the_undo_of_one_docket_ends_with_it(hand: Hand) -> None:
    hand.type_over("head.claw", "1.1")
    hand.window.dockets.open(4)
    hand.bot.waitUntil(lambda: hand.window.session.docket is not None and hand.window.session.docket.id == 4)
    assert not hand.window.session.undo_stack.canUndo()
    hand.settle()
    hand.window.dockets.open(OPENED_FIRST)
    hand.bot.waitUntil(lambda: hand.window.session.docket is not None and hand.window.session.docket.id == OPENED_FIRST)
    assert hand.value("head.claw") == 1.1


def test_acts_that_follow_fast_are_not_taken_for_somebody_elses(hand: Hand) -> None:
    """Written together, each its own line of history: on the way nothing typed leaves the job again."""
    session = hand.window.session
    seen: list[tuple[object, object]] = []
    session.plan_changed.connect(
        lambda: seen.append(tuple(session.document["head"].get(n) for n in ("claw_mm", "metal")))
    )
    session.patch({"head": {"claw_mm": 1.1}}, "Claw wire")
    session.patch({"head": {"metal": "platinum-950"}}, "Metal")
    hand.settle()
    assert seen and seen[-1] == (1.1, "platinum-950")
    assert seen.count(seen[-1]) == len(seen) - seen.index(seen[-1]), "once typed it stays"
    assert "another window" not in hand.shown("banner")


def test_changes_made_elsewhere_come_in_with_the_next_save(hand: Hand, demo_path: Path) -> None:
    other = Store(demo_path)
    other.edit(OPENED_FIRST, DocketEdit(job_patches=({"stone": {"table_percent": 60}},)))
    other.close()
    hand.open_station("Head")
    hand.type("head.claw_mm", "1.1")
    hand.settle()
    assert hand.value("stone.table") == 0.6
    assert hand.value("head.claw") == 1.1
    assert "changed in another window too" in hand.shown("banner")
    hand.settle()
    assert Store(demo_path).docket(OPENED_FIRST).job_document["stone"]["table_percent"] == 60


def test_what_is_typed_is_in_the_store_without_being_asked(hand: Hand, demo_path: Path) -> None:
    hand.type_over("head.claw", "1.12")
    store = Store(demo_path)
    hand.bot.waitUntil(lambda: store.docket(OPENED_FIRST).job_document["head"].get("claw_mm") == 1.12)
    store.close()
    hand.settle()
    assert any(label.text() == "stored" for label in hand.window.statusBar().findChildren(QLabel))


def test_rows_of_figures_open_their_working(hand: Hand) -> None:
    hand.open_station("Head")
    row = next(row for row in hand.window.findChildren(FigureRow) if row.key == "head.u_piece_length")
    hand.window.run.ensureWidgetVisible(row)
    hand.bot.mouseClick(row, Qt.MouseButton.LeftButton)
    assert hand.window.working.formula.accessibleName().startswith("2·l + b + 2·h")
    assert row.accessibleName() == "U-piece length: 40 mm"


def test_the_first_slices_figures_are_all_in_the_window(hand: Hand) -> None:
    """Weights, ring diameters and wire lengths, claw and U-piece, burs, blank, flat, heights: each in its station."""
    wanted = {
        "Stone": {"stone.weight_formula", "stone.weight_model"},
        "Head": {
            "head.upper_ring_outer",
            "head.upper_ring_wire_length",
            "head.lower_ring_outer",
            "head.lower_ring_wire_length",
            "head.claw_length",
            "head.u_piece_length",
        },
        "Seat": {"seat.depth", "seat.notch_ratio", "seat.first_cut", "seat.remaining"},
        "Shank": {"shank.blank_length", "shank.flat_depth", "shank.left_under_flat", "seat.plane_above_finger"},
    }
    for title, keys in wanted.items():
        hand.open_station(title)
        hand.calm()
        shown = {row.key for row in hand.window.findChildren(FigureRow) if row.isVisible()}
        assert keys <= shown, title
    hand.open_station("Shank")
    hand.window.session.set_value("fit.method", "inset", "Method")
    hand.calm()
    shown = {row.key for row in hand.window.findChildren(FigureRow) if row.isVisible()}
    assert {"shank.gap_inside", "shank.gap_outside", "shank.mark_half", "shank.size_if_sprung"} <= shown


def test_a_remedy_is_previewed_while_the_pointer_rests(hand: Hand) -> None:
    hand.calm()
    button = hand.window.calls.cards[0].remedy
    before = hand.window.sheet.grab().toImage()
    centre = QPointF(button.rect().center())
    QApplication.sendEvent(button, QEnterEvent(centre, centre, centre))
    assert hand.window.session.preview is not None
    assert hand.window.sheet.grab().toImage() != before
    hand.window.calls.cards[0].hide()
    assert hand.window.session.preview is None


def test_f6_goes_round_the_panes(hand: Hand) -> None:
    seen = []
    for _ in range(4):
        hand.press(Qt.Key.Key_F6)
        focus = QApplication.focusWidget()
        seen.append(
            next(
                name
                for name in ("run", "sheet", "calls", "working")
                if (pane := getattr(hand.window, name)) is focus or pane.isAncestorOf(focus)
            )
        )
    assert sorted(seen) == ["calls", "run", "sheet", "working"]


def test_the_job_is_copied_as_a_job_file(hand: Hand) -> None:
    hand.press(Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    assert parse_job(QGuiApplication.clipboard().text(), HouseRules()) == hand.window.session.job


def test_the_print_preview_shows_all_pages(hand: Hand) -> None:
    pages: list[int] = []

    def look() -> None:
        dialog = next(
            (widget for widget in QApplication.topLevelWidgets() if isinstance(widget, Preview) and widget.isVisible()),
            None,
        )
        if dialog is None:
            QTimer.singleShot(50, look)
            return
        pages.append(dialog.findChildren(QPrintPreviewWidget)[0].pageCount())
        dialog.reject()

    QTimer.singleShot(50, look)
    hand.window.papers.print_sheet()
    session = hand.window.session
    assert session.plan is not None
    made = bench_pages(session.plan, session.docket, today())
    assert pages == [len(made)] and len(made) in (2, 3)


def test_an_empty_docket_says_what_to_do_first(open_hand: Callable[[Path], Hand], tmp_path: Path) -> None:
    hand = open_hand(tmp_path / "empty.sqlite")
    hand.calm()
    assert hand.window.session.docket is None
    assert [station.telling() for station in hand.window.run.stations[:5]] == [
        "gets a number once something is typed",
        "type the first diameter",
        "waits for the stone",
        "waits for the stone",
        "no finger size yet",
    ]
    assert all(station.state() == "missing" for station in hand.window.run.stations)
    told = [label.text() for label in hand.window.calls.findChildren(QLabel) if label.isVisible()]
    assert any("type the first diameter" in text for text in told)
    hand.window.papers.write_pdf()
    assert "no bench card yet" in hand.shown("banner")
    hand.window.papers.export()
    assert "no job file yet" in hand.shown("banner")


def test_typing_before_there_is_a_docket_makes_one(open_hand: Callable[[Path], Hand], tmp_path: Path) -> None:
    path = tmp_path / "empty.sqlite"
    hand = open_hand(path)
    for text in ("4.42", "4.47"):
        hand.keys(text)
        hand.press(Qt.Key.Key_Return)
    hand.press(Qt.Key.Key_Return)
    hand.keys("9")
    hand.settle()
    hand.bot.waitUntil(lambda: hand.window.session.docket is not None)
    hand.settle()
    held = Store(path).dockets()
    assert len(held) == 1
    assert held[0].job_document["stone"]["diameters_mm"] == [4.42, 4.47]
    assert held[0].drafts == {"stone.depth_mm": "9"}
    assert held[0].number in hand.window.windowTitle()


def test_stations_tell_their_figure_and_their_worst_call(hand: Hand) -> None:
    tellings = {station.TITLE: station.telling() for station in hand.window.run.stations}
    assert tellings["Stone"] == "1.21 ct · 6.81 × 4.21"
    assert tellings["Head"] == "4 claws of 1.05 · opening 5.85"
    assert tellings["Work"] == "12 joints, then the setting"
    states = {station.TITLE: station.state() for station in hand.window.run.stations}
    assert (states["Seat"], states["Stone"], states["Checks"]) == ("caution", "ok", "note")
    assert "caution" in hand.window.run.heads[3].accessibleName()


@BUILT
@given(jobs())
def test_every_call_is_some_stations(job: Job) -> None:
    """A stop beside stations that are all good would be told by nobody."""
    stations = (StoneStation, HeadStation, SeatStation, ShankStation, WorkStation)
    dense = HouseRules(custom=WorkshopData(alloys=((job.head.metal, "density", 9.0),)))
    for call in weighed(plan(job, dense, samples=0)).diagnostics:
        assert any(station.has(call) for station in stations), call.code


def test_pressing_a_call_marks_its_place_and_opens_its_figure(hand: Hand) -> None:
    hand.calm()
    card = next(card for card in hand.window.calls.cards if card.call is not None and card.call.code == "claw-loss")
    hand.window.calls.ensureWidgetVisible(card)
    hand.bot.mouseClick(card, Qt.MouseButton.LeftButton, pos=QPoint(20, 40))
    assert hand.window.working.key == card.call.figure_key != ""
    assert hand.window.sheet.drawing is not None
    assert any(getattr(item, "stroke", "") == "mark-note" for item in hand.window.sheet.drawing.items)


@pytest.mark.parametrize(
    ("text", "day"),
    [
        ("2031-05-02", "2031-05-02"),
        ("2.5.2031", "2031-05-02"),
        ("2.5.31", "2031-05-02"),
        ("2.5.", "2031-05-02"),
        ("1.4.", "2032-04-01"),
    ],
)
def test_dates_as_they_are_typed(text: str, day: str) -> None:
    from datetime import date

    assert str(read_date(text, date(2031, 4, 9))) == day


@pytest.mark.parametrize("text", ["soon", "31.2.", "2031-13-01", "1.2.3.4"])
def test_what_is_no_date_is_none(text: str) -> None:
    from datetime import date

    with pytest.raises(ValueError, match=r".+"):
        read_date(text, date(2031, 4, 9))


def test_the_store_holds_plain_json(hand: Hand, demo_path: Path) -> None:
    import sqlite3
    from contextlib import closing

    hand.type_over("head.claw", "1.1")
    hand.settle()
    with closing(sqlite3.connect(demo_path)) as connection:
        text = connection.execute("SELECT job_document FROM dockets WHERE id = ?", (OPENED_FIRST,)).fetchone()[0]
    assert json.loads(text)["head"]["claw_mm"] == 1.1
