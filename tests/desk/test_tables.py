"""Tables of every window: rows stand by the head that was pressed, and are copied as they stand."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime, timedelta
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QTableView, QTableWidget, QWidget
from pytestqt.qtbot import QtBot

from tests.desk.conftest import Hand
from yarvel.desk.intake.history import HistoryDialog
from yarvel.desk.papers.table_out import texts_of
from yarvel.desk.widgets.plain_table import choose_row, plain_table
from yarvel.desk.widgets.row_filter import RowFilter
from yarvel.desk.widgets.row_order import RowOrder, ordered, text_key
from yarvel.desk.widgets.rows_on_demand import fill_rows
from yarvel.workshop.dockets.records import Change
from yarvel.workshop.store import Store

ROWS = (("a", "3.50"), ("b", "12.00"), ("c", ""), ("d", "−1.25"))


def press(bot: QtBot, view: QTableView, column: int) -> None:
    """A head is pressed in its middle."""
    head = view.horizontalHeader()
    middle = head.sectionViewportPosition(column) + min(head.sectionSize(column), 40) // 2
    bot.mouseClick(head.viewport(), Qt.MouseButton.LeftButton, pos=QPoint(middle, head.height() // 2))


def stand(table: QTableWidget, column: int = 0) -> list[str]:
    """The texts of a column from top to bottom, as they are seen."""
    header = table.verticalHeader()
    rows = [header.logicalIndex(place) for place in range(table.rowCount())]
    return [table.item(row, column).text() for row in rows]


@pytest.fixture
def table(qtbot: QtBot) -> Iterator[QTableWidget]:
    window = QWidget()
    qtbot.addWidget(window)
    made = plain_table(window, ("Of", "Grams"), "A test's")
    made.resize(400, 300)
    window.show()
    fill_rows(made, 0, ROWS)
    yield made
    window.close()


def test_rows_rise_fall_and_stand_as_they_were(qtbot: QtBot, table: QTableWidget) -> None:
    press(qtbot, table, 1)
    assert stand(table) == ["d", "a", "b", "c"], "numbers as numbers, what says nothing last"
    press(qtbot, table, 1)
    assert stand(table) == ["b", "a", "d", "c"]
    assert table.item(0, 0).text() == "a", "a row keeps its number"
    press(qtbot, table, 1)
    assert stand(table) == ["a", "b", "c", "d"]


def test_what_is_filled_anew_stands_in_order_too(qtbot: QtBot, table: QTableWidget) -> None:
    press(qtbot, table, 1)
    fill_rows(table, 0, (("x", "7.00"), ("y", "2.00"), *ROWS))
    qtbot.waitUntil(lambda: stand(table) == ["d", "y", "a", "x", "b", "c"])
    assert texts_of(table)[1][0] == ["d", "−1.25"], "written and printed as it is seen"


def test_several_are_copied_as_they_stand(qtbot: QtBot, table: QTableWidget) -> None:
    press(qtbot, table, 1)
    table.setFocus()
    choose_row(table, 0)
    qtbot.keyClick(table, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    qtbot.keyClick(table, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    lines = QGuiApplication.clipboard().text().split("\n")
    assert [line.split("\t")[0] for line in lines] == ["Of", "d", "a", "b", "c"]


def test_arrows_go_from_row_to_row_as_they_are_seen(qtbot: QtBot, table: QTableWidget) -> None:
    press(qtbot, table, 1)
    table.setFocus()
    table.setCurrentCell(3, 0)
    qtbot.keyClick(table, Qt.Key.Key_Down)
    assert table.item(table.currentRow(), 0).text() == "a"


@given(
    st.lists(st.sampled_from(["", "–", "3", "12", "−4", "2031-04-09", "Orla", "benno", "1,250.50 cr"])), st.booleans()
)
def test_no_row_is_lost_in_an_order(texts: list[str], falling: bool) -> None:
    order = ordered(texts, falling)
    assert sorted(order) == list(range(len(texts)))
    said = [text_key(texts[place]) for place in order if texts[place] not in ("", "–")]
    assert said == sorted(said, reverse=falling)


def test_the_fine_books_lines_are_asked_for_in_order(hand: Hand, demo_path: Path) -> None:
    """Of many lines only a page is in the window: the order is the store's."""
    store = Store(demo_path)
    orla = next(person.id for person in store.people.all() if person.name == "Orla")
    for grams in range(130):
        store.fine.add("issued", "18k-yellow", 1 + (grams * 37 % 130) / 10, orla)
    store.close()
    hand.window.board.open_fine_book()
    book = hand.window.board.fine
    assert book is not None
    hand.bot.waitUntil(lambda: book.lines.rowCount() == 100)
    press(hand.bot, book.lines, 3)
    hand.bot.waitUntil(lambda: book.lines.item(0, 3).text() == "1.000")
    press(hand.bot, book.lines, 3)
    hand.bot.waitUntil(lambda: book.lines.item(0, 3).text() == "13.900")
    masses = [float(book.lines.item(row, 3).text()) for row in range(100)]
    assert masses == sorted(masses, reverse=True)


