"""The plan that stands, on the board: offers hold still, undo brings the day back, and Today is told in one look."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime, time, timedelta
from pathlib import Path

import pytest
from msgspec.structs import replace
from PySide6.QtCore import Qt

from tests.desk.conftest import Hand
from tests.desk.test_day import at_rest, bars, opened, stored
from yarvel.clock import kept, local_now, today
from yarvel.day.documents import plan_document
from yarvel.day.shop import Assignment, Schedule, is_moved
from yarvel.desk.board.late_list import days_text, late_text
from yarvel.desk.board.standing_plan import StandingPlan
from yarvel.desk.board.window import BoardWindow
from yarvel.drawing.primitives import Drawing
from yarvel.drawing.today_sheet import today_pages
from yarvel.workshop.dockets.records import DocketEdit
from yarvel.workshop.store import Store
from yarvel.workshop.work.day_reading import day_plan, read, shown_document
from yarvel.workshop.work.tasks import Task
from yarvel.workshop.work.today import today_of

ALT = Qt.KeyboardModifier.AltModifier


@pytest.fixture
def board(hand: Hand) -> BoardWindow:
    return opened(hand)


def placed(board: BoardWindow) -> Schedule:
    assert board.day.chart.plan is not None
    return dict(board.day.chart.plan.plan)


def with_something_better(board: BoardWindow) -> tuple[Schedule, Schedule]:
    """What is shown is three days later than it has to be; what it might be is offered."""
    planner, reading = board.day.planner, board.day._reading
    assert reading is not None and planner.shown is not None
    good = planner.shown.plan
    late = {key: Assignment(place.person, place.start + 900) for key, place in good.items()}
    planner._reading = replace(reading, shown=late)
    planner.shown = day_plan(reading, late)
    planner.planned.emit(planner.shown)
    for number in range(3):  # found one after the other, offered once
        found = {key: Assignment(place.person, place.start + (2 - number)) for key, place in good.items()}
        planner._take({"kind": "better", "plan": plan_document(found)})
        assert not board.day.better.isVisible(), "not while it is still sought"
    planner._take({"kind": "done", "proved": False})
    assert board.day.better.isVisible()
    return late, good


def test_an_offer_holds_still_until_it_is_taken_and_can_be_taken_back(hand: Hand, board: BoardWindow) -> None:
    at_rest(hand, board)
    late, good = with_something_better(board)
    assert board.day.better.isVisible()
    said = board.day.better.words.text()
    assert said.startswith("A better order: ") and "Nobody becomes later." in said and "moved" in said
    board.day.planner._take({"kind": "better", "plan": plan_document(late)})
    board.day.planner._take({"kind": "done", "proved": False})
    assert board.day.better.words.text() == said, "another one found meanwhile changes nothing under the hand"
    hand.bot.mouseClick(board.day.better.take, Qt.MouseButton.LeftButton)
    taken = placed(board)
    assert taken == good and not board.day.better.isVisible(), "that plan, and no other"
    assert board.buttons["undo"].isEnabled()


def test_an_offer_taken_right_after_a_plan_was_kept_is_kept_itself(
    hand: Hand, board: BoardWindow, demo_path: Path
) -> None:
    """Both were made from one reading; the second stands on the first, and is not taken for another window's."""
    at_rest(hand, board)
    board.day.planner._taken = True  # planned anew from the same reading
    late, good = with_something_better(board)
    hand.settle()
    store = Store(demo_path)
    first = store.day.kept.standing()
    hand.bot.mouseClick(board.day.better.take, Qt.MouseButton.LeftButton)
    hand.settle()
    second = store.day.kept.standing()
    store.close()
    board.day.planner._on_answer({"id": board.day.planner._number - 1, "kind": "plan", "plan": [], "unpinned": []})
    assert second["replaces"] == first["id"] and second["tasks"] != first["tasks"]
    assert second["cause"] == "offer" and "offered and taken" in board.day.standing.toolTip()
    assert board.day.stands.document == second and placed(board) == good != late


