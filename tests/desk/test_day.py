"""The plan of the day worked in by hand: chosen, pinned, handed on, dragged; who is away; what becomes late."""

from __future__ import annotations

import os
import re
import signal
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import QApplication, QComboBox, QPushButton

from tests.desk.conftest import Hand
from yarvel.clock import local_now, today
from yarvel.day.checking import faults
from yarvel.desk.board.window import BoardWindow
from yarvel.drawing.label import MARK
from yarvel.drawing.primitives import Drawing
from yarvel.workshop.dockets.records import DocketEdit
from yarvel.workshop.store import Store
from yarvel.workshop.work.day_reading import TaskBlock
from yarvel.workshop.work.deed_codes import all_codes
from yarvel.workshop.work.proposing import of_ten
from yarvel.workshop.work.tasks import Task

ALT, SHIFT = Qt.KeyboardModifier.AltModifier, Qt.KeyboardModifier.ShiftModifier


@pytest.fixture
def board(hand: Hand) -> BoardWindow:
    return opened(hand)


def opened(hand: Hand) -> BoardWindow:
    """The board, with a plan on it that nobody improves: what comes of that is tried on the process that does it."""
    hand.window.board.open()
    made = hand.window.board.window
    assert made is not None
    made.day.planner.seconds = 0.0, 0.0
    at_rest(hand, made)
    return made


def at_rest(hand: Hand, board: BoardWindow) -> None:
    """Everything is counted, planned, kept and read again."""
    hand.settle()
    hand.bot.waitUntil(lambda: board.day.chart.plan is not None and not board.day.planner.busy)
    hand.bot.waitUntil(lambda: not any(bar.job.guessed for bar in bars(board)))
    hand.settle()
    hand.bot.waitUntil(lambda: not board.day.planner.busy)
    hand.settle()


def bars(board: BoardWindow) -> tuple[TaskBlock, ...]:
    assert board.day.chart.plan is not None
    return board.day.chart.plan.bars


def first(board: BoardWindow, operation: str, given: bool = True) -> TaskBlock:
    """The first bar of a kind of work, of a docket whose tasks are made."""
    return next(bar for bar in bars(board) if bar.job.operation == operation and (bar.job.task is not None) == given)


def click_bar(hand: Hand, board: BoardWindow, bar: TaskBlock) -> None:
    board.day.chart.choose((bar.job.key,))
    board.day.chart.choose(())
    at = board.day.chart.box(bar).center().toPoint()
    hand.bot.mouseClick(board.day.chart.viewport(), Qt.MouseButton.LeftButton, pos=at)


def stored(path: Path, task: Task) -> Task:
    store = Store(path)
    found = next(one for one in store.tasks.tasks(task.docket_id) if one.id == task.id)
    store.close()
    return found


def test_the_day_is_planned_and_told(hand: Hand, board: BoardWindow) -> None:
    """Every open docket has its bars; the plan can be carried out; who has what next stands beside the name."""
    plan = board.day.chart.plan
    assert plan is not None and faults(plan.reading.shop, plan.plan) == []
    assert len(plan.outcomes) == 9, "nine of ten: one is on hold"
    assert board.day.standing.text().startswith("9 dockets, ")
    assert {hands.name for hands in plan.reading.shop.hands} == {"Benno", "Orla", "Yusra"}
    click_bar(hand, board, first(board, "seat"))
    assert "promised" in board.day.about.text() and "ready" in board.day.about.text()
    assert "spinel" in board.day.about.text() or "sapphire" in board.day.about.text()
    hand.bot.waitUntil(lambda: board.step.lines.count() > 0)


