"""`make screenshots`: one current picture of each main view, from the demo data, into docs/screenshots/."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QEventLoop, QTimer
from PySide6.QtGui import QColor, QImage, QPainter
from PySide6.QtWidgets import QApplication, QWidget

from yarvel.app import open_window, prepare_store
from yarvel.desk.bench.papers import heading
from yarvel.desk.bench.window import BenchWindow
from yarvel.desk.dialogs.finder import Finder
from yarvel.desk.dialogs.house_rules import HouseRulesDialog
from yarvel.drawing.bench_sheet import bench_sheet
from yarvel.drawing.painters.qt import paint
from yarvel.drawing.styles import PRINT

TARGET = Path(__file__).parents[1] / "docs" / "screenshots"
WIDE, HIGH = 1280, 800
SHEET_PX = 1240


def wait(milliseconds: int) -> None:
    """Let the window work for a while."""
    loop = QEventLoop()
    QTimer.singleShot(milliseconds, loop.quit)
    loop.exec()


def take(widget: QWidget, name: str) -> None:
    """Write one picture."""
    wait(150)
    widget.grab().save(str(TARGET / f"{name}.png"))


def open_docket(window: BenchWindow, docket_id: int, station: int, figure: str) -> None:
    """Take a docket in hand, with a station open and a figure's working shown."""
    window.dockets.open(docket_id)
    wait(300)
    window.run.open_station(station)
    window.session.figure_chosen.emit(figure)


def dialogs(window: BenchWindow) -> None:
    """The finder and the house rules, over the window."""
    for name, dialog in (("finder", Finder(window.dockets.find, window)),
                         ("house-rules", HouseRulesDialog(window.session.rules, window))):
        dialog.show()
        wait(300)
        picture = window.grab()
        painter = QPainter(picture)
        painter.fillRect(picture.rect(), QColor(0, 0, 0, 70))
        painter.drawPixmap((WIDE - dialog.width()) // 2, (HIGH - dialog.height()) // 2, dialog.grab())
        painter.end()
        picture.save(str(TARGET / f"{name}.png"))
        dialog.close()


def bench_sheet_pages(window: BenchWindow) -> None:
    """First and last page of the printed bench sheet."""
    plan = window.session.plan
    if plan is None:
        raise SystemExit("the docket in hand has no plan")
    pages = bench_sheet(plan, heading(window.session.docket, window._today))
    for name, page in (("bench-sheet", pages[0]), ("bench-sheet-work", pages[-1])):
        scale = SHEET_PX / page.width
        picture = QImage(SHEET_PX, round(page.height * scale), QImage.Format.Format_RGB32)
        picture.fill(QColor("white"))
        painter = QPainter(picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paint(painter, page, PRINT, scale)
        painter.end()
        picture.save(str(TARGET / f"{name}.png"))


def main() -> None:
    """Open the demo in a folder of its own and take all pictures."""
    TARGET.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        store = Path(folder) / "demo.sqlite"
        prepare_store(store, demo=True)
        application = QApplication([])
        window = open_window(application, store)
        window.resize(WIDE, HIGH)
        window.show()
        window.dockets.begin()
        while not window.dockets.ready:
            wait(100)
        open_docket(window, 6, 1, "head.inner_opening")
        take(window, "bench-four-claws")
        dialogs(window)
        open_docket(window, 5, 4, "shank.gap_outside")
        window.session.call_chosen.emit("size-changes-if-sprung")
        take(window, "bench-inset")
        bench_sheet_pages(window)
        open_docket(window, 3, 2, "head.countersink")
        window.session.call_chosen.emit("")
        window.switch_theme()
        take(window, "bench-dark")
        window.switch_theme()
        open_docket(window, 4, 7, "seat.plane_above_finger")
        take(window, "bench-tube-checks")
        window.take_in()
        wait(400)
        take(window, "bench-empty")
        window.close()


if __name__ == "__main__":
    main()
