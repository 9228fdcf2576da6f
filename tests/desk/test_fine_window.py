"""The fine book's window: weighed in, balanced, refused with what is accepted."""

from __future__ import annotations

import csv
from datetime import date, datetime
from pathlib import Path

import pytest
from msgspec.structs import replace
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog, QLabel, QPushButton

from tests.desk.conftest import Hand
from tests.stated import MOMENT
from yarvel.desk.fine.window import FineBookWindow
from yarvel.desk.papers.table_out import texts_of
from yarvel.desk.widgets.plain_table import choose_row
from yarvel.drawing.listing import list_pages
from yarvel.drawing.primitives import Drawing
from yarvel.workshop.store import Store


@pytest.fixture
def book(hand: Hand) -> FineBookWindow:
    hand.window.board.open_fine_book()
    made = hand.window.board.fine
    assert made is not None
    hand.bot.waitUntil(lambda: made.person.count() == 5)
    return made


def write(hand: Hand, book: FineBookWindow, kind: str, mass: str, person: str = "Orla") -> None:
    book.kind.setCurrentIndex(book.kind.findData(kind))
    book.person.setCurrentIndex(max(book.person.findText(person), 0))
    book.mass.selectAll()
    hand.bot.keyClicks(book.mass, mass)
    hand.bot.keyClick(book.mass, Qt.Key.Key_Return)
    hand.settle()


def test_metal_goes_out_and_comes_back(hand: Hand, book: FineBookWindow) -> None:
    hand.settle()
    assert book.docket.text() == hand.window.session.docket.number, "what the docket in hand takes is offered"  # type: ignore[union-attr]
    assert float(book.mass.text()) > 1
    write(hand, book, "issued", "8,00")
    write(hand, book, "returned", "1.5")
    write(hand, book, "filings", "0.25")
    write(hand, book, "used", "5.75")
    assert book.lines.rowCount() == 4
    row = [book.people.item(0, column).text() for column in range(book.people.columnCount())]
    assert row[:2] == ["Orla", "18k yellow gold"] and row[7] == "0.50"
    assert row[8] == "7.7% of 3%" and row[9] == "over the allowance"
    assert book.dockets.item(0, 0).text() == book.docket.text()
    assert book.month_end.table.item(0, book.month_end.table.columnCount() - 1).text() == "0.50"


def test_what_is_refused_says_what_is_accepted(hand: Hand, book: FineBookWindow) -> None:
    problem = book.findChild(QLabel, "fine.problem")
    assert problem is not None
    write(hand, book, "issued", "much")
    assert "0.001 to 20000 g" in problem.text()
    write(hand, book, "issued", "3", person="–")
    assert "to nobody" in problem.text() and book.lines.rowCount() == 0
    write(hand, book, "issued", "3")
    assert problem.text() == "" and book.lines.rowCount() == 1


def test_lists_go_out_on_paper_and_as_csv(
    hand: Hand, book: FineBookWindow, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    write(hand, book, "issued", "8")
    book.tabs.setCurrentIndex(3)
    target = tmp_path / "month.csv"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_args, **_kwargs: (str(target), ""))
    button = book.findChild(QPushButton, "fine.csv")
    assert button is not None
    hand.bot.mouseClick(button, Qt.MouseButton.LeftButton)
    with target.open(encoding="utf-8-sig", newline="") as file:
        heads, row = list(csv.reader(file))
    assert heads[0] == "Metal" and row[0] == "18k yellow gold" and "8.00" in row
    table, title = book.shown
    texts = [text.text for text in list_pages(title, *texts_of(table), date(2031, 4, 9).isoformat())[0].texts()]
    assert title.startswith("Month's end") and "18k yellow gold" in texts and "8.00" in texts


def test_metal_balances_by_eye_and_a_month_is_signed_off(hand: Hand, book: FineBookWindow) -> None:
    """Over the allowance is told in words; a month that is over is signed off, once and for good."""
    hand.settle()
    for kind, mass in (("issued", "8,00"), ("returned", "1.5"), ("filings", "0.25"), ("used", "5.75")):
        write(hand, book, kind, mass)
    assert book.by_eye.accessibleName() == "Orla, 18k yellow gold: 0.50 g lost of 8.00, over 0.20"
    book.tabs.setCurrentIndex(3)
    problem = book.findChild(QLabel, "fine.problem")
    assert problem is not None
    hand.bot.mouseClick(book.month_end.sign, Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: "is not over yet" in problem.text())
    book.month_end.month.setFocus()
    book.month_end.month.selectAll()
    hand.bot.keyClicks(book.month_end.month, "2020-02")
    hand.settle()
    hand.bot.mouseClick(book.month_end.sign, Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: "Signed off by" in book.month_end.signed.text())
    assert not book.month_end.sign.isVisible() and problem.text() == "" and "sealed" in book.month_end.signed.text()
    assert book.month_end.page.isVisible()
    store = Store(hand.window.dockets.gateway.store.location)  # type: ignore[union-attr]
    assert list(store.closings.all()) == ["2020-02"] and store.closings.verify() == []
    store.close()


