"""Taking a call as it is: who, and why. Nobody accepts one without both."""

from __future__ import annotations

from PySide6.QtWidgets import QDialog, QDialogButtonBox, QFormLayout, QVBoxLayout, QWidget

from yarvel.desk.widgets.words import LineField, Words
from yarvel.planning.diagnostics.diagnostic import Diagnostic


class AcceptDialog(QDialog):
    """Two lines; the button waits for both. ``name`` of whoever is signed in cannot be changed."""

    def __init__(self, call: Diagnostic, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Take it as it is")
        said = Words(f"{call.title}. {call.message}", self)
        said.setWordWrap(True)
        until = Words("It comes back when its figure changes; it stays on the sheet, with name and reason.", self)
        until.setProperty("quiet", True)
        until.setWordWrap(True)
        self.by, self.why = LineField(self), LineField(self)
        for field, key, label in ((self.by, "accept.by", "Who"), (self.why, "accept.why", "Why")):
            field.setObjectName(key)
            field.setAccessibleName(label)
            field.textChanged.connect(self._on_typed)
        self.by.setText(name)
        self.by.setReadOnly(bool(name))
        form = QFormLayout()
        form.addRow("Who", self.by)
        form.addRow("Why", self.why)
        self.buttons = QDialogButtonBox(self)
        self.accepting = self.buttons.addButton("Take it as it is", QDialogButtonBox.ButtonRole.AcceptRole)
        self.buttons.addButton("Leave it open", QDialogButtonBox.ButtonRole.RejectRole)
        self.buttons.accepted.connect(self.accept)
        self.buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        for widget in (said, until):
            column.addWidget(widget)
        column.addLayout(form)
        column.addWidget(self.buttons)
        self.setMinimumWidth(420)
        (self.why if name else self.by).setFocus()
        self._on_typed()

    def _on_typed(self) -> None:
        self.accepting.setEnabled(bool(self.by.text().strip() and self.why.text().strip()))
