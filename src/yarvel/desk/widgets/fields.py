"""Entry fields: a number with its unit, a choice of words; each with its label and the mark of what is wrong."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QEvent, Qt, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent, QKeySequence
from PySide6.QtWidgets import QGridLayout, QLineEdit, QSizePolicy, QWidget

from yarvel.desk.widgets.choice import Choice
from yarvel.desk.widgets.words import LineField, Words

LABEL_WIDTH = 120


class DocketLine(LineField):
    """A line of the docket in hand: what is typed is undone with everything else that was done to it."""

    def event(self, event: QEvent) -> bool:
        """Undo and redo belong to the job, also while a field has the focus."""
        if event.type() == QEvent.Type.ShortcutOverride and isinstance(event, QKeyEvent) and _is_undo(event):
            event.ignore()
            return False
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """All but undo and redo."""
        if _is_undo(event):
            event.ignore()
        else:
            super().keyPressEvent(event)


class GaugeEdit(DocketLine):
    """A line for one number: Enter goes on to the next field, Escape puts back what holds."""

    entered = Signal()
    put_back = Signal()
    left = Signal()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter and Escape are the field's own; the rest is ordinary typing."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.entered.emit()
            self.focusNextChild()
        elif event.key() == Qt.Key.Key_Escape:
            self.put_back.emit()
        else:
            super().keyPressEvent(event)

    def focusInEvent(self, event: QFocusEvent) -> None:
        """A field reached by key is ready to be typed over."""
        super().focusInEvent(event)
        if event.reason() != Qt.FocusReason.MouseFocusReason:
            self.selectAll()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        """Leaving a field ends one go of typing."""
        super().focusOutEvent(event)
        self.left.emit()


def _is_undo(event: QKeyEvent) -> bool:
    return event.matches(QKeySequence.StandardKey.Undo) or event.matches(QKeySequence.StandardKey.Redo)


class NumberField(QWidget):
    """Label, line and unit; under them what is wrong, where something is. Emits text as it is typed."""

    typed = Signal(str, str)
    left = Signal()
    put_back = Signal(str)

    def __init__(self, path: str, label: str, unit: str = "mm", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.path, self.label = path, label
        self.edit = GaugeEdit(self)
        self.edit.setObjectName(path)
        self.edit.setAccessibleName(f"{label}, {unit}" if unit else label)
        self.mark = Words(self)
        self.mark.setProperty("problem", True)
        self.mark.setWordWrap(True)
        self.mark.hide()
        name = Words(label, self)
        name.setBuddy(self.edit)
        name.setMinimumWidth(LABEL_WIDTH)
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(6)
        grid.setVerticalSpacing(1)
        grid.addWidget(name, 0, 0)
        grid.addWidget(self.edit, 0, 1)
        tail = Words(unit, self)
        tail.setProperty("quiet", True)
        tail.setFixedWidth(24)
        grid.addWidget(tail, 0, 2)
        grid.addWidget(self.mark, 1, 0, 1, 3)
        grid.setColumnStretch(1, 1)
        self.edit.textEdited.connect(lambda text: self.typed.emit(self.path, text))
        self.edit.left.connect(self.left)
        self.edit.put_back.connect(lambda: self.put_back.emit(self.path))

    def show_value(self, text: str, instead: str) -> None:
        """Show the job's value, or in its absence what stands in for it; typing in progress is left alone."""
        self.edit.setPlaceholderText(instead)
        if self.edit.hasFocus() and _same_number(self.edit.text(), text):
            return
        if self.edit.text() != text:
            self.edit.setText(text)

    def show_problem(self, problem: str) -> None:
        """Mark the field with what is wrong, or clear the mark."""
        mark_wrong(self.edit, bool(problem))
        self.mark.setText(problem)
        self.mark.setVisible(bool(problem))


def mark_wrong(edit: QLineEdit, wrong: bool) -> None:
    """Give a line the look of a refused value, or take it away."""
    if bool(edit.property("wrong")) != wrong:
        edit.setProperty("wrong", wrong)
        edit.style().unpolish(edit)
        edit.style().polish(edit)


def _same_number(typed: str, held: str) -> bool:
    try:
        return float(typed.strip().replace(",", ".")) == float(held)
    except ValueError:
        return typed.strip() == held


class ChoiceField(QWidget):
    """Label and a list of words; emits the value chosen."""

    chosen = Signal(str, object)

    def __init__(
        self,
        path: str,
        label: str,
        choices: Sequence[tuple[object, str]],
        parent: QWidget | None = None,
        label_width: int = LABEL_WIDTH,
    ) -> None:
        super().__init__(parent)
        self.path, self.label = path, label
        self.combo = Choice(self)
        self.combo.setObjectName(path)
        self.combo.setAccessibleName(label)
        self.combo.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.combo.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        for value, text in choices:
            self.combo.addItem(text, value)
        name = Words(label, self)
        name.setBuddy(self.combo)
        name.setMinimumWidth(label_width)
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(6)
        grid.addWidget(name, 0, 0)
        grid.addWidget(self.combo, 0, 1)
        grid.setColumnStretch(1, 1)
        self.combo.activated.connect(lambda _index: self.chosen.emit(self.path, self.combo.currentData()))

    def offer(self, choices: Sequence[tuple[object, str]]) -> None:
        """Offer other words than before; nothing changes where they are the same."""
        offered = [(self.combo.itemData(place), self.combo.itemText(place)) for place in range(self.combo.count())]
        if offered == list(choices):
            return
        self.combo.clear()
        for value, text in choices:
            self.combo.addItem(text, value)

    def show_value(self, value: object) -> None:
        """Show the job's value."""
        place = self.combo.findData(value)
        if place >= 0 and place != self.combo.currentIndex():
            self.combo.setCurrentIndex(place)


def read_number(text: str, most: float, above: bool = False) -> float | None:
    """A number as typed, from 0 (``above``: over 0) to ``most``; None for nothing.

    Raises
    ------
    ValueError : it is no such number.
    """
    if not text.strip():
        return None
    value = float(text.strip().replace(",", "."))
    if not 0 <= value <= most or (above and value == 0):
        raise ValueError(text)
    return value