def test_a_month_that_is_signed_off_has_a_page(
    hand: Hand, book: FineBookWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    """What was signed, by whom, in which zone, sealed by what and going on from what; grams to the milligram."""
    store = Store(hand.window.dockets.gateway.store.location, by="Orla", clock=lambda: MOMENT)  # type: ignore[union-attr]
    (orla,) = (person for person in store.people.all() if person.name == "Orla")
    store.fine.add("bought", "18k-yellow", 31.5, at=datetime(2031, 1, 7, 9))
    store.closings.close("2031-01")
    for kind, grams, day in (("bought", 12.345, 3), ("issued", 8.0, 4), ("returned", 1.5, 5)):
        who = None if kind == "bought" else orla.id
        store.fine.add(kind, "18k-yellow", grams, who, at=datetime(2031, 2, day, 9))
    before, seal = store.closings.all()["2031-01"], store.closings.close("2031-02")
    rules = store.house.rules()
    book.reload(rules.but(custom=replace(rules.custom, letterhead="The Bridge Workshop\nUnder the arches")))
    store.close()
    pages: list[Drawing] = []
    monkeypatch.setattr("yarvel.desk.papers.papers.preview_and_print", lambda _parent, made, _title: pages.extend(made))
    hand.settle()
    book.tabs.setCurrentIndex(3)
    book.month_end.month.setFocus()
    book.month_end.month.selectAll()
    hand.bot.keyClicks(book.month_end.month, "2031-02")
    hand.bot.waitUntil(lambda: book.month_end.page.isVisible())
    hand.bot.mouseClick(book.month_end.page, Qt.MouseButton.LeftButton)
    texts = [text.text for text in pages[0].texts()]
    said = " ".join(texts)
    assert "Fine book, month's end 2031-02" in texts and "Orla, 2031-04-09" in texts
    assert texts[texts.index("Lines") + 1] == "3" and "CET" in said
    assert [(texts[place], texts[place + 1]) for place, text in enumerate(texts) if text.endswith("Orla")] == [
        ("issued, Orla", "8.000 g"),
        ("returned, Orla", "1.500 g"),
    ]
    assert texts[texts.index("bought") + 1] == "12.345 g" and "18k yellow gold" in texts
    assert seal.digest in said.replace(" ", "") and f"2031-01, sealed {before.digest[:12]}" in texts
    assert "2031-04-09 10:30: still what was signed off." in texts and len(pages) == 1
    assert texts[:2] == ["The Bridge Workshop", "Under the arches"]


def test_a_mistyped_line_is_taken_back_by_a_line(hand: Hand, book: FineBookWindow) -> None:
    """Both stay to be read; what they come to is as if neither had been written."""
    problem = book.findChild(QLabel, "fine.problem")
    button = book.findChild(QPushButton, "fine.reverse")
    assert problem is not None and button is not None
    write(hand, book, "issued", "8")
    write(hand, book, "issued", "80")
    hand.bot.mouseClick(button, Qt.MouseButton.LeftButton)
    assert "Choose the line" in problem.text()
    choose_row(book.lines, 0)
    book.note.setFocus()
    book.note.selectAll()
    hand.bot.keyClicks(book.note, "a nought too many")
    hand.bot.mouseClick(button, Qt.MouseButton.LeftButton)
    hand.settle()
    hand.bot.waitUntil(lambda: book.lines.rowCount() == 3)
    assert book.note.text() == ""
    row = texts_of(book.lines)[1][0]
    assert row[1] == "issued" and row[3] == "-80.000" and "takes back the line of" in row[6]
    assert row[6].endswith("issued 80 g: a nought too many")
    held = [book.people.item(0, column).text() for column in range(book.people.columnCount())]  # type: ignore[union-attr]
    assert held[2] == "8.00" and held[7] == "8.00"
    choose_row(book.lines, 1)
    hand.bot.mouseClick(button, Qt.MouseButton.LeftButton)
    hand.settle()
    assert "is taken back already" in problem.text() and book.lines.rowCount() == 3
    choose_row(book.lines, 0)
    hand.bot.mouseClick(button, Qt.MouseButton.LeftButton)
    hand.settle()
    assert "takes another line back itself" in problem.text() and book.lines.rowCount() == 3
