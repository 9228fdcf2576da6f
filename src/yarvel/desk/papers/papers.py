"""Paper and files: printing, the bench sheet as PDF, job files in and out."""

from __future__ import annotations

from datetime import date
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QWidget

from yarvel.drawing.bench_card import bench_card
from yarvel.drawing.bench_sheet import Heading, bench_sheet
from yarvel.drawing.painters.pdf import write_pdf
from yarvel.drawing.paper import A4
from yarvel.drawing.primitives import Drawing
from yarvel.drawing.templates import template_pages
from yarvel.drawing.tiling import Printer
from yarvel.exchange.job_file import job_text, read_job
from yarvel.figures.rules import HouseRules
from yarvel.planning.job import Job
from yarvel.planning.plan import Plan
from yarvel.workshop.dockets.records import Docket
from yarvel.workshop.work.docket_work import work_of


def heading(docket: Docket | None, today: date) -> Heading:
    """What the pages carry at their top."""
    if docket is None:
        return Heading(printed=today.isoformat())
    promised = docket.promised_on.isoformat() if docket.promised_on else ""
    return Heading(docket.number, docket.customer, docket.item, promised, today.isoformat())


def bench_pages(plan: Plan, docket: Docket | None, today: date, paper: tuple[float, float] = A4) -> list[Drawing]:
    """The bench card's pages on a paper of ``PAPERS``; of a repair with its way chosen, that repair's."""
    return bench_card(_told(plan, docket), heading(docket, today), paper)


def all_pages(plan: Plan, docket: Docket | None, today: date, printer: Printer) -> list[Drawing]:
    """Every sheet that there is: drawing, whole ring, templates, figures, the work."""
    return bench_sheet(_told(plan, docket), heading(docket, today), printer)


def _told(plan: Plan, docket: Docket | None) -> Plan:
    return plan if docket is None else work_of(plan, docket, plan.rules).plan


def template_sheets(plan: Plan, docket: Docket | None, printer: Printer) -> list[Drawing]:
    """The templates' pages."""
    words = "" if docket is None else f"  ·  {docket.number}  ·  {docket.item}"
    return template_pages(plan, printer, f"Templates, 1 : 1{words}")


def ask_and_write_pdf(parent: QWidget, pages: list[Drawing], what: str, number: str) -> Path | None:
    """Ask where to, and write pages there; None where the user thought better of it.

    Raises
    ------
    OSError : the file cannot be written.
    """
    suggested = f"{number}.pdf" if what == "Bench card" else f"{number} {what.lower()}.pdf"
    name, _ = QFileDialog.getSaveFileName(parent, f"{what} as PDF", suggested, "PDF (*.pdf)")
    if not name:
        return None
    target = Path(name)
    write_pdf(pages, target, f"{what} {number}")
    return target


def preview_and_print(parent: QWidget, pages: list[Drawing], title: str, name: str = "") -> None:
    """Show the pages as they will print, and print from there; ``name`` is what a PDF of them is called."""
    from yarvel.desk.papers.preview import Preview

    Preview(pages, title, name or title, parent).exec()


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


def ask_and_write_solid(parent: QWidget, plan: Plan, name: str) -> Path | None:
    """Ask where and write the bodies; None where nothing was chosen (OSError where it cannot be written)."""
    from yarvel.exchange.solid_file import write_solid

    chosen, _ = QFileDialog.getSaveFileName(parent, "Bodies, in mm", f"{name}.3mf", "3MF (*.3mf);;STL (*.stl)")
    if not chosen:
        return None
    target = Path(chosen)
    target = target if target.suffix.lower() in (".3mf", ".stl") else target.with_name(target.name + ".3mf")
    write_solid(plan, target)
    return target


def ask_and_write_drawing(parent: QWidget, plan: Plan, name: str, what: str = "drawing") -> Path | None:
    """Ask where and write the drawing, or the templates; None where nothing was chosen (OSError where it cannot be
    written)."""
    from yarvel.exchange.drawing_file import KINDS, write_drawing, write_templates

    chosen, _ = QFileDialog.getSaveFileName(
        parent, f"{what.capitalize()}, in mm", f"{name}.svg", "SVG (*.svg);;DXF (*.dxf)"
    )
    if not chosen:
        return None
    target = Path(chosen)
    target = target if target.suffix.lower() in KINDS else target.with_name(target.name + ".svg")
    (write_drawing if what == "drawing" else write_templates)(plan, target)
    return target
