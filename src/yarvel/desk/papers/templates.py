"""Templates at 1:1: what there is, how true the printer is, and where they go."""

from __future__ import annotations

from PySide6.QtCore import QSize
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from yarvel.desk.widgets.fields import mark_wrong
from yarvel.desk.widgets.manners import open_at
from yarvel.desk.widgets.words import LineField, Words
from yarvel.drawing.painters.qt import paint
from yarvel.drawing.primitives import Drawing
from yarvel.drawing.styles import PRINT
from yarvel.drawing.templates import template_pages, templates
from yarvel.drawing.tiling import LEAST_BAR_MM, MOST_BAR_MM, Printer
from yarvel.planning.plan import Plan

PRINT_THEM, PDF, DRAWING = "print", "pdf", "drawing"
_BARS = (("across_mm", "Bar across measures"), ("down_mm", "Bar down measures"))


class PageView(QWidget):
    """One page, as it will print."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._page: Drawing | None = None
        self.setAccessibleName("The page as it prints")

    def sizeHint(self) -> QSize:
        """An A4 page, readable."""
        return QSize(400, 566)

    def show_page(self, page: Drawing | None) -> None:
        """Show a page."""
        self._page = page
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        """White paper and what is on it."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self._page is not None:
            scale = min(self.width() / self._page.width, self.height() / self._page.height)
            painter.fillRect(
                0, 0, round(self._page.width * scale), round(self._page.height * scale), QColor(PRINT["paper"])
            )
            paint(painter, self._page, PRINT, scale)
        painter.end()


class TemplatesDialog(QDialog):
    """Returns what is wanted in ``wanted`` (print, pdf or drawing) and the printer's measures in ``printer``."""

    def __init__(self, plan: Plan, printer: Printer, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Templates, 1 : 1")
        self.wanted = ""
        self.printer = printer
        self._plan = plan
        self._pages: list[Drawing] = []
        self._number = 0
        self.bars: dict[str, QLineEdit] = {}
        self.buttons: dict[str, QPushButton] = {}
        self.page = PageView(self)
        self._count = Words(self)
        side = QVBoxLayout()
        listed = Words("\n".join(f"– {template.title}" for template in templates(plan)), self)
        listed.setWordWrap(True)
        side.addWidget(listed)
        side.addSpacing(12)
        words = Words(
            "Print once, lay a ruler on both bars. Where one is not 50 mm long, type what it measures: the sheet "
            "corrects itself, for this machine, until you change it.",
            self,
        )
        words.setWordWrap(True)
        words.setProperty("quiet", True)
        side.addWidget(words)
        side.addLayout(self._bar_fields())
        self._problem = Words(self)
        self._problem.setProperty("problem", True)
        self._problem.setWordWrap(True)
        side.addWidget(self._problem)
        side.addStretch(1)
        for name, text in ((PRINT_THEM, "Print…"), (PDF, "As PDF…"), (DRAWING, "As SVG or DXF…"), ("", "Close")):
            button = QPushButton(text, self)
            button.setObjectName(f"templates.{name or 'close'}")
            button.clicked.connect(lambda _checked=False, name=name: self._on_wanted(name))
            self.buttons[name] = button
            side.addWidget(button)
        whole = QHBoxLayout(self)
        shown = QVBoxLayout()
        shown.addWidget(self.page, 1)
        turn = QHBoxLayout()
        for text, step in (("Previous page", -1), ("Next page", 1)):
            button = QPushButton(text, self)
            button.clicked.connect(lambda _checked=False, step=step: self._turn(step))
            turn.addWidget(button)
        turn.addWidget(self._count)
        shown.addLayout(turn)
        whole.addLayout(shown, 3)
        whole.addLayout(side, 2)
        open_at(self, 860, 700)
        self._refresh()

    def _bar_fields(self) -> QGridLayout:
        grid = QGridLayout()
        for row, (name, label) in enumerate(_BARS):
            edit = LineField(f"{getattr(self.printer, name):g}", self)
            edit.setObjectName(f"templates.{name}")
            edit.setAccessibleName(f"{label}, mm")
            edit.textEdited.connect(self._on_edited)
            title = Words(label, self)
            title.setBuddy(edit)
            self.bars[name] = edit
            for column, widget in enumerate((title, edit, Words("mm", self))):
                grid.addWidget(widget, row, column)
        return grid

    def _on_edited(self) -> None:
        measures = {}
        self._problem.setText("")
        for name, label in _BARS:
            text = self.bars[name].text().strip().replace(",", ".")
            try:
                value = float(text)
            except ValueError:
                value = 0.0
            wrong = not LEAST_BAR_MM <= value <= MOST_BAR_MM
            mark_wrong(self.bars[name], wrong)
            if wrong:
                self._problem.setText(
                    f"{label}: {text!r} is not accepted. Accepted: {LEAST_BAR_MM:g} to {MOST_BAR_MM:g} mm"
                )
            measures[name] = value
        for name, button in self.buttons.items():
            button.setEnabled(not name or not self._problem.text())
        if not self._problem.text():
            self.printer = Printer(**measures)
            self._refresh()

    def _refresh(self) -> None:
        self._pages = template_pages(self._plan, self.printer, "Templates, 1 : 1")
        self._turn(0)

    def _turn(self, step: int) -> None:
        self._number = min(max(self._number + step, 0), len(self._pages) - 1)
        self.page.show_page(self._pages[self._number])
        self._count.setText(f"page {self._number + 1} of {len(self._pages)}")

    def _on_wanted(self, name: str) -> None:
        self.wanted = name
        self.accept() if name else self.reject()
