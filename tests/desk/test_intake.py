"""The front desk in the window: what is noted, photographs, labels scanned, history, handing over."""

from __future__ import annotations

from datetime import UTC
from pathlib import Path

import pytest
from PIL import Image
from PySide6.QtCore import QEvent, QPoint, Qt, QTimer
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QApplication, QComboBox, QFileDialog, QLabel, QLineEdit, QPushButton

from tests.desk.conftest import Hand
from yarvel.desk.intake.history import HistoryDialog
from yarvel.drawing.label import MARK, LabelText, label
from yarvel.workshop.dockets.records import DocketEdit
from yarvel.workshop.money.amounts import units, written
from yarvel.workshop.money.estimate import price_text
from yarvel.workshop.store import Store


def stored(hand: Hand, store_file: Path) -> Store:
    hand.bot.waitUntil(lambda: not hand.window.dockets.keeper.waiting)
    return Store(store_file)


@pytest.fixture
def store_file(hand: Hand) -> Path:
    return Path(hand.window._settings.fileName().removesuffix(".window.ini"))


def test_what_the_front_desk_notes_is_stored(hand: Hand, store_file: Path) -> None:
    hand.open_station("Take in")
    hand.choose("docket.customer_kind", "shop")
    hand.unfold("as it came in")
    for name, text in (
        ("metal", "14k, acid"),
        ("mark", "585 worn"),
        ("weight_in_g", "3,84"),
        ("reported", "stone turns"),
        ("condition", "shank thin at the back"),
    ):
        hand.type(f"docket.{name}", text)
    hand.type("docket.weight_in_g", "heavy")
    told = [label.text() for label in hand.window.run.stations[0].findChildren(QLabel) if label.isVisible()]
    assert any("grams, over 0 to 5000" in text for text in told)
    made = stored(hand, store_file)
    docket = made.docket(hand.window.session.docket.id)  # type: ignore[union-attr]
    assert (docket.customer_kind, docket.metal, docket.mark, docket.weight_in_g) == (
        "shop",
        "14k, acid",
        "585 worn",
        3.84,
    )
    assert [found.id for found in made.dockets("585 worn")] == [docket.id], "found by its mark"
    assert {change.field for change in made.history(docket.id)} >= {"metal", "reported", "weight_in_g"}
    assert all(change.by for change in made.history(docket.id) if change.field == "metal")
    made.close()


def test_one_act_is_one_line_of_history(hand: Hand, store_file: Path) -> None:
    """A word letter by letter, a drag step by step, a number typed: a line each, told with what was there before."""
    docket = hand.window.session.docket
    assert docket is not None
    before = Store(store_file)
    lines = len(before.history(docket.id))
    before.close()
    hand.open_station("Take in")
    hand.type("docket.item", "a ring with a loose stone")
    hand.open_station("Stone")
    hand.type("stone.depth_mm", "4.23", enter=True)
    hand.open_station("Seat")
    hand.drag("seat-height", QPoint(0, -40))
    made = stored(hand, store_file)
    told = made.history(docket.id)[lines:]
    made.close()
    assert [change.field for change in told] == ["item", "job", "job"], [change.after for change in told]
    assert told[0].after == "a ring with a loose stone" and told[0].before == docket.item
    assert told[1].after == {"stone": {"depth_mm": 4.23}}
    assert set(told[2].after) == {"fit"} and set(told[2].after["fit"]) == {"height"} == set(told[2].before["fit"])
    dialog = HistoryDialog(docket.number, told, [], [], hand.window)
    shown = [item.text() for item in (dialog.rows.item(row, 3) for row in range(3)) if item is not None]
    assert "stone depth: " in shown[1] and " → 4.23 mm" in shown[1]
    when = dialog.rows.item(2, 0)
    assert when is not None and when.text() == f"{told[0].at.replace(tzinfo=UTC).astimezone():%Y-%m-%d %H:%M}"


def test_a_photograph_is_kept_and_shown_with_the_history(
    hand: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    picture = tmp_path / "bad seat.png"
    Image.new("RGB", (2400, 1300), (180, 160, 120)).save(picture)
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_args, **_kwargs: (str(picture), ""))
    hand.open_station("Take in")
    hand.bot.mouseClick(hand.field("docket.photograph"), Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: "bad seat" in hand.window.banner.text())
    assert "1600 × 867" in hand.window.banner.text()
    seen: list[tuple[int, int]] = []

    def look() -> None:
        dialog = next((widget for widget in QApplication.topLevelWidgets() if isinstance(widget, HistoryDialog)), None)
        if dialog is None or not dialog.isVisible():
            QTimer.singleShot(30, look)
            return
        seen.append((dialog.rows.rowCount(), dialog.pictures.count()))
        dialog.reject()

    QTimer.singleShot(30, look)
    hand.bot.mouseClick(hand.field("docket.history"), Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: bool(seen))
    assert seen[0][0] >= 2 and seen[0][1] == 1


