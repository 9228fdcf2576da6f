"""Windows of one team: what others change shows, clashes are asked about, a server that is away is waited for, people
sign in."""

from __future__ import annotations

import shutil
from collections.abc import Callable, Iterator
from datetime import date
from pathlib import Path
from typing import Any

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QApplication, QComboBox, QDialog, QLineEdit, QPushButton, QRadioButton, QTableWidget

from tests.desk.conftest import Hand
from tests.private_server import PrivateServer
from yarvel.clock import now
from yarvel.desk.dialogs.clash import ClashDialog, label_of, shown
from yarvel.desk.signing_in import sign_in_guard
from yarvel.desk.signing_in.people_dialog import PeopleDialog
from yarvel.desk.signing_in.sign_in_dialog import FirstStartDialog, SignInDialog
from yarvel.workshop.acts import WAITS, StartTask, TickLine
from yarvel.workshop.dockets.records import DocketEdit
from yarvel.workshop.storage.authors import Author
from yarvel.workshop.storage.location import location
from yarvel.workshop.store import Store
from yarvel.workshop.waiting import WaitingEdits

JOB = {
    "format": "yarvel-job/1",
    "stone": {"cut": "round", "species": "spinel", "diameters_mm": [5.7], "depth_mm": 3.4},
    "head": {"style": "wire-basket", "claws": 4, "claw_mm": 0.9, "metal": "18k-yellow"},
}
OpenHand = Callable[[Any], Hand]


@pytest.fixture
def two(open_hand: OpenHand, demo_path: Path) -> tuple[Hand, Hand]:
    """Two windows on one store with the same docket in hand."""
    first, second = open_hand(demo_path), open_hand(demo_path)
    docket = first.window.session.docket
    assert docket is not None
    second.window.dockets.open(docket.id)
    second.bot.waitUntil(
        lambda: second.window.session.docket is not None and second.window.session.docket.id == docket.id
    )
    return first, second


def dialog_of(hand: Hand, kind: type[QDialog]) -> Any:
    hand.bot.waitUntil(
        lambda: any(isinstance(widget, kind) and widget.isVisible() for widget in hand.window.findChildren(QDialog))
    )
    return next(
        widget for widget in hand.window.findChildren(QDialog) if isinstance(widget, kind) and widget.isVisible()
    )


def fill_in(hand: Hand, dialog: QDialog, **texts: str) -> None:
    for name, text in texts.items():
        field = dialog.findChild(QLineEdit, name.replace("__", "."))
        assert field is not None
        field.clear()
        hand.bot.keyClicks(field, text)


def press_ok(hand: Hand, dialog: QDialog) -> None:
    hand.bot.mouseClick(
        next(button for button in dialog.findChildren(QPushButton) if button.isDefault() or button.isVisible()),
        Qt.MouseButton.LeftButton,
    )


def test_what_one_window_changes_the_other_shows(two: tuple[Hand, Hand]) -> None:
    first, second = two
    first.open_station("Take in")
    first.type("docket.customer", "Tern & Gale", enter=True)
    first.window.session.patch({"head": {"claw_mm": 1.15}}, "Thicker claws")
    second.bot.waitUntil(
        lambda: (
            second.window.session.docket is not None
            and second.window.session.docket.customer == "Tern & Gale"
            and second.window.session.document["head"].get("claw_mm") == 1.15
        )
    )
    assert "another window" in second.window.banner.text()
    assert not second.window.session.undo_stack.canUndo(), "nobody undoes what somebody else did"
    second.window.session.patch({"shank": {"width_mm": 3.3}}, "Wider")
    second.settle()
    first.bot.waitUntil(lambda: first.window.session.document["shank"]["width_mm"] == 3.3)
    first.window.session.undo_stack.undo()
    first.settle()
    second.bot.waitUntil(lambda: second.window.session.document["head"].get("claw_mm") != 1.15)
    assert first.window.session.document["shank"]["width_mm"] == 3.3, "undo takes back one's own change alone"
    assert second.window.session.document == first.window.session.document


