"""A real window on a real store, driven through what is visible."""

from __future__ import annotations

import ctypes
import gc
import shutil
from collections.abc import Callable, Iterator
from datetime import timedelta
from functools import lru_cache, partial
from itertools import count
from pathlib import Path

import pytest
from PySide6.QtCore import QCoreApplication, QEvent, QPoint, Qt
from PySide6.QtWidgets import QApplication, QComboBox, QLabel, QWidget
from pytestqt.qtbot import QtBot

from tests import stated
from tests.desk.warm import Warm
from tests.patience import GIVE_UP_S
from tests.stated import MOMENT
from yarvel.app import open_window
from yarvel.clock import today
from yarvel.demo.scenario import fill
from yarvel.desk.bench.window import BenchWindow
from yarvel.desk.instruments.scanner import Scanner
from yarvel.desk.session import docket_in_hand
from yarvel.drawing.painters.qt import text_box
from yarvel.figures.figure import FigureKey
from yarvel.workshop.storage.backup import folder_of, nightly
from yarvel.workshop.store import Store

_TRIM = ctypes.CDLL("libc.so.6").malloc_trim
"""Gives what windows held back to the machine: no test process keeps it."""
_CLOSED, _SWEPT_EVERY = count(1), 4
_ROUNDS_AT_ONCE = 4
"""How often what was asked for at once asks for more at once: a change, the panels that it refreshes, their layout."""

# A slow machine is no failure: whatever is waited for has this long.
for _waits in (
    QtBot.waitUntil,
    QtBot.waitSignal,
    QtBot.waitSignals,
    QtBot.waitCallback,
    QtBot.waitExposed,
    QtBot.waitActive,
):
    _waits.__kwdefaults__["timeout"] = round(GIVE_UP_S * 1000)


