"""No key loses work: every shortcut from inside a field, customary keys, windows that fit, previews that print."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import QRect, QSize, Qt
from PySide6.QtGui import QKeySequence
from PySide6.QtPrintSupport import QPrintDialog
from PySide6.QtWidgets import QApplication, QComboBox, QDialog, QLineEdit, QMenu, QPushButton, QTableWidget, QWidget

from tests.desk.conftest import Hand
from tests.ready import file_with
from yarvel.desk.actions import ACTIONS
from yarvel.desk.papers.preview import Preview
from yarvel.desk.signing_in.sign_in_dialog import FirstStartDialog
from yarvel.desk.widgets.manners import FRAME, fitting
from yarvel.desk.widgets.plain_table import choose_row
from yarvel.drawing.listing import list_pages
from yarvel.workshop.dockets.words import without_marks, words_of
from yarvel.workshop.store import Store

X11_LINE_KEYS = {
    *("Ctrl+A", "Ctrl+C", "Ctrl+D", "Ctrl+E", "Ctrl+K", "Ctrl+U", "Ctrl+V", "Ctrl+X", "Ctrl+Shift+A"),
    *(
        "Ctrl+Backspace",
        "Ctrl+Del",
        "Ctrl+End",
        "Ctrl+Home",
        "Ctrl+Ins",
        "Ctrl+Left",
        "Ctrl+Right",
        "Del",
        "End",
        "Home",
    ),
    *("Shift+Del", "Shift+End", "Shift+Home", "Shift+Ins", "Ctrl+Shift+Left", "Ctrl+Shift+Right", "F14", "F16", "F18"),
}
"""Keys that a line takes for itself under X11; published: Qt's table of QKeySequence::StandardKey, column KDE/X11."""
CUSTOMARY = {
    "Ctrl+Z": "undo",
    "Ctrl+Shift+Z": "redo",
    "Ctrl+Y": "redo",
    "Ctrl+F": "find",
    "Ctrl+N": "new",
    "Ctrl+O": "bring-in",
    "Ctrl+P": "print",
    "Ctrl+W": "quit",
    "Ctrl+Q": "quit",
    "F1": "shortcuts",
}
"""Common practice, no source: what these keys do everywhere."""


def test_no_shortcut_is_a_key_of_a_text_field() -> None:
    ours = {keys for info in ACTIONS for keys in (info.shortcut, info.also) if keys}
    assert not ours & X11_LINE_KEYS
    assert len([keys for info in ACTIONS for keys in (info.shortcut, info.also) if keys]) == len(ours)


def test_customary_keys_do_the_customary_thing() -> None:
    meant = {keys: info.name for info in ACTIONS for keys in (info.shortcut, info.also) if keys in CUSTOMARY}
    assert meant == CUSTOMARY


@pytest.fixture
def places(hand: Hand) -> dict[str, QWidget]:
    """A text field, a combo box and a table of the real window."""
    hand.open_station("Take in")
    line, combo = hand.field("docket.customer"), hand.field("docket.customer_kind")
    table = QTableWidget(2, 2, hand.window)
    table.move(400, 300)
    table.show()
    return {"line": line, "combo": combo, "table": table}


@pytest.mark.parametrize("place", ["line", "combo", "table"])
def test_every_shortcut_wins_in_a_field_and_takes_nothing_from_it(
    place: str, places: dict[str, QWidget], hand: Hand
) -> None:
    field = places[place]
    done: list[str] = []
    for info in ACTIONS:
        action = hand.window._actions[info.name]
        action.triggered.disconnect()
        action.setEnabled(True)
        action.triggered.connect(lambda _checked=False, name=info.name: done.append(name))
    before = field.text() if isinstance(field, QLineEdit) else None
    for info in ACTIONS:
        if place == "line" and info.name in ("undo", "redo"):
            continue  # a line of words takes its own typing back, as everywhere
        for keys in (info.shortcut, info.also):
            if keys:
                press(hand, field, keys)
                assert done == [info.name], keys
                done.clear()
    if isinstance(field, QLineEdit):
        assert field.text() == before


def press(hand: Hand, field: QWidget, keys: str) -> None:
    field.setFocus()
    code = QKeySequence(keys)[0]
    hand.bot.keyClick(field, code.key(), code.keyboardModifiers())


def test_f10_opens_the_menus_and_each_has_a_letter(hand: Hand) -> None:
    titles = [action.text() for action in hand.window.menuBar().actions()]
    letters = [title[title.index("&") + 1] for title in titles]
    assert len(set(letters)) == len(titles) >= 4
    hand.open_station("Take in")
    press(hand, hand.field("docket.customer"), "F10")
    assert hand.window.menuBar().activeAction() is not None
    for menu in hand.window.findChildren(QMenu):
        menu.close()