def test_the_same_figure_changed_by_two_is_asked_about(two: tuple[Hand, Hand], demo_path: Path) -> None:
    first, second = two
    docket = first.window.session.docket
    assert docket is not None
    second.window.dockets.watcher.finish()  # the second hand types before it could have seen the first one's change
    first.window.session.patch({"head": {"claw_mm": 1.15}}, "Thicker claws")
    first.settle()
    second.window.session.patch({"head": {"claw_mm": 0.85}, "shank": {"width_mm": 3.1}}, "Thinner claws")
    clash = dialog_of(second, ClashDialog)
    buttons = {button.objectName(): button.text() for button in clash.findChildren(QRadioButton)}
    assert buttons == {"clash.theirs.job.head.claw_mm": "1.15 mm", "clash.mine.job.head.claw_mm": "0.85 mm"}
    theirs = clash.findChild(QRadioButton, "clash.theirs.job.head.claw_mm")
    second.bot.mouseClick(theirs, Qt.MouseButton.LeftButton, pos=QPoint(8, theirs.height() // 2))
    assert clash.keep_theirs == {"job.head.claw_mm"}
    press_ok(second, clash)
    second.settle()
    store = Store(demo_path)
    stored = store.docket(docket.id).job_document
    store.close()
    assert stored["head"]["claw_mm"] == 1.15 and stored["shank"]["width_mm"] == 3.1
    second.bot.waitUntil(lambda: second.window.session.document["head"]["claw_mm"] == 1.15)


def test_the_drawer_and_the_rules_follow_what_others_change(two: tuple[Hand, Hand], demo_path: Path) -> None:
    first, second = two
    second.window.drawer.open()
    drawer = second.window.drawer.window
    assert drawer is not None
    second.bot.waitUntil(lambda: len(drawer.table.items) > 0)
    item = drawer.table.items[0]
    store = Store(demo_path)
    store.drawer.change(item.id, 7, "counted at the other bench", (item.quantity, item.note))
    second.bot.waitUntil(lambda: next(held for held in drawer.table.items if held.id == item.id).quantity == 7)
    first.window.dockets.rules.keep_rules(first.window.session.rules.but(splay_deg=9.5))
    second.bot.waitUntil(lambda: second.window.session.rules.splay_deg == 9.5)
    store.close()


def test_fields_are_named_in_words() -> None:
    assert label_of("job.stone.depth_mm") == "stone, depth" and label_of("promised_on") == "promised"
    assert shown(None) == "nothing" and shown([5.0, 5.25], "job.stone.diameters_mm") == "5 × 5.25 mm"
    assert shown({"value": "54", "width_mm": 2.5}) == "value 54, width 2.5 mm"
    assert shown(None, "job.head.claw_mm") == "as usual"
    assert shown(date(2031, 5, 2)) == "02 May 2031"


def test_what_a_window_left_is_written_by_the_next(open_hand: OpenHand, demo_path: Path) -> None:
    store = Store(demo_path)
    docket = store.dockets(limit=1)[0]
    left = WaitingEdits(location(demo_path).waiting_folder)
    left.add(
        docket.id,
        DocketEdit(
            job_patches=(), fields={"customer": "Left behind"}, job_seen=(), fields_seen={"customer": docket.customer}
        ),
    )
    assert left._journal._file is not None
    left._journal._file.close()  # as when its window was killed
    hand = open_hand(demo_path)
    hand.settle()
    hand.bot.waitUntil(lambda: store.docket(docket.id).customer == "Left behind")
    folder = location(demo_path).waiting_folder
    hand.bot.waitUntil(lambda: "Left" not in "".join(path.read_text() for path in folder.glob("*.jsonl")))
    store.close()


@pytest.fixture
def own_server() -> Iterator[PrivateServer]:
    made = PrivateServer()
    yield made
    made.remove()


def test_a_server_that_is_away_is_waited_for(
    open_hand: OpenHand, own_server: PrivateServer, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    url = own_server.make_database()
    store = Store(url)
    docket = store.new_docket("Saltmarsh", job_document=JOB)
    person, task = store.people.add("Orla", "bench", ()), store.tasks.plan_tasks(docket.id, [("Solder", 20.0)])[0]
    hand = open_hand(url)
    hand.window.people.begin("pim")  # until the server says that nobody has a PIN, nothing is taken
    hand.bot.waitUntil(lambda: hand.window.session.docket is not None)
    own_server.stop("fast")
    hand.window.session.patch({"stone": {"depth_mm": 3.55}}, "Deeper")
    hand.bot.waitUntil(lambda: "waits on this machine" in hand.window.banner.text())
    assert hand.window.session.plan is not None, "work goes on"
    waiting = "".join(path.read_text() for path in location(url).waiting_folder.glob("*.jsonl"))
    assert "3.55" in waiting, "it waits on disk"
    hand.window.dockets.acts.act(StartTask(task.id, person.id), hand.window.tell)
    hand.bot.waitUntil(lambda: WAITS in hand.window.banner.text() and StartTask.NAME in hand.window.banner.text())
    began = now()
    hand.window.dockets.acts.act(TickLine(task.id, "Chips small", True), hand.window.tell)
    assert len(list(location(url).waiting_folder.glob("*.acts"))) == 1
    own_server.start()
    hand.bot.waitUntil(lambda: not hand.window.dockets.keeper.waiting)
    hand.bot.waitUntil(lambda: not hand.window.dockets.acts.waiting)
    held = store.tasks.tasks()[0]
    assert held.ticks == ("Chips small",) and held.started_at is not None and held.started_at <= began
    assert store.docket(docket.id).job_document["stone"]["depth_mm"] == 3.55
    hand.window.close()
    store.close()


def test_the_first_start_makes_the_owner_and_people_sign_in(
    open_hand: OpenHand, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "new.sqlite"
    hand = open_hand(path)
    hand.window.people.begin("maren")
    owner = dialog_of(hand, FirstStartDialog)
    fill_in(hand, owner, owner__name="Maren", owner__pin="2468", owner__again="2469")
    press_ok(hand, owner)
    assert "not the same" in owner.wrong.text()
    fill_in(hand, owner, owner__again="2468")
    press_ok(hand, owner)
    hand.bot.waitUntil(lambda: hand.shown("who") == "signed in: Maren")
    monkeypatch.setattr(sign_in_guard, "LOCK_AFTER_MS", 30)
    hand.window.people._on_signed()  # the wait starts anew with the short time
    locked = dialog_of(hand, SignInDialog)
    assert "locked" in " ".join(label.text() for label in locked.findChildren(type(owner.wrong)))
    monkeypatch.setattr(sign_in_guard, "LOCK_AFTER_MS", 600000)
    hand.bot.keyClick(locked, Qt.Key.Key_Escape)
    assert locked.isVisible(), "a locked window cannot be looked past"
    fill_in(hand, locked, sign__pin="1111")
    press_ok(hand, locked)
    hand.bot.waitUntil(lambda: "4 more" in locked.wrong.text() or "wrong" in locked.wrong.text().lower())
    fill_in(hand, locked, sign__pin="2468")
    press_ok(hand, locked)
    hand.bot.waitUntil(lambda: not locked.isVisible())
    store = Store(path)
    assert [(person.name, person.role, person.has_pin) for person in store.people.all()] == [("Maren", "owner", True)]
    store.close()


def test_whoever_may_not_is_told_and_the_screen_shows_what_is_stored(
    open_hand: OpenHand, demo_path: Path, tmp_path: Path
) -> None:
    store = Store(demo_path)
    people = {person.role: person for person in store.people.all()}
    owner, desk = people["owner"], people["front desk"]
    for person in (owner, desk):
        store.people.set_pin(person.id, "13579")
        store.people.sign_in(owner.name, "13579")
    docket = store.dockets(limit=1)[0]
    hand = open_hand(demo_path)
    hand.window.people.begin("x")
    dialog = dialog_of(hand, SignInDialog)
    names = dialog.findChild(QComboBox, "sign.name")
    names.setCurrentText(desk.name)
    fill_in(hand, dialog, sign__pin="13579")
    press_ok(hand, dialog)
    hand.bot.waitUntil(lambda: hand.shown("who") == f"signed in: {desk.name}")
    hand.window.dockets.open(docket.id)
    hand.bot.waitUntil(lambda: hand.window.session.docket is not None and hand.window.session.docket.id == docket.id)
    before = store.docket(docket.id).job_document
    hand.window.session.patch({"head": {"claw_mm": 1.35}}, "Thicker")
    hand.bot.waitUntil(lambda: "front desk" in hand.window.banner.text())
    hand.bot.waitUntil(lambda: hand.window.session.document == before)
    assert store.docket(docket.id).job_document == before
    refused = location(demo_path).waiting_folder / "refused.log"
    assert "1.35" in refused.read_text() and str(refused) in hand.window.banner.text(), "kept for people to read"
    hand.window.tell("")
    store.edit(docket.id, DocketEdit(job_patches=({"head": {"claw_mm": 1.25}},)))
    hand.bot.waitUntil(lambda: hand.window.session.document["head"].get("claw_mm") == 1.25)
    hand.settle()
    assert "may not" not in hand.window.banner.text(), "looking on is no change of one's own"
    assert refused.read_text().count("\n") == 1
    store.close()


def test_what_waits_is_stored_under_its_author_whoever_signs_in_next(open_hand: OpenHand, demo_path: Path) -> None:
    """A lead's edit that waited stands under the lead's name, a desk's is held to the desk's rights, though an owner is
    here; what nobody signed is kept for people to read; each is told of their own when they come."""
    store = Store(demo_path)
    store.people.add("Ibolya", "lead")
    people = {person.role: person for person in store.people.all()}
    for role in ("owner", "lead", "front desk"):
        store.people.set_pin(people[role].id, "13579")
        store.people.sign_in(people["owner"].name, "13579")
    first, second, third = store.dockets(limit=3)
    left = WaitingEdits(location(demo_path).waiting_folder)
    lead, desk = (Author(people[role].name, people[role].id) for role in ("lead", "front desk"))
    left.add(
        first.id,
        DocketEdit(
            job_patches=(),
            fields={"customer": "Left behind"},
            job_seen=(),
            fields_seen={"customer": first.customer},
            author=lead,
        ),
    )
    left.add(second.id, DocketEdit(job_patches=({"head": {"claws": 6}},), author=desk))
    left.add(
        third.id,
        DocketEdit(
            job_patches=(), fields={"customer": "Nobody's"}, job_seen=(), fields_seen={"customer": third.customer}
        ),
    )
    left.close()
    hand = open_hand(demo_path)
    hand.window.people.begin("x")
    dialog = dialog_of(hand, SignInDialog)
    dialog.findChild(QComboBox, "sign.name").setCurrentText(people["owner"].name)
    fill_in(hand, dialog, sign__pin="13579")
    press_ok(hand, dialog)
    hand.bot.waitUntil(lambda: store.docket(first.id).customer == "Left behind")
    assert store.history(first.id)[-1].by == lead.name
    hand.bot.waitUntil(lambda: not hand.window.lock.is_shut)
    hand.settle()
    assert store.docket(second.id).job_document == second.job_document
    assert store.docket(third.id).customer == third.customer
    refused = (location(demo_path).waiting_folder / "refused.log").read_text()
    assert "may not plan heads" in refused and "Nobody's" in refused
    assert "front desk" not in hand.window.banner.text(), "it is not the owner's to be told of"
    hand.window.people.sign_in()
    dialog = dialog_of(hand, SignInDialog)
    dialog.findChild(QComboBox, "sign.name").setCurrentText(desk.name)
    fill_in(hand, dialog, sign__pin="13579")
    press_ok(hand, dialog)
    hand.bot.waitUntil(lambda: "Of what you did here earlier" in hand.window.banner.text())
    assert "may not plan heads" in hand.window.banner.text()
    store.close()


def test_locked_nothing_is_shown_or_taken_anywhere(open_hand: OpenHand, demo_path: Path) -> None:
    store = Store(demo_path)
    owner = next(person for person in store.people.all() if person.role == "owner")
    store.people.set_pin(owner.id, "13579")
    hand = open_hand(demo_path)
    window = hand.window
    assert window.lock.is_shut, "from the first moment on"
    assert window.session.docket is None, "and nothing is read into it"
    window.people.begin("x")
    dialog = dialog_of(hand, SignInDialog)
    fill_in(hand, dialog, sign__pin="13579")
    press_ok(hand, dialog)
    hand.bot.waitUntil(lambda: window.session.docket is not None)
    window.board.open()
    window.board.open_fine_book()
    fine, board = window.board.fine, window.board.window
    assert fine is not None and board is not None
    hand.bot.waitUntil(lambda: fine.person.count() > 1)
    window.papers.copy_job()
    fine.mass.setText("42")
    preview = QDialog(window)
    preview.setModal(True)
    preview.open()
    docket = window.session.docket
    assert docket is not None
    window.people.sign_out()
    dialog = dialog_of(hand, SignInDialog)
    assert window.lock.is_shut and docket.customer not in window.windowTitle()
    assert not (window.sheet.isVisible() or window.run.isVisible() or fine.isVisible() or board.isVisible())
    assert not preview.isVisible() and QApplication.clipboard().text() == ""
    assert not any(action.isEnabled() for action in window.findChildren(QAction))
    fine._on_add()  # as a timer, or a key that was still under way, would
    window.session.set_column("customer", "Somebody at night")
    window.dockets.take_in("at night")
    window.intake.open_scanned(docket.number)
    hand.bot.keyClick(window, Qt.Key.Key_N, Qt.KeyboardModifier.ControlModifier)
    hand.calm()
    fill_in(hand, dialog, sign__pin="13579")
    press_ok(hand, dialog)
    hand.bot.waitUntil(lambda: not window.lock.is_shut)
    hand.settle()
    assert fine.isVisible() and board.isVisible() and window.sheet.isVisible()
    assert store.fine.entries() == [] or all(entry.mass != 42 for entry in store.fine.entries())
    assert store.docket(docket.id).customer == docket.customer
    assert not store.dockets("night")
    store.close()


def test_the_first_pin_locks_whoever_has_not_signed_in(hand: Hand, demo_path: Path) -> None:
    hand.window.people.begin("pim")
    hand.settle()
    store = Store(demo_path)
    owner = next(person for person in store.people.all() if person.role == "owner")
    store.people.set_pin(owner.id, "13579")
    dialog = dialog_of(hand, SignInDialog)
    assert hand.window.lock.is_shut
    hand.bot.mouseClick(dialog.findChild(QPushButton, "sign.quit"), Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: not hand.window.isVisible())
    store.close()


def test_people_are_kept_in_their_window(hand: Hand, demo_path: Path) -> None:
    dialog = PeopleDialog(hand.window.dockets.ask, hand.window.dockets.presses, hand.window)
    dialog.show()
    table = dialog.findChild(QTableWidget)
    hand.bot.waitUntil(lambda: table.rowCount() > 2)
    count = table.rowCount()
    fill_in(hand, dialog, people__name="Ottilie", people__skills="seting")
    hand.bot.mouseClick(dialog.findChild(QPushButton, "people.add"), Qt.MouseButton.LeftButton)
    assert "no work asks for “seting”" in dialog.told.text() and "did you mean setting?" in dialog.told.text()
    fill_in(hand, dialog, people__skills="setting")
    dialog.role.setCurrentText("lead")
    hand.bot.mouseClick(dialog.findChild(QPushButton, "people.add"), Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: table.rowCount() == count + 1)
    row = next(row for row in range(table.rowCount()) if table.item(row, 0).text() == "Ottilie")
    assert (table.item(row, 1).text(), table.item(row, 2).text()) == ("lead", "setting")
    name = table.visualItemRect(table.item(row, 0)).center()
    hand.bot.mouseClick(table.viewport(), Qt.MouseButton.LeftButton, pos=name)
    fill_in(hand, dialog, people__pin="12")
    hand.bot.mouseClick(dialog.findChild(QPushButton, "people.give"), Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: "4 to 12 digits" in dialog.told.text())
    hand.bot.mouseClick(dialog.findChild(QPushButton, "people.left"), Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: table.rowCount() == count)
    dialog.close()
    assert QApplication.activeModalWidget() is None


def test_a_pin_goes_to_the_name_in_the_field(hand: Hand, demo_path: Path) -> None:
    """Whatever row was chosen before: whoever presses reads the name."""
    dialog = PeopleDialog(hand.window.dockets.ask, hand.window.dockets.presses, hand.window)
    dialog.show()
    table = dialog.findChild(QTableWidget)
    hand.bot.waitUntil(lambda: table.rowCount() > 2)
    people = Store(demo_path).people.all()
    owner = next(person for person in people if person.role == "owner")
    row = next(row for row in range(table.rowCount()) if table.item(row, 0).text() != owner.name)
    hand.bot.mouseClick(
        table.viewport(), Qt.MouseButton.LeftButton, pos=table.visualItemRect(table.item(row, 0)).center()
    )
    give = dialog.findChild(QPushButton, "people.give")
    fill_in(hand, dialog, people__name="Nobody of that name", people__pin="24680")
    hand.bot.mouseClick(give, Qt.MouseButton.LeftButton)
    assert "Nobody here is called “Nobody of that name”" in dialog.told.text() and dialog.name.property("wrong")
    assert not any(person.has_pin for person in Store(demo_path).people.all())
    fill_in(hand, dialog, people__name=owner.name.upper(), people__pin="24680")
    hand.bot.mouseClick(give, Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: any(person.has_pin for person in Store(demo_path).people.all()))
    assert [person.name for person in Store(demo_path).people.all() if person.has_pin] == [owner.name]
    dialog.close()


def test_the_demo_asks_nobody_to_sign_in(filled_store: Path, tmp_path: Path) -> None:
    shutil.copy(filled_store, tmp_path / "copy.sqlite")
    store = Store(tmp_path / "copy.sqlite")
    assert not store.people.wanted(), "the demo opens without a PIN"
    store.close()
