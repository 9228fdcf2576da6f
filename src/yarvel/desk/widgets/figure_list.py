"""A list of figures, label and value in one row each; pressing a row shows its working."""

from __future__ import annotations

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QColor, QPainter, QPaintEvent, QPalette
from PySide6.QtWidgets import QAbstractButton, QSizePolicy, QVBoxLayout, QWidget

from yarvel.desk.theme import BODY_PX
from yarvel.drawing.painters.qt import font
from yarvel.figures.figure import Figure

_ROW_PX = 23


class FigureRow(QAbstractButton):
    """One figure: its label, and its value with its unit at the right."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.key = ""
        self._value = ""
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)

    def show_figure(self, figure: Figure) -> None:
        """Show one figure."""
        self.key, self._value = figure.key, figure.text()
        self.setText(figure.label)
        self.setObjectName(f"figure.{figure.key}")
        self.setAccessibleName(f"{figure.label}: {self._value}")
        self.setToolTip(f"{figure.label}: {self._value} {figure.plus_minus_text()}".rstrip())
        self.update()

    def sizeHint(self) -> QSize:
        """One row."""
        return QSize(200, _ROW_PX)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Label, then value; underlined while the pointer or the focus is on it."""
        painter = QPainter(self)
        palette = self.palette()
        painter.setFont(font(BODY_PX, bold=True))
        width = painter.fontMetrics().horizontalAdvance(self._value)
        painter.setPen(palette.color(QPalette.ColorRole.WindowText))
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, self._value)
        painter.setFont(font(BODY_PX))
        label = painter.fontMetrics().elidedText(self.text(), Qt.TextElideMode.ElideRight, self.width() - width - 10)
        painter.setPen(palette.color(QPalette.ColorRole.PlaceholderText))
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, label)
        if self.underMouse() or self.hasFocus():
            painter.fillRect(0, self.height() - 2, self.width(), 1, QColor(palette.color(QPalette.ColorRole.Link)))
        painter.end()


class FigureList(QWidget):
    """Rows of figures; tells which was pressed."""

    chosen = Signal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.rows: list[FigureRow] = []
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 4, 0, 0)
        self._column.setSpacing(0)

    def show_figures(self, figures: list[Figure]) -> None:
        """Show these figures, reusing the rows that stand."""
        while len(self.rows) < len(figures):
            row = FigureRow(self)
            row.clicked.connect(lambda _checked=False, row=row: self.chosen.emit(row.key))
            self.rows.append(row)
            self._column.addWidget(row)
        for place, row in enumerate(self.rows):
            if place < len(figures):
                row.show_figure(figures[place])
            row.setVisible(place < len(figures))