@pytest.mark.parametrize("keys", ["Esc", "Ctrl+W"])
def test_esc_and_ctrl_w_close_any_window_but_the_bench(keys: str, hand: Hand) -> None:
    window = hand.window
    window.board.open()
    window.board.open_fine_book()
    window.board.open_reports()
    window.drawer.open()
    hand.settle()
    for other in (window.board.window, window.board.fine, window.board.reports, window.drawer.window):
        assert other is not None and other.isVisible()
        other.activateWindow()
        hand.bot.waitUntil(lambda other=other: QApplication.activeWindow() is other)
        press(hand, other, keys)
        hand.bot.waitUntil(lambda other=other: not other.isVisible())
    hand.bot.keyClick(window, Qt.Key.Key_Escape)
    assert window.isVisible()


@pytest.mark.parametrize(("width", "height"), [(1280, 800), (1024, 768)])
def test_every_window_fits_onto_the_screen_with_its_frame(width: int, height: int, hand: Hand) -> None:
    screen = QRect(0, 0, width, height)
    assert fitting(QSize(1280, 800), screen) == QSize(width, height) - FRAME
    window = hand.window
    window.board.open()
    window.board.open_fine_book()
    window.board.open_reports()
    window.drawer.open()
    hand.settle()
    for other in (window, window.board.window, window.board.fine, window.board.reports, window.drawer.window):
        assert other is not None
        least = other.minimumSizeHint()
        room = screen.size() - FRAME
        assert least.width() <= room.width() and least.height() <= room.height(), (type(other).__name__, least)


def test_a_list_shows_all_its_rows(hand: Hand) -> None:
    for station, name in (("Head", "head.style"), ("Hand over", "docket.state")):
        hand.open_station(station)
        combo = hand.field(name)
        assert isinstance(combo, QComboBox)
        combo.showPopup()
        QApplication.processEvents()
        view = combo.view()
        last = view.visualRect(combo.model().index(combo.count() - 1, 0))
        assert last.bottom() <= view.viewport().height(), (name, combo.count())
        combo.hidePopup()


