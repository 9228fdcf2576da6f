"""Reports in their window: what is late, opened by a double press, written as CSV and as a calendar."""

from __future__ import annotations

import csv
from datetime import date
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog

from tests.desk.conftest import Hand
from yarvel.desk.reports.window import ReportsWindow
from yarvel.desk.widgets.table_out import texts_of
from yarvel.drawing.listing import list_pages
from yarvel.workshop.store import Store


@pytest.fixture
def reports(hand: Hand) -> ReportsWindow:
    hand.window.board.open_reports()
    made = hand.window.board.reports
    assert made is not None
    hand.bot.waitUntil(lambda: made.pages["late"].table.rowCount() == 10, timeout=20000)
    return made


def test_open_dockets_stand_by_their_promise(hand: Hand, reports: ReportsWindow) -> None:
    table = reports.pages["late"].table
    standings = [table.item(row, 5).text() for row in range(table.rowCount())]
    assert set(standings) <= {"late", "at risk", "in time", "no date"}
    promised = [table.item(row, 3).text() for row in range(table.rowCount()) if standings[row] == "in time"]
    assert promised == sorted(promised)
    number = table.item(1, 0).text()
    table.cellDoubleClicked.emit(1, 0)
    hand.bot.waitUntil(lambda: hand.window.session.docket.number == number, timeout=20000)  # type: ignore[union-attr]


def test_a_table_and_the_promises_are_written(
    hand: Hand, reports: ReportsWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    for button, name, word in (
        (reports.csv, "late.csv", "Docket"),
        (reports.calendar, "promised.ics", "BEGIN:VCALENDAR"),
    ):
        target = tmp_path / name
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_args, target=target, **_kwargs: (str(target), ""))
        hand.bot.mouseClick(button, Qt.MouseButton.LeftButton)
        assert word in target.read_text(encoding="utf-8-sig") and str(target) in hand.window.banner.text()
    with (tmp_path / "late.csv").open(encoding="utf-8-sig", newline="") as file:
        assert len(list(csv.reader(file))) == 11


def test_bars_show_what_the_tables_say(hand: Hand, reports: ReportsWindow) -> None:
    bars = reports.pages["late"].bars
    assert bars.isVisibleTo(reports.tabs.widget(0))
    rows = [line.texts for line in reports.pages["late"].answer.lines]
    left = sum(float(texts[7]) for texts in rows if texts[3] and texts[7] != "–") / 60
    shown = [text.text for text in bars.drawing(200.0).texts()]
    hours = [float(text.removesuffix(" h")) for text in shown if text.endswith(" h")]
    assert sum(hours) == pytest.approx(left, abs=0.06 * len(hours)) and any("h a week" in text for text in shown)
    assert not reports.pages["pace"].bars.isVisibleTo(reports.tabs.widget(2)), "nothing to look at yet"


def test_standard_minutes_are_typed_into_the_table(hand: Hand, reports: ReportsWindow, demo_path: Path) -> None:
    table = reports.pages["pace"].table
    row = next(row for row in range(table.rowCount()) if table.item(row, 0).text() == "Solder")
    assert not table.item(row, 0).flags() & Qt.ItemFlag.ItemIsEditable
    table.item(row, 2).setText("112,5 %")
    store = Store(demo_path)
    hand.bot.waitUntil(lambda: store.tasks.standards()["solder"].pace == 112.5, timeout=20000)
    for wrong, said in (("soon", "is no share"), ("0", "10 to 1000 per cent")):
        table.item(row, 2).setText(wrong)
        hand.bot.waitUntil(lambda said=said: said in hand.window.banner.text(), timeout=20000)
        hand.bot.waitUntil(lambda: table.item(row, 2).text() == "112.5", timeout=20000)
    store.close()


def test_a_table_prints_as_a_list(reports: ReportsWindow) -> None:
    table = reports.pages["late"].table
    pages = list_pages(reports.pages["late"].report.title, *texts_of(table), date(2031, 4, 9).isoformat())
    texts = [text.text for text in pages[0].texts()]
    assert len(pages) == 1 and "Late and at risk" in texts and "page 1 of 1" in " ".join(texts)
    for row in range(table.rowCount()):
        assert table.item(row, 0).text() in texts


def test_a_docket_is_found_by_stone_metal_and_person(hand: Hand, reports: ReportsWindow) -> None:
    found: list[list[str]] = []
    for words in ("tanzanite", "sterling labradorite", "Orla spinel"):
        hand.window.dockets.door.look(
            lambda store, words=words: store.dockets(words),
            lambda dockets: found.append([docket.item for docket in dockets]),
        )
    hand.bot.waitUntil(lambda: len(found) == 3, timeout=20000)
    assert found == [
        ["Step-cut tanzanite, new gallery"],
        ["Silver dress ring, labradorite"],
        ["Four-claw solitaire, spinel"],
    ]


def test_a_table_that_is_filled_anew_still_fills_its_window(hand: Hand, reports: ReportsWindow) -> None:
    table = reports.pages["late"].table
    for width in (1280, 1600):
        reports.resize(width, 800)
        hand.settle()
        reports.reload()
        hand.settle()
        columns = range(table.columnCount())
        assert sum(table.columnWidth(column) for column in columns) >= table.viewport().width()
