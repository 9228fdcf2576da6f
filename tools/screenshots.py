"""`make screenshots`: one current picture of each main view, from the demo data, into docs/screenshots/."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Callable
from pathlib import Path

from yarvel.clock import today
from yarvel.figures.figure import Figure, FigureKey

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PySide6.QtCore import QEventLoop, Qt, QTimer
from PySide6.QtGui import QColor, QImage, QPainter
from PySide6.QtWidgets import QApplication, QDialog, QLineEdit, QWidget

from yarvel.app import open_window, prepare_store
from yarvel.demo.scenario import OPENED_FIRST
from yarvel.desk.bench.window import BenchWindow
from yarvel.desk.papers.papers import heading
from yarvel.desk.papers.templates import TemplatesDialog
from yarvel.desk.stations.work_station import WorkStation
from yarvel.desk.widgets.plain_table import choose_row
from yarvel.drawing.bench_card import bench_card
from yarvel.drawing.painters.qt import paint
from yarvel.drawing.styles import PRINT
from yarvel.drawing.tiling import Printer

TARGET = Path(__file__).parents[1] / "docs" / "screenshots"
WIDE, HIGH = 1280, 800
SHEET_PX = 1240


def wait(milliseconds: int) -> None:
    """Let the window work for a while."""
    loop = QEventLoop()
    QTimer.singleShot(milliseconds, loop.quit)
    loop.exec()


def take(widget: QWidget, name: str) -> None:
    """Write one picture, once the bodies have told what they tell and everything is laid out."""
    wait(400)
    while isinstance(widget, BenchWindow) and not widget.bodies.at_rest:
        wait(100)
    for _ in range(3):
        QApplication.sendPostedEvents()
        QApplication.processEvents()
    widget.grab().save(str(TARGET / f"{name}.png"))


def open_docket(window: BenchWindow, docket_id: int, station: int, figure: str) -> None:
    """Take a docket in hand, with a station open and a figure's working shown."""
    window.dockets.open(docket_id)
    wait(300)
    window.run.open_station(station)
    window.session.figure_chosen.emit(figure)


def at_operation(window: BenchWindow, key: str) -> None:
    """The station Work with an operation in hand."""
    station = next(station for station in window.run.stations if isinstance(station, WorkStation))
    wait(300)
    rows = station.list
    held = [rows.item(row).data(Qt.ItemDataRole.UserRole) for row in range(rows.count())]
    rows.setCurrentRow(held.index(key))


