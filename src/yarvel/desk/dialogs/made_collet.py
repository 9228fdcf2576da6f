"""What was measured on a made collet: four readings that stand for the planned ones."""

from __future__ import annotations

from collections.abc import Mapping

from PySide6.QtGui import QWheelEvent
from PySide6.QtWidgets import QDialog, QDialogButtonBox, QDoubleSpinBox, QFormLayout, QVBoxLayout, QWidget

from yarvel.desk.widgets.words import Words
from yarvel.heads import style, tapered_collet

READINGS = (
    ("foot_mm", "Foot, outside", tapered_collet.foot_diameter_mm),
    ("top_mm", "Top, outside", tapered_collet.top_diameter_mm),
    ("height_mm", "Height", tapered_collet.collet_height_mm),
    ("wall_mm", "Wall", style.HEAD_WALL),
)
"""Field of the job, label, and the planned figure that it stands for."""


class _Length(QDoubleSpinBox):
    """A length that is typed or stepped by keys; the wheel changes nothing."""

    def wheelEvent(self, event: QWheelEvent) -> None:
        """Left to whoever scrolls."""
        event.ignore()


class MadeColletDialog(QDialog):
    """Four lengths in mm, at first what is planned or was read before; ``forgotten`` where somebody takes them back."""

    def __init__(self, shown: Mapping[str, float], measured: bool, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Measure the made collet")
        self.forgotten = False
        said = Words("Everything that follows is worked out by these: no two driven collets come out alike.", self)
        said.setWordWrap(True)
        form = QFormLayout()
        self.fields: dict[str, QDoubleSpinBox] = {}
        for name, label, _ in READINGS:
            field = _Length(self)
            field.setObjectName(f"made.{name}")
            field.setAccessibleName(label)
            field.setDecimals(2)
            field.setSingleStep(0.05)
            field.setRange(0.2, 40.0)
            field.setSuffix(" mm")
            field.setValue(shown[name])
            form.addRow(label, field)
            self.fields[name] = field
        self.buttons = QDialogButtonBox(self)
        self.buttons.addButton("Take these readings", QDialogButtonBox.ButtonRole.AcceptRole)
        self.buttons.addButton("Cancel", QDialogButtonBox.ButtonRole.RejectRole)
        self.buttons.accepted.connect(self.accept)
        self.buttons.rejected.connect(self.reject)
        if measured:
            forget = self.buttons.addButton("Forget them", QDialogButtonBox.ButtonRole.DestructiveRole)
            forget.setObjectName("made.forget")
            forget.clicked.connect(self._on_forget)
        column = QVBoxLayout(self)
        column.addWidget(said)
        column.addLayout(form)
        column.addWidget(self.buttons)
        first = self.fields["foot_mm"]
        first.setFocus()
        first.selectAll()

    def readings(self) -> dict[str, float]:
        """The readings by the job's fields, mm."""
        return {name: round(field.value(), 4) for name, field in self.fields.items()}

    def _on_forget(self) -> None:
        self.forgotten = True
        self.accept()
