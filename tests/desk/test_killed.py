"""A process that is killed while someone types loses nothing: not what was on the screen for a second, nor what was
entered at the very moment."""

from __future__ import annotations

import signal
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path

import pytest

from tests.desk.conftest import Hand
from tests.patience import GIVE_UP_S
from yarvel.workshop.peek import peek

TYPIST = """
import os, signal, sys
from pathlib import Path
from PySide6.QtCore import QTimer
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget
from yarvel.app import open_window

application = QApplication([])
window = open_window(application, Path(sys.argv[1]))
window.show()
window.dockets.begin()

def field(name):
    return next(found for found in window.findChildren(QWidget, name) if found.isVisible())

def type_all():
    if not window.dockets.ready:
        QTimer.singleShot(50, type_all)
        return
    window.run.open_station(1)
    for name, text in (("stone.depth_mm", sys.argv[2]), ("stone.girdle_mm", "0.2x")):
        field(name).selectAll()
        QTest.keyClicks(field(name), text)
    window.run.open_station(0)
    field("docket.item").selectAll()
    QTest.keyClicks(field("docket.item"), "typed " + sys.argv[2])
    kill_once_stored()

def kill_once_stored():
    if window.dockets.keeper.waiting:
        QTimer.singleShot(20, kill_once_stored)
    else:
        os.kill(os.getpid(), signal.SIGKILL)

QTimer.singleShot(0, type_all)
application.exec()
"""


@pytest.mark.parametrize("depth", ["4.33", "4.07"])
def test_kill_while_typing(depth: str, demo_path: Path, open_hand: Callable[[Path], Hand]) -> None:
    done = subprocess.run(
        [sys.executable, "-c", TYPIST, str(demo_path), depth],
        capture_output=True,
        text=True,
        timeout=GIVE_UP_S,
        check=False,
    )
    assert done.returncode == -signal.SIGKILL, done.stderr
    held = peek(demo_path, None)
    assert held is not None
    assert held.job_document["stone"]["depth_mm"] == float(depth)
    assert held.item == f"typed {depth}"
    assert held.drafts == {"stone.girdle_mm": "0.2x"}
    hand = open_hand(demo_path)
    assert hand.value("stone.depth") == float(depth)
    hand.open_station("Stone")
    assert hand.window.run.stations[1].numbers["stone.girdle_mm"].edit.text() == "0.2x"


ENTERING = """
import sys
from pathlib import Path
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication
from yarvel.app import open_window

application = QApplication([])
window = open_window(application, Path(sys.argv[1]))
window.show()
window.dockets.begin()
thousandths = 100

def enter():
    global thousandths
    if window.dockets.ready:
        thousandths += 1
        window.session.set_value("stone.depth_mm", 3 + thousandths / 1000, "Depth")
        if thousandths % 3 == 0:
            window.session.end_burst()
        print(thousandths, flush=True)

timer = QTimer()
timer.timeout.connect(enter)
timer.start(7)
application.exec()
"""


@pytest.mark.parametrize("count", [9, 23, 40])
def test_kill_in_the_middle_of_writing(count: int, demo_path: Path, open_hand: Callable[[Path], Hand]) -> None:
    """Whatever was entered before the kill is there afterwards, wherever the store was with it."""
    last = 0
    with subprocess.Popen(
        [sys.executable, "-c", ENTERING, str(demo_path)], stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True
    ) as process:
        assert process.stdout is not None and process.stderr is not None
        for _ in range(count):
            line = process.stdout.readline()
            assert line, process.stderr.read()
        process.kill()
        last = int(line)
        for line in process.stdout:
            last = int(line)
    hand = open_hand(demo_path)
    expected = (3 + last / 1000, 3 + (last + 1) / 1000)  # the one after it may be on disk and not said yet
    hand.bot.waitUntil(lambda: any(hand.value("stone.depth") == pytest.approx(depth) for depth in expected))
    hand.bot.waitUntil(lambda: not hand.window.dockets.keeper.waiting)
    held = peek(demo_path, None)
    assert held is not None
    assert held.job_document["stone"]["depth_mm"] == pytest.approx(hand.value("stone.depth"))