def test_arrows_walk_and_alt_arrows_move(hand: Hand, board: BoardWindow, demo_path: Path) -> None:
    """Down hands it on, right pins it later; Del frees it; each can be taken back."""
    chart = board.day.chart
    bar = first(board, "seat")
    assert bar.job.task is not None
    task = bar.job.task
    click_bar(hand, board, bar)
    chart.setFocus()
    hand.bot.keyClick(chart, Qt.Key.Key_Down)
    assert chart.bars()[0].hands == bar.hands + 1
    hand.bot.keyClick(chart, Qt.Key.Key_Up)
    assert chart.bars()[0].hands == bar.hands
    chart.choose((task.id,))
    hand.bot.keyClick(chart, Qt.Key.Key_Right, ALT)
    at_rest(hand, board)
    pinned = stored(demo_path, task)
    assert pinned.pinned_at is not None and pinned.person == "Benno"
    moved = next(one for one in bars(board) if one.job.key == task.id)
    assert moved.pinned and moved.begins > bar.begins and chart.bars()[0].job.key == task.id
    hand.bot.keyClick(chart, Qt.Key.Key_Down, ALT)
    at_rest(hand, board)
    assert stored(demo_path, task).person == "Orla" and "no setting among their skills" in board.problem.text()
    hand.bot.keyClick(chart, Qt.Key.Key_Delete)
    at_rest(hand, board)
    freed = stored(demo_path, task)
    assert freed.pinned_at is None and freed.person == ""
    for wanted in ("Orla", "Benno", "Benno"):
        board.buttons["undo"].click()
        at_rest(hand, board)
        assert stored(demo_path, task).person == wanted
    assert stored(demo_path, task).pinned_at is None, "as it was at first"


def test_several_moved_at_once_are_taken_back_at_once(hand: Hand, board: BoardWindow, demo_path: Path) -> None:
    chart = board.day.chart
    several = [bar for bar in bars(board) if bar.job.task is not None and bar.hands == 0][:3]
    tasks = [bar.job.task for bar in several if bar.job.task is not None]
    assert len(tasks) == 3
    before = [stored(demo_path, task) for task in tasks]
    chart.choose([bar.job.key for bar in several])
    chart.setFocus()
    hand.bot.keyClick(chart, Qt.Key.Key_Down, ALT)
    at_rest(hand, board)
    assert {stored(demo_path, task).person for task in tasks} == {"Orla"}
    board.buttons["undo"].click()
    at_rest(hand, board)
    assert [stored(demo_path, task).person for task in tasks] == [task.person for task in before]
    board.buttons["redo"].click()
    at_rest(hand, board)
    assert {stored(demo_path, task).person for task in tasks} == {"Orla"}


def test_a_bar_is_dragged_to_somebody_else(hand: Hand, board: BoardWindow, demo_path: Path) -> None:
    chart = board.day.chart
    bar = first(board, "release")
    assert bar.job.task is not None
    click_bar(hand, board, bar)
    at = chart.box(bar).center().toPoint()
    rows = {hands.name: row for row, hands in enumerate(chart.plan.reading.shop.hands)}  # type: ignore[union-attr]
    by = QPoint(60, (rows["Benno"] - bar.hands) * 72)
    hand.bot.mousePress(chart.viewport(), Qt.MouseButton.LeftButton, pos=at)
    for part in (0.3, 0.7, 1.0):
        hand.bot.mouseMove(chart.viewport(), at + by * part)
    hand.bot.mouseRelease(chart.viewport(), Qt.MouseButton.LeftButton, pos=at + by)
    at_rest(hand, board)
    found = stored(demo_path, bar.job.task)
    assert found.person == "Benno" and found.pinned_at is not None


def test_work_that_nobody_has_made_is_made_when_it_is_moved(hand: Hand, board: BoardWindow, demo_path: Path) -> None:
    bar = first(board, "head", given=False)
    click_bar(hand, board, bar)
    assert "no tasks made yet" in board.day.about.text()
    hand.bot.keyClick(board.day.chart, Qt.Key.Key_Right, ALT)
    at_rest(hand, board)
    store = Store(demo_path)
    made = store.tasks.tasks(bar.job.docket.id)
    store.close()
    assert [task.operation for task in made].count("head") == 1 and "tasks are made" in board.problem.text()
    assert all(one.job.task is not None for one in bars(board) if one.job.docket.id == bar.job.docket.id)


