"""The photographs of the docket in hand as small pictures in a row; opened large, one or two side by side."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QIcon, QImage, QKeyEvent, QPixmap
from PySide6.QtWidgets import QAbstractItemView, QListWidget, QListWidgetItem, QWidget

from yarvel.clock import here
from yarvel.desk.widgets.words import tip
from yarvel.workshop.dockets.records import Photograph

_SMALL = QSize(76, 58)


class PhotoStrip(QListWidget):
    """Hidden while there is none. Enter or a double press opens what is chosen; with nothing chosen the newest."""

    opened = Signal(object)
    """Photographs to be looked at: a list, the one in front last."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("docket.photographs")
        self.setAccessibleName("Photographs, oldest first")
        self.setViewMode(QListWidget.ViewMode.IconMode)
        self.setFlow(QListWidget.Flow.LeftToRight)
        self.setWrapping(False)
        self.setMovement(QListWidget.Movement.Static)
        self.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.setIconSize(_SMALL)
        self.setFixedHeight(_SMALL.height() + 18)
        self.setSpacing(2)
        self.hide()
        self._held: list[Photograph] = []
        self.itemDoubleClicked.connect(lambda _item: self._open())

    def show_photographs(self, photographs: Sequence[Photograph]) -> None:
        """Show these; what was chosen is not any more."""
        self._held = list(photographs)
        self.clear()
        for photograph in self._held:
            item = QListWidgetItem(QIcon(small(photograph)), "")
            item.setData(Qt.ItemDataRole.UserRole, photograph.id)
            item.setToolTip(tip(f"{photograph.caption or 'photograph'}, {here(photograph.at):%d %b %Y}"))
            item.setData(Qt.ItemDataRole.AccessibleTextRole, photograph.caption or f"{here(photograph.at):%d %b %Y}")
            self.addItem(item)
        self.setVisible(bool(self._held))
        self.scrollToBottom()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter opens what is chosen."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._open()
        else:
            super().keyPressEvent(event)

    def _open(self) -> None:
        wanted = {item.data(Qt.ItemDataRole.UserRole) for item in self.selectedItems()}
        chosen = [photograph for photograph in self._held if photograph.id in wanted] or self._held[-1:]
        if chosen:
            self.opened.emit((self._held, chosen))


def small(photograph: Photograph) -> QPixmap:
    """A photograph as small as it stands in the strip; a grey field where its file cannot be read."""
    image = QImage.fromData(photograph.jpeg)
    if image.isNull():
        blank = QPixmap(_SMALL)
        blank.fill(Qt.GlobalColor.lightGray)
        return blank
    smooth = Qt.TransformationMode.SmoothTransformation
    return QPixmap.fromImage(image.scaled(_SMALL, Qt.AspectRatioMode.KeepAspectRatio, smooth))
