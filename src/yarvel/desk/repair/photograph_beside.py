"""The docket's photographs beside its claw chart, one at a time."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from yarvel.clock import here
from yarvel.desk.widgets.picture import Mark, Picture
from yarvel.desk.widgets.words import Words
from yarvel.workshop.dockets.records import Photograph


class PhotographBeside(QWidget):
    """Nothing, and no room, while there is none; the newest first. ``pressed`` tells on which photograph, and where as
    shares of its width and height; ``marks`` those that a photograph has."""

    pressed = Signal(int, float, float)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._held: list[Photograph] = []
        self._place = 0
        self.marks: Callable[[int], Sequence[Mark]] = lambda _photograph_id: ()
        self.picture = Picture(self)
        self.picture.pressed.connect(self._on_pressed)
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
        column.addWidget(self.picture, 1)
        column.addLayout(below)
        self.hide()

    def show_photographs(self, photographs: Sequence[Photograph]) -> None:
        """These are there to be looked at."""
        self._held, self._place = list(photographs), len(photographs) - 1
        self.setVisible(bool(self._held))
        self.refresh()

    @property
    def shown(self) -> Photograph | None:
        """The one that is looked at."""
        return self._held[self._place] if self._held else None

    def _on_pressed(self, x: float, y: float) -> None:
        if self.shown is not None:
            self.pressed.emit(self.shown.id, x, y)

    def _go_on(self) -> None:
        self._place = (self._place - 1) % len(self._held)
        self.refresh()

    def refresh(self) -> None:
        """The photograph with its marks as they are now."""
        self.other.setVisible(len(self._held) > 1)
        shown = self.shown
        if shown is not None:
            self.picture.show_image(shown, self.marks(shown.id))
            self.told.setText(
                f"{shown.caption or 'photograph'}, {here(shown.at):%d %b %Y}. Press where the claw in hand is seen."
            )