def test_somebody_is_away_and_the_plan_moves_round_it(hand: Hand, board: BoardWindow) -> None:
    """Typed as people say it; what becomes late is named; a better order is offered and not taken by itself."""
    orla = next(row for row, one in enumerate(board.day.chart.plan.reading.shop.hands) if one.name == "Orla")  # type: ignore[union-attr]
    hand.bot.mouseClick(board.day.looks["hours"], Qt.MouseButton.LeftButton)
    dialog = board.hours
    assert dialog is not None
    hand.settle()
    dialog.person.setCurrentIndex(dialog.person.findText("Orla"))
    hand.bot.keyClicks(dialog.begins, "whenever")
    hand.bot.mouseClick(dialog.add, Qt.MouseButton.LeftButton)
    assert "Accepted: 13:00 (today)" in dialog.problem.text()
    day = today()
    while day.weekday() != 0:
        day += timedelta(days=1)
    dialog.begins.clear()
    hand.bot.keyClicks(dialog.begins, today().isoformat())
    hand.bot.keyClicks(dialog.ends, (day + timedelta(days=1)).isoformat())
    hand.bot.mouseClick(dialog.add, Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: dialog.held.count() == 1)
    at_rest(hand, board)
    plan = board.day.chart.plan
    assert plan is not None and plan.bars_of(orla)[0].begins.date() > day
    assert faults(plan.reading.shop, plan.plan) == []
    assert "moved (marked)" in board.day.moved.text()
    dialog.withdraw.click()
    hand.bot.waitUntil(lambda: dialog.held.count() == 0)
    board.buttons["undo"].click()
    hand.bot.waitUntil(lambda: dialog.held.count() == 1)
    dialog.close()


def pick(hand: Hand, choice: QComboBox, text: str) -> None:
    """A choice walked to with the arrows, as keys do it."""
    choice.setFocus()
    while choice.currentText() != text:
        before = choice.currentIndex()
        hand.bot.keyClick(choice, Qt.Key.Key_Down if choice.findText(text) > before else Qt.Key.Key_Up)
        assert choice.currentIndex() != before


def test_somebody_has_hours_of_their_own(hand: Hand, board: BoardWindow) -> None:
    """Chosen above the week; typed hours wait while another is looked at; taken back by one key."""
    hand.bot.mouseClick(board.day.looks["hours"], Qt.MouseButton.LeftButton)
    dialog = board.hours
    assert dialog is not None
    hand.bot.waitUntil(lambda: dialog.whose.count() > 1)
    pick(hand, dialog.whose, "Orla")
    assert "here whenever it is open" in dialog.told.text() and not dialog.stations["torch"].isVisible()
    for day, line in dialog.days.items():
        line.selectAll()
        hand.bot.keyClick(line, Qt.Key.Key_Delete)
        if day in ("Tuesday", "Thursday"):
            hand.bot.keyClicks(line, "8:00-12:15")
    pick(hand, dialog.whose, "The workshop")
    assert dialog.days["Monday"].text() and dialog.stations["torch"].isVisible()
    pick(hand, dialog.whose, "Orla")
    assert dialog.days["Monday"].text() == "" and dialog.days["Tuesday"].text() == "8:00-12:15"
    hand.bot.mouseClick(dialog.keep, Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: "of the open hours" in dialog.told.text())
    at_rest(hand, board)
    plan = board.day.chart.plan
    assert plan is not None and faults(plan.reading.shop, plan.plan) == []
    orla = next(row for row, one in enumerate(plan.reading.shop.hands) if one.name == "Orla")
    days = {bar.begins.weekday() for bar in plan.bars_of(orla) if not bar.running}
    assert days and days <= {1, 3}
    board.buttons["undo"].click()
    hand.bot.waitUntil(lambda: "here whenever it is open" in dialog.told.text())
    assert dialog.days["Monday"].text() != ""
    dialog.close()


