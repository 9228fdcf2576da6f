"""A window that says when it is usable: an empty one, or the bench window on a store."""

from __future__ import annotations

import gc
import json
import sys
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from PySide6.QtWidgets import QApplication

    from yarvel.desk.bench.window import BenchWindow


def say_usable() -> None:
    """The window is painted and the event loop answers."""
    print("usable", flush=True)


def empty() -> None:
    """The least that PySide6 can show."""
    from PySide6.QtCore import QTimer
    from PySide6.QtWidgets import QApplication, QMainWindow

    application = QApplication([])
    window = QMainWindow()
    window.resize(1280, 800)
    window.show()
    QTimer.singleShot(0, say_usable)
    QTimer.singleShot(50, application.quit)
    application.exec()


def bench_window(store: Path) -> None:
    """The bench window with the docket that was in hand last; memory once the store is open."""
    gc.disable()  # as the command line does until the window is up
    from PySide6.QtCore import QTimer
    from PySide6.QtWidgets import QApplication

    from yarvel.app import collect_again, open_window, prepare_store

    prepare_store(store, demo="small")
    application = QApplication([])
    window = open_window(application, store)
    window.show()
    QTimer.singleShot(0, say_usable)
    QTimer.singleShot(20, collect_again)
    QTimer.singleShot(30, window.dockets.begin)

    def look() -> None:
        if window.dockets.ready:
            pages = int(Path("/proc/self/statm").read_text().split()[1])
            print(pages * 4096 / 1e6, flush=True)
            window.close()
            application.quit()

    timer = QTimer()
    timer.timeout.connect(look)
    timer.start(100)
    application.exec()


def large_window(place: str, dockets: int) -> None:
    """A window on a large store: forty dockets opened one after another until they are painted, p95 in ms; then the
    finder used, and memory."""
    import random

    from PySide6.QtCore import QEventLoop, QTimer
    from PySide6.QtWidgets import QApplication

    from yarvel.app import collect_again, open_window
    from yarvel.workshop.storage.location import location
    from yarvel.workshop.store import Store

    application = QApplication([])
    window = open_window(application, location(place))
    window.resize(1280, 800)
    window.show()
    collect_again()  # as the application does once the window is up
    window.dockets.opened.connect(lambda: window.people.begin("bench"))  # a server's window is locked until it answers
    window.dockets.begin()
    window.bodies.begin()

    def until(done: object) -> None:
        loop, timer = QEventLoop(), QTimer()
        timer.timeout.connect(lambda: loop.quit() if done() else None)  # type: ignore[operator]
        timer.start(1)
        loop.exec()

    until(lambda: window.dockets.ready and not window.dockets.gateway.locked)
    chance, times = random.Random(5), []
    for _ in range(40):
        wanted = chance.randrange(1, dockets + 1)
        start = time.perf_counter()
        window.dockets.open(wanted)
        until(lambda wanted=wanted: window.session.docket is not None and window.session.docket.id == wanted)
        application.processEvents()
        times.append(1000 * (time.perf_counter() - start))
    answers: list[int] = []
    asked = [
        word[:length] for word in ("rowan yard", "tanzanite pear", "22-0417") for length in range(1, len(word) + 1)
    ]
    for words in asked:
        window.dockets.gateway.look(partial(Store.dockets, words=words), lambda found: answers.append(len(found)))
    until(lambda: len(answers) == len(asked))
    found: dict[str, tuple[float, str, str]] = {
        "a docket opened and painted, p95": (sorted(times)[int(len(times) * 0.95)], "ms", "goal ≤ 100 ms")
    }
    for name, act in _windows(window, dockets).items():
        shown, stood = _watched(application, act)
        found[f"{name}, shown after"] = shown, "ms", ""
        found[f"{name}, keys waited at most"] = stood, "ms", "goal ≤ 100 ms"
    pages = int(Path("/proc/self/statm").read_text().split()[1])
    found["memory of the window"] = pages * 4096 / 1e6, "MB", "goal ≤ 300 MB"
    print(json.dumps(found), flush=True)
    window.close()


def _windows(window: BenchWindow, dockets: int) -> dict[str, tuple[Callable[[], None], Callable[[], bool]]]:
    """What is opened or done, and when it is there to be seen."""
    desk = window.board

    def weigh() -> None:
        assert desk.fine is not None
        desk.fine.ready = False
        desk.fine.kind.setCurrentIndex(desk.fine.kind.findData("bought"))
        desk.fine.docket.clear()
        desk.fine.mass.setText("12.5")
        desk.fine.add.click()

    def scroll() -> None:
        assert desk.fine is not None
        bar = desk.fine.lines.verticalScrollBar()
        bar.setValue(bar.maximum())

    def everything() -> None:
        assert desk.reports is not None
        desk.reports.period.setCurrentIndex(desk.reports.period.findData(None))
        desk.reports.reload()

    def counted() -> int:
        assert desk.reports is not None
        return sum(int(line.texts[1]) for line in desk.reports.pages["worth"].answer.lines)

    return {
        "the board opened": (desk.open, lambda: desk.window is not None and desk.window.rows.rowCount() > 0),
        "the fine book opened": (desk.open_fine_book, lambda: desk.fine is not None and desk.fine.ready),
        "the fine book scrolled on": (scroll, lambda: desk.fine is not None and desk.fine.lines.rowCount() > 100),
        "metal weighed": (weigh, lambda: desk.fine is not None and desk.fine.ready),
        "the reports opened": (
            desk.open_reports,
            lambda: desk.reports is not None and desk.reports.pages["late"].table.rowCount() > 0,
        ),
        "the reports of everything": (everything, lambda: counted() > dockets * 0.9),
    }


def _watched(application: QApplication, what: tuple[Callable[[], None], Callable[[], bool]]) -> tuple[float, float]:
    """Milliseconds until it is there, and the longest that the window did not answer meanwhile."""
    from PySide6.QtCore import QEventLoop, QTimer

    act, done = what
    loop, timer = QEventLoop(), QTimer()
    start = last = time.perf_counter()
    longest = 0.0

    def tick() -> None:
        nonlocal last, longest
        now = time.perf_counter()
        longest, last = max(longest, now - last), now
        if done():
            loop.quit()

    timer.timeout.connect(tick)
    timer.start(1)
    QTimer.singleShot(0, act)
    loop.exec()
    application.processEvents()
    longest = max(longest, time.perf_counter() - last)
    return 1000 * (time.perf_counter() - start), 1000 * longest


if __name__ == "__main__":
    if sys.argv[1] == "empty":
        empty()
    elif sys.argv[1] == "large":
        large_window(sys.argv[2], int(sys.argv[3]))
    elif len(sys.argv) > 2:
        from yarvel.app import prepare_store

        prepare_store(Path(sys.argv[1]), demo="small")
    else:
        bench_window(Path(sys.argv[1]))
