"""Paper and files: printing, the bench sheet as PDF, job files in and out."""

from __future__ import annotations

from datetime import date
from pathlib import Path

from PySide6.QtCore import QMarginsF, QSizeF
from PySide6.QtGui import QPageLayout, QPageSize, QPainter
from PySide6.QtPrintSupport import QPrinter, QPrintPreviewDialog
from PySide6.QtWidgets import QFileDialog, QWidget

from yarvel.drawing.bench_sheet import A4, Heading, bench_sheet
from yarvel.drawing.painters.pdf import write_pdf
from yarvel.drawing.painters.qt import paint
from yarvel.drawing.primitives import Drawing
from yarvel.drawing.styles import PRINT
from yarvel.exchange.job_file import job_text, read_job
from yarvel.figures.rules import HouseRules
from yarvel.planning.job import Job
from yarvel.planning.plan import Plan
from yarvel.workshop.dockets import Docket


def heading(docket: Docket | None, today: date) -> Heading:
    """What the pages carry at their top."""
    if docket is None:
        return Heading(printed=today.isoformat())
    promised = docket.promised_on.isoformat() if docket.promised_on else ""
    return Heading(docket.number, docket.customer, docket.item, promised, today.isoformat())


def ask_and_write_pdf(parent: QWidget, plan: Plan, docket: Docket | None, today: date) -> Path | None:
    """Ask where to, and write the bench sheet there; None where the user thought better of it.

    Raises
    ------
    OSError : the file cannot be written.
    """
    number = docket.number if docket is not None else "bench-sheet"
    name, _ = QFileDialog.getSaveFileName(parent, "Bench sheet as PDF", f"{number}.pdf", "PDF (*.pdf)")
    if not name:
        return None
    target = Path(name)
    write_pdf(bench_sheet(plan, heading(docket, today)), target, f"Bench sheet {number}")
    return target


def preview_and_print(parent: QWidget, plan: Plan, docket: Docket | None, today: date) -> None:
    """Show the pages as they will print, and print from there."""
    pages = bench_sheet(plan, heading(docket, today))
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    size = QPageSize(QSizeF(*A4), QPageSize.Unit.Millimeter)
    printer.setPageLayout(QPageLayout(size, QPageLayout.Orientation.Portrait, QMarginsF(0, 0, 0, 0)))
    printer.setFullPage(True)
    dialog = QPrintPreviewDialog(printer, parent)
    dialog.setWindowTitle("Bench sheet")
    dialog.resize(900, 760)
    dialog.paintRequested.connect(lambda target: _print(target, pages))
    dialog.exec()


def _print(printer: QPrinter, pages: list[Drawing]) -> None:
    painter = QPainter(printer)
    for number, page in enumerate(pages):
        if number:
            printer.newPage()
        paint(painter, page, PRINT, printer.resolution() / 25.4)
    painter.end()


def ask_and_export(parent: QWidget, job: Job, number: str) -> Path | None:
    """Ask where to, and write the job file there (OSError where that fails)."""
    name, _ = QFileDialog.getSaveFileName(parent, "Export the job file", f"{number}.json", "Job file (*.json)")
    if not name:
        return None
    target = Path(name)
    part = target.with_name(target.name + ".part")
    part.write_text(job_text(job), encoding="utf-8")
    part.replace(target)
    return target


def ask_for_job_file(parent: QWidget) -> Path | None:
    """Ask which job file to bring in."""
    name, _ = QFileDialog.getOpenFileName(parent, "Bring in a job file", "", "Job file (*.json)")
    return Path(name) if name else None


def job_from(path: Path, rules: HouseRules) -> Job:
    """The job of a file (JobError where it is none)."""
    return read_job(path, rules)