def test_tasks_are_asked_for_in_order(hand: Hand) -> None:
    hand.window.board.open()
    board = hand.window.board.window
    assert board is not None
    rows = board.list.rows
    hand.bot.waitUntil(lambda: rows.rowCount() > 3)
    board.tabs.setCurrentWidget(board.list)
    for column, number in ((2, False), (4, True)):
        press(hand.bot, rows, column)

        def in_order(column: int = column, number: bool = number) -> bool:
            texts = [rows.item(row, column).text() for row in range(rows.rowCount())]
            keys = [float(text.split()[0]) if number else text for text in texts if text != "–"]
            return keys == sorted(keys)  # type: ignore[type-var]

        hand.bot.waitUntil(in_order)
        task = board.list.tasks[0]
        assert rows.item(0, 0).text() == task.docket_number and rows.item(0, 1).text() == task.label


def test_the_drawer_is_sorted_and_copied(hand: Hand) -> None:
    hand.press(Qt.Key.Key_F4)
    drawer = hand.window.drawer.window
    assert drawer is not None
    hand.bot.waitUntil(lambda: len(drawer.table.items) > 0)
    names = [name for name, _ in drawer.table._columns]
    size = names.index("size_mm")
    press(hand.bot, drawer.rows, size)

    def sizes() -> list[float]:
        found = [drawer.table.item_at(row).size_mm for row in range(drawer.table.rowCount())]
        return [one for one in found if one is not None]

    assert sizes() == sorted(sizes()) and len(sizes()) > 20
    first = drawer.table.item_at(0)
    choose_row(drawer.rows, 0)
    drawer.rows.setFocus()
    hand.bot.keyClick(drawer.rows, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    heads, row = QGuiApplication.clipboard().text().split("\n")
    assert heads.split("\t")[1] == "Code" and row.split("\t")[1] == first.code


def test_a_history_is_sorted_by_who(qtbot: QtBot) -> None:
    at = datetime(2031, 4, 9, 8)
    changes = [
        Change(at + timedelta(hours=hour), "item", None, f"thing {hour}", who)
        for hour, who in enumerate(("Tove", "Orla", "Yusra"))
    ]
    dialog = HistoryDialog("31-0001", changes, [], [])
    qtbot.addWidget(dialog)
    dialog.show()
    assert stand(dialog.rows, 1) == ["Yusra", "Orla", "Tove"], "the newest first"
    press(qtbot, dialog.rows, 1)
    assert stand(dialog.rows, 1) == ["Orla", "Tove", "Yusra"]
    assert RowOrder.of(dialog.rows) is not None


def test_only_rows_that_hold_the_words_are_shown(qtbot: QtBot) -> None:
    window = QWidget()
    qtbot.addWidget(window)
    table = plain_table(window, ("Of", "Grams"), "Another test's")
    line = RowFilter(window, table)
    window.show()
    fill_rows(table, 0, ROWS)
    qtbot.keyClicks(line, "B 12")
    assert [table.isRowHidden(row) for row in range(4)] == [True, False, True, True]
    assert texts_of(table)[1] == [["b", "12.00"]], "printed and written as it is seen"
    fill_rows(table, 0, (("b", "0.12"), *ROWS))
    qtbot.waitUntil(lambda: [row for row in range(5) if not table.isRowHidden(row)] == [0, 2])
    line.clear()
    assert not any(table.isRowHidden(row) for row in range(5))


def test_the_fine_books_lines_are_looked_through_in_the_store(hand: Hand, demo_path: Path) -> None:
    """Also those of which nobody has scrolled to; a double press opens the docket of a line."""
    store = Store(demo_path)
    orla = next(person.id for person in store.people.all() if person.name == "Orla")
    number = store.docket(2).number
    store.fine.add("issued", "18k-white", 4.44, orla, number, "for the gallery")
    for grams in range(120):
        store.fine.add("issued", "18k-yellow", 1 + grams / 10, orla)
    store.close()
    hand.window.board.open_fine_book()
    book = hand.window.board.fine
    assert book is not None
    hand.bot.waitUntil(lambda: book.lines.rowCount() == 100)
    hand.bot.keyClicks(book.words, "GALLERY orla")
    hand.bot.waitUntil(lambda: book.lines.rowCount() == 1)
    assert book.lines.item(0, 6).text() == "for the gallery"
    book.lines.cellDoubleClicked.emit(0, 1)
    hand.bot.waitUntil(lambda: hand.window.session.docket.number == number)  # type: ignore[union-attr]
    book.words.selectAll()
    hand.bot.keyClicks(book.words, "100%_")
    hand.bot.waitUntil(lambda: book.lines.rowCount() == 0)


def test_several_tasks_are_chosen_and_given_on_at_once(hand: Hand) -> None:
    hand.window.board.open()
    board = hand.window.board.window
    assert board is not None
    rows = board.list.rows
    hand.bot.waitUntil(lambda: rows.rowCount() > 3)
    board.tabs.setCurrentWidget(board.list)
    hand.bot.keyClicks(board.list.words, "solder")
    hand.bot.waitUntil(lambda: all("Solder" in rows.item(row, 1).text() for row in range(rows.rowCount())))
    assert rows.rowCount() > 1
    rows.setFocus()
    choose_row(rows, 0)
    hand.bot.keyClick(rows, Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
    chosen = {task.id for task in board.list.chosen_tasks}
    assert len(chosen) == 2
    board.list.reload()
    hand.settle()
    assert {task.id for task in board.list.chosen_tasks} == chosen, "they stay chosen"
    assert {task.id for task in board._chosen_tasks()} == chosen