def test_a_piece_is_sent_out_on_its_days(hand: Hand, board: BoardWindow, demo_path: Path) -> None:
    """Handed on to the hallmark, a docket waits for the day on which it is fetched, and comes back; the days are typed
    in the same window as the hours; one key takes it back."""
    bar = next(
        one for one in bars(board) if one.job.task is not None and not one.running and one.job.operation == "set"
    )
    board.day.chart.choose((bar.job.key,))
    pick(hand, board.next, "out to the assay office")
    hand.bot.keyClicks(board.note, "with the papers")
    hand.bot.mouseClick(board.buttons["hand"], Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: any(one.job.operation == "out-hallmark" for one in bars(board)))
    at_rest(hand, board)
    out = next(one for one in bars(board) if one.job.operation == "out-hallmark")
    assert out.job.docket.id == bar.job.docket.id and out.begins.weekday() in (1, 3) and out.begins >= bar.ends
    assert out.job.task is not None and out.job.task.note == "with the papers"
    board.open_hours()
    dialog = board.hours
    assert dialog is not None
    line = dialog.errands["hallmark"]
    hand.bot.waitUntil(lambda: "Tuesday" in line.text())
    for typed, said in (
        ("whenever", "Accepted: Tuesday, Thursday by 15:00"),
        ("Wed by 12:00, back after 0 days", "1 to 60"),
    ):
        line.selectAll()
        hand.bot.keyClicks(line, typed)
        hand.bot.mouseClick(dialog.keep, Qt.MouseButton.LeftButton)
        assert said in dialog.problem.text()
    line.selectAll()
    hand.bot.keyClicks(line, "wed and fri by 12, back in 6 days")
    hand.bot.mouseClick(dialog.keep, Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: line.text() == "Wednesday, Friday by 12:00, back after 6 days")
    at_rest(hand, board)
    moved = next(one for one in bars(board) if one.job.operation == "out-hallmark")
    assert moved.begins.weekday() in (2, 4) and moved.ends.hour <= 12
    plan = board.day.chart.plan
    assert plan is not None and faults(plan.reading.shop, plan.plan) == []
    later = [one for one in bars(board) if one.job.docket.id == bar.job.docket.id and one.begins > moved.begins]
    assert all((one.begins.date() - moved.begins.date()).days >= 6 for one in later)
    dialog.close()
    for _ in range(2):  # the days, then the way out
        board.buttons["undo"].click()
        at_rest(hand, board)
    hand.bot.waitUntil(lambda: all(one.job.operation != "out-hallmark" for one in bars(board)))


def test_what_an_outworker_would_keep_is_given_out(hand: Hand, board: BoardWindow, demo_path: Path) -> None:
    """The setter is away: what would be kept is said, one press gives it out, and it is sooner by the plan; it is taken
    back by a key, or done here after all."""
    store, begins = Store(demo_path), local_now().replace(microsecond=0)
    ids = {one.name: one.id for one in store.people.all()}
    store.day.add_absence(ids["Benno"], begins, begins + timedelta(days=40))
    for task in store.tasks.tasks(with_done=False):
        if task.operation == "finish":
            store.tasks.give(task.id, ids["Yusra"])
    store.close()
    board.reload()
    at_rest(hand, board)
    hand.bot.waitUntil(board.day.out.isVisible)
    said = board.day.out.words.text()
    assert re.search("if an outworker did “.+”: packed .+, back ", said)
    number = said.split()[0]
    before = {one.docket.number: one.late for one in board.day.chart.plan.outcomes}  # type: ignore[union-attr]
    hand.bot.mouseClick(board.day.out.button, Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: any(one.job.operation.startswith("out-outworker-") for one in bars(board)))
    at_rest(hand, board)
    there = next(one for one in bars(board) if one.job.operation.startswith("out-outworker-"))
    after = {one.docket.number: one.late for one in board.day.chart.plan.outcomes}  # type: ignore[union-attr]
    assert there.job.docket.number == number and after[number] < before[number]
    board.day.chart.choose((there.job.key,))
    pick(hand, board.next, "done here after all")
    hand.bot.mouseClick(board.buttons["hand"], Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: not any(one.job.operation.startswith("out-outworker-") for one in bars(board)))
    at_rest(hand, board)
    assert board.next.findText("done here after all") < 0, "of no other task"
    board.buttons["undo"].click()
    hand.bot.waitUntil(lambda: any(one.job.operation.startswith("out-outworker-") for one in bars(board)))
    at_rest(hand, board)