def test_what_is_no_picture_is_told_and_nothing_is_kept(hand: Hand, tmp_path: Path) -> None:
    broken = tmp_path / "note.jpg"
    broken.write_text("this is no picture")
    docket = hand.window.session.docket
    assert docket is not None
    hand.window.intake.take_photograph(broken, docket)
    hand.bot.waitUntil(lambda: "note.jpg" in hand.window.banner.text())
    assert "a JPEG, PNG" in hand.window.banner.text()


def test_a_scanned_label_opens_its_docket(hand: Hand) -> None:
    """A scanner types the mark, the number and Enter, wherever the focus is."""
    hand.open_station("Take in")
    field = hand.field("docket.customer")
    before = hand.window.session.docket
    assert before is not None
    field.setFocus()
    year = before.number[:2]
    held = before.customer
    hand.scan(field, f"~{year}-0003")
    control = QKeyEvent(QEvent.Type.KeyPress, Qt.Key.Key_unknown, Qt.KeyboardModifier.NoModifier, "\x1d")
    QApplication.sendEvent(field, control)  # what some scanners send behind it
    hand.bot.keyClicks(field, "00")
    hand.bot.waitUntil(lambda: hand.window.session.docket.number == f"{year}-0003")  # type: ignore[union-attr]
    assert "~" not in hand.window.session.docket.customer  # type: ignore[union-attr]
    hand.scanned()
    hand.scan(field, "~5901234123457 of a box", enter=False)
    hand.bot.waitUntil(lambda: "is no label of Yarvel" in hand.window.banner.text())
    hand.settle()
    stored_now = Store(Path(hand.window._settings.fileName().removesuffix(".window.ini")))
    assert stored_now.docket(before.id).customer == held, "nothing of a scan gets into a field"
    stored_now.close()
    hand.scanned()
    hand.bot.keyClicks(field, "~9")
    hand.bot.waitUntil(
        lambda: hand.window.session.docket.customer.endswith("~9"),  # type: ignore[union-attr]
    )  # typed by hand it is text


def test_every_label_that_is_printed_opens_what_it_names(hand: Hand) -> None:
    """A second stone's label too: scanned, it overwrote the customer of the docket in hand."""
    store = Store(Path(hand.window._settings.fileName().removesuffix(".window.ini")))
    first = store.dockets(limit=1)[0]
    stones = [first, store.add_stone(first.id), store.add_stone(first.id)]
    numbers = [stone.number for stone in stones]
    assert numbers[1].endswith("/2")
    hand.open_station("Take in")
    field = hand.field("docket.customer")
    for number in numbers[::-1]:
        printed = label(LabelText(number, "Quay", "ring", ""))
        assert number in [text.text for text in printed.texts()]
        field.setFocus()
        hand.scan(field, f"{MARK}{number}")
        hand.bot.waitUntil(
            lambda number=number: hand.window.session.docket.number == number,  # type: ignore[union-attr,misc]
        )
        hand.scanned()
    hand.settle()
    assert {store.docket(stone.id).customer for stone in stones} == {first.customer}
    store.close()


def test_nothing_leaves_without_a_name_and_a_reason(hand: Hand, store_file: Path) -> None:
    hand.open_station("Hand over")
    hand.choose("docket.state", "handed over")
    hand.settle()
    button = hand.field("docket.hand_over")
    assert isinstance(button, QPushButton)
    hand.bot.mouseClick(button, Qt.MouseButton.LeftButton)
    assert hand.window.session.docket.state != "handed over"  # type: ignore[union-attr]
    hand.type("docket.released_by", "Ines")
    hand.bot.mouseClick(button, Qt.MouseButton.LeftButton)
    assert hand.window.session.docket.state != "handed over", "checks are open: a reason is wanted"  # type: ignore[union-attr]
    hand.type("docket.release_reason", "customer waits, checked by eye")
    hand.bot.mouseClick(button, Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: hand.window.session.docket.state == "handed over")  # type: ignore[union-attr]
    made = stored(hand, store_file)
    docket = made.docket(hand.window.session.docket.id)  # type: ignore[union-attr]
    assert (docket.state, docket.released_by, docket.release_reason) == (
        "handed over",
        "Ines",
        "customer waits, checked by eye",
    )
    made.close()


