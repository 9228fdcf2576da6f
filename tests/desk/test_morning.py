"""A lead's morning by keys alone: somebody is away, a docket becomes urgent, work goes to an outworker, a date is
promised, a task pinned, two soldered in one heat; each is taken back."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QComboBox, QWidget

from tests.desk.conftest import Hand
from tests.desk.test_day import at_rest, bars, one_alloy, opened, stored
from tests.desk.test_today import placed
from yarvel.clock import today
from yarvel.desk.board.window import BoardWindow
from yarvel.workshop.dockets.records import DocketEdit
from yarvel.workshop.store import Store

CTRL, ALT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.AltModifier
_MOST_TABS = 150


def tab_to(hand: Hand, window: QWidget, name: str) -> QWidget:
    """Tab, again and again, until a control has the focus."""
    for _ in range(_MOST_TABS):
        here = QApplication.focusWidget()
        if here is not None and here.objectName() == name:
            return here
        hand.bot.keyClick(here if here is not None and here.window() is window else window, Qt.Key.Key_Tab)
    raise AssertionError(f"{name} is not reached by Tab")


def arrow_to(hand: Hand, choice: QWidget, wanted: Callable[[str], bool]) -> None:
    """Down through a choice until what is wanted stands in it."""
    assert isinstance(choice, QComboBox)
    for _ in range(choice.count()):
        if wanted(choice.currentText()):
            return
        hand.bot.keyClick(choice, Qt.Key.Key_Down)
    assert wanted(choice.currentText()), choice.currentText()


def to_front(hand: Hand, window: QWidget) -> None:
    window.activateWindow()
    hand.bot.waitUntil(lambda: QApplication.activeWindow() is window)


def key(hand: Hand, board: BoardWindow, pressed: Qt.Key, more: Qt.KeyboardModifier) -> None:
    """A key on the plan, and what comes of it."""
    to_front(hand, board)
    hand.bot.keyClick(board.day.chart, pressed, more)
    at_rest(hand, board)


def walk_to(hand: Hand, board: BoardWindow, wanted: int) -> None:
    """Along the bars by arrows until a task is chosen."""
    board.day.chart.setFocus()
    hand.bot.keyClick(board.day.chart, Qt.Key.Key_Right)
    arrows_to(hand, board, wanted, Qt.KeyboardModifier.NoModifier)
    assert [bar.job.key for bar in board.day.chart.bars()] == [wanted]


def arrows_to(hand: Hand, board: BoardWindow, wanted: int, held: Qt.KeyboardModifier) -> None:
    """Arrows, with what is held beside them, until the keys are at a task."""
    chart = board.day.chart
    row = next(bar.hands for bar in bars(board) if bar.job.key == wanted)
    for _ in range(_MOST_TABS):
        bar = chart.at()
        assert bar is not None
        if bar.job.key == wanted:
            return
        here, there = (next(one for one in bars(board) if one.job.key == task) for task in (bar.job.key, wanted))
        if bar.hands != row:
            step = Qt.Key.Key_Down if row > bar.hands else Qt.Key.Key_Up
        else:
            step = Qt.Key.Key_Right if there.begins > here.begins else Qt.Key.Key_Left
        hand.bot.keyClick(chart, step, held)
    raise AssertionError("not reached by arrows")


def test_somebody_is_away_by_keys(hand: Hand, demo_path: Path) -> None:
    board = opened(hand)
    before = placed(board)
    to_front(hand, board)
    hand.bot.keyClick(tab_to(hand, board, "board.look.hours"), Qt.Key.Key_Space)
    hand.settle()
    dialog = board.hours
    assert dialog is not None
    to_front(hand, dialog)
    arrow_to(hand, tab_to(hand, dialog, "absence.person"), lambda text: text == "Orla")
    hand.bot.keyClicks(tab_to(hand, dialog, "absence.begins"), "today")
    hand.bot.keyClick(tab_to(hand, dialog, "absence.add"), Qt.Key.Key_Space)
    hand.bot.waitUntil(lambda: dialog.held.count() == 1)
    hand.bot.keyClick(dialog, Qt.Key.Key_Escape)
    assert not dialog.isVisible()
    at_rest(hand, board)
    orla = next(row for row, one in enumerate(board.day.chart.plan.reading.shop.hands) if one.name == "Orla")  # type: ignore[union-attr]
    assert all(bar.begins.date() > today() for bar in bars(board) if bar.hands == orla)
    key(hand, board, Qt.Key.Key_Z, CTRL)
    assert placed(board) == before, "and the day is that of before"
    key(hand, board, Qt.Key.Key_Y, CTRL)
    assert all(bar.begins.date() > today() for bar in bars(board) if bar.hands == orla)


def test_a_docket_is_urgent_and_promised_by_keys(hand: Hand) -> None:
    """Both in the window in front; each is taken back by Ctrl+Z."""
    window = hand.window
    hand.open_station("Take in")
    to_front(hand, window)
    session = window.session
    assert session.docket is not None
    promised, importance = session.docket.promised_on, session.docket.importance
    arrow_to(hand, tab_to(hand, window, "docket.importance"), lambda text: text.casefold() == "urgent")
    hand.settle()
    assert session.docket.importance == "urgent" != importance
    hand.press(Qt.Key.Key_Z, CTRL)
    hand.settle()
    assert session.docket.importance == importance
    line = tab_to(hand, window, "docket.promised_on")
    hand.bot.keyClick(line, Qt.Key.Key_A, CTRL)
    hand.bot.keyClick(line, Qt.Key.Key_Delete)
    hand.bot.keyClick(line, Qt.Key.Key_Return)
    hand.settle()
    assert session.docket.promised_on is None
    hand.bot.keyClick(tab_to(hand, window, "docket.date"), Qt.Key.Key_Space)
    hand.bot.waitUntil(lambda: session.docket is not None and session.docket.promised_on is not None)
    assert session.docket.promised_on >= today() and "by the plan ready" in window.banner.text()
    for _ in range(2):
        hand.press(Qt.Key.Key_Z, CTRL)
        hand.settle()
    assert session.docket.promised_on == promised


def test_work_is_pinned_given_out_and_joined_by_keys(hand: Hand, demo_path: Path) -> None:
    board = opened(hand)
    store = Store(demo_path)
    for task in store.tasks.tasks(with_done=False):
        if task.operation in ("stock", "shank", "head", "fit") and task.docket_number != "31-0009":
            store.tasks.stop(task.id, done=True)
    for docket in store.dockets():
        urgent = docket.number in ("31-0004", "31-0010")
        if urgent or docket.number != "31-0009":  # nothing else lies between the two
            fields = {"importance": "urgent"} if urgent else {"state": "on hold"}
            store.edit(docket.id, DocketEdit(job_patches=(), fields=fields))
    store.close()
    solders = [bar for bar in bars(board) if bar.job.operation == "solder" and bar.job.task is not None]
    one, other = (bar for bar in solders if bar.job.docket.number != "31-0009")
    one_alloy(demo_path, one, other)
    board.reload()
    at_rest(hand, board)
    task = one.job.task
    assert task is not None

    walk_to(hand, board, task.id)
    key(hand, board, Qt.Key.Key_Right, ALT)
    assert stored(demo_path, task).pinned_at is not None
    key(hand, board, Qt.Key.Key_Z, CTRL)
    assert stored(demo_path, task).pinned_at is None

    walk_to(hand, board, task.id)
    arrows_to(hand, board, other.job.key, CTRL)  # past whatever lies between, on whosever bench
    assert [bar.job.key for bar in board.day.chart.bars()] == [one.job.key]
    for chosen in ({one.job.key, other.job.key}, {one.job.key}, {one.job.key, other.job.key}):
        hand.bot.keyClick(board.day.chart, Qt.Key.Key_Space)
        assert {bar.job.key for bar in board.day.chart.bars()} == chosen
        arrows_to(hand, board, other.job.key, CTRL)
    key(hand, board, Qt.Key.Key_G, CTRL)
    hand.bot.waitUntil(lambda: bool(board.day.chart.plan and board.day.chart.plan.reading.beside))
    key(hand, board, Qt.Key.Key_Z, CTRL)
    hand.bot.waitUntil(lambda: not (board.day.chart.plan and board.day.chart.plan.reading.beside))

    seat = next(bar for bar in bars(board) if bar.job.operation == "seat" and bar.job.docket.number == "31-0004")
    walk_to(hand, board, seat.job.key)
    to_front(hand, board)
    choice = next(widget for widget in board.findChildren(QComboBox) if widget.accessibleName() == "Hand on to")
    choice.setObjectName("next")
    arrow_to(hand, tab_to(hand, board, "next"), lambda text: text == "by an outworker")
    key(hand, board, Qt.Key.Key_H, CTRL)
    hand.bot.waitUntil(lambda: any(one.job.operation.startswith("out-outworker-") for one in bars(board)))
    key(hand, board, Qt.Key.Key_Z, CTRL)
    hand.bot.waitUntil(lambda: not any(one.job.operation.startswith("out-outworker-") for one in bars(board)))
    assert timedelta() < seat.ends - seat.begins, "and it is planned as before"
