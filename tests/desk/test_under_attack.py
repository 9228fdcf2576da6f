"""The window while things go wrong around it: its file goes, archives come twice, errors that nobody foresaw."""

from __future__ import annotations

import os
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path

import pytest
from PySide6.QtCore import QMimeData, Qt
from PySide6.QtWidgets import QApplication, QFileDialog, QLineEdit, QPushButton, QTableWidget
from sqlalchemy import text

from tests import stated
from tests.desk.conftest import Hand
from tests.ready import file_with
from tests.stated import MOMENT
from yarvel.clock import today
from yarvel.desk.intake.history import HistoryDialog
from yarvel.desk.widgets.words import LineField, Words, tip
from yarvel.exchange.archive import Packed, write_archive
from yarvel.workshop.dockets.records import DocketEdit
from yarvel.workshop.storage import guards
from yarvel.workshop.storage.backup import digest_file, folder_of, summary
from yarvel.workshop.storage.location import location
from yarvel.workshop.storage.places import log_file
from yarvel.workshop.store import Store

SRC = Path(__file__).parents[2] / "src" / "yarvel" / "desk"


@pytest.mark.parametrize("how", ["deleted", "moved", "replaced"])
def test_a_file_that_goes_is_told_and_the_store_is_saved_elsewhere(
    how: str, hand: Hand, demo_path: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    hand.settle()
    docket = hand.window.session.docket
    assert docket is not None and not hand.window.elsewhere.isVisible()
    if how == "replaced":
        other = Store(tmp_path / "synced.sqlite")
        other.new_docket("Of another store")
        other.close()
        os.replace(tmp_path / "synced.sqlite", demo_path)
    elif how == "moved":
        demo_path.rename(tmp_path / "away.sqlite")
    else:
        demo_path.unlink()
    hand.bot.waitUntil(lambda: hand.window.elsewhere.isVisible())
    hand.open_station("Take in")
    hand.type("docket.customer", "Typed meanwhile", enter=True)
    hand.bot.waitUntil(lambda: "waits" in hand.window._kept_label.text())
    assert hand.window._kept_label.text() != "stored"
    target = tmp_path / "saved.sqlite"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_args, **_more: (str(target), ""))
    button = hand.window.elsewhere.findChild(QPushButton, "moved.save")
    assert button is not None
    hand.bot.mouseClick(button, Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: not hand.window.elsewhere.isVisible() and hand.window._kept_label.text() == "stored")
    hand.type("docket.item", "Typed afterwards", enter=True)
    hand.settle()
    hand.window.close()
    saved = Store(target)
    kept = saved.docket(docket.id)
    assert (kept.customer, kept.item) == ("Typed meanwhile", "Typed afterwards")
    saved.close()
    if how == "replaced":
        theirs = Store(demo_path)
        assert [held.customer for held in theirs.dockets()] == ["Of another store"]
        theirs.close()
    assert not list(location(demo_path).waiting_folder.glob("*.jsonl"))


@pytest.fixture
def archive(hand: Hand, demo_path: Path, tmp_path: Path) -> Path:
    hand.settle()
    store, target = Store(demo_path), tmp_path / "all.zip"
    packed = (Packed(made, tuple(store.history(made.id)), ()) for made in store.dockets())
    write_archive(packed, target)
    store.close()
    return target


def bring_in(hand: Hand, path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_args, **_more: (str(path), ""))
    hand.window.intake.bring_in_archive()