def test_the_price_is_worked_out_from_time_metal_and_stones_and_kept(hand: Hand, store_file: Path) -> None:
    held = Store(store_file)
    tasks = len(held.tasks.tasks(hand.window.session.docket.id))  # type: ignore[union-attr]
    held.close()
    hand.open_station("Take in")
    hand.unfold("price")
    hand.type("docket.stones_price", "a lot")
    told = [label.text() for label in hand.window.run.stations[0].findChildren(QLabel) if label.isVisible()]
    assert any("0 to 10000000" in text for text in told)
    hand.type("docket.stones_price", "140")
    hand.bot.mouseClick(hand.field("docket.work_out"), Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: "Worked out" in hand.shown("docket.price"))
    made = stored(hand, store_file)
    docket = made.docket(hand.window.session.docket.id)  # type: ignore[union-attr]
    held = docket.estimate
    assert docket.stones_price == 140 and held["minutes"] > 0
    assert held["labour"] == pytest.approx(held["minutes"] / 60 * hand.window.session.rules.hour_rate, abs=0.05)
    total = units(held["labour"], "") + units(held["metal"], "") + 14_000
    assert f"Stones 140.00 = {written(total, '')}" in hand.shown("docket.price")
    assert price_text(docket, hand.window.session.rules) == hand.shown("docket.price")
    assert len(made.tasks.tasks(docket.id)) == tasks, "a price makes no tasks"
    made.close()


def test_an_invoice_is_for_work_that_was_begun(hand: Hand, monkeypatch: pytest.MonkeyPatch) -> None:
    printed: list[str] = []
    monkeypatch.setattr(
        "yarvel.desk.papers.papers.preview_and_print", lambda _window, _pages, title, *_name: printed.append(title)
    )
    session = hand.window.session
    session.set_column("estimate", {"minutes": 60.0, "labour": 60.0, "metal": 12.0})
    session.set_column("state", "taken in")
    hand.press(Qt.Key.Key_Y, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
    hand.settle()
    assert not printed and "only taken in: an invoice is for work that was done" in hand.window.banner.text()
    session.set_column("state", "in work")
    hand.press(Qt.Key.Key_Y, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
    hand.bot.waitUntil(lambda: bool(printed))
    assert session.docket is not None and printed == [f"Invoice {session.docket.number}"]


def test_another_stone_of_the_piece_has_its_own_docket(hand: Hand, store_file: Path) -> None:
    hand.open_station("Take in")
    first = hand.window.session.docket
    assert first is not None
    assert not hand.window.run.stations[0].findChild(QComboBox, "docket.stones").isVisible()
    hand.bot.mouseClick(hand.field("docket.another"), Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(
        lambda: hand.window.session.docket is not None and hand.window.session.docket.number == f"{first.number}/2"
    )
    hand.bot.waitUntil(lambda: hand.window.run.stations[0].findChild(QComboBox, "docket.stones").count() == 2)
    second = hand.window.session.docket
    assert second is not None and second.customer == first.customer and hand.window.session.plan is None
    hand.choose("docket.stones", first.id)
    hand.bot.waitUntil(lambda: hand.window.session.docket is not None and hand.window.session.docket.id == first.id)
    made = stored(hand, store_file)
    assert [docket.number for docket in made.stones(second.id)] == [first.number, second.number]
    made.close()


def test_what_is_typed_at_take_in_is_taken_back_under_the_hand(hand: Hand, demo_path: Path) -> None:
    """A word is one step, a choice another; what somebody else put there meanwhile stays; a state is no typing."""
    hand.open_station("Take in")
    session = hand.window.session
    assert session.docket is not None
    number, item, importance = session.docket.id, session.docket.item, session.docket.importance
    line = hand.field("docket.item")
    assert isinstance(line, QLineEdit)
    line.setFocus()
    line.selectAll()
    hand.bot.keyClicks(line, "Two rings")
    hand.choose("docket.importance", "urgent" if importance != "urgent" else "may wait")
    assert session.docket.item == "Two rings" and session.docket.importance != importance
    line.setFocus()
    hand.press(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert session.docket.importance == importance and session.docket.item == "Two rings"
    hand.press(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert (session.docket.item, line.text()) == (item, item) and line.hasFocus(), "in the field that has the focus too"
    hand.press(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    assert session.docket.item == line.text() == "Two rings"
    hand.settle()
    store = Store(demo_path)
    assert store.docket(number).item == "Two rings"
    store.edit(number, DocketEdit(job_patches=(), fields={"item": "Three rings"}))
    store.close()
    hand.bot.waitUntil(lambda: session.docket is not None and session.docket.item == "Three rings")
    hand.press(Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert session.docket.item == "Three rings", "what somebody else wrote is not taken back"
    count = session.undo_stack.count()
    session.set_column("state", "on hold")
    assert session.undo_stack.count() == count
