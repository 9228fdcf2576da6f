"""Photographs of a docket, large: one, or two side by side, as before and after."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QDialog, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from yarvel.clock import here
from yarvel.desk.widgets.manners import open_at
from yarvel.desk.widgets.picture import Mark, Picture
from yarvel.desk.widgets.words import Words
from yarvel.workshop.dockets.records import Photograph


class PhotographsDialog(QDialog):
    """Arrow keys go from one to the next; S puts the one before beside it; Esc closes. The claw chart's marks are on
    them."""

    def __init__(
        self,
        photographs: Sequence[Photograph],
        chosen: Sequence[Photograph],
        marks: Callable[[int], Sequence[Mark]],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self._marks = marks
        self._all = list(photographs)
        ids = [photograph.id for photograph in self._all]
        self.place = ids.index(chosen[-1].id)
        self.beside: int | None = ids.index(chosen[0].id) if len(chosen) > 1 else None
        self.setWindowTitle("Photographs")
        open_at(self, 1100, 760)
        self.pictures = (Picture(self), Picture(self))
        self.words = (Words(self), Words(self))
        sides = QHBoxLayout()
        for picture, words in zip(self.pictures, self.words, strict=True):
            words.setAlignment(Qt.AlignmentFlag.AlignCenter)
            column = QVBoxLayout()
            column.addWidget(picture, 1)
            column.addWidget(words)
            sides.addLayout(column, 1)
        line = QHBoxLayout()
        self.buttons: dict[str, QPushButton] = {}
        for name, text, act in (
            ("back", "Earlier (←)", lambda: self.go(-1)),
            ("on", "Later (→)", lambda: self.go(1)),
            ("side", "Side by side (S)", self.put_beside),
        ):
            button = QPushButton(text, self)
            button.setAutoDefault(False)
            button.clicked.connect(lambda _checked=False, act=act: act())
            self.buttons[name] = button
            line.addWidget(button)
        line.addStretch(1)
        whole = QVBoxLayout(self)
        whole.addLayout(sides, 1)
        whole.addLayout(line)
        self._show()

    def go(self, step: int) -> None:
        """The next one that way; beside another it is the one at the right that changes."""
        place = self.place + step
        if 0 <= place < len(self._all):
            self.place = place
            self._show()

    def put_beside(self) -> None:
        """The first one beside it (before and after), or alone again."""
        self.beside = 0 if self.beside is None and self.place else None
        self._show()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Arrows and S."""
        key = Qt.Key(event.key())
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.go(1 if key == Qt.Key.Key_Right else -1)
        elif key == Qt.Key.Key_S:
            self.put_beside()
        else:
            super().keyPressEvent(event)

    def _show(self) -> None:
        shown = [self.place] if self.beside is None or self.beside == self.place else [self.beside, self.place]
        left = self.pictures[0], self.words[0]
        for widget in left:
            widget.setVisible(len(shown) > 1)
        for side, place in zip((1,) if len(shown) == 1 else (0, 1), shown, strict=True):
            photograph = self._all[place]
            self.pictures[side].show_image(photograph, self._marks(photograph.id))
            by = f", {photograph.by}" if photograph.by else ""
            number = f"{place + 1} of {len(self._all)}"
            self.words[side].setText(
                f"{number} · {photograph.caption or 'no caption'} · {here(photograph.at):%d %b %Y %H:%M}{by}"
            )
        self.buttons["back"].setEnabled(self.place > 0)
        self.buttons["on"].setEnabled(self.place + 1 < len(self._all))
        self.buttons["side"].setEnabled(self.place > 0)
