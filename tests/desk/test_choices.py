"""Choices that one can type into: what is typed finds, Enter takes, Escape leaves as it was, the wheel does nothing."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtWidgets import QApplication, QComboBox, QWidget

from tests.desk.conftest import Hand
from yarvel.desk.dialogs.made_collet import READINGS, MadeColletDialog
from yarvel.desk.widgets.choice import Choice, Found, matching

SRC = Path(__file__).parents[2] / "src" / "yarvel" / "desk"
ENTRIES = ["Not said", "A private person", "A shop", "18k yellow gold", "18k white gold", "Oval cabochon", "Cushion"]


@pytest.mark.parametrize(
    ("typed", "found"),
    [
        ("cab", ["Oval cabochon"]),
        ("person", ["A private person"]),
        ("a p", ["A private person"]),
        ("white 18", ["18k white gold"]),
        ("18k", ["18k yellow gold", "18k white gold"]),
        ("A S", ["A shop"]),
        ("bochon", ["Oval cabochon"]),
        ("signet ring", []),
        ("  ", []),
    ],
)
def test_any_word_of_any_entry_finds_it(typed: str, found: list[str]) -> None:
    assert [ENTRIES[place] for place in matching(typed, ENTRIES)] == found


def choice(hand: Hand, name: str) -> Choice:
    field = hand.field(name)
    assert isinstance(field, Choice)
    hand.window.run.ensureWidgetVisible(field)
    field.setFocus(Qt.FocusReason.TabFocusReason)
    return field


def shown(field: Choice) -> list[str]:
    found = field.window().findChild(Found)
    if found is None or not found.isVisible():
        return []
    assert found.geometry().top() >= 0 and found.geometry().bottom() <= field.window().height()
    return [found.rows.item(row).text() for row in range(found.rows.count())]


def test_what_is_typed_is_shown_and_enter_takes_it_and_moves_on(hand: Hand) -> None:
    hand.open_station("Stone")
    field = choice(hand, "stone.cut")
    before = field.currentText()
    hand.keys("cab")
    assert field.typed == "cab" and field.currentText() == before, "nothing is taken yet"
    assert shown(field) and all("cabochon" in text.casefold() for text in shown(field))
    named = shown(field)[1]
    hand.press(Qt.Key.Key_Down)
    hand.press(Qt.Key.Key_Return)
    assert field.currentText() == named and not field.hasFocus() and not shown(field) and not field.typed
    assert hand.window.session.document["stone"]["cut"] == field.currentData()
    for _ in range(8):  # the cut brings readings of its own kind with it
        if field.currentText() == before:
            break
        hand.press(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
        hand.calm()
    assert field.currentText() == before


def test_escape_leaves_it_as_it_was(hand: Hand) -> None:
    hand.open_station("Stone")
    field = choice(hand, "stone.cut")
    before = hand.window.session.document
    hand.keys("emerx")
    assert not shown(field) and field.property("wrong"), "nothing here is called so"
    hand.press(Qt.Key.Key_Return)
    assert field.hasFocus() and field.typed == "emerx", "Enter takes nothing where nothing is found"
    hand.press(Qt.Key.Key_Backspace)
    assert shown(field) and not field.property("wrong")
    hand.press(Qt.Key.Key_Escape)
    assert not field.typed and not shown(field) and hand.window.isVisible()
    assert hand.window.session.document == before


def test_leaving_takes_nothing_and_what_was_typed_stays_to_be_seen(hand: Hand) -> None:
    """An item's name that is typed one field too early is neither taken nor lost."""
    hand.open_station("Take in")
    field = choice(hand, "docket.customer_kind")
    before = hand.window.session.docket
    hand.keys("signet ring")
    hand.press(Qt.Key.Key_Tab)
    assert not field.hasFocus() and field.typed == "signet ring" and field.property("wrong") and not shown(field)
    assert hand.window.session.docket == before
    field.setFocus(Qt.FocusReason.TabFocusReason)
    hand.press(Qt.Key.Key_Escape)
    hand.keys("a p")
    hand.press(Qt.Key.Key_Return)
    assert field.currentText() == "A person" and not field.property("wrong")
    hand.settle()
    assert hand.window.session.column("customer_kind") == "person"


def test_nothing_else_is_taken_where_other_things_are_offered_by_now(hand: Hand) -> None:
    """While somebody types the list is told anew: what is marked is what is taken, or nothing."""
    field = Choice(hand.window)
    field.addItems(["Orla", "Benno", "Yusra"])
    field.show()
    field.setFocus()
    hand.keys("b")
    assert shown(field) == ["Benno"]
    field.clear()
    field.addItems(["Orla", "Yusra", "Benno"])
    hand.press(Qt.Key.Key_Return)
    assert field.currentText() == "Orla" and field.hasFocus() and field.typed == "b" and shown(field) == ["Benno"]
    hand.press(Qt.Key.Key_Return)
    assert field.currentText() == "Benno" and not field.typed
    field.deleteLater()


def test_enter_moves_on_from_a_choice_as_from_a_field(hand: Hand) -> None:
    hand.open_station("Stone")
    field = choice(hand, "stone.cut")
    before = field.currentText()
    hand.press(Qt.Key.Key_Return)
    assert not field.hasFocus() and field.currentText() == before
    focus = QApplication.focusWidget()
    assert focus is not None and focus is not field


def test_an_opened_list_is_searched_by_any_word(hand: Hand) -> None:
    hand.open_station("Stone")
    field = choice(hand, "stone.cut")
    field.showPopup()
    for letter in "cabo":
        field.view().keyboardSearch(letter)
    assert "cabochon" in field.view().currentIndex().data().casefold()
    field.hidePopup()


def wheel(widget: QWidget) -> None:
    middle = QPointF(widget.rect().center())
    turned, none = QPoint(0, -120), Qt.MouseButton.NoButton
    begins = Qt.ScrollPhase.NoScrollPhase
    for spot in (middle, middle + QPointF(0, 4)):
        over = QPointF(widget.mapToGlobal(spot.toPoint()))
        how = (spot, over, QPoint(), turned, none, Qt.KeyboardModifier.NoModifier, begins, False)
        QApplication.sendEvent(widget, QWheelEvent(*how))


def test_the_wheel_changes_no_choice_of_any_window(hand: Hand) -> None:
    window = hand.window
    for head in window.run.heads:
        hand.open_station(head.text())
    window.board.open()
    window.board.open_fine_book()
    window.board.open_reports()
    window.drawer.open()
    hand.settle()
    choices = [
        box for other in QApplication.topLevelWidgets() for box in other.findChildren(QComboBox) if box.count() > 1
    ]
    assert len(choices) > 20 and all(isinstance(box, Choice) for box in choices)
    for box in choices:
        before = box.currentIndex()
        box.setFocus()
        wheel(box)
        assert box.currentIndex() == before, box.objectName()
    dialog = MadeColletDialog({name: 5.0 for name, _, _ in READINGS}, False, window)
    for field in dialog.fields.values():
        field.setFocus()
        wheel(field)
        assert field.value() == 5.0


def test_every_choice_of_every_window_is_of_this_kind() -> None:
    others = [
        f"{path.relative_to(SRC)}:{number}"
        for path in sorted(SRC.rglob("*.py"))
        for number, line in enumerate(path.read_text().splitlines(), start=1)
        if re.search(r"(?<!class )\bQ(ComboBox|FontComboBox|SpinBox|DoubleSpinBox|DateEdit|Slider|Dial)\(", line)
    ]
    assert others == []
