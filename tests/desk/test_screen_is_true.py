"""The screen shows what is stored with what is not written yet on top of it, whichever way one comes back to it; what
was typed for a docket is never lost on its way to a number."""

from __future__ import annotations

import errno
import signal
import sqlite3
import subprocess
import sys
import threading
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QComboBox, QDialog, QDialogButtonBox, QLineEdit
from pytestqt.qtbot import QtBot

from tests.desk.conftest import Hand
from tests.desk.test_team_window import dialog_of, fill_in, press_ok
from tests.patience import GIVE_UP_S
from yarvel.app import remembered_name
from yarvel.desk.background.runner import Runner
from yarvel.desk.bench import kept_label
from yarvel.desk.intake.drafts import DraftsDialog
from yarvel.desk.signing_in.sign_in_dialog import FirstStartDialog, SignInDialog
from yarvel.desk.storing import keeper as keeping
from yarvel.desk.storing.keeper import Keeper
from yarvel.figures.errors import StoreGoneError
from yarvel.figures.rules import HouseRules
from yarvel.workshop.dockets.records import Docket, DocketEdit
from yarvel.workshop.replaying import replay
from yarvel.workshop.storage.authors import Author
from yarvel.workshop.storage.identity import new_id
from yarvel.workshop.storage.journal import Journal
from yarvel.workshop.storage.location import location
from yarvel.workshop.storage.rights import NotSignedInError
from yarvel.workshop.store import Store
from yarvel.workshop.waiting import Key, WaitingEdits

TOP = Path(__file__).parents[2]
TILDA = Author("Tilda", 1, "a token that has ended")
TYPED = DocketEdit(fields={"customer": "Saltmarsh", "item": "sleeper hoop"}, author=TILDA)
LEFT = """
import os, signal, sys
from pathlib import Path
from msgspec.structs import replace
from tests.desk.test_screen_is_true import TYPED
from yarvel.workshop.storage.identity import new_id
from yarvel.workshop.waiting import WaitingEdits

waiting, name = WaitingEdits(Path(sys.argv[1])), new_id()
waiting.add(name, replace(TYPED, id=name))
os.kill(os.getpid(), signal.SIGKILL)
"""


def opened(hand: Hand, docket_id: int) -> Docket:
    hand.window.dockets.open(docket_id)
    hand.bot.waitUntil(lambda: hand.window.session.docket is not None and hand.window.session.docket.id == docket_id)
    assert hand.window.session.docket is not None
    return hand.window.session.docket