def test_a_label_scanned_on_the_board_starts_what_comes_next(hand: Hand, board: BoardWindow, demo_path: Path) -> None:
    bar = next(one for one in bars(board) if one.job.task is not None)
    board.activateWindow()
    hand.bot.waitUntil(lambda: QApplication.activeWindow() is board)
    hand.window.intake.open_scanned(bar.job.docket.number)
    at_rest(hand, board)
    assert bar.job.task is not None
    assert stored(demo_path, bar.job.task).state == "started"
    assert [one.job.key for one in bars(board) if one.running] == [bar.job.key]
    assert "in hand" in board.loads.item(3).text()


def scan(hand: Hand, board: BoardWindow, text: str) -> None:
    """As a scanner types: all at once, wherever the focus is, with Enter behind."""
    board.activateWindow()
    board.note.setFocus()
    hand.bot.waitUntil(lambda: QApplication.activeWindow() is board and board.note.hasFocus())
    hand.scan(board.note, f"{MARK}{text}")
    hand.scanned()
    at_rest(hand, board)


def test_everything_is_done_by_scanned_codes(hand: Hand, board: BoardWindow, demo_path: Path) -> None:
    """Started, stopped, handed on and done without a key: a code says what, labels say of which dockets."""
    store = Store(demo_path)
    people = store.people.all()
    store.close()
    codes = {one.words(people): one.code for one in all_codes(people)}
    bar = next(one for one in bars(board) if one.job.task is not None and not one.running)
    assert bar.job.task is not None
    number, task = bar.job.docket.number, bar.job.task
    scan(hand, board, number)
    assert stored(demo_path, task).state == "started" and not board.scan.isVisible()
    scan(hand, board, codes["Stop"])
    assert board.scan.text() == "Stop: scan the label of each docket that it goes for." and board.scan.isVisible()
    scan(hand, board, number)
    assert stored(demo_path, task).state == "open" and stored(demo_path, task).started_at is None
    scan(hand, board, codes["Hand on to Yusra"])
    scan(hand, board, number)
    assert stored(demo_path, task).person == "Yusra"
    scan(hand, board, codes["Hand on to nobody"])
    scan(hand, board, number)
    assert stored(demo_path, task).person == ""
    scan(hand, board, codes["Done"])
    scan(hand, board, number)
    assert "not ticked. Press Done again" in board.problem.text() and stored(demo_path, task).state == "open"
    scan(hand, board, number)
    assert stored(demo_path, task).state == "done"
    board.scan.end()
    assert not board.scan.isVisible()
    scan(hand, board, number)
    following = board.day.chart.bars()[0].job.task
    assert following is not None and following.id != task.id and stored(demo_path, following).state == "started"
    assert board.note.text() == "", "nothing of a scan gets into a field"