def test_what_was_read_before_a_plan_was_kept_does_not_take_it_back(
    hand: Hand, board: BoardWindow, monkeypatch: pytest.MonkeyPatch, demo_path: Path
) -> None:
    """Reading has a connection of its own: its answer may come after the offer that was taken meanwhile."""
    at_rest(hand, board)
    late, good = with_something_better(board)
    hand.settle()
    asked: list[tuple[Callable[[Store], object], Callable[[object], None]]] = []
    look = board.day._look
    monkeypatch.setattr(board.day, "_look", lambda question, then: asked.append((question, then)))
    board.day.reload()
    (question, then), *_ = asked
    read_again: list[int] = []
    board.day.stands.again.connect(lambda: read_again.append(len(asked)))
    store = Store(demo_path)
    before = question(store)
    hand.bot.mouseClick(board.day.better.take, Qt.MouseButton.LeftButton)
    taken = board.day.stands.document
    then(before)
    assert board.day.stands.document == taken and placed(board) == good != late
    hand.settle()
    assert len(read_again) == 1, "it is read again once the plan is kept"
    look(*asked[-1])
    at_rest(hand, board)
    kept = store.day.kept.standing()
    store.close()
    assert kept["tasks"] == taken["tasks"] and board.day.stands.document == kept and placed(board) == good


def test_a_plan_that_nobody_may_keep_now_is_not_waited_for() -> None:
    """While the door is locked nothing is asked; what is read afterwards holds."""
    plan, read_again = StandingPlan(lambda _question, _then: False), []
    plan.again.connect(lambda: read_again.append(1))
    plan.keep({"id": "1"})
    assert plan.read({"id": "2"}, plan.moment()) and plan.document == {"id": "2"} and not read_again


def test_a_pin_that_cannot_hold_is_told_while_it_is_so(hand: Hand, board: BoardWindow) -> None:
    at_rest(hand, board)
    bar = next(one for one in bars(board) if one.job.task is not None)
    told = board.day.planner._unpinned_text([{"task": bar.job.key, "start": 30, "after": None}])
    assert told.endswith("cannot be kept; unpin it (Del), or hand it on.") and bar.job.docket.number in told
    board.day.planner.unpinned.emit(told)
    assert board.day.trouble.text() == told and board.day.trouble.isVisible()
    board._message.timeout.emit()
    assert board.day.trouble.isVisible(), "no minute takes it away"
    board.day.planner.unpinned.emit("")
    assert not board.day.trouble.isVisible()


def test_an_offer_that_is_refused_is_not_made_again(hand: Hand, board: BoardWindow) -> None:
    at_rest(hand, board)
    late, good = with_something_better(board)
    hand.bot.mouseClick(board.day.better.keep, Qt.MouseButton.LeftButton)
    assert not board.day.better.isVisible() and placed(board) == late
    board.day.planner._take({"kind": "better", "plan": plan_document(good)})
    board.day.planner._take({"kind": "done", "proved": False})
    assert not board.day.better.isVisible()


def test_undo_of_a_move_brings_back_the_day(hand: Hand, board: BoardWindow) -> None:
    """Not the pin alone: everybody is where they were."""
    at_rest(hand, board)
    board.reload()
    at_rest(hand, board)
    before = placed(board)
    bar = next(one for one in bars(board) if one.job.task is not None and one.job.task.state == "open")
    board.day.chart.choose((bar.job.key,))
    board.day.chart.setFocus()
    for _ in range(5):
        hand.bot.keyClick(board.day.chart, Qt.Key.Key_Right, ALT)
        at_rest(hand, board)
    assert placed(board) != before
    while board.buttons["undo"].isEnabled():
        hand.bot.mouseClick(board.buttons["undo"], Qt.MouseButton.LeftButton)
        at_rest(hand, board)
    after = placed(board)
    assert after.keys() == before.keys() and not any(is_moved(before[key], place) for key, place in after.items())


def test_what_is_worked_out_leaves_the_former_plan_in_sight(hand: Hand, board: BoardWindow) -> None:
    at_rest(hand, board)
    before = board.day.chart.plan
    board.day.planner.working.emit()
    assert board.day.chart._former and board.day.chart.plan is before
    assert board.day.standing.text().startswith("Being worked out")
    assert board.day.planner.shown is not None
    board.day.planner.planned.emit(board.day.planner.shown)
    assert not board.day.chart._former and not board.day.standing.text().startswith("Being worked out")
    board.day.planner.working.emit()
    board.day.planner.problem.emit("The work does not fit.")
    assert not board.day.chart._former and not board.day.standing.text().startswith("Being worked out")
    assert board.problem.text() == "The work does not fit."


def test_choosing_a_bar_moves_no_row_and_opens_its_step_beside(hand: Hand, board: BoardWindow) -> None:
    at_rest(hand, board)
    board.day.chart.choose(())
    hand.settle()
    row, high = board.day.chart.row_px, board.day.chart.viewport().height()
    bar = next(one for one in bars(board) if one.job.task is not None)
    board.day.chart.choose((bar.job.key,))
    hand.bot.waitUntil(lambda: board.step.isVisible())
    assert (board.day.chart.row_px, board.day.chart.viewport().height()) == (row, high)
    assert (
        board.step.mapTo(board, board.step.rect().topLeft()).x() > board.day.mapTo(board, board.day.rect().center()).x()
    )


