"""A promised day at the counter: typed as it is said, told back, or chosen from a calendar by keys."""

from __future__ import annotations

from datetime import date

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QCalendarWidget, QLabel, QLineEdit, QTableView

from tests.desk.conftest import Hand


def test_a_promised_day_is_typed_as_it_is_said_and_told_back(hand: Hand) -> None:
    """What was understood stands beside it; a weekday that does not agree is told, and what was promised stays."""
    hand.open_station("Take in")
    line, said = hand.field("docket.promised_on"), hand.window.findChild(QLabel, "docket.day")
    session = hand.window.session
    assert isinstance(line, QLineEdit) and said is not None

    def typed(text: str) -> None:
        hand.bot.keyClick(line, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
        hand.bot.keyClicks(line, text)
        hand.settle()

    typed("Fri week")
    assert session.docket is not None and session.docket.promised_on == date(2031, 4, 18)
    assert said.isVisible() and said.text() == "Friday 18 April 2031, in 9 days"
    hand.bot.keyClick(line, Qt.Key.Key_Return)
    typed("Fri 12 Apr")
    assert session.docket.promised_on == date(2031, 4, 18), "and not the Friday half-way"
    assert said.text().startswith("Friday 18 April")
    told = [label.text() for label in hand.window.findChildren(QLabel) if label.isVisible()]
    assert any("12 April 2031 is a Saturday" in text for text in told)
    typed("in 10 days")
    assert session.docket.promised_on == date(2031, 4, 19) and "Saturday 19 April 2031" in said.text()


def test_a_calendar_opens_on_a_key_and_is_walked_by_keys(hand: Hand) -> None:
    hand.open_station("Take in")
    line, session = hand.field("docket.promised_on"), hand.window.session
    assert isinstance(line, QLineEdit)
    hand.type("docket.promised_on", "11 Apr")
    hand.settle()
    calendar = hand.window.findChild(QCalendarWidget)
    assert calendar is not None and not calendar.isVisible()
    for key, day in ((Qt.Key.Key_Return, 18), (Qt.Key.Key_Escape, 18)):
        hand.bot.keyClick(line, Qt.Key.Key_Down, Qt.KeyboardModifier.AltModifier)
        assert calendar.isVisible()
        table = calendar.findChild(QTableView)
        hand.bot.keyClick(table, Qt.Key.Key_Down)  # a week on
        hand.bot.keyClick(table, key)
        hand.settle()
        assert not calendar.isVisible()
        assert session.docket is not None and session.docket.promised_on == date(2031, 4, day)
    assert line.text() == "2031-04-18"
