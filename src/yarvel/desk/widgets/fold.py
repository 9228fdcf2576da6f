"""A title that opens and closes what stands under it."""

from __future__ import annotations

from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget


class Fold(QWidget):
    """Folded at first; ``column`` takes what belongs under the title."""

    def __init__(self, title: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._title = title
        self.button = QPushButton(self)
        self.button.setProperty("fold", True)
        self.button.setCheckable(True)
        self.button.setObjectName(f"fold.{title.lower()}")
        self.button.setAccessibleName(title)
        self.inside = QWidget(self)
        self.column = QVBoxLayout(self.inside)
        self.column.setContentsMargins(0, 2, 0, 4)
        self.column.setSpacing(6)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.setSpacing(2)
        whole.addWidget(self.button)
        whole.addWidget(self.inside)
        self.button.toggled.connect(self._on_toggled)
        self._on_toggled(False)

    def open(self) -> None:
        """Show what stands under the title."""
        self.button.setChecked(True)

    def _on_toggled(self, opened: bool) -> None:
        self.inside.setVisible(opened)
        self.button.setText(f"{'–' if opened else '+'}  {self._title}")
