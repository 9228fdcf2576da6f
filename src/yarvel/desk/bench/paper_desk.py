"""What goes onto paper and into files, and what comes in from files."""

from __future__ import annotations

from datetime import date
from pathlib import Path

from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QWidget

from yarvel.desk.docket_desk import DocketDesk
from yarvel.desk.session import Session
from yarvel.figures.errors import JobError
from yarvel.planning.job import to_document


class PaperDesk(QObject):
    """Answers the actions that print, write and read files; what came of them is told in a line."""

    told = Signal(str)

    def __init__(self, window: QWidget, session: Session, dockets: DocketDesk, today: date) -> None:
        super().__init__(window)
        self._window, self._session, self._dockets, self._today = window, session, dockets, today

    def copy_job(self) -> None:
        """Copy the job as the text of a job file."""
        from yarvel.exchange.job_file import job_text

        plan = self._session.plan
        job = None if plan is None else plan.job
        if job is not None:
            QGuiApplication.clipboard().setText(job_text(job))
            self.told.emit("The job is on the clipboard.")

    def print_sheet(self) -> None:
        """Preview and print the bench sheet."""
        from yarvel.desk.bench.papers import preview_and_print

        if self._session.plan is None:
            self.told.emit("There is nothing to print yet: the stone has no reading.")
            return
        preview_and_print(self._window, self._session.plan, self._session.docket, self._today)

    def write_pdf(self) -> None:
        """Write the bench sheet as PDF."""
        from yarvel.desk.bench.papers import ask_and_write_pdf

        if self._session.plan is None:
            self.told.emit("There is nothing to print yet: the stone has no reading.")
            return
        try:
            written = ask_and_write_pdf(self._window, self._session.plan, self._session.docket, self._today)
        except OSError as error:
            self.told.emit(f"The bench sheet was not written: {error.strerror or error}. Choose another folder.")
            return
        if written is not None:
            self.told.emit(f"Bench sheet written to {written}")

    def export(self) -> None:
        """Write the job file."""
        from yarvel.desk.bench.papers import ask_and_export

        plan, docket = self._session.plan, self._session.docket
        job = None if plan is None else plan.job
        if job is None:
            self.told.emit("There is no job to export yet: the stone has no reading.")
            return
        try:
            written = ask_and_export(self._window, job, docket.number if docket is not None else "job")
        except OSError as error:
            self.told.emit(f"The job file was not written: {error.strerror or error}. Choose another folder.")
            return
        if written is not None:
            self.told.emit(f"Job file written to {written}")

    def bring_in(self) -> None:
        """Ask for a job file and take it in."""
        from yarvel.desk.bench.papers import ask_for_job_file

        path = ask_for_job_file(self._window)
        if path is not None:
            self.take_in_file(path)

    def take_in_file(self, path: Path) -> None:
        """Take a job file in: into this docket where it has no stone yet, else as a docket of its own."""
        from yarvel.desk.bench.papers import job_from

        try:
            job = job_from(path, self._session.rules)
        except JobError as error:
            self.told.emit(f"{path.name} was not taken in. {error.problems[0]}")
            return
        if self._session.docket is not None and self._session.plan is None:
            self._session.replace_job(to_document(job), f"Bring in {path.name}")
        else:
            self._dockets.take_in(path.stem, to_document(job))
