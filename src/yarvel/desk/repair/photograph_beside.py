"""The docket's photographs beside its claw chart, one at a time."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from yarvel.desk.widgets.picture import Picture
from yarvel.desk.widgets.words import Words
from yarvel.workshop.clock import here
from yarvel.workshop.dockets import Photograph


class PhotographBeside(QWidget):
    """Nothing, and no room, while there is none; the newest first."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._held: list[Photograph] = []
        self._place = 0
        self._picture = Picture(self)
        self.told = Words(self)
        self.told.setObjectName("repair.photograph")
        self.other = QPushButton("Another photograph", self)
        self.other.setObjectName("repair.other")
        self.other.clicked.connect(lambda _checked=False: self._go_on())
        below = QHBoxLayout()
        below.addWidget(self.told, 1)
        below.addWidget(self.other)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self._picture, 1)
        column.addLayout(below)
        self.hide()

    def show_photographs(self, photographs: Sequence[Photograph]) -> None:
        """These are there to be looked at."""
        self._held, self._place = list(photographs), len(photographs) - 1
        self.setVisible(bool(self._held))
        self._show()

    def _go_on(self) -> None:
        self._place = (self._place - 1) % len(self._held)
        self._show()

    def _show(self) -> None:
        self.other.setVisible(len(self._held) > 1)
        if self._held:
            one = self._held[self._place]
            self._picture.show_image(one)
            self.told.setText(f"{one.caption or 'photograph'}, {here(one.at):%d %b %Y}")
