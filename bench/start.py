"""A window that says when it is usable: an empty one, or the bench window on a store."""

from __future__ import annotations

import gc
import sys
from pathlib import Path


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

    prepare_store(store, demo=True)
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


if __name__ == "__main__":
    if sys.argv[1] == "empty":
        empty()
    elif len(sys.argv) > 2:
        from yarvel.app import prepare_store

        prepare_store(Path(sys.argv[1]), demo=True)
    else:
        bench_window(Path(sys.argv[1]))
