"""The working: one figure with its formula, the numbers put in, its tolerance and its origin."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication, QResizeEvent
from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QScrollArea, QVBoxLayout, QWidget

from yarvel.desk.session.session import Session
from yarvel.desk.widgets.drawn import Drawn
from yarvel.desk.widgets.words import Words
from yarvel.drawing.mathematics import formula_drawing
from yarvel.drawing.symbols import symbols_drawing
from yarvel.figures.figure import Figure, FigureKey
from yarvel.figures.mathematics import symbols
from yarvel.figures.working import lines, told, trees

_PER_MM, _FORMULA_MM, _MARGINS_PX = 4.4, 4.0, 30
_EMPTY = "Press any figure on the sheet to see how it was worked out."


class WorkingPanel(QScrollArea):
    """Shows the figure chosen last, kept up to date with the plan."""

    def __init__(self, session: Session, colours: dict[str, str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.key = ""
        self.setWidgetResizable(True)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setAccessibleName("The working")
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        inside = QWidget(self)
        inside.setProperty("panel", True)
        column = QVBoxLayout(inside)
        column.setContentsMargins(12, 10, 12, 10)
        column.setSpacing(6)
        self._label = Words(inside)
        self._label.setProperty("title", True)
        self._label.setWordWrap(True)
        self._value = Words(inside)
        self._value.setProperty("figure", True)
        self._value.setObjectName("working.value")
        self.formula = Drawn(colours, _PER_MM, inside)
        self.formula.setObjectName("working.formula")
        self.symbols = Drawn(colours, _PER_MM, inside)
        self.symbols.setObjectName("working.symbols")
        self._text = Words(_EMPTY, inside)
        self._text.setObjectName("working.text")
        self._text.setWordWrap(True)
        self._text.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        self._copy = QPushButton("Copy the figure", inside)
        self._copy.clicked.connect(self.copy)
        top = QHBoxLayout()
        top.addWidget(self._label, 1)
        column.addLayout(top)
        for widget in (self._value, self.formula, self._text, self.symbols, self._copy):
            column.addWidget(widget)
        column.addStretch(1)
        self.setWidget(inside)
        session.figure_chosen.connect(self.choose)
        session.plan_changed.connect(self.refresh)
        self.refresh()

    def figure(self) -> Figure | None:
        """The figure shown, where the plan has it."""
        plan = self.session.plan
        return None if plan is None else plan.figures.get(FigureKey(self.key))

    def choose(self, key: str) -> None:
        """Show another figure."""
        self.key = key
        self.refresh()

    def copy(self) -> None:
        """Copy the value with its unit."""
        figure = self.figure()
        if figure is not None:
            QGuiApplication.clipboard().setText(figure.text())

    def set_colours(self, colours: dict[str, str]) -> None:
        """The colours of another theme."""
        self.formula.set_colours(colours)
        self.symbols.set_colours(colours)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """A formula is broken where the panel ends."""
        super().resizeEvent(event)
        self._show_mathematics(self.figure())

    def _show_mathematics(self, figure: Figure | None) -> None:
        """The formula and the numbers in it, set; where its symbols lie on the piece; the result and its origin."""
        plan, set_ones = self.session.plan, [] if figure is None else trees(figure)
        width = max(self.viewport().width() - _MARGINS_PX, 80) / _PER_MM
        if figure is None or plan is None or not set_ones:
            self.formula.show_drawing(None, "")
            self.symbols.show_drawing(None, "")
            self._text.setText(_EMPTY if figure is None else "\n".join(lines(figure)))
            return
        self.formula.show_drawing(formula_drawing(set_ones, width, _FORMULA_MM), "\n".join(lines(figure)[:2]))
        shown = symbols_drawing(plan, figure.key, symbols(set_ones[0]), width)
        self.symbols.show_drawing(shown, "Where the symbols lie on the piece")
        self._text.setText("\n".join(told(figure)))

    def refresh(self) -> None:
        """The figure as it is now."""
        figure = self.figure()
        self._label.setText("" if figure is None else figure.label)
        self._value.setText("" if figure is None else f"{figure.text()}  {figure.plus_minus_text()}".rstrip())
        self._show_mathematics(figure)
        for widget in (self._label, self._value, self._copy):
            widget.setVisible(figure is not None)