def test_back_on_a_docket_before_it_is_written_the_new_value_stands(
    hand: Hand, demo_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Nobody killed, one window: A changed, B opened, A again, typed on; nobody is asked against themselves."""
    monkeypatch.setattr(keeping, "PAUSE_MS", 600_000)  # the act goes on for as long as this takes
    session, asked = hand.window.session, list[object]()
    hand.window.dockets.clashed.connect(asked.append)
    opened(hand, 1)
    session.set_column("item", "an eternity band", act="typing item")
    session.put({**session.document, "note": "as typed"}, act="typing note")
    opened(hand, 2)
    assert opened(hand, 1).item == "an eternity band" and session.document["note"] == "as typed"
    session.set_column("item", "an eternity ring", act="typing item again")
    opened(hand, 2)
    opened(hand, 1)
    hand.window.dockets.keeper.act_over()
    hand.settle()
    store = Store(demo_path)
    stored = store.docket(1)
    store.close()
    assert (stored.item, stored.job_document["note"], asked) == ("an eternity ring", "as typed", [])


def test_what_was_read_before_a_write_never_replaces_it(qtbot: QtBot, demo_path: Path) -> None:
    store = Store(demo_path)
    runner = Runner()
    keeper = Keeper(runner)
    before = store.docket(1)
    keeper.begin(lambda _key, edit: store.edit(1, edit))
    keeper.keep(1, DocketEdit(fields={"item": "hoop"}))
    qtbot.waitUntil(lambda: not keeper.waiting)
    keeper.laid_over(store.docket(1))
    assert keeper.laid_over(before).item == "hoop", "an answer that was under way"
    runner.finish()
    store.close()


def test_a_docket_typed_while_the_store_was_away_outlives_a_window_and_an_ended_token(
    qtbot: QtBot, tmp_path: Path, demo_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(keeping, "RETRY_MS", 20)
    assert (
        subprocess.run([sys.executable, "-c", LEFT, str(tmp_path)], cwd=TOP, check=False).returncode == -signal.SIGKILL
    )
    store, signed = Store(demo_path), list[bool]()
    before = len(store.dockets(limit=10_000))

    def write(key: Key, edit: DocketEdit) -> Docket:
        if not signed:
            raise NotSignedInError("Tilda: the store does not know them any more: sign in again")
        return store.acting(Author("Tilda")).take_in(edit) if isinstance(key, str) else store.edit(key, edit)

    def window() -> tuple[Keeper, WaitingEdits, Runner]:
        runner, waiting = Runner(), WaitingEdits(tmp_path)
        keeper = Keeper(runner, None, waiting)
        for key, edits in waiting.taken_over().items():
            for edit in edits:
                keeper.keep(key, edit)
        waiting.forget()
        keeper.begin(write)
        return keeper, waiting, runner

    for _ in range(2):  # a second window, and a third after that one has ended too
        keeper, waiting, runner = window()
        with qtbot.waitSignal(keeper.unsigned):
            pass
        runner.finish()
        waiting.close()
    keeper, waiting, runner = window()
    signed.append(True)
    with qtbot.waitSignal(keeper.taken_in) as taken:
        keeper.signed(replace_token(TILDA))
    docket = taken.args[1]
    assert (docket.customer, docket.item) == ("Saltmarsh", "sleeper hoop")
    qtbot.waitUntil(lambda: not keeper.waiting)
    runner.finish()
    waiting.close()
    assert len(store.dockets(limit=10_000)) == before + 1 and not WaitingEdits(tmp_path).taken_over()
    store.close()


def replace_token(author: Author) -> Author:
    return Author(author.name, author.id, "a new one")


def test_what_is_typed_after_the_first_attempt_follows_it(
    qtbot: QtBot, demo_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """A late answer to "An" must not make "Anneliese" count as stored."""
    monkeypatch.setattr(keeping, "RETRY_MS", 20)
    store, tried = Store(demo_path), list[DocketEdit]()
    runner = Runner()
    keeper = Keeper(runner)
    lost = [True]

    def write(key: Key, edit: DocketEdit) -> Docket:
        tried.append(edit)
        assert isinstance(key, int)
        docket = store.edit(key, edit)
        if lost and lost.pop():
            raise StoreGoneError("the answer was lost")
        return docket

    keeper.begin(write)
    item = store.docket(1).item
    keeper.keep(1, DocketEdit(fields={"item": "An"}, fields_seen={"item": item}, act="typing"))
    keeper.act_over()
    qtbot.waitUntil(lambda: bool(tried))
    keeper.keep(1, DocketEdit(fields={"item": "Anneliese"}, fields_seen={"item": "An"}, act="typing"))
    keeper.act_over()
    qtbot.waitUntil(lambda: not keeper.waiting)
    assert store.docket(1).item == "Anneliese"
    names = list(dict.fromkeys(edit.id for edit in tried))
    assert len(names) == 2 and {edit.follows for edit in tried} == {"", names[0]}
    assert [edit.fields["item"] for edit in tried if edit.id == names[0]] == ["An", "An"], "sealed"
    runner.finish()
    store.close()


def test_whoever_may_not_take_in_is_told_before_they_type(
    open_hand: Callable[[Path], Hand], demo_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    store = Store(demo_path)
    people = {person.role: person for person in store.people.all()}
    for person in (people["owner"], people["bench"]):
        store.people.set_pin(person.id, "13579")
        store.people.sign_in(people["owner"].name, "13579")
    hand = open_hand(demo_path)
    hand.window.dockets.be(Author(people["bench"].name, people["bench"].id))
    hand.settle()
    hand.window.tell("")
    before = len(store.dockets(limit=10_000))
    hand.window.take_in()
    hand.bot.waitUntil(lambda: "front desk" in hand.window.banner.text())
    assert hand.window.session.is_new
    hand.window.session.set_column("customer", "Saltmarsh")
    hand.window.session.set_column("item", "a whole docket typed")
    assert opened(hand, 2).id == 2, "nothing keeps them from going on"
    hand.settle()
    assert len(store.dockets(limit=10_000)) == before
    kept = (location(demo_path).waiting_folder / "refused.log").read_text()
    assert "Saltmarsh" in kept and "a whole docket typed" in kept
    assert not WaitingEdits(location(demo_path).waiting_folder).taken_over()
    store.close()


def test_what_was_refused_of_a_new_docket_is_taken_in_by_somebody_who_may(
    open_hand: Callable[[Path], Hand], demo_path: Path
) -> None:
    """It stays at this machine over a restart, is told to whoever may when they sign in, is taken in once, as it was
    typed and under who took it in; whoever may not is told of nothing and takes nothing."""
    store = Store(demo_path)
    people = {person.role: person for person in store.people.all()}
    for person in (people["owner"], people["bench"]):
        store.people.set_pin(person.id, "13579")
        store.people.sign_in(people["owner"].name, "13579")
    owner, bench = (Author(people[role].name, people[role].id) for role in ("owner", "bench"))
    before = len(store.dockets(limit=10_000))
    hand = open_hand(demo_path)
    be(hand, bench)
    hand.window.take_in()
    hand.settle()
    for column, text in (("customer", "Saltmarsh"), ("item", "brooch of a heron")):
        hand.window.session.set_column(column, text)
    hand.window.session.patch({"stone": {"cut": "oval", "width_mm": 6.35}}, "Stone")
    hand.window.dockets.keeper.act_over()
    hand.bot.waitUntil(lambda: "“Typed and not taken in”" in hand.window.banner.text())
    hand.window.close()
    hand = open_hand(demo_path)
    be(hand, bench)
    assert "typed here" not in hand.window.banner.text(), "nobody is told of what they may not do"
    dialog = drafts(hand)
    assert "Saltmarsh · brooch of a heron" in dialog.list.item(0).text() and bench.name in dialog.list.item(0).text()
    hand.bot.mouseClick(dialog.take, Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: "front desk" in dialog.problem.text())
    dialog.reject()
    assert len(store.dockets(limit=10_000)) == before
    be(hand, owner)
    hand.bot.waitUntil(lambda: f"A docket was typed here by {bench.name}" in hand.window.banner.text())
    other = DraftsDialog(hand.window.dockets)  # as another window of this machine has it
    dialog = drafts(hand)
    hand.bot.keyClick(dialog.list, Qt.Key.Key_Return)
    hand.bot.waitUntil(lambda: hand.window.session.docket is not None and dialog.isHidden())
    docket = hand.window.session.docket
    assert docket is not None and (docket.customer, docket.item) == ("Saltmarsh", "brooch of a heron")
    assert docket.job_document["stone"] == {"cut": "oval", "width_mm": 6.35}
    other.take.click()
    hand.bot.waitUntil(lambda: other.result() == QDialog.DialogCode.Accepted)
    assert len(store.dockets(limit=10_000)) == before + 1, "the same draft pressed twice is one docket"
    first = store.history(docket.id)[0]
    assert (first.by, first.after) == (owner.name, f"taken in, as {bench.name} had typed it")
    assert drafts(hand).list.count() == 0 and replay(store) == []
    store.close()


def be(hand: Hand, author: Author) -> None:
    """They sign in, as they would."""
    people = hand.window.people
    if people.dialog is None or not people.dialog.isVisible():
        people.sign_in() if hand.window.dockets.gateway.author.signed else people.begin("x")
    dialog = dialog_of(hand, SignInDialog)
    dialog.findChild(QComboBox, "sign.name").setCurrentText(author.name)
    fill_in(hand, dialog, sign__pin="13579")
    hand.window.tell("")
    press_ok(hand, dialog)
    hand.bot.waitUntil(lambda: hand.shown("who") == f"signed in: {author.name}")
    hand.settle()


def drafts(hand: Hand) -> DraftsDialog:
    """The list of what was typed and not taken in, opened by its key."""
    hand.window.drafts.dialog = None
    hand.window.activateWindow()
    hand.bot.waitUntil(hand.window.isActiveWindow)
    hand.press(Qt.Key.Key_N, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
    hand.bot.waitUntil(lambda: hand.window.drafts.dialog is not None)
    hand.settle()
    dialog = hand.window.drafts.dialog
    assert dialog is not None
    return dialog


def test_who_works_alone_is_the_author_after_a_restart_too(open_hand: Callable[[Path], Hand], tmp_path: Path) -> None:
    """A shop of one, without a PIN: never the computer's login."""
    path = tmp_path / "alone.sqlite"
    hand = open_hand(path)
    hand.window.people.begin("login-of-the-machine")
    hand.bot.waitUntil(lambda: isinstance(hand.window.people.dialog, FirstStartDialog))
    dialog = hand.window.people.dialog
    assert dialog is not None
    name = dialog.findChild(QLineEdit, "owner.name")
    name.setText("Maren")
    ok = dialog.findChild(QDialogButtonBox).button(QDialogButtonBox.StandardButton.Ok)
    hand.bot.mouseClick(ok, Qt.MouseButton.LeftButton)
    hand.bot.waitUntil(lambda: not dialog.isVisible())
    hand.settle()
    hand.window.take_in()
    hand.window.session.set_column("item", "signet")
    hand.settle()
    hand.window.close()
    again = open_hand(path)
    again.window.people.begin("login-of-the-machine", remembered_name(location(path)))
    again.settle()
    again.window.session.set_column("approved", {"total": 310.0})
    again.settle()
    again.window.dockets.ask(lambda store: store.house.keep(HouseRules(hour_rate=64.0)), lambda _rules: None)
    again.settle()
    store = Store(path)
    told = store.history(1)
    store.close()
    assert len(told) >= 3 and {change.by for change in told} == {"Maren"}
    assert again.window.dockets.gateway.store is not None and again.window.dockets.gateway.store.by == "Maren"


def test_a_window_opens_with_whatever_rules_are_stored(open_hand: Callable[[Path], Hand], demo_path: Path) -> None:
    with closing(sqlite3.connect(demo_path)) as connection:
        connection.execute("DELETE FROM settings WHERE name = 'house_rules'")
        spoilt = '{"notch_target": "a third", "metals": {"own-ash": 3}}'
        connection.execute("INSERT INTO settings (name, value) VALUES ('house_rules', ?)", (spoilt,))
        connection.commit()
    hand = open_hand(demo_path)
    hand.bot.waitUntil(lambda: "metals.own-ash, notch_target" in hand.window.banner.text())
    assert hand.window.session.rules.notch_target == HouseRules().notch_target
    assert opened(hand, 2).id == 2 and hand.window.session.plan is not None


def test_what_a_window_left_is_on_the_screen_before_it_is_stored(
    open_hand: Callable[[Path], Hand], demo_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The next window shows it, whether the store takes it now or not."""
    store = Store(demo_path)
    last = store.dockets(limit=1)[0]
    left = WaitingEdits(location(demo_path).waiting_folder)
    left.add(last.id, DocketEdit(fields={"item": "as it was left"}, fields_seen={"item": last.item}, id=new_id()))
    left.close()

    def away(_self: Store, _docket_id: int, _edit: DocketEdit) -> Docket:
        raise StoreGoneError("the server is away")

    monkeypatch.setattr(Store, "edit", away)
    hand = open_hand(demo_path)
    opened(hand, last.id)
    hand.bot.waitUntil(lambda: hand.window.session.docket is not None and hand.window.session.docket.item[:2] == "as")
    assert store.docket(last.id).item == last.item and hand.window.dockets.keeper.waiting
    monkeypatch.undo()
    hand.bot.waitUntil(lambda: not hand.window.dockets.keeper.waiting)
    assert store.docket(last.id).item == "as it was left"
    store.close()


@pytest.mark.parametrize("seen_quickly", [True, False])
def test_the_first_docket_of_a_window_shows_what_another_left_of_it(
    open_hand: Callable[[Path], Hand], demo_path: Path, monkeypatch: pytest.MonkeyPatch, seen_quickly: bool
) -> None:
    """By itself, on a file (which is looked into before it is open) as on a server (which is not), without anybody
    opening it: else typing on would start from a value that is on its way to be another, and the person be asked over
    against themselves."""
    store = Store(demo_path)
    last = store.dockets(limit=1)[0]
    left = WaitingEdits(location(demo_path).waiting_folder)
    for number, seen in ((5, None), (6, 5)):
        fields, before = ({"claw_chart": {"count": held}} if held else {"claw_chart": {}} for held in (number, seen))
        left.add(last.id, DocketEdit(fields=fields, fields_seen=before, id=new_id()))
    left.close()

    def away(_self: Store, _docket_id: int, _edit: DocketEdit) -> Docket:
        raise StoreGoneError("the server is away")

    monkeypatch.setattr(Store, "edit", away)
    if not seen_quickly:
        monkeypatch.setattr("yarvel.app.peek", lambda _path, _docket: None)
    shown: list[object] = []
    hand = open_hand(demo_path)
    session = hand.window.session
    if session.docket is None:  # its first sight of it counts
        session.docket_changed.connect(lambda: shown.append(session.docket and session.docket.claw_chart.get("count")))
    hand.bot.waitUntil(lambda: session.docket is not None and session.docket.claw_chart.get("count") == 6)
    docket = session.docket
    assert docket is not None and docket.id == last.id and shown[:1] in ([], [6])
    hand.window.session.set_column("claw_chart", {**docket.claw_chart, "count": 7})
    monkeypatch.undo()
    hand.bot.waitUntil(lambda: not hand.window.dockets.keeper.waiting)
    assert store.docket(last.id).claw_chart["count"] == 7
    store.close()


def test_a_store_that_takes_long_is_told(hand: Hand, monkeypatch: pytest.MonkeyPatch) -> None:
    """No "storing…" without the reason."""
    monkeypatch.setattr(kept_label, "LONG_MS", 40)
    go_on, edit = threading.Event(), Store.edit

    def slow(store: Store, docket_id: int, wanted: DocketEdit) -> Docket:
        assert go_on.wait(GIVE_UP_S)
        return edit(store, docket_id, wanted)

    monkeypatch.setattr(Store, "edit", slow)
    hand.window.session.set_column("item", "slow to store")
    assert hand.window._kept_label.text() == "storing…"
    hand.bot.waitUntil(lambda: "takes long" in hand.window._kept_label.text())
    go_on.set()
    hand.bot.waitUntil(lambda: hand.window._kept_label.text() == "stored")


def test_a_disk_that_takes_nothing_is_told_as_one(hand: Hand, monkeypatch: pytest.MonkeyPatch) -> None:
    """With the store away too: nothing says that what is typed waits on this machine."""
    told: list[str] = []
    hand.window.dockets.told.connect(told.append)

    def full(_journal: Journal, *_lines: object) -> None:
        raise OSError(errno.ENOSPC, "No space left on device")

    def away(_store: Store, _docket_id: int, _edit: DocketEdit) -> Docket:
        raise StoreGoneError("the server is away")

    monkeypatch.setattr(Journal, "add", full)
    monkeypatch.setattr(Journal, "replace", full)
    monkeypatch.setattr(Store, "edit", away)
    hand.window.session.set_column("item", "nowhere but here")
    hand.bot.waitUntil(lambda: len(told) >= 3)
    assert hand.window._kept_label.text() == "in this window alone"
    assert all("in this window alone" in text and "No space left" in text for text in told), told
    monkeypatch.undo()
    hand.bot.waitUntil(lambda: not hand.window.dockets.keeper.waiting)
    assert hand.window._kept_label.text() == "stored" and hand.window.dockets.keeper.on_disk