def take_dialog(window: BenchWindow, dialog: QDialog, name: str) -> None:
    """Write one picture of a dialog over the window."""
    dialog.show()
    wait(300)
    picture = window.grab()
    painter = QPainter(picture)
    painter.fillRect(picture.rect(), QColor(0, 0, 0, 70))
    painter.drawPixmap((WIDE - dialog.width()) // 2, (HIGH - dialog.height()) // 2, dialog.grab())
    painter.end()
    picture.save(str(TARGET / f"{name}.png"))
    dialog.close()


def take_asking(window: BenchWindow, opened: Callable[[], None], name: str, words: str = "") -> None:
    """Write one picture of a dialog that holds the window until it is closed, with words typed into it."""

    def look() -> None:
        dialog = QApplication.activeModalWidget()
        if not isinstance(dialog, QDialog):
            QTimer.singleShot(100, look)
            return
        if words:
            dialog.findChildren(QLineEdit)[0].setText(words)
            wait(1500)
        take_dialog(window, dialog, name)
        taken.quit()

    taken = QEventLoop()
    QTimer.singleShot(100, look)
    QTimer.singleShot(0, opened)
    taken.exec()


def workshop_windows(window: BenchWindow) -> None:
    """The board, the fine book, the reports and a claw chart, with something in each."""
    open_docket(window, 2, 0, "seat.notch_ratio")
    window.intake.open_repair()
    while window.intake.repair is None:
        wait(100)
    repair = window.intake.repair
    for claw, finding, measure, found_mm in (
        (0, "worn-tip", "tip", "0.33"),
        (1, "thin-side", "behind", "0.38"),
        (2, "bent", "", ""),
    ):
        repair.chart.claw = claw
        repair.chart.chosen.emit(claw)
        repair.findings.changed.emit((finding,))
        if measure:
            repair.edits[measure].textEdited.emit(found_mm)
    repair.resize(WIDE, HIGH)
    take(repair, "repair")
    repair.ways["new-head-bought"].click()
    repair.close()
    open_docket(window, 5, 4, "shank.mass")
    window.board.open()
    wait(600)
    board = window.board.window
    if board is None:
        raise SystemExit("the board did not open")
    board.loads.setCurrentRow(3)
    wait(500)
    choose_row(board.rows, 0)
    board.buttons["start"].click()
    board.close()
    window.customers.show("Brass Heron Jewellers")
    customers = window.customers.window
    if customers is None:
        raise SystemExit("the customers did not open")
    wait(400)
    customers.resize(WIDE, HIGH)
    take(customers, "customers")
    customers.close()


def large_workshop(application: QApplication, folder: Path) -> None:
    """The larger workshop: its plan of the day, a late docket chosen; its reports, and its metal by eye."""
    store = folder / "large.sqlite"
    prepare_store(store, demo="large")
    window = open_window(application, store)
    window.show()
    window.dockets.begin()
    while not window.dockets.ready:
        wait(100)
    window.board.open()
    board = window.board.window
    if board is None:
        raise SystemExit("the board did not open")
    board.resize(WIDE, HIGH)
    while (plan := board.day.chart.plan) is None or board.day.planner.busy or any(b.job.guessed for b in plan.bars):
        wait(200)
    late = {one.docket.id for one in plan.late}
    board.day.chart.choose([min(plan.bars, key=lambda b: (b.job.task is None, b.job.docket.id not in late)).job.key])
    while board.step.lines.count() == 0:
        wait(100)
    wait(600)
    take(board, "board")
    board.tabs.setCurrentWidget(board.today)
    take(board, "today")
    board.close()
    window.board.open_reports()
    window.board.open_fine_book()
    wait(3000)
    fine, reports = window.board.fine, window.board.reports
    if fine is None or reports is None:
        raise SystemExit("a window of the workshop did not open")
    fine.tabs.setCurrentIndex(1)
    reports.tabs.setCurrentWidget(reports.pages["back"])
    while len(reports.pages["back"].answer.bars) < 2:
        wait(100)
    reports.pages["back"].bars.pressed.emit(1)
    wait(600)
    reports.pages["back"].bars.canvas.setFocus(Qt.FocusReason.TabFocusReason)
    for made, name in ((fine, "fine-book"), (reports, "reports")):
        made.resize(WIDE, HIGH)
        take(made, name)
        made.close()
    window.close()


def bench_card_pages(window: BenchWindow) -> None:
    """Both sides of the printed bench card."""
    plan = window.session.plan
    if plan is None:
        raise SystemExit("the docket in hand has no plan")
    pages = bench_card(plan, heading(window.session.docket, today()))
    for name, page in (("bench-card", pages[0]), ("bench-card-back", pages[1])):
        scale = SHEET_PX / page.width
        picture = QImage(SHEET_PX, round(page.height * scale), QImage.Format.Format_RGB32)
        picture.fill(QColor("white"))
        painter = QPainter(picture)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paint(painter, page, PRINT, scale)
        painter.end()
        picture.save(str(TARGET / f"{name}.png"))


def others(window: BenchWindow) -> None:
    """Stones that are not round, bodies turned by hand, and the drawer."""
    open_docket(window, 6, 2, "head.left_behind_relief")
    take(window, "bench-v-claws")
    window.bodies.begin()
    window.turning.toggle()
    open_docket(window, 9, 1, "head.open_stretch")
    while window.turning.view.triangle_count == 0 or FigureKey("head.mass") not in shown_figures(window):
        wait(200)
    take(window, "bench-turned")
    window.turning.toggle()
    open_docket(window, OPENED_FIRST, 1, "head.inner_opening")
    window.drawer.open()
    drawer = window.drawer.window
    if drawer is None:
        raise SystemExit("the drawer did not open")
    wait(400)
    drawer.ranked.setChecked(True)
    drawer.resize(WIDE, HIGH)
    take(drawer, "drawer")
    window.drawer.close()


def whole_rings(window: BenchWindow) -> None:
    """A whole ring, the work at an operation, templates."""
    open_docket(window, 4, 4, "shank.spread")
    window.switch_sheet()
    take(window, "bench-whole-ring")
    window.switch_sheet()
    open_docket(window, 7, 5, "")
    at_operation(window, "seat-stone-stone")
    take(window, "bench-work")
    open_docket(window, 1, 4, "collet.pattern_angle_deg")
    plan = window.session.plan
    if plan is None:
        raise SystemExit("the docket in hand has no plan")
    take_dialog(window, TemplatesDialog(plan, Printer(), window), "templates")


def shown_figures(window: BenchWindow) -> dict[FigureKey, Figure]:
    """Figures of the plan in hand."""
    return dict(window.session.plan.figures) if window.session.plan is not None else {}


def main() -> None:
    """Open the demo in a folder of its own and take all pictures."""
    TARGET.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        store = Path(folder) / "demo.sqlite"
        prepare_store(store, demo="small")
        application = QApplication([])
        window = open_window(application, store)
        window.resize(WIDE, HIGH)
        window.show()
        window.dockets.begin()
        while not window.dockets.ready:
            wait(100)
        open_docket(window, OPENED_FIRST, 1, "head.inner_opening")
        take(window, "bench-four-claws")
        open_docket(window, 5, 4, "shank.gap_outside")
        window.session.call_chosen.emit("foot-cut-by-finger")
        take(window, "bench-inset")
        bench_card_pages(window)
        window.session.call_chosen.emit("")
        open_docket(window, 4, 7, "seat.plane_above_finger")
        take(window, "bench-tube-checks")
        others(window)
        whole_rings(window)
        workshop_windows(window)
        open_docket(window, 2, 0, "seat.notch_ratio")
        take_asking(window, window.intake.show_history, "history")
        take_asking(window, window.finding.open, "find", "ring")
        window.close()
        large_workshop(application, Path(folder))


if __name__ == "__main__":
    main()
