"""Customers in their window and under the line of a docket that is taken in, by keys and pointer."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QLineEdit

from tests.desk.conftest import Hand
from tests.desk.test_bench_window import in_dialog
from tests.ready import file_with
from yarvel.desk.customers.agreed_dialog import AgreedDialog
from yarvel.desk.customers.window import CustomersWindow
from yarvel.desk.finder.dialog import Finder
from yarvel.planning.job import FORMAT
from yarvel.workshop.drawer.stock import BEZEL, StockItem
from yarvel.workshop.store import Store


def with_customers(store: Store) -> None:
    for customer, item in (("Tarn", "ring"), ("Tarn Jewels", "brooch"), ("Alder", "pin"), ("Tarn", "chain")):
        store.new_docket(customer, item)
    job = {"format": FORMAT, "stone": {"diameters_mm": [5.7]}, "head": {"claws": 4}}
    store.new_docket("", "lamp bead ring", job_document=job)
    store.drawer.add([StockItem(BEZEL, "BZ-11", "18k-white", 4.9, wall_mm=0.5, height_mm=3.1, quantity=2)])


@pytest.fixture
def demo_path(tmp_path: Path) -> Path:
    return file_with(tmp_path / "customers.sqlite", with_customers)


@pytest.fixture
def window(hand: Hand) -> CustomersWindow:
    hand.press(Qt.Key.Key_F3)
    opened = hand.window.customers.window
    assert opened is not None
    hand.bot.waitUntil(lambda: opened.rows.count() == 3)
    return opened


def names(window: CustomersWindow) -> list[str]:
    return [one.name for one in window.known]


def write(hand: Hand, window: CustomersWindow, field: str, text: str) -> None:
    """Type into a field and go on."""
    widget = window.lines[field]
    widget.setFocus()
    hand.bot.keyClicks(widget, text)
    hand.bot.keyClick(widget, Qt.Key.Key_Tab)


def test_words_find_them_and_their_dockets_stand_beside(hand: Hand, window: CustomersWindow) -> None:
    hand.bot.keyClicks(window.words, "tarn")
    hand.bot.waitUntil(lambda: names(window) in (["Tarn", "Tarn Jewels"], ["Tarn Jewels", "Tarn"]))
    window.rows.setCurrentRow(names(window).index("Tarn"))
    hand.bot.waitUntil(lambda: [docket.item for docket in window.dockets] == ["chain", "ring"])
    assert "2 dockets, 2 in the house" in window.sums.text()
    window.table.cellDoubleClicked.emit(1, 0)
    hand.bot.waitUntil(lambda: hand.window.session.docket is not None and hand.window.session.docket.item == "ring")
    hand.bot.keyClicks(window.words, " nobody")
    hand.bot.waitUntil(lambda: window.rows.count() == 0 and "Nobody" in window.problem.text())


def test_a_field_is_kept_as_it_is_left_and_taken_back(hand: Hand, window: CustomersWindow) -> None:
    window.rows.setCurrentRow(names(window).index("Alder"))
    write(hand, window, "contact", "Quay 3")
    hand.bot.waitUntil(lambda: "Kept" in window.problem.text())
    store = hand.window.dockets.gateway.store
    assert store is not None
    held = store.customers.of("Alder")
    assert held is not None and held.contact == "Quay 3"
    hand.window.customers.window = window
    hand.window.board.undo_stack.undo()
    hand.bot.waitUntil(lambda: store.customers.of("Alder") is None)
    hand.window.board.undo_stack.redo()
    hand.bot.waitUntil(lambda: store.customers.of("Alder") == held)


def test_ctrl_z_inside_a_field_takes_back_typing_not_the_act_before(hand: Hand, window: CustomersWindow) -> None:
    window.rows.setCurrentRow(names(window).index("Alder"))
    write(hand, window, "terms", "30 days")
    hand.bot.waitUntil(lambda: "Kept" in window.problem.text())
    name = window.lines["name"]
    assert isinstance(name, QLineEdit)
    name.setFocus()
    hand.bot.keyClicks(name, "x")
    hand.bot.keyClick(name, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert "x" not in name.text().removeprefix("Alder")
    store = hand.window.dockets.gateway.store
    assert store is not None
    held = store.customers.of("Alder")
    assert held is not None and held.terms == "30 days"


def test_another_name_keeps_the_dockets(hand: Hand, window: CustomersWindow) -> None:
    window.rows.setCurrentRow(names(window).index("Alder"))
    write(hand, window, "name", " & Sons")
    hand.bot.waitUntil(lambda: "Alder & Sons" in names(window))
    hand.bot.waitUntil(lambda: [docket.customer for docket in window.dockets] == ["Alder"])
    assert "Alder" in window.others.text()
    name = window.lines["name"]
    name.setFocus()
    name.clear()
    hand.bot.keyClick(name, Qt.Key.Key_Tab)
    assert "a name" in window.problem.text(), "nobody without a name"


def test_several_are_made_one_and_come_apart_again(hand: Hand, window: CustomersWindow) -> None:
    held = window.rows
    held.setCurrentRow(names(window).index("Tarn"))
    held.item(names(window).index("Tarn Jewels")).setSelected(True)
    assert window.merge.isVisible()
    hand.bot.mouseClick(window.merge, Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: sorted(names(window)) == ["Alder", "Tarn"])
    hand.bot.waitUntil(lambda: {docket.item for docket in window.dockets} == {"ring", "chain", "brooch"})
    hand.window.board.undo_stack.undo()
    hand.bot.waitUntil(lambda: sorted(names(window)) == ["Alder", "Tarn", "Tarn Jewels"])


def test_the_line_of_a_docket_offers_who_is_known(hand: Hand, window: CustomersWindow) -> None:
    """Taken from the list, somebody is what their record says."""
    window.rows.setCurrentRow(names(window).index("Alder"))
    window.kind.setCurrentIndex(window.kind.findData("shop"))
    window.kind.activated.emit(window.kind.currentIndex())
    hand.bot.waitUntil(lambda: "Kept" in window.problem.text())
    window.close()
    hand.window.activateWindow()
    hand.window.take_in()
    hand.open_station("Take in")
    line = hand.field("docket.customer")
    assert isinstance(line, QLineEdit)
    line.setFocus()
    names_of = line.completer()
    hand.bot.waitUntil(lambda: names_of.model().rowCount() == 3)
    hand.bot.keyClicks(line, "ald")
    hand.bot.waitUntil(lambda: names_of.completionCount() == 1)
    names_of.activated.emit("Alder")
    assert hand.window.session.column("customer") == "Alder" and hand.window.session.column("customer_kind") == "shop"


def test_whose_the_docket_in_hand_is_stands_in_front(hand: Hand) -> None:
    hand.window.dockets.open(3)
    hand.bot.waitUntil(
        lambda: hand.window.session.docket is not None and hand.window.session.docket.customer == "Alder"
    )
    hand.open_station("Take in")
    hand.bot.mouseClick(hand.field("docket.whose"), Qt.MouseButton.LeftButton)
    opened = hand.window.customers.window
    assert opened is not None
    hand.bot.waitUntil(lambda: bool(opened.selected) and opened.selected[0].name == "Alder")


def find(hand: Hand, words: str, until: Callable[[Finder], bool], take: bool = True) -> list[str]:
    """Type words into the finder, wait until something is so, and take what stands first; what stood there."""
    seen: list[str] = []

    def act(dialog: QDialog) -> None:
        assert isinstance(dialog, Finder)
        hand.bot.keyClicks(dialog.words, words)
        hand.bot.waitUntil(lambda: until(dialog))
        seen.extend(dialog.rows.item(row).text() for row in range(dialog.rows.count()))
        hand.bot.keyClick(dialog.words, Qt.Key.Key_Return if take else Qt.Key.Key_Escape)

    in_dialog(hand, Finder, act)
    hand.window.finding.open()
    return seen


def test_everything_is_found_by_its_words(hand: Hand) -> None:
    """Dockets first, the newest of them first; then customers; then what lies in the drawer; then commands."""
    seen = find(
        hand,
        "tarn",
        lambda dialog: dialog.rows.count() == 5 and dialog.rows.item(3).text().startswith("Customer"),
        take=False,
    )
    kinds = [row.split(":")[0] for row in seen]
    assert kinds[3:] == ["Customer", "Customer"] and "chain" in seen[0] and "brooch" in seen[1]
    assert find(hand, "BZ-11", lambda dialog: dialog.rows.count() == 1)[0].startswith("In the drawer: ")
    drawer = hand.window.drawer.window
    assert drawer is not None
    hand.bot.waitUntil(lambda: drawer.isVisible() and drawer.table.rowCount() == 1)
    assert drawer.table.item_at(0).code == "BZ-11"


def test_the_finder_says_where_a_docket_is(hand: Hand, demo_path: Path) -> None:
    """In whose hands, or what comes next: told beside the picture once somebody rests there."""
    store = Store(demo_path)
    made = store.new_docket("Tarn Jewels", "Locket, hinge", None, state="in work")
    store.tasks.plan_tasks(made.id, [("fit", 20.0)])
    store.close()
    find(hand, "locket", lambda dialog: "Next: Fit head and shank." in dialog.told.text(), take=False)


def test_a_customer_and_a_command_are_opened_from_the_finder(hand: Hand) -> None:
    hand.window.dockets.open(1)
    find(hand, "jewels", lambda dialog: dialog.rows.count() == 2, take=False)

    def second(dialog: QDialog) -> None:
        assert isinstance(dialog, Finder)
        hand.bot.keyClicks(dialog.words, "jewels")
        hand.bot.waitUntil(lambda: dialog.rows.count() == 2)
        hand.bot.keyClick(dialog.words, Qt.Key.Key_Down)
        assert "Tarn Jewels" in dialog.told.text()
        hand.bot.keyClick(dialog.words, Qt.Key.Key_Return)

    in_dialog(hand, Finder, second)
    hand.window.finding.open()
    opened = hand.window.customers.window
    assert opened is not None
    hand.bot.waitUntil(lambda: bool(opened.selected) and opened.selected[0].name == "Tarn Jewels")
    theme = hand.window._theme
    find(hand, "light or dark", lambda dialog: dialog.rows.count() == 1)
    assert hand.window._theme != theme


def test_what_is_found_is_seen(hand: Hand) -> None:
    """A docket by its head, once somebody rests there; a bought piece with the stone that it is made for."""
    drawn: list[bool] = []

    def act(dialog: QDialog) -> None:
        assert isinstance(dialog, Finder)
        for words in ("lamp", "BZ-11"):
            dialog.words.clear()
            hand.bot.keyClicks(dialog.words, words)
            hand.bot.waitUntil(lambda: dialog.drawing.drawing is not None)
            drawn.append(dialog.drawing.isVisible())
        dialog.reject()

    in_dialog(hand, Finder, act)
    hand.press(Qt.Key.Key_F, Qt.KeyboardModifier.ControlModifier)
    assert drawn == [True, True]


def test_what_was_agreed_before_is_there_to_read(hand: Hand, window: CustomersWindow) -> None:
    """Terms that were changed stand under the new ones; every change of the record in a table."""
    window.rows.setCurrentRow(names(window).index("Alder"))
    assert not window.agreed.isVisibleTo(window) and not window.before.text()
    write(hand, window, "terms", "thirty days")
    hand.bot.waitUntil(lambda: window.known[window.rows.currentRow()].record is not None)
    hand.settle()
    assert not window.agreed.isVisibleTo(window), "nothing was agreed before"
    window.lines["terms"].selectAll()
    write(hand, window, "terms", "fourteen days")
    hand.bot.waitUntil(lambda: window.before.text().endswith("thirty days"))
    seen: list[list[str]] = []

    def read(dialog: QDialog) -> None:
        rows = dialog.rows  # type: ignore[attr-defined]
        seen.extend([rows.item(row, column).text() for column in (2, 3, 4)] for row in range(rows.rowCount()))
        dialog.reject()

    in_dialog(hand, AgreedDialog, read)
    hand.bot.mouseClick(window.agreed, Qt.MouseButton.LeftButton)
    assert seen[0] == ["Terms", "thirty days", "fourteen days"] and ["Terms", "–", "thirty days"] in seen