def test_what_a_scan_cannot_do_is_said(hand: Hand, board: BoardWindow, demo_path: Path) -> None:
    """Stopped where nobody has it in hand; and done, but left before its boxes were known."""
    bar = next(one for one in bars(board) if one.job.task is not None and not one.running)
    assert bar.job.task is not None
    scan(hand, board, "stop")
    scan(hand, board, bar.job.docket.number)
    assert "is open: “Stop” does nothing." in board.problem.text()
    board.scan.end()
    board.day.chart.choose(())
    at_rest(hand, board)
    board.day.chart.choose((bar.job.key,))
    board.buttons["done"].click()
    board.day.chart.choose(())
    assert "left before its boxes were known, not done" in board.problem.text()
    at_rest(hand, board)
    assert stored(demo_path, bar.job.task).state == "open"


def test_a_code_for_the_board_says_so_elsewhere(hand: Hand) -> None:
    hand.open_station("Take in")
    field = hand.field("docket.customer")
    before = hand.window.session.docket
    field.setFocus()
    hand.scan(field, "~done")
    hand.bot.waitUntil(lambda: "is for the board" in hand.window.banner.text())
    assert hand.window.session.docket is before


def test_codes_are_printed_for_everybody(hand: Hand, board: BoardWindow, monkeypatch: pytest.MonkeyPatch) -> None:
    shown: list[list[Drawing]] = []
    monkeypatch.setattr("yarvel.desk.papers.papers.preview_and_print", lambda _parent, pages, *_: shown.append(pages))
    board.tabs.setCurrentWidget(board.list)
    hand.bot.mouseClick(board.buttons["codes"], Qt.MouseButton.LeftButton)
    words = [text.text for page in shown[0] for text in page.texts()]
    assert {"Start", "Stop", "Done", "Hand on to nobody", *(f"Hand on to {one.name}" for one in board.people)} <= {
        *words
    }


def test_a_day_is_proposed_while_a_docket_is_taken_in(hand: Hand) -> None:
    hand.window.dockets.open(7)
    hand.bot.waitUntil(lambda: hand.window.session.docket is not None and hand.window.session.docket.id == 7)
    hand.open_station("Take in")
    hand.type("docket.promised_on", "")
    button = hand.field("docket.date")
    assert isinstance(button, QPushButton)
    hand.bot.mouseClick(button, Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: "by the plan ready" in hand.window.banner.text())
    docket = hand.window.session.docket
    assert docket is not None and docket.promised_on is not None and docket.promised_on >= today()
    hand.choose("docket.importance", "urgent")
    assert hand.window.session.docket is not None and hand.window.session.docket.importance == "urgent"


def test_two_windows_show_one_plan(open_hand: Callable[[Path], Hand], demo_path: Path) -> None:
    """What one shows is kept, and the other begins with it."""
    one = open_hand(demo_path)
    here = opened(one)
    other = open_hand(demo_path)
    there = opened(other)
    assert here.day.chart.plan is not None and there.day.chart.plan is not None
    shown = {bar.job.key: (bar.hands, bar.begins) for bar in bars(here) if bar.job.task is not None}
    assert shown == {bar.job.key: (bar.hands, bar.begins) for bar in bars(there) if bar.job.task is not None}
    assert there.day.chart.plan.moved == 0


def test_a_planner_that_dies_is_asked_again(hand: Hand, board: BoardWindow) -> None:
    """The plan that is shown stays; what happens next is planned all the same."""
    planner = board.day.planner
    dead = planner.process.id
    assert dead and board.day.chart.plan is not None
    os.kill(dead, signal.SIGKILL)
    bar = first(board, "seat")
    click_bar(hand, board, bar)
    hand.bot.keyClick(board.day.chart, Qt.Key.Key_Right, ALT)
    hand.bot.waitUntil(lambda: any(one.pinned for one in bars(board)))
    assert planner.process.id not in (0, dead)


@pytest.mark.parametrize(("chance", "told"), [(0.02, "0 times of 10"), (0.1, "1 time of 10"), (1.0, "10 times of 10")])
def test_a_chance_is_told_in_words(chance: float, told: str) -> None:
    assert of_ten(chance) == told