def test_it_opens_at_now_with_the_docket_in_hand_chosen(hand: Hand, demo_path: Path) -> None:
    store = Store(demo_path)
    far = max(store.tasks.tasks(with_done=False), key=lambda task: (task.promised or "9999", task.id)).docket_id
    store.close()
    hand.window.dockets.open(far)
    hand.settle()
    made = opened(hand)
    assert made.day.chart.bars() or made.day.came_for
    assert made.day.chart.plan is not None
    now = made.day.chart.plan.reading.now * made.day.chart._per_slot
    left = made.day.chart.horizontalScrollBar().value()
    assert left <= now <= left + made.day.chart.viewport().width()


def test_today_is_told_in_one_look_and_printed(
    hand: Hand, board: BoardWindow, demo_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Who is late, who comes for what, what waits, what each begins with: as the store and the plan have it."""
    store = Store(demo_path)
    numbers = {docket.number: docket for docket in store.dockets() if docket.state not in ("handed over", "ready")}
    number, docket = sorted(numbers.items())[0]
    store.edit(docket.id, DocketEdit(fields={"state": "on hold"}))
    other = sorted(numbers.items())[1][1]
    store.edit(other.id, DocketEdit(fields={"state": "ready", "promised_on": today()}))
    store.close()
    board.reload()
    at_rest(hand, board)
    rows = board.today.rows
    hand.bot.waitUntil(lambda: rows.topLevelItemCount() > 0)
    hand.settle()

    def section(head: str) -> list[list[str]]:
        for place in range(rows.topLevelItemCount()):
            item = rows.topLevelItem(place)
            if item is not None and item.text(0).startswith(head):
                children = [item.child(child) for child in range(item.childCount())]
                return [[child.text(column) for column in range(4)] for child in children if child is not None]
        return []

    hand.bot.waitUntil(lambda: bool(section("Waits for an answer")))
    assert section("Waits for an answer")[0][0] == number
    assert [other.number, "today"] in [row[:2] for row in section("Ready to be fetched")]
    plan = board.day.chart.plan
    assert plan is not None
    begins: dict[str, list[str]] = {}
    for place, person in enumerate(plan.reading.people):
        if person is not None:
            mine = [bar for bar in plan.bars_of(place) if bar.begins.date() == today() and not bar.piece]
            begins[person.name] = [bar.job.docket.number for bar in mine[:4]]
    for name, dockets in begins.items():
        assert [row[0] for row in section(f"{name} begins with")] == dockets
    assert [row[0] for row in section("Late")] == [outcome.docket.number for outcome in plan.late]
    pages: list[Drawing] = []
    monkeypatch.setattr("yarvel.desk.papers.papers.preview_and_print", lambda _parent, made, *_rest: pages.extend(made))
    board.tabs.setCurrentWidget(board.today)
    hand.bot.mouseClick(board.today.printing, Qt.MouseButton.LeftButton)
    printed = " ".join(text.text for page in pages for text in page.texts())
    assert number in printed and all(name in printed for name in begins) and f"{today():%A}" in printed
    wanted: list[int] = []
    board.docket_wanted.connect(wanted.append)
    row = rows.findItems(number, Qt.MatchFlag.MatchExactly | Qt.MatchFlag.MatchRecursive, 0)[0]
    rows.setCurrentItem(row)
    rows.setFocus()
    hand.bot.keyClick(rows, Qt.Key.Key_Return)
    assert wanted == [docket.id]


def test_late_says_calendar_days_and_both_dates_and_lists_all(hand: Hand, board: BoardWindow, demo_path: Path) -> None:
    store, begins = Store(demo_path), local_now().replace(microsecond=0)
    for person in store.people.all():
        store.day.add_absence(person.id, begins, begins + timedelta(days=21))
    store.close()
    board.reload()
    at_rest(hand, board)
    hand.bot.waitUntil(lambda: board.day.late.isVisible())
    plan = board.day.chart.plan
    assert plan is not None and plan.late
    assert len(board.day.late.list.actions()) == len(plan.late)
    for outcome, action in zip(plan.late, board.day.late.list.actions(), strict=True):
        assert outcome.docket.promised is not None
        days = (outcome.ready - outcome.docket.promised).days
        assert days_text(outcome) == f"{days} day{'s' if days > 1 else ''}" and days >= outcome.late
        assert late_text(outcome) in action.text().replace("&&", "&")
        assert f"promised {outcome.docket.promised:%a %-d %b}, ready {outcome.ready:%a %-d %b}" in late_text(outcome)
    board.day.late.list.actions()[-1].trigger()
    assert {bar.job.docket.id for bar in board.day.chart.bars()} == {plan.late[-1].docket.id}


def test_two_boards_on_one_store_end_with_one_plan(demo_path: Path) -> None:
    """The second was made from a plan that no longer stands: it is not kept, and the first is what both show."""
    mine, theirs = Store(demo_path), Store(demo_path)
    readings = [read(store.day.snapshot()) for store in (mine, theirs)]
    plans = []
    for place, (store, reading) in enumerate(zip((mine, theirs), readings, strict=True)):
        from yarvel.day.dispatch import SETTINGS, dispatch

        plan = dispatch(reading.shop, SETTINGS[place : place + 1])
        plans.append(shown_document(reading, plan, datetime(2031, 4, 9, 8)))
        assert store.day.kept.keep(plans[-1]) == (place == 0)
    assert mine.day.kept.standing() == theirs.day.kept.standing() == plans[0]
    mine.close()
    theirs.close()


def test_what_stood_before_an_act_stands_again_only_if_nothing_else_has_happened(demo_path: Path) -> None:
    from yarvel.day.dispatch import SETTINGS, dispatch

    store = Store(demo_path)

    def keep() -> dict[str, object]:
        reading = read(store.day.snapshot())
        document = shown_document(reading, dispatch(reading.shop, SETTINGS[:1]), datetime(2031, 4, 9, 8))
        assert store.day.kept.keep(document)
        return store.day.kept.standing()

    first = keep()
    assert keep()["root"] == first["root"], "time alone makes no other plan"
    store.people.add("Quill")
    second = keep()
    assert second["root"] == second["id"] and second["before"] == first["root"]
    assert keep()["root"] == second["root"]
    assert store.day.kept.bring_back(first) and store.day.kept.standing()["tasks"] == first["tasks"]
    store.people.add("Rusk")
    keep()
    store.people.add("Sorrel")
    keep()
    assert not store.day.kept.bring_back(first), "something else has happened: a plan is sought"
    store.close()


def test_a_day_with_nothing_in_it_says_so(demo_path: Path) -> None:
    store = Store(demo_path)
    reading = read(replace(store.day.snapshot(), dockets=(), tasks=(), bare=frozenset(), out=()))
    told = today_of(day_plan(reading, {}), (), (), {}, today())
    assert told.late == told.leaves == told.returns == told.fetched == told.waits == ()
    assert all(strip.entries == () for strip in told.strips)
    store.close()


def test_nothing_is_cut_short_on_paper_and_every_strip_is_on_one_page() -> None:
    """A number that is to be called stands whole, in as many lines as it takes; nothing runs off a page."""
    long = (
        "promised Mon 8 Mar, ready Thu 11 Mar",
        "31-0131",
        "Four-claw solitaire, spinel",
        "Aldermere & Sons, " * 4 + "555 0100",
    )
    strips = [(f"Person {number}", [long] * 4) for number in range(9)]
    pages = today_pages("Tuesday", [("Late, to be called", [long] * 60), ("Leaves the house", [])], strips)
    assert len(pages) > 3
    printed = [text.text for page in pages for text in page.texts()]
    assert sum("555 0100" in text for text in printed) == 60 + 36
    assert "Leaves the house" not in printed, "what has no line is left out"
    assert all(0 < text.at[1] <= page.height for page in pages for text in page.texts())
    for name, _lines in strips:
        (page,) = [page for page in pages if name in {text.text for text in page.texts()}]
        names = [text.text for text in page.texts() if text.text.startswith("Person")]
        assert sum("555 0100" in text.text for text in page.texts()) == 4 * len(names)


def left_running(path: Path, board: BoardWindow) -> Task:
    """Somebody went home yesterday with a clock on: from ten to four."""
    store = Store(path)
    task = next(bar.job.task for bar in bars(board) if bar.job.task is not None and bar.job.operation == "seat")
    person = next(one for one in store.people.all() if "setting" in one.skills)
    store.tasks.start(task.id, person.id, kept(datetime.combine(today() - timedelta(days=1), time(15, 50))))
    store.close()
    return task


def test_a_clock_left_running_is_asked_about_the_next_morning(hand: Hand, board: BoardWindow, demo_path: Path) -> None:
    """Nobody's clock is stopped for them: it is asked, on the board, on Today and once a day."""
    at_rest(hand, board)
    assert not board.still.isVisible()
    task = left_running(demo_path, board)
    board.reload()
    at_rest(hand, board)
    said = board.still.words.text()
    assert board.still.isVisible() and f"{task.docket_number} {task.label}" in said and "Tue 15:50" in said
    counted = stored(demo_path, task).running
    assert 55 < counted < 18 * 60 and f"{counted:.0f} minutes" in said and said.endswith("Still at it?")
    today_rows = [board.today.rows.topLevelItem(at) for at in range(board.today.rows.topLevelItemCount())]
    waits = next(row for row in today_rows if row is not None and row.text(0).startswith("Waits for an answer"))
    assert any("still at it?" in waits.child(at).text(2) for at in range(waits.childCount()))
    hand.bot.mouseClick(board.still.buttons["yes"], Qt.MouseButton.LeftButton)
    board.reload()
    at_rest(hand, board)
    assert not board.still.isVisible() and stored(demo_path, task).state == "started", "asked once a day"


def test_what_a_task_really_took_is_typed_with_its_reason_and_undone(
    hand: Hand, board: BoardWindow, demo_path: Path
) -> None:
    """By keys alone: Ctrl+M, the minutes, why; undone from the board."""
    at_rest(hand, board)
    task = left_running(demo_path, board)
    board.reload()
    at_rest(hand, board)
    hand.bot.mouseClick(board.still.buttons["minutes"], Qt.MouseButton.LeftButton)
    hand.settle()
    dialog = board.minutes.dialog
    assert dialog is not None and dialog.isVisible()
    assert "Tue 8 Apr 15:50 – running" in dialog.told.text() and "min by the clock" in dialog.told.text()
    hand.bot.keyClicks(dialog.minutes, "many")
    hand.bot.keyClick(dialog.minutes, Qt.Key.Key_Return)
    hand.bot.mouseClick(dialog.keeping, Qt.MouseButton.LeftButton)
    assert dialog.isVisible() and "minutes from 0 to 6000" in dialog.problem.text()
    dialog.minutes.clear()
    hand.bot.keyClicks(dialog.minutes, "35")
    hand.bot.mouseClick(dialog.keeping, Qt.MouseButton.LeftButton)
    assert dialog.isVisible() and "Because of what?" in dialog.problem.text()
    hand.bot.keyClicks(dialog.why, "clock left on")
    hand.bot.keyClick(dialog.why, Qt.Key.Key_Return)
    at_rest(hand, board)
    assert not dialog.isVisible() and 35 <= stored(demo_path, task).minutes < 40
    assert "correct the minutes" in board.buttons["undo"].toolTip()
    hand.bot.mouseClick(board.buttons["undo"], Qt.MouseButton.LeftButton)
    at_rest(hand, board)
    assert stored(demo_path, task).minutes > 55, board.problem.text()


def test_whoever_stops_a_clock_is_told_what_of_it_counts(hand: Hand, board: BoardWindow, demo_path: Path) -> None:
    at_rest(hand, board)
    task = left_running(demo_path, board)
    board.reload()
    at_rest(hand, board)
    board.day.chart.choose((task.id,))
    hand.settle()
    hand.bot.mouseClick(board.buttons["stop"], Qt.MouseButton.LeftButton)
    at_rest(hand, board)
    counted = stored(demo_path, task).taken
    assert f"{counted:.0f} of the clock’s " in board.problem.text() and "Ctrl+M" in board.problem.text()
    hand.bot.keyClick(board, Qt.Key.Key_M, Qt.KeyboardModifier.ControlModifier)
    hand.settle()
    assert board.minutes.dialog is not None and "– Wed " in board.minutes.dialog.told.text()
    board.minutes.dialog.reject()


def test_no_line_of_another_task_stands_beside_the_one_that_is_chosen(
    hand: Hand, board: BoardWindow, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A slow store: until what a task says is known, there is nothing of the former one to tick."""
    at_rest(hand, board)
    one, other = [bar for bar in bars(board) if bar.job.task is not None and bar.job.operation == "head"][:2]
    board.day.chart.choose((one.job.key,))
    hand.bot.waitUntil(lambda: board.step.lines.count() > 0)
    asked: list[object] = []
    monkeypatch.setattr(board, "_look", lambda question, then: asked.append((question, then)))
    board.day.chart.choose((other.job.key,))
    assert asked and board.step.lines.count() == 0
    assert board.step._head.text().startswith(f"{other.job.docket.number} · ")
