"""Pages as they will print, under a bar of our own: print, page setup, PDF, pages, how near."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QMarginsF, QSizeF, Qt
from PySide6.QtGui import QKeyEvent, QKeySequence, QPageLayout, QPageSize, QPainter, QShortcut
from PySide6.QtPrintSupport import QPageSetupDialog, QPrintDialog, QPrinter, QPrintPreviewWidget
from PySide6.QtWidgets import QDialog, QFileDialog, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from yarvel.desk.widgets.manners import close_on_keys, open_at
from yarvel.desk.widgets.words import Words
from yarvel.drawing.painters.pdf import write_pdf
from yarvel.drawing.painters.qt import paint
from yarvel.drawing.primitives import Drawing
from yarvel.drawing.styles import PRINT


class Preview(QDialog):
    """Shows pages and prints them; ``name`` is what their PDF is called unless somebody says otherwise."""

    def __init__(self, pages: list[Drawing], title: str, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._pages, self._title, self._name = pages, title, name
        self.printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        size = QPageSize(QSizeF(pages[0].width, pages[0].height), QPageSize.Unit.Millimeter)
        self.printer.setPageLayout(QPageLayout(size, QPageLayout.Orientation.Portrait, QMarginsF(0, 0, 0, 0)))
        self.printer.setFullPage(True)
        self.setWindowTitle(title)
        self.view = QPrintPreviewWidget(self.printer, self)
        self.view.paintRequested.connect(lambda printer: print_pages(printer, pages))
        self.told = Words(self)
        self.told.setProperty("quiet", True)
        bar = QHBoxLayout()
        self.print = self._button("Print…", self._on_print, bar)
        self._button("Page setup…", self._on_setup, bar)
        self._button("As PDF…", self._on_pdf, bar)
        bar.addWidget(self.told, 1)
        self.back = self._button("Back", lambda: self._turn(-1), bar, "Page before")
        self.number = Words(self)
        bar.addWidget(self.number)
        self.on = self._button("On", lambda: self._turn(1), bar, "Next page")
        self._button("Whole page", self.view.fitInView, bar)
        self._button("Width", self.view.fitToWidth, bar)
        column = QVBoxLayout(self)
        column.addLayout(bar)
        column.addWidget(self.view, 1)
        self.view.previewChanged.connect(self._on_shown)
        QShortcut(QKeySequence("Ctrl+P"), self, self._on_print)
        self.view.setFocus()
        close_on_keys(self)
        open_at(self, 900, 760)
        self._on_shown()

    def _button(self, text: str, act: Callable[[], None], bar: QHBoxLayout, name: str = "") -> QPushButton:
        button = QPushButton(text, self)
        button.setAccessibleName(name or text)
        button.setObjectName(f"preview.{(name or text).rstrip('…').lower()}")
        button.setAutoDefault(False)
        button.clicked.connect(lambda _checked=False: act())
        bar.addWidget(button)
        return button

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter prints, wherever the focus is but on a button."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._on_print()
        else:
            super().keyPressEvent(event)

    def _turn(self, by: int) -> None:
        self.view.setCurrentPage(max(1, min(self.view.currentPage() + by, len(self._pages))))
        self._on_shown()

    def _on_shown(self) -> None:
        page = min(max(self.view.currentPage(), 1), len(self._pages))
        self.number.setText(f"{page} of {len(self._pages)}")
        self.back.setEnabled(page > 1)
        self.on.setEnabled(page < len(self._pages))

    def _on_print(self) -> None:
        """Ask which printer, and print."""
        asked = QPrintDialog(self.printer, self)
        if asked.exec():
            self.view.print_()
            self.accept()

    def _on_setup(self) -> None:
        if QPageSetupDialog(self.printer, self).exec():
            self.view.updatePreview()

    def _on_pdf(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self, "As PDF", f"{self._name}.pdf", "PDF (*.pdf)")
        if not name:
            return
        try:
            write_pdf(self._pages, Path(name), self._title)
        except OSError as error:
            self.told.setText(f"It could not be written: {error.strerror or error}. Choose another folder.")
            return
        self.told.setText(f"Written to {name}")


def print_pages(printer: QPrinter, pages: list[Drawing]) -> None:
    """Paint pages at their true size."""
    painter = QPainter(printer)
    for number, page in enumerate(pages):
        if number:
            printer.newPage()
        paint(painter, page, PRINT, printer.resolution() / 25.4)
    painter.end()