class Hand:
    """A person at the window: finds controls by name, types, clicks and drags; reads what is shown."""

    def __init__(self, qtbot: QtBot, window: BenchWindow) -> None:
        self.bot, self.window = qtbot, window

    def calm(self) -> None:
        """What was to happen at once has happened: timers of nought have run, and what they asked for is laid out and
        painted."""
        for _ in range(_ROUNDS_AT_ONCE):
            QCoreApplication.processEvents()

    def scan(self, field: QWidget, text: str, enter: bool = True) -> None:
        """As a scanner types: all at once, wherever the focus is, and nothing behind it but what belongs to it."""
        scanner = self.window.findChild(Scanner)
        assert scanner is not None
        scanner.clock = partial(next, count(0.0, 0.001))
        self.bot.keyClicks(field, text)
        if enter:
            self.bot.keyClick(field, Qt.Key.Key_Return)

    def scanned(self) -> None:
        """The scanner has sent whatever it sends behind a code."""
        scanner = self.window.findChild(Scanner)
        assert scanner is not None
        self.bot.waitUntil(lambda: scanner.quiet)

    def field(self, name: str) -> QWidget:
        found = [widget for widget in self.window.findChildren(QWidget, name) if widget.isVisible()]
        assert len(found) == 1, f"{len(found)} visible controls named {name}"
        return found[0]

    def type(self, name: str, text: str, enter: bool = False) -> None:
        """Click into a field, replace what stands there."""
        field = self.field(name)
        self.bot.mouseClick(field, Qt.MouseButton.LeftButton)
        self.bot.keyClick(field, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
        if not text:
            self.bot.keyClick(field, Qt.Key.Key_Delete)
        self.bot.keyClicks(field, text)
        self.calm()
        active = QApplication.activeWindow()
        if active is not None and active.windowType() == Qt.WindowType.Popup:
            # a list that came and went under the field: a window system goes back to the window by itself
            self.window.activateWindow()
            self.bot.waitUntil(lambda: QApplication.activeWindow() is self.window)
        if enter:
            self.bot.keyClick(field, Qt.Key.Key_Return)
            self.calm()

    def choose(self, name: str, value: object) -> None:
        """Choose a word from a list."""
        combo = self.field(name)
        assert isinstance(combo, QComboBox)
        assert combo.findData(value) >= 0, f"{name} does not offer {value!r}"
        combo.setCurrentIndex(combo.findData(value))
        combo.activated.emit(combo.currentIndex())
        self.calm()

    def unfold(self, title: str) -> None:
        """Open a folded part of a station."""
        button = self.field(f"fold.{title}")
        self.window.run.ensureWidgetVisible(button)
        self.bot.mouseClick(button, Qt.MouseButton.LeftButton)
        self.calm()

    def keys(self, text: str) -> None:
        """Type into whatever has the focus."""
        focus = QApplication.focusWidget()
        assert focus is not None
        self.bot.keyClicks(focus, text)

    def press(self, key: Qt.Key, modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
        focus = QApplication.focusWidget() or self.window
        self.bot.keyClick(focus, key, modifier)

    def open_station(self, title: str) -> None:
        head = next(head for head in self.window.run.heads if head.text() == title)
        if not head.isChecked():
            self.window.run.ensureWidgetVisible(head)
            self.bot.mouseClick(head, Qt.MouseButton.LeftButton)
        self.calm()

    def figure_point(self, key: str) -> QPoint:
        sheet = self.window.sheet
        text = next(text for text in sheet.figure_texts() if text.key == key)
        return text_box(text, sheet.per_mm).center().toPoint()

    def click_figure(self, key: str) -> None:
        self.bot.mouseClick(self.window.sheet, Qt.MouseButton.LeftButton, pos=self.figure_point(key))

    def type_over(self, key: str, text: str) -> None:
        self.bot.mouseDClick(self.window.sheet, Qt.MouseButton.LeftButton, pos=self.figure_point(key))
        editor = self.field("sheet.editor")
        self.bot.keyClicks(editor, text)
        self.bot.keyClick(editor, Qt.Key.Key_Return)

    def drag(self, grip: str, by: QPoint) -> None:
        """Take a grip, move in steps, let go."""
        sheet = self.window.sheet
        assert sheet.drawing is not None
        held = next(found for found in sheet.drawing.grips if found.name == grip)
        start = QPoint(round(held.at[0] * sheet.per_mm), round(held.at[1] * sheet.per_mm))
        self.bot.mousePress(sheet, Qt.MouseButton.LeftButton, pos=start)
        for step in range(1, 6):
            self.bot.mouseMove(sheet, start + by * step / 5)
        self.bot.mouseRelease(sheet, Qt.MouseButton.LeftButton, pos=start + by)

    def value(self, key: str) -> float:
        assert self.window.session.plan is not None
        return self.window.session.plan[FigureKey(key)]

    def shown(self, name: str) -> str:
        label = self.window.findChild(QLabel, name)
        assert label is not None
        return label.text()

    def judge(self) -> None:
        """Let the bodies be built and wait for what they tell, as whoever rests a moment does."""
        bodies, session = self.window.bodies, self.window.session
        if not bodies.begun:
            bodies.begin()
        self.bot.waitUntil(lambda: session.plan is not None and FigureKey("head.mass") in session.plan.figures)

    def settle(self) -> None:
        """Wait until panels are refreshed, everything is stored and every question so far is answered."""
        dockets = self.window.dockets
        self.bot.waitUntil(lambda: dockets.ready and not dockets.keeper.waiting and not dockets.acts.waiting)
        answered: list[None] = []
        dockets.ask(lambda _store: None, answered.append)
        self.bot.waitUntil(lambda: bool(answered))
        for _ in range(3):  # what was read may have asked for more
            read: list[None] = []
            dockets.gateway.look(lambda _store: None, read.append)
            self.bot.waitUntil(lambda read=read: bool(read))
        self.calm()


@pytest.fixture(scope="session", autouse=True)
def _warm_processes(qapp: QApplication) -> Iterator[None]:
    """Processes beside windows are shared by all tests that leave theirs at rest."""
    with pytest.MonkeyPatch.context() as patch:
        warm = Warm(patch)
        yield
        warm.end()


@pytest.fixture(scope="session", autouse=True)
def _plans_are_made_once() -> Iterator[None]:
    """Most windows open on the same dockets: what one test's window has worked out of a job, the next one's knows."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(docket_in_hand, "plan", lru_cache(maxsize=64)(docket_in_hand.plan))
        yield


@pytest.fixture(scope="session")
def filled_store(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The demo's store, filled once, before any test's moment; tests work on copies."""
    path = tmp_path_factory.mktemp("demo") / "demo.sqlite"
    stated.begin(MOMENT - timedelta(hours=1))
    store = Store(path)
    fill(store, today())
    store.close()
    stated.begin()
    nightly(path, today())
    return path


@pytest.fixture
def demo_path(tmp_path: Path, filled_store: Path) -> Path:
    """The demo with its copy of today beside it: a window opened again, as most are."""
    path = tmp_path / "demo.sqlite"
    shutil.copy(filled_store, path)
    shutil.copytree(folder_of(filled_store), folder_of(path))
    return path


@pytest.fixture
def open_hand(qtbot: QtBot, qapp: QApplication) -> Iterator[Callable[[Path], Hand]]:
    opened: list[BenchWindow] = []

    def make(path: Path) -> Hand:
        window = open_window(qapp, path)
        opened.append(window)
        window.resize(1280, 800)
        window.show()
        qtbot.waitExposed(window)
        window.dockets.begin()
        qtbot.waitUntil(lambda: window.dockets.ready)
        return Hand(qtbot, window)

    yield make
    for window in opened:
        if window.isVisible():
            window.close()
        window.deleteLater()
    opened.clear()
    for _ in range(2):  # the windows that a window opened go with it
        QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    qapp.processEvents()
    if next(_CLOSED) % _SWEPT_EVERY == 0:
        gc.collect()
        _TRIM(0)


@pytest.fixture
def hand(open_hand: Callable[[Path], Hand], demo_path: Path) -> Hand:
    return open_hand(demo_path)