def test_the_board_opens_at_what_comes_next_of_the_docket_in_hand(hand: Hand) -> None:
    """Where nothing is chosen yet; what was chosen stays when somebody comes back with another docket."""
    docket = hand.window.session.docket
    assert docket is not None
    hand.press(Qt.Key.Key_F7)
    board = hand.window.board.window
    assert board is not None
    hand.bot.waitUntil(lambda: bool(board.day.chart.bars()))
    bar = board.day.chart.bars()[0]
    assert bar.job.docket.number == docket.number and board.day.first_of(docket.number) == bar
    other = next(one for one in board.day.chart.plan.bars if one.job.docket.number != docket.number)  # type: ignore[union-attr]
    board.day.chart.choose((other.job.key,))
    board.close()
    hand.press(Qt.Key.Key_F7)
    hand.settle()
    assert board.day.chart.bars()[0].job.key == other.job.key


def within_reach(hand: Hand, board: BoardWindow, path: Path) -> tuple[TaskBlock, TaskBlock]:
    """Two that come next to the torch, of two dockets: what stands before it is done."""
    store = Store(path)
    for task in store.tasks.tasks(with_done=False):
        if task.operation in ("stock", "shank", "head", "fit"):
            store.tasks.stop(task.id, done=True)
    store.close()
    board.reload()
    at_rest(hand, board)
    solders = {bar.job.docket.id: bar for bar in bars(board) if bar.job.operation == "solder" and bar.job.task}
    one, other, *_ = solders.values()
    return one, other


def one_alloy(path: Path, *bars_of: TaskBlock) -> None:
    store = Store(path)
    for bar in bars_of:
        store.edit(bar.job.docket.id, DocketEdit(job_patches=({"head": {"metal": "18k-yellow"}},)))
    store.close()


def drag_onto(hand: Hand, board: BoardWindow, bar: TaskBlock, onto: TaskBlock) -> str:
    """One bar is dragged on another, whatever shows between; what stands beside the pointer before it is let go."""
    chart = board.day.chart
    at, to = (chart.box(one).center().toPoint() for one in (bar, onto))
    hand.bot.mousePress(chart.viewport(), Qt.MouseButton.LeftButton, pos=at)
    for part in (0.3, 0.7, 1.0):
        hand.bot.mouseMove(chart.viewport(), at + (to - at) * part)
    said = chart.drag_says
    hand.bot.mouseRelease(chart.viewport(), Qt.MouseButton.LeftButton, pos=to)
    at_rest(hand, board)
    return said


def test_a_bar_dragged_on_another_of_its_work_joins_it_or_says_why_not(
    hand: Hand, board: BoardWindow, demo_path: Path
) -> None:
    chart = board.day.chart
    hand.bot.mouseClick(board.day.looks["week"], Qt.MouseButton.LeftButton)
    one, other = within_reach(hand, board, demo_path)
    chart.choose((one.job.key,))
    assert "one alloy in a heat" in drag_onto(hand, board, one, other)
    hand.bot.mouseClick(board.buttons["undo"], Qt.MouseButton.LeftButton)  # it was pinned there instead
    at_rest(hand, board)
    one_alloy(demo_path, one, other)
    board.reload()
    at_rest(hand, board)
    one, other = (next(bar for bar in bars(board) if bar.job.key == key) for key in (one.job.key, other.job.key))
    chart.choose((one.job.key,))
    said = drag_onto(hand, board, one, other)
    assert said == f"Let go: {other.job.docket.number}, {one.job.docket.number} together."
    assert chart.plan is not None and set(chart.plan.reading.beside) == {one.job.key, other.job.key}
    hand.bot.mouseClick(board.buttons["undo"], Qt.MouseButton.LeftButton)
    at_rest(hand, board)
    assert chart.plan is not None and not chart.plan.reading.beside
    one, other = (bar for bar in bars(board) if bar.job.key in (one.job.key, other.job.key) and not bar.piece)
    store = Store(demo_path)
    store.tasks.start(other.job.key, next(person.id for person in store.people.all() if person.name == "Orla"))
    store.close()
    board.reload()
    at_rest(hand, board)
    one, other = (next(bar for bar in bars(board) if bar.job.key == key) for key in (one.job.key, other.job.key))
    chart.choose((one.job.key,))
    assert drag_onto(hand, board, one, other) == f"Not together: {other.job.docket.number} is in hand already."


