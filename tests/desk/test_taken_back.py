"""Nothing on the board is beyond undo; a docket taken in by mistake leaves nothing behind; nothing stays open behind a
piece that has left."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication, QComboBox, QInputDialog, QLineEdit, QWidget
from sqlalchemy import select

from tests.desk.conftest import Hand
from yarvel.desk.widgets.plain_table import choose_row
from yarvel.workshop.replaying import replay
from yarvel.workshop.storage.schema import ActRow
from yarvel.workshop.storage.task_states import DONE, STARTED
from yarvel.workshop.store import Store
from yarvel.workshop.work.tasks import Task

CONTROL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier


def tasks_of(hand: Hand, path: Path) -> list[Task]:
    hand.settle()
    docket = hand.window.session.docket
    assert docket is not None
    store = Store(path)
    found = store.tasks.tasks(docket.id)
    store.close()
    return found


def undo(hand: Hand, board: QWidget, more: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
    """Ctrl+Z in the board, the window in front."""
    board.activateWindow()
    hand.bot.waitUntil(lambda: QApplication.activeWindow() is board)
    hand.calm()
    hand.bot.keyClick(QApplication.focusWidget() or board, Qt.Key.Key_Z, CONTROL | more)
    hand.settle()


def test_making_tasks_can_be_undone_and_done_again(hand: Hand, demo_path: Path) -> None:
    before = tasks_of(hand, demo_path)
    store = Store(demo_path)
    for task in before:
        store.tasks.drop(task.id)
    store.close()
    assert tasks_of(hand, demo_path) == []
    hand.window.board.plan_tasks()
    made = tasks_of(hand, demo_path)
    assert len(made) > 3
    hand.bot.waitUntil(hand.window.session.undo_stack.canUndo)
    undo(hand, hand.window)
    assert tasks_of(hand, demo_path) == [], "Ctrl+Z in the bench window"
    hand.press(Qt.Key.Key_Y, CONTROL)
    assert [task.operation for task in tasks_of(hand, demo_path)] == [task.operation for task in made]


def test_undo_names_what_it_takes_back(hand: Hand, demo_path: Path) -> None:
    """Of the job and of what stands on the docket: typed, taken back, done again; each its own act, which names the one
    before it, also where something else was stored in between."""
    session = hand.window.session
    docket = session.docket
    assert docket is not None
    store = Store(demo_path)

    def last() -> ActRow:
        hand.settle()
        with store.transaction() as open_session:
            row = open_session.scalars(select(ActRow).order_by(ActRow.seq.desc()).limit(1)).one()
            open_session.expunge(row)
        return row

    session.patch({"head": {"claw_mm": 1.35}}, "Thicker")
    thicker = last()
    session.set_column("item", "a heron's ring")
    item = last()
    assert len({thicker.id, item.id}) == 2 and thicker.follows == item.follows == ""
    names = [thicker.id, item.id]
    for taken_back in (item, thicker):
        session.undo_stack.undo()
        assert last().follows == taken_back.id
        names.append(last().id)
    for _ in range(2):
        session.undo_stack.redo()
        names.append(last().id)
    follows = {row.id: row.follows for row in acts(store, names)}
    assert [follows[name] for name in names] == ["", "", names[1], names[0], names[3], names[2]]
    held = store.docket(docket.id)
    assert (held.item, held.job_document["head"]["claw_mm"]) == ("a heron's ring", 1.35) and replay(store) == []
    for _ in range(2):  # faster than the store: the second waits behind the first, and does not name it
        session.undo_stack.undo()
    assert last().follows == names[4] and replay(store) == []
    store.close()


def acts(store: Store, names: list[str]) -> list[ActRow]:
    with store.transaction() as session:
        rows = list(session.scalars(select(ActRow).where(ActRow.id.in_(names))))
        session.expunge_all()
    return rows


def test_every_act_on_the_board_can_be_taken_back(hand: Hand, demo_path: Path) -> None:
    """Start, stop, done, hand on, a line ticked, somebody added: in reverse order, each as it was, clocks included."""
    hand.window.board.open()
    hand.settle()
    board = hand.window.board.window
    assert board is not None
    docket = hand.window.session.docket
    assert docket is not None
    choose_row(board.rows, next(row for row, task in enumerate(board.tasks) if task.state != DONE and task.person))
    task = board.tasks[board.rows.currentRow()]
    hand.settle()

    def now() -> Task:
        hand.settle()
        store = Store(demo_path)
        found = next(one for one in store.tasks.tasks() if one.id == task.id)
        store.close()
        return found

    stood = [now()]
    for button in ("start", "stop", "done"):
        board.buttons[button].click()
        if "Press Done again" in board.problem.text():
            board.buttons[button].click()
        stood.append(now())
        row = next((place for place, one in enumerate(board.tasks) if one.id == task.id), None)
        if row is not None:
            choose_row(board.rows, row)
            hand.settle()
    assert [one.state for one in stood[1:]] == [STARTED, "open", DONE]
    for wanted in reversed(stood[:-1]):
        undo(hand, board)
        found = now()
        assert (found.state, found.person, found.note) == (wanted.state, wanted.person, wanted.note)
        assert found.started_at == wanted.started_at, "a clock that was stopped runs on; one that was started does not"
    assert found.taken == stood[0].taken
    undo(hand, board, SHIFT)
    assert now().state == STARTED
    undo(hand, board)
    people = len(board.people)
    board.name.setText("Tove Brandt")
    board.buttons["add"].click()
    hand.bot.waitUntil(lambda: len(board.people) == people + 1)
    undo(hand, board)
    hand.bot.waitUntil(lambda: len(board.people) == people)


def test_what_somebody_else_has_changed_meanwhile_is_not_undone(hand: Hand, demo_path: Path) -> None:
    hand.window.board.open()
    hand.settle()
    board = hand.window.board.window
    assert board is not None
    choose_row(board.rows, next(row for row, task in enumerate(board.tasks) if task.person and task.state != DONE))
    task = board.tasks[board.rows.currentRow()]
    board.buttons["done"].click()
    hand.bot.waitUntil(lambda: "not ticked" in board.problem.text())
    board.buttons["done"].click()
    hand.settle()
    store = Store(demo_path)
    store.tasks.put_back(
        [next(one for one in store.tasks.standings([task.id]))], store.tasks.standings([task.id]), "nothing"
    )
    store.tasks.stop(task.id, done=True, note="looked at by Ines")
    store.close()
    undo(hand, board)
    hand.settle()
    store = Store(demo_path)
    assert next(one for one in store.tasks.tasks() if one.id == task.id).note == "looked at by Ines"
    store.close()
    assert "somebody has changed it since" in hand.window.banner.text()


def test_an_untouched_new_docket_leaves_no_number(hand: Hand, demo_path: Path) -> None:
    store = Store(demo_path)
    numbers = {docket.number for docket in store.dockets()}
    first = hand.window.session.docket
    assert first is not None
    hand.window.take_in()
    hand.settle()
    hand.window.take_in()
    hand.window.dockets.open(first.id)
    hand.settle()
    assert {docket.number for docket in store.dockets()} == numbers
    hand.window.take_in()
    hand.open_station("Take in")
    hand.type("docket.customer", "Ferry & Daughters")
    hand.window.take_in()
    hand.settle()
    made = [docket for docket in store.dockets() if docket.number not in numbers]
    assert [docket.customer for docket in made] == ["Ferry & Daughters"]
    assert hand.window.session.docket is None and hand.window.session.is_new
    store.close()


def test_a_docket_put_aside_is_kept_out_of_lists_and_found_on_asking(
    hand: Hand, demo_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    docket = hand.window.session.docket
    assert docket is not None
    had = len([task for task in tasks_of(hand, demo_path) if task.state != DONE])
    assert had
    monkeypatch.setattr(QInputDialog, "getText", lambda *_a, **_k: ("taken in twice", True))
    hand.window.intake.put_aside()
    hand.settle()
    store = Store(demo_path)
    assert docket.number not in [found.number for found in store.dockets()]
    assert docket.number not in [found.number for found in store.dockets(docket.number)]
    assert [found.withdrawn for found in store.dockets(f"aside {docket.number}")] == ["taken in twice"]
    assert not [task for task in store.tasks.tasks() if task.docket_id == docket.id], "nothing of it on the board"
    hand.window.undo()
    hand.settle()
    assert docket.number in [found.number for found in store.dockets()]
    assert len(store.tasks.tasks(docket.id, with_done=False)) == had
    store.close()


def test_what_is_open_is_listed_and_answered_before_a_piece_leaves(
    open_hand: Callable[[Path], Hand], demo_path: Path
) -> None:
    store = Store(demo_path)
    hand = open_hand(demo_path)
    hand.settle()
    docket = hand.window.session.docket
    assert docket is not None
    person = store.people.all()[0]
    store.fine.add("issued", "18k-yellow", 4.2, person.id, docket.number)
    open_tasks = store.tasks.tasks(docket.id, with_done=False)
    assert len(open_tasks) >= 2
    hand.open_station("Hand over")
    hand.choose("docket.state", "handed over")
    hand.settle()
    checks = hand.field("leaving.checks")
    assert isinstance(checks, QComboBox)
    hand.choose("leaving.checks", "tick")
    hand.choose(f"leaving.task.{open_tasks[0].id}", "keep")
    hand.type("docket.released_by", "Ines")
    hand.type("docket.release_reason", "fetched by the shop")
    hand.bot.mouseClick(hand.field("docket.hand_over"), Qt.MouseButton.LeftButton)
    assert "needs a reason" in hand.shown("docket.release_missing")
    reason = hand.field(f"leaving.task.{open_tasks[0].id}.reason")
    assert isinstance(reason, QLineEdit) and hand.window.session.docket.state != "handed over"  # type: ignore[union-attr]
    hand.bot.keyClicks(reason, "polish again after the fair")
    hand.choose("leaving.metal.18k-yellow", "used")
    hand.bot.mouseClick(hand.field("docket.hand_over"), Qt.MouseButton.LeftButton)
    hand.settle()
    left = store.docket(docket.id)
    assert left.state == "handed over" and "polish again after the fair" in left.release_reason
    assert [task.id for task in store.tasks.tasks(docket.id, with_done=False)] == [open_tasks[0].id]
    assert [(line.kind, line.mass) for line in store.fine.of_docket(docket.id)][-1] == ("used", 4.2)
    store.close()
