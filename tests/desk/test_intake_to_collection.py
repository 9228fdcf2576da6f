"""A repair from intake to collection in the real windows, by keyboard alone: what the board, the route, the card, the
fine book and the invoice say of it agrees to the minute, the gram and the penny."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QApplication, QFileDialog, QWidget

from tests.desk.conftest import Hand
from tests.desk.test_instruments import Play, Played, play  # noqa: F401 (the fixture)
from tests.ready import file_with
from yarvel.desk.stations.hand_over import HandOverStation
from yarvel.drawing.primitives import Drawing
from yarvel.figures.rules import HouseRules, WorkshopData
from yarvel.planning.weighing import weighed
from yarvel.route.balance import added_g
from yarvel.route.card import sections, tasks
from yarvel.workshop.dockets.records import HANDED_OVER
from yarvel.workshop.money.amounts import units
from yarvel.workshop.money.pricing import bill_of
from yarvel.workshop.storage.task_states import DONE, STARTED
from yarvel.workshop.store import Store
from yarvel.workshop.work.docket_work import Work, work_of

_A_GRAM = 61.5
MOST_ACTIONS, MOST_SECONDS = 35, 300
_THINKS_S, _KEY_S = 1.35, 0.28
"""What it may take. Seconds to make up one's mind before an act, and a key for whoever types as most do: Card, Moran,
and Newell, The Psychology of Human-Computer Interaction (1983), the keystroke-level model."""
CONTROL, SHIFT, ALT = (
    Qt.KeyboardModifier.ControlModifier,
    Qt.KeyboardModifier.ShiftModifier,
    Qt.KeyboardModifier.AltModifier,
)


def workshop(store: Store) -> None:
    """One who does it all, an hour's price and a gram's, gold in the safe."""
    store.people.add("Ansel", skills=("mounting", "setting", "polishing", "checking"))
    prices = WorkshopData(alloys=(("18k-yellow", "price_per_g", _A_GRAM),), currency="EUR")
    store.house.keep(HouseRules(hour_rate=72.0, tax_percent=19.0, custom=prices))
    store.fine.add("bought", "18k-yellow", 25.0)


class Keys:
    """A hand that only presses keys; what it does is counted: a line typed, a key pressed, a button taken."""

    def __init__(self, hand: Hand) -> None:
        self.hand, self.actions, self.keys = hand, 0, 0

    def press(self, key: Qt.Key, held: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
        """A key, wherever the focus is."""
        self.actions += 1
        self._key(key, held)

    def _key(self, key: Qt.Key, held: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
        self.keys += 1 + bool(held)
        at = QApplication.focusWidget() or QApplication.activeWindow() or self.hand.window
        self.hand.bot.keyClick(at, key, held)

    def go(self, widget: QWidget) -> None:
        """Tab until something has the focus; part of what is then done there."""
        widget.window().activateWindow()
        for _ in range(90):
            if QApplication.focusWidget() is widget:
                return
            self._key(Qt.Key.Key_Tab)
        raise AssertionError(f"{widget.objectName()}: cannot be reached by Tab")

    def say(self, widget: QWidget, text: str) -> None:
        """Type into a line."""
        self.go(widget)
        self.actions += 1
        self._key(Qt.Key.Key_A, CONTROL)
        self.keys += len(text)
        self.hand.bot.keyClicks(widget, text)

    def take(self, widget: QWidget) -> None:
        """Press a button or a box."""
        self.go(widget)
        self.actions += 1
        self._key(Qt.Key.Key_Space)

    def back(self) -> None:
        """A window that was over it is gone: the desktop gives the keys to the one below."""
        window = self.hand.window
        window.activateWindow()
        self.until(lambda: QApplication.activeWindow() is window)

    @property
    def store(self) -> Store:
        """What the windows have stored."""
        held = self.hand.window.dockets.gateway.store
        assert held is not None
        return held

    @property
    def work(self) -> Work:
        """The work of the docket in hand, weighed."""
        session = self.hand.window.session
        assert session.plan is not None and session.docket is not None
        return work_of(weighed(session.plan), session.docket, session.rules)

    @property
    def grams(self) -> float:
        """What that work adds to the piece, g."""
        return sum(added_g(self.work.route).values())

    def until(self, so: Callable[[], bool]) -> None:
        """Wait for what was asked."""
        self.hand.bot.waitUntil(so)


@pytest.fixture
def demo_path(tmp_path: Path) -> Path:
    return file_with(tmp_path / "workshop.sqlite", workshop)


@pytest.fixture
def papers(monkeypatch: pytest.MonkeyPatch) -> list[Drawing]:
    """Every page that would be printed."""
    made: list[Drawing] = []
    monkeypatch.setattr(
        "yarvel.desk.papers.papers.preview_and_print", lambda _window, pages, _title, *_more: made.extend(pages)
    )
    return made


def texts(page: Drawing) -> list[str]:
    return [text.text for text in page.texts()]


def test_a_repair_by_keys_alone(
    hand: Hand,
    play: Play,  # noqa: F811
    papers: list[Drawing],
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    picture = tmp_path / "worn.png"
    image = QImage(320, 240, QImage.Format.Format_RGB32)
    image.fill(Qt.GlobalColor.darkYellow)
    image.save(str(picture))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_args, **_more: (str(picture), ""))
    keys, scale = Keys(hand), play("gram-scale", "scale")
    keys.back()
    taken_in(keys)
    charted(keys)
    priced(keys)
    keys.press(Qt.Key.Key_P, CONTROL)
    keys.until(lambda: bool(papers))
    card = [text for page in papers for text in texts(page)]
    papers.clear()
    at_the_bench(keys)
    weighed_out(keys, scale)
    handed_over(keys)
    keys.press(Qt.Key.Key_Y, CONTROL | ALT)
    keys.until(lambda: bool(papers))
    hand.settle()
    agree(keys, card, texts(papers[0]))
    assert keys.actions <= MOST_ACTIONS
    assert _THINKS_S * keys.actions + _KEY_S * keys.keys <= MOST_SECONDS, (keys.actions, keys.keys)


def taken_in(keys: Keys) -> None:
    """The front desk: whose it is, what, by when; its photograph, the stone's size, the finger's."""
    hand, session = keys.hand, keys.hand.window.session
    keys.press(Qt.Key.Key_N, CONTROL)
    keys.until(lambda: session.is_new)
    keys.press(Qt.Key.Key_1, CONTROL)
    keys.say(hand.field("docket.customer"), "Tarn Jewels")
    keys.say(hand.field("docket.item"), "ring, two tips worn")
    keys.say(hand.field("docket.promised_on"), "2031-04-18")
    keys.until(lambda: session.docket is not None)
    keys.take(hand.field("docket.photograph"))
    keys.press(Qt.Key.Key_2, CONTROL)
    keys.say(hand.field("stone.diameters_mm.0"), "6.2")
    keys.press(Qt.Key.Key_5, CONTROL)
    keys.say(hand.field("shank.size.value"), "55")
    keys.until(lambda: session.plan is not None and session.plan.band is not None)


def charted(keys: Keys) -> None:
    """The claw chart beside the photograph, and the way out."""
    window = keys.hand.window
    keys.press(Qt.Key.Key_J, CONTROL)
    keys.until(lambda: window.intake.repair is not None and window.intake.repair.isVisible())
    repair = window.intake.repair
    assert repair is not None and repair.photograph.isVisible()
    keys.go(repair.chart)
    keys.press(Qt.Key.Key_1)
    keys.press(Qt.Key.Key_Down)
    keys.press(Qt.Key.Key_1)
    keys.hand.settle()
    keys.until(lambda: "re-tip" in repair.ways and repair.ways["re-tip"].isVisible())
    keys.take(repair.ways["re-tip"])
    keys.press(Qt.Key.Key_Escape)
    keys.back()


def priced(keys: Keys) -> None:
    """Tasks and price, which is approved."""
    hand, session = keys.hand, keys.hand.window.session
    keys.press(Qt.Key.Key_T, CONTROL | ALT)
    keys.until(lambda: bool(session.docket and session.docket.estimate))
    keys.press(Qt.Key.Key_1, CONTROL)
    keys.take(hand.field("docket.approved"))
    keys.until(lambda: bool(session.docket and session.docket.approved))


def at_the_bench(keys: Keys) -> None:
    """The first task is started and done on the board, which asks, for its boxes are not ticked."""
    window, store = keys.hand.window, keys.store
    keys.press(Qt.Key.Key_F7)
    board = window.board.window
    assert board is not None
    keys.until(lambda: board.isVisible() and bool(board.tasks))
    keys.hand.settle()
    board.activateWindow()
    keys.until(lambda: board.day.chart._plan is not None and bool(board.day.chart._plan.bars))
    keys.go(board.day.chart)
    keys.until(lambda: bool(board.day.tasks()))
    keys.press(Qt.Key.Key_Return, CONTROL)
    keys.until(lambda: any(task.state == STARTED for task in store.tasks.tasks()))
    keys.press(Qt.Key.Key_Return, CONTROL | SHIFT)
    keys.until(lambda: "not ticked" in board.problem.text())
    keys.press(Qt.Key.Key_Return, CONTROL | SHIFT)
    keys.until(lambda: any(task.state == DONE for task in store.tasks.tasks()))
    board.close()
    keys.back()


def weighed_out(keys: Keys, scale: Played) -> None:
    """What the work adds goes from the safe to the bench, by the scale."""
    keys.press(Qt.Key.Key_F9)
    book = keys.hand.window.board.fine
    assert book is not None
    keys.until(lambda: book.ready and book.isVisible())
    book.activateWindow()
    keys.until(lambda: bool(book.docket.text()))
    keys.go(book.mass)
    grams = f"{keys.grams:.3f}"
    scale.put(grams)
    keys.actions += 1
    keys.until(lambda: book.mass.text() == grams)
    assert book.person.currentText() == "Ansel", "who works alone need not say so"
    keys.go(book.mass)
    keys.press(Qt.Key.Key_Return)
    keys.until(lambda: any(line.kind == "issued" for line in keys.store.fine.entries()))
    book.close()
    keys.back()


def handed_over(keys: Keys) -> None:
    """What is still open is closed as it leaves: checks looked at, tasks done, metal in the piece."""
    hand, session = keys.hand, keys.hand.window.session
    station = hand.window.run.stations[7]
    assert isinstance(station, HandOverStation)
    keys.press(Qt.Key.Key_8, CONTROL)
    keys.go(station.choices["docket.state"].combo)
    keys.press(Qt.Key.Key_H)
    keys.press(Qt.Key.Key_Return)
    keys.until(lambda: station.leaving.loaded)
    hand.settle()
    for row in (station.leaving._checks, *(row for _, row in station.leaving._metal)):
        assert row is not None
        keys.go(row.choice)
        keys.press(Qt.Key.Key_Down)
    assert hand.field("docket.released_by").text() == "Ansel", "who works alone need not say so"
    keys.say(hand.field("docket.release_reason"), "collected")
    keys.take(hand.field("docket.hand_over"))
    keys.until(lambda: session.docket is not None and session.docket.state == HANDED_OVER)


def agree(keys: Keys, card: list[str], invoice: list[str]) -> None:
    """To the minute, the gram and the penny."""
    store, session = keys.store, keys.hand.window.session
    assert session.docket is not None
    held = store.docket(session.docket.id)
    work = keys.work
    minutes = sum(section.minutes for section in tasks(sections(work.route, work.plan)))
    assert held.estimate["minutes"] == pytest.approx(minutes, abs=0.5)
    made = store.tasks.tasks(held.id)
    assert sum(task.standard for task in made) == pytest.approx(held.estimate["minutes"], abs=0.1)
    assert {task.state for task in made} == {DONE}
    told = [float(text.split(" · ")[1].split()[0]) for text in card if text.endswith(" min") and " · " in text]
    assert sum(told) == pytest.approx(minutes, abs=len(told) / 2), "the card's sections, each to the minute"
    used = sum(line.mass for line in store.fine.entries() if line.kind == "used")
    assert used == pytest.approx(keys.grams, abs=0.001)
    assert held.estimate["metal"] == pytest.approx(keys.grams * _A_GRAM, abs=0.005)
    bill = bill_of(held, session.rules)
    assert bill is not None and not bill.open, "the stone is the customer's: it has no price"
    assert bill.total == units(held.approved["total"], bill.currency) and bill.money(bill.total) in invoice
    assert held.ticks and len(store.photographs.of(held.id)) == 1 and held.claw_chart["chosen"] == "re-tip"