def test_what_nobody_can_do_is_told_where_hours_are_set(hand: Hand, board: BoardWindow, demo_path: Path) -> None:
    store = Store(demo_path)
    setters = [person for person in store.people.all() if "setting" in person.skills]
    for person in setters:
        store.day.keep_own_week(person.id, (((480, 720),), (), ((480, 720),), ((480, 720),), ((480, 720),), (), ()))
    store.close()
    hand.bot.mouseClick(board.day.looks["hours"], Qt.MouseButton.LeftButton)
    hand.settle()
    assert board.hours is not None
    told = board.hours.told
    hand.bot.waitUntil(lambda: "Nobody is here for setting on Tue." in told.text())
    store = Store(demo_path)
    for person in setters:
        store.people.left(person.id)
    store.close()
    board.hours.reload()
    hand.settle()
    hand.bot.waitUntil(lambda: "Nobody has setting: 31-" in told.text())


def test_several_are_done_in_one_heat(hand: Hand, board: BoardWindow, demo_path: Path) -> None:
    """Chosen and joined by a key; they begin together, lie one under the other, are chosen, undone and done at once."""
    chart = board.day.chart
    chart.setFocus()
    one, other = within_reach(hand, board, demo_path)
    chart.choose((one.job.key, other.job.key))
    hand.bot.keyClick(chart, Qt.Key.Key_G, Qt.KeyboardModifier.ControlModifier)
    assert board.problem.text().startswith("Not together: ") and "one alloy in a heat" in board.day.about.text()
    one_alloy(demo_path, one, other)
    board.reload()
    at_rest(hand, board)
    chart.choose((one.job.key,))
    assert not board.day.heat.isVisible(), "one alone is no heat"
    chart.choose((one.job.key, other.job.key))
    assert board.day.heat.text().startswith("Do these 2 together")
    hand.bot.keyClick(chart, Qt.Key.Key_G, Qt.KeyboardModifier.ControlModifier)
    at_rest(hand, board)
    hand.bot.waitUntil(lambda: bool(chart.plan and chart.plan.reading.beside))
    joined = [bar for bar in bars(board) if bar.job.key in (one.job.key, other.job.key)]
    assert (
        len({(bar.begins, bar.hands) for bar in joined}) == 1 and faults(chart.plan.reading.shop, chart.plan.plan) == []
    )  # type: ignore[union-attr]
    upper, lower = sorted((chart.box(bar) for bar in joined), key=lambda box: box.top())
    assert upper.bottom() <= lower.top() + 0.01 and upper.left() == lower.left()
    click_bar(hand, board, joined[0])
    assert {task.id for task in board.day.tasks()} == {one.job.key, other.job.key}
    assert "together with" in board.day.about.text() and board.day.heat.text().startswith("Each by itself")
    hand.bot.keyClick(board, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    hand.bot.waitUntil(lambda: chart.plan is not None and not chart.plan.reading.beside)
    hand.bot.keyClick(board, Qt.Key.Key_Y, Qt.KeyboardModifier.ControlModifier)
    hand.bot.waitUntil(lambda: bool(chart.plan and chart.plan.reading.beside))
    at_rest(hand, board)
    chart.choose((one.job.key,))
    for _ in range(2):  # boxes are open: asked once more, for both
        hand.bot.keyClick(
            chart, Qt.Key.Key_Return, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
        )
        hand.settle()
    assert {stored(demo_path, bar.job.task).state for bar in (one, other) if bar.job.task} == {"done"}
