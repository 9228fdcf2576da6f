"""What goes onto paper and into files, and what comes in from files."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QSettings, Signal
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QWidget

from yarvel.clock import today
from yarvel.desk.session.session import Session
from yarvel.desk.storing.docket_store import DocketStore
from yarvel.figures.errors import JobError
from yarvel.planning.job import to_document
from yarvel.planning.plan import Plan
from yarvel.workshop.dockets.records import file_stem

if TYPE_CHECKING:
    from yarvel.drawing.tiling import Printer


class PaperActs(QObject):
    """Answers the actions that print, write and read files; what came of them is told in a line."""

    told = Signal(str)

    def __init__(self, window: QWidget, session: Session, dockets: DocketStore, settings: QSettings) -> None:
        super().__init__(window)
        self._window, self._session, self._dockets = window, session, dockets
        self._settings = settings

    def printer(self) -> Printer:
        """How true this machine's printer is, as measured on its bars."""
        from yarvel.drawing.tiling import Printer

        return Printer(
            float(str(self._settings.value("bar_across", 50.0))), float(str(self._settings.value("bar_down", 50.0)))
        )

    def save_store_elsewhere(self) -> None:
        """Ask for a new name, and go on with the store there; for one whose file is gone, or to move it by hand."""
        from PySide6.QtWidgets import QFileDialog

        store = self._dockets.gateway.store
        if store is None or store.path is None:
            self.told.emit("A team's database is copied by yarvel backup; see the README.")
            return
        name, _ = QFileDialog.getSaveFileName(
            self._window, "Save the store elsewhere", str(store.path.with_name("saved.sqlite")), "Store (*.sqlite)"
        )
        if name:
            self._dockets.save_elsewhere(Path(name))

    def copy_job(self) -> None:
        """Copy the job as the text of a job file."""
        from yarvel.exchange.job_file import job_text

        plan = self._session.plan
        job = None if plan is None else plan.job
        if job is not None:
            QGuiApplication.clipboard().setText(job_text(job))
            self.told.emit("The job is on the clipboard.")

    def print_sheet(self) -> None:
        """Preview and print the bench card."""
        self._print_card("A4")

    def print_small(self) -> None:
        """Preview and print the bench card on paper of half the size."""
        self._print_card("A5")

    def _print_card(self, paper: str) -> None:
        from yarvel.desk.papers.papers import bench_pages, preview_and_print
        from yarvel.drawing.paper import PAPERS

        if self._session.plan is None:
            self.told.emit("There is no bench card yet: the stone has no reading.")
            return
        pages = bench_pages(self._session.plan, self._session.docket, today(), PAPERS[paper])
        preview_and_print(self._window, pages, "Bench card", self._name("bench-card"))

    def print_all(self) -> None:
        """Preview and print every sheet that there is: the working, the whole ring and the templates too."""
        from yarvel.desk.papers.papers import all_pages, preview_and_print

        if self._session.plan is None:
            self.told.emit("There are no sheets yet: the stone has no reading.")
            return
        pages = all_pages(self._session.plan, self._session.docket, today(), self.printer())
        preview_and_print(self._window, pages, "All sheets", f"{self._name('bench-card')} sheets")

    def write_pdf(self) -> None:
        """Write the bench card as PDF."""
        from yarvel.desk.papers.papers import ask_and_write_pdf, bench_pages

        docket = self._session.docket
        self._write(
            "bench card",
            lambda plan: ask_and_write_pdf(
                self._window, bench_pages(plan, docket, today()), "Bench card", self._name("bench-card")
            ),
        )

    def templates(self) -> None:
        """Show the templates at 1:1; print or write them from there."""
        from yarvel.desk.papers import papers
        from yarvel.desk.papers.templates import DRAWING, PDF, TemplatesDialog
        from yarvel.drawing.templates import templates

        plan, docket = self._session.plan, self._session.docket
        if plan is None or not templates(plan):
            self.told.emit("There are no templates yet: they come with claws, a collet or a shank.")
            return
        dialog = TemplatesDialog(plan, self.printer(), self._window)
        taken = dialog.exec()
        self._settings.setValue("bar_across", dialog.printer.across_mm)
        self._settings.setValue("bar_down", dialog.printer.down_mm)
        if not taken:
            return
        name = self._name("templates")
        pages = papers.template_sheets(plan, docket, dialog.printer)
        if dialog.wanted == PDF:
            self._write("templates", lambda _plan: papers.ask_and_write_pdf(self._window, pages, "Templates", name))
        elif dialog.wanted == DRAWING:
            self._write("templates", lambda plan: papers.ask_and_write_drawing(self._window, plan, name, "templates"))
        else:
            papers.preview_and_print(self._window, pages, "Templates, 1 : 1", f"{name} templates")

    def export(self) -> None:
        """Write the job file."""
        from yarvel.desk.papers.papers import ask_and_export

        self._write("job file", lambda plan: ask_and_export(self._window, plan.job, self._name("job")))

    def write_solid(self) -> None:
        """Write the bodies."""
        from yarvel.desk.papers.papers import ask_and_write_solid

        self._write("bodies", lambda plan: ask_and_write_solid(self._window, plan, self._name("bodies")))

    def write_drawing(self) -> None:
        """Write the drawing alone."""
        from yarvel.desk.papers.papers import ask_and_write_drawing

        self._write("drawing", lambda plan: ask_and_write_drawing(self._window, plan, self._name("drawing")))

    def _name(self, otherwise: str) -> str:
        docket = self._session.docket
        return file_stem(docket.number) if docket is not None else otherwise

    def _write(self, what: str, write: Callable[[Plan], Path | None]) -> None:
        """Write something made from the plan, and tell what came of it."""
        if self._session.plan is None:
            self.told.emit(f"There is no {what} yet: the stone has no reading.")
            return
        try:
            written = write(self._session.plan)
        except OSError as error:
            self.told.emit(f"The {what} could not be written: {error.strerror or error}. Choose another folder.")
            return
        if written is not None:
            self.told.emit(f"{what.capitalize()} written to {written}")

    def bring_in(self) -> None:
        """Ask for a job file and take it in."""
        from yarvel.desk.papers.papers import ask_for_job_file

        path = ask_for_job_file(self._window)
        if path is not None:
            self.take_in_file(path)

    def take_in_file(self, path: Path) -> None:
        """Take a job file in: into this docket where it has no stone yet, else as a docket of its own."""
        from yarvel.desk.papers.papers import job_from

        try:
            job = job_from(path, self._session.rules)
        except JobError as error:
            self.told.emit(f"{path.name} was not taken in. {error.problems[0]}")
            return
        if self._session.docket is not None and self._session.plan is None:
            self._session.replace_job(to_document(job), f"Bring in {path.name}")
        else:
            self._dockets.take_in(path.stem, to_document(job))