@pytest.mark.parametrize(
    ("answer", "more"), [("Leave those out", 0), ("Bring them in once more", 10), ("Bring in nothing", 0)]
)
def test_dockets_that_are_here_already_are_asked_about(
    answer: str, more: int, hand: Hand, archive: Path, demo_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    bring_in(hand, archive, monkeypatch)
    bringing = hand.window.intake.bringing
    assert bringing is not None
    hand.bot.waitUntil(lambda: bringing.question is not None and bringing.question.isVisible())
    assert bringing.question is not None and "10 are here already" in bringing.question.text()
    button = next(held for held in bringing.question.buttons() if held.text() == answer)
    with hand.bot.waitSignal(bringing.ended):
        hand.bot.mouseClick(button, Qt.MouseButton.LeftButton)
    store = Store(demo_path)
    assert len(store.dockets()) == 10 + more
    store.close()


def test_an_import_can_be_cancelled(
    hand: Hand, archive: Path, tmp_path: Path, open_hand: Callable[[Path], Hand], monkeypatch: pytest.MonkeyPatch
) -> None:
    other = open_hand(tmp_path / "other.sqlite")
    bring_in(other, archive, monkeypatch)
    bringing = other.window.intake.bringing
    assert bringing is not None
    with other.bot.waitSignal(bringing.ended):
        bringing.progress.canceled.emit()  # as its button does
    store = Store(tmp_path / "other.sqlite")
    assert store.dockets() == []
    store.close()


def _renamed(store: Store) -> None:
    store.edit(store.new_docket("Salt").id, DocketEdit(fields={"customer": "Saltmarsh"}))


def test_the_first_window_of_a_day_copies_the_store_and_tells_what_does_not_add_up(
    open_hand: Callable[[Path], Hand], tmp_path: Path
) -> None:
    """A copy each day; the next window finds it there. What was changed past the guards is told."""
    path = file_with(tmp_path / "store.sqlite", _renamed)
    first = open_hand(path)
    copy = folder_of(path) / f"nightly-{today()}.sqlite"
    first.bot.waitUntil(lambda: copy.exists() and digest_file(copy).exists())
    first.settle()
    assert "not what" not in first.window.banner.text() and summary(copy) == summary(path)
    written = copy.stat().st_mtime_ns
    first.window.close()
    store = Store(path)
    with store.transaction() as session:
        guards.take_off(session.connection())
        session.execute(text("UPDATE dockets SET customer = 'Somebody else'"))
        guards.put_on(session.connection())
    store.close()
    second = open_hand(path)
    second.settle()
    assert "not what" not in second.window.banner.text() and copy.stat().st_mtime_ns == written, "once a day"
    second.window.close()
    stated.begin(MOMENT + timedelta(days=1))
    third = open_hand(path)
    third.bot.waitUntil(lambda: "customer is not what" in third.window.banner.text())
    assert "yarvel verify lists it" in third.window.banner.text()
    assert (folder_of(path) / f"nightly-{today()}.sqlite").exists()


def test_what_nobody_foresaw_is_told_once_with_the_place_of_the_log(
    hand: Hand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))
    told: list[str] = []
    hand.window.dockets.told.connect(told.append)

    def broken(_store: Store) -> None:
        raise ZeroDivisionError("a bug")

    for _ in range(3):
        hand.window.dockets.ask(broken, lambda _found: None)
        hand.window.dockets.gateway.look(broken, lambda _found: None)
    hand.settle()
    assert len(told) == 1 and str(log_file()) in told[0] and "ZeroDivisionError" in told[0]
    assert log_file().read_text().count("ZeroDivisionError: a bug") == 6


def test_typed_markup_is_shown_as_it_was_typed(hand: Hand) -> None:
    hand.open_station("Take in")
    hand.type("docket.customer", "<b>Quay</b> & <img src=x>", enter=True)
    hand.settle()
    assert "<b>Quay</b>" in hand.window.windowTitle()
    docket = hand.window.session.docket
    assert docket is not None
    hand.window.tell(f"{docket.customer} is here")
    assert hand.window.banner.textFormat() == Qt.TextFormat.PlainText
    store = hand.window.dockets.gateway.store
    assert store is not None
    dialog = HistoryDialog(docket.number, store.history(docket.id), [], [], hand.window)
    table = dialog.findChild(QTableWidget)
    tips = [table.item(0, column).toolTip() for column in range(4)]
    assert any("&lt;b&gt;" in text for text in tips) and not any("<b>" in text for text in tips)
    dialog.deleteLater()


def test_every_label_and_line_of_the_windows_is_of_the_plain_kind() -> None:
    for path in SRC.rglob("*.py"):
        text = path.read_text()
        if path.name not in ("words.py", "sign_in_dialog.py"):  # PINs have a line of their own, of digits
            assert " QLabel(" not in text and "=QLabel(" not in text and " QLineEdit(" not in text, path.name
    assert tip("a < b") != "a < b" and tip("plain") == "plain"
    assert Words("<b>x</b>").textFormat() == Qt.TextFormat.PlainText


def test_no_control_sign_gets_into_a_field_and_a_megabyte_is_refused_with_its_limit(hand: Hand) -> None:
    hand.open_station("Take in")
    field = hand.field("docket.item")
    assert isinstance(field, LineField)
    hand.type("docket.item", "x", enter=True)
    hand.settle()
    for pasted in ("a\0b\x1dc\td", "y" * 1_000_000):
        data = QMimeData()
        data.setText(pasted)
        QApplication.clipboard().setMimeData(data)
        field.setFocus()
        field.selectAll()
        hand.bot.keyClick(field, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
        hand.settle()
        if len(pasted) < 100:
            assert field.text() == "abc d"
    docket = hand.window.session.docket
    assert docket is not None and docket.item == "abc d", "nothing is cut in silence"
    marks = [label.text() for label in field.parentWidget().findChildren(Words) if label.isVisible()]
    assert any("1,000,000 letters: at most 20,000" in text for text in marks)
    assert len(field.text()) == 1_000_000, "what was pasted is still there to be shortened"


def test_a_date_that_no_workshop_lives_to_see_is_refused(hand: Hand) -> None:
    hand.open_station("Take in")
    hand.type("docket.promised_on", "9999-12-31", enter=True)
    field = hand.field("docket.promised_on")
    assert isinstance(field, QLineEdit)
    marks = [label.text() for label in field.parentWidget().findChildren(Words) if label.isVisible()]
    assert any("a date from 1990 to 2199" in text for text in marks)
