"""What the chosen task says, line by line, to tick off; its caution below."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from yarvel.desk.widgets.words import Words
from yarvel.planning.work import DEFER, Step


class StepList(QWidget):
    """One line an item; a line whose figure has changed since it was ticked is open again."""

    ticked = Signal(str, bool)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._head = Words(self)
        self._head.setObjectName("step.head")
        self.lines = QListWidget(self)
        self.lines.setObjectName("step.lines")
        self.lines.setAccessibleName("Lines of the step")
        self.lines.setWordWrap(True)
        self._caution = Words(self)
        self._caution.setObjectName("step.caution")
        self._caution.setWordWrap(True)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self._head)
        column.addWidget(self.lines, 1)
        column.addWidget(self._caution)
        self.lines.itemChanged.connect(self._on_changed)
        self.show_step("Choose a task to see what it says.", None, ())

    def show_step(self, title: str, step: Step | None, ticks: tuple[str, ...]) -> None:
        """Show a step, or only a title."""
        lines = () if step is None else step.lines
        done = sum(line in ticks for line in lines)
        self._head.setText(f"{title} · {done} of {len(lines)} ticked" if lines else title)
        self._caution.setText(f"Caution. {step.caution} {DEFER}" if step is not None and step.caution else "")
        self._caution.setVisible(bool(self._caution.text()))
        self.lines.setVisible(bool(lines))
        held = [self.lines.item(row).text() for row in range(self.lines.count())]
        self.lines.blockSignals(True)
        if held != list(lines):
            self.lines.clear()
            for line in lines:
                item = QListWidgetItem(line)
                item.setFlags(Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsUserCheckable)
                self.lines.addItem(item)
        for row, line in enumerate(lines):
            self.lines.item(row).setCheckState(Qt.CheckState.Checked if line in ticks else Qt.CheckState.Unchecked)
        self.lines.blockSignals(False)

    def _on_changed(self, item: QListWidgetItem) -> None:
        self.ticked.emit(item.text(), item.checkState() == Qt.CheckState.Checked)