def test_the_preview_prints_by_key_and_suggests_the_dockets_number(
    hand: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    from PySide6.QtWidgets import QFileDialog

    asked: list[str] = []
    monkeypatch.setattr(QPrintDialog, "exec", lambda _dialog: asked.append("printer") or 0)
    pages = list_pages("List", ["A"], [[str(row)] for row in range(200)], "2031-04-09")
    preview = Preview(pages, "Bench sheet", "31-0007", hand.window)
    preview.open()
    hand.bot.waitExposed(preview)
    preview.activateWindow()
    assert preview.print.isVisible() and preview.rect().contains(preview.print.geometry())
    hand.bot.waitUntil(lambda: QApplication.activeWindow() is preview)
    for keys in ("Ctrl+P", "Return"):
        press(hand, preview.view, keys)
    hand.bot.mouseClick(preview.print, Qt.MouseButton.LeftButton)
    assert asked == ["printer"] * 3
    named: list[str] = []

    def save(_parent: QWidget, _title: str, suggested: str, _kinds: str) -> tuple[str, str]:
        named.append(suggested)
        return str(tmp_path / suggested), ""

    monkeypatch.setattr(QFileDialog, "getSaveFileName", save)
    button = preview.findChild(QPushButton, "preview.as pdf")
    assert button is not None
    hand.bot.mouseClick(button, Qt.MouseButton.LeftButton)
    assert named == ["31-0007.pdf"] and (tmp_path / "31-0007.pdf").read_bytes().startswith(b"%PDF")
    assert preview.number.text().endswith(f"of {len(pages)}") and len(pages) > 1
    hand.bot.mouseClick(preview.on, Qt.MouseButton.LeftButton)
    assert preview.number.text().startswith("2 of")
    press(hand, preview, "Esc")
    assert not preview.isVisible()


def test_enter_goes_to_the_next_field_in_take_in(hand: Hand) -> None:
    hand.open_station("Take in")
    hand.type("docket.customer", "Quay", enter=True)
    focus = QApplication.focusWidget()
    assert focus is not None and focus.objectName() == "docket.customer_kind"
    hand.type("docket.item", "band", enter=True)
    hand.keys("2031-05-02")
    docket = hand.window.session.docket
    assert docket is not None
    assert (docket.customer, docket.item, str(docket.promised_on)) == ("Quay", "band", "2031-05-02")


def test_tab_follows_the_eye_in_the_fine_book_and_enter_writes_down(hand: Hand) -> None:
    hand.window.board.open_fine_book()
    book = hand.window.board.fine
    assert book is not None
    hand.bot.waitUntil(lambda: book.person.count() > 1)
    book.activateWindow()
    book.kind.setFocus()
    order = []
    for _ in range(6):
        order.append(QApplication.focusWidget())
        hand.bot.keyClick(QApplication.focusWidget(), Qt.Key.Key_Tab)
    assert order == [book.kind, book.alloy, book.mass, book.person, book.docket, book.note]
    book.kind.setCurrentIndex(book.kind.findData("bought"))
    book.mass.setText("3")
    book.docket.setFocus()
    hand.bot.keyClick(book.docket, Qt.Key.Key_Return)
    hand.settle()
    assert book.lines.rowCount() == 1


def test_a_station_opened_by_key_is_in_view(hand: Hand) -> None:
    for place in (8, 1, 5):
        press(hand, hand.window.sheet, f"Ctrl+{place}")
        hand.calm()
        head = hand.window.run.heads[place - 1]
        assert (
            hand.window.run.viewport()
            .rect()
            .intersects(QRect(head.mapTo(hand.window.run.viewport(), head.rect().topLeft()), head.size()))
        )


def test_what_is_refused_says_so_in_place(hand: Hand) -> None:
    hand.open_station("Hand over")
    hand.choose("docket.state", "handed over")
    hand.type("docket.release_reason", "")
    hand.bot.mouseClick(hand.field("docket.hand_over"), Qt.MouseButton.LeftButton)
    assert "Nothing leaves without a name and a reason" in hand.shown("docket.release_missing")
    hand.window.board.open()
    board = hand.window.board.window
    assert board is not None
    hand.settle()
    store = hand.window.dockets.gateway.store
    assert store is not None
    store.tasks.give(store.tasks.page()[0].id, None)
    board.reload()
    hand.settle()
    board.loads.setCurrentRow(1)
    hand.settle()
    choose_row(board.rows, 0)
    board.next.setCurrentIndex(0)
    hand.bot.mouseClick(board.buttons["start"], Qt.MouseButton.LeftButton)
    assert board.problem.isVisible() and "Who starts it?" in board.problem.text()


def test_the_first_start_begins_at_the_name(hand: Hand) -> None:
    dialog = FirstStartDialog("pim", False, lambda *_said: None, hand.window)
    dialog.show()
    hand.bot.waitExposed(dialog)
    dialog.activateWindow()
    assert dialog.focusWidget() is dialog.name
    hand.bot.keyClicks(dialog.name, "Maren")
    hand.bot.keyClick(dialog.name, Qt.Key.Key_Return)
    assert dialog.name.text() == "Maren" and dialog.isVisible() and dialog.focusWidget() is dialog.pin
    dialog.done(QDialog.DialogCode.Rejected)


def test_the_turned_view_never_shows_another_dockets_piece(hand: Hand) -> None:
    hand.window.bodies.begin()
    hand.window.turning.toggle()
    view = hand.window.turning.view
    hand.bot.waitUntil(lambda: view.triangle_count > 0)
    hand.window.take_in()
    hand.bot.waitUntil(lambda: hand.window.session.plan is None)
    assert view.triangle_count == 0
    hand.bot.waitUntil(lambda: hand.window.bodies.at_rest)
    assert view.triangle_count == 0, "also when a late answer comes"


@pytest.mark.parametrize(
    ("typed", "found"),
    [
        ("bjork", True),
        ("bjoerk", True),
        ("björk", True),
        ("27 nov", True),
        ("27 nov 2026", True),
        ("9x7", True),
        ("9×7", True),
        ("6.5", False),
        ("strasse", True),
    ],
)
def test_dockets_are_found_as_people_say_and_spell_them(typed: str, found: bool, tmp_path: Path) -> None:
    from datetime import date

    store = Store(file_with(tmp_path / "store.sqlite"))
    stone = {"cut": "oval", "species": "spinel", "length_mm": 9.0, "width_mm": 7.0}
    made = store.new_docket(
        "Björk, Alte Straße", "ring", date(2026, 11, 27), {"format": "yarvel-job/1", "stone": stone}
    )
    assert [held.id for held in store.dockets(typed)] == ([made.id] if found else [])
    store.close()


def test_words_without_marks_and_sizes() -> None:
    assert without_marks("ångström smørrebrød łódź") == [
        "angstrom",
        "aangstroem",
        "smorrebrod",
        "smoerrebroed",
        "lodz",
    ]
    row = dict.fromkeys(("number", "customer", "item", "state", "metal", "mark", "reported"), "")
    stone = {"diameters_mm": [6.48, 6.53]}
    assert "6.5" in words_of({**row, "promised_on": None, "job_document": {"stone": stone}}).split()
