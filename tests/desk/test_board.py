"""The board driven by hand: people added, tasks made, started, stopped, handed on, done."""

from __future__ import annotations

from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel

from tests.desk.conftest import Hand
from yarvel.desk.board.window import BoardWindow
from yarvel.desk.widgets.plain_table import choose_row
from yarvel.workshop.dockets.records import Docket
from yarvel.workshop.store import Store


@pytest.fixture
def board(hand: Hand) -> BoardWindow:
    hand.window.board.open()
    made = hand.window.board.window
    assert made is not None
    hand.bot.waitUntil(lambda: made.rows.rowCount() > 0)
    return made


def click(hand: Hand, board: BoardWindow, name: str) -> None:
    hand.bot.mouseClick(board.buttons[name], Qt.MouseButton.LeftButton)
    hand.settle()


def cell(board: BoardWindow, row: int, column: int) -> str:
    item = board.rows.item(row, column)
    assert item is not None
    return item.text()


def test_a_task_is_started_stopped_handed_on_and_done(hand: Hand, board: BoardWindow) -> None:
    names = [board.loads.item(row).text().splitlines()[0] for row in range(board.loads.count())]
    assert names == ["All tasks", "Nobody's", "Benno", "Orla", "Tove", "Yusra"]
    board.loads.setCurrentRow(3)
    hand.settle()
    choose_row(board.rows, 0)
    click(hand, board, "start")
    assert cell(board, 0, 3) == "started" and "in hand" in board.loads.item(3).text()
    click(hand, board, "stop")
    assert cell(board, 0, 3) == "open"
    board.next.setCurrentIndex(board.next.findText("Benno", Qt.MatchFlag.MatchStartsWith))
    hand.bot.keyClicks(board.note, "ring wire is drawn")
    first, count = cell(board, 0, 1), board.rows.rowCount()
    click(hand, board, "hand")
    assert board.rows.rowCount() == count - 1
    board.loads.setCurrentRow(2)
    hand.settle()
    handed = next(row for row in range(board.rows.rowCount()) if cell(board, row, 7) == "ring wire is drawn")
    assert cell(board, handed, 1) == first
    choose_row(board.rows, handed)
    hand.bot.waitUntil(lambda: board.step.lines.count() > 0)
    click(hand, board, "done")
    assert "not ticked. Press Done again" in board.problem.text()
    click(hand, board, "done")
    assert first not in [cell(board, row, 1) for row in range(board.rows.rowCount()) if cell(board, row, 7)]


def test_somebody_new_and_a_name_that_is_taken(hand: Hand, board: BoardWindow) -> None:
    hand.bot.keyClicks(board.name, "Pim")
    click(hand, board, "add")
    assert any(board.loads.item(row).text().startswith("Pim") for row in range(board.loads.count()))
    hand.bot.keyClicks(board.name, "Pim")
    click(hand, board, "add")
    hand.bot.waitUntil(lambda: "here already" in hand.window.banner.text())


def test_steps_of_the_docket_in_hand_become_tasks(hand: Hand, board: BoardWindow) -> None:
    hand.window.dockets.open(7)
    hand.bot.waitUntil(lambda: hand.window.session.docket.id == 7)  # type: ignore[union-attr]
    before = board.rows.rowCount()
    hand.window.board.plan_tasks()
    hand.bot.waitUntil(lambda: "By standard" in hand.window.banner.text())
    assert "No price yet for 18k yellow gold" in hand.window.banner.text()
    hand.bot.waitUntil(lambda: board.rows.rowCount() > before)
    row = next(row for row in range(board.rows.rowCount()) if cell(board, row, 0).endswith("0007"))
    choose_row(board.rows, row)
    hand.window.dockets.open(8)
    hand.bot.waitUntil(lambda: hand.window.session.docket.id == 8)  # type: ignore[union-attr]
    click(hand, board, "open")
    hand.bot.waitUntil(lambda: hand.window.session.docket.id == 7)  # type: ignore[union-attr]


def test_a_tasks_step_is_ticked_off_line_by_line(hand: Hand, board: BoardWindow, demo_path: Path) -> None:
    row = next(row for row in range(board.rows.rowCount()) if cell(board, row, 1) == "Solder")
    choose_row(board.rows, row)
    hand.bot.waitUntil(lambda: board.step.lines.count() > 2)
    caution = board.step.findChild(QLabel, "step.caution")
    assert caution is not None and "gas checked" in caution.text(), "the caution stands at its step"
    first = board.step.lines.item(0)
    first.setCheckState(Qt.CheckState.Checked)
    head = board.step.findChild(QLabel, "step.head")
    assert head is not None
    hand.bot.waitUntil(lambda: "1 of" in head.text())
    store = Store(demo_path)
    number = cell(board, row, 0)
    ticked = (store.numbered(number) or missing()).ticks
    assert len(ticked) == 1 and ticked[0].split("@")[0] in ("offer-part-head", "file-flat-shank", "tack-loose-head"), (
        ticked
    )
    row = next(row for row in range(board.rows.rowCount()) if cell(board, row, 1) == "Check before release")
    choose_row(board.rows, row)
    hand.bot.waitUntil(lambda: "Check before" in head.text() and board.step.lines.count() > 2)
    board.step.lines.item(1).setCheckState(Qt.CheckState.Checked)
    number = cell(board, row, 0)
    hand.bot.waitUntil(lambda: "straight" in (store.numbered(number) or missing()).ticks)
    store.close()


def missing() -> Docket:
    raise AssertionError("no such docket")


def test_what_is_chosen_is_never_another_task(hand: Hand, board: BoardWindow) -> None:
    """The first task is done elsewhere: what moves up into its row is not chosen for it."""
    choose_row(board.rows, 0)
    chosen = next(reversed(board._chosen_tasks()), None)
    store = hand.window.dockets.gateway.store
    assert chosen is not None and store is not None
    store.tasks.stop(chosen.id, done=True)
    board.reload()
    hand.settle()
    assert board.tasks[0].id != chosen.id and next(reversed(board._chosen_tasks()), None) is None
