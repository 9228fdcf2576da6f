"""Rows in the order of the head that was pressed: rising, falling, and as they were again."""

from __future__ import annotations

import re

from PySide6.QtCore import QObject, Qt, QTimer, Signal
from PySide6.QtWidgets import QTableWidget

_NUMBER = re.compile(r"[-−]?\d[\d,]*(?:\.\d+)?")
_DAY = re.compile(r"\d{4}-\d\d-\d\d")
Key = tuple[int, float, str]

SILENT = ("", "–")
"""What a cell holds that says nothing: it stands last, whichever way."""


def text_key(text: str) -> Key:
    """What rows are ordered by: numbers by what they are, days and words by their letters."""
    number = None if _DAY.match(text) else _NUMBER.match(text)
    if number is None:
        return 1, 0.0, text.casefold()
    return 0, float(number[0].replace(",", "").replace("−", "-")), text.casefold()


def ordered(texts: list[str], falling: bool) -> list[int]:
    """Places of texts in their order, equals as they were, those that say nothing last."""
    said = [place for place, text in enumerate(texts) if text not in SILENT]
    silent = [place for place, text in enumerate(texts) if text in SILENT]
    return [*sorted(said, key=lambda place: text_key(texts[place]), reverse=falling), *silent]


class RowOrder(QObject):
    """A table's rows stand by the head that was pressed, once more the other way round, a third time as they were. They
    are only shown so: a row keeps its number. A table of which not every row is there (``paged``) is not sorted here:
    ``changed`` tells whoever fills it."""

    changed = Signal()

    def __init__(self, table: QTableWidget) -> None:
        super().__init__(table)
        self._table, self.paged = table, False
        self.column, self.falling = -1, False
        header = table.horizontalHeader()
        header.setSectionsClickable(True)
        header.setHighlightSections(False)
        header.setSortIndicator(-1, Qt.SortOrder.AscendingOrder)
        header.setSortIndicatorClearable(True)
        header.setSortIndicatorShown(True)
        header.sortIndicatorChanged.connect(self._on_head)
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.timeout.connect(self._stand)
        model = table.model()
        for changed in (model.dataChanged, model.rowsInserted, model.rowsRemoved):
            changed.connect(self._on_filled)

    @staticmethod
    def of(table: QTableWidget) -> RowOrder | None:
        """The order of a table's rows."""
        return table.findChild(RowOrder)

    def rows(self) -> list[int]:
        """Numbers of the rows that are shown, as they stand."""
        header = self._table.verticalHeader()
        order = [header.logicalIndex(place) for place in range(self._table.rowCount())]
        return [row for row in order if not self._table.isRowHidden(row)]

    def _on_head(self, column: int, order: Qt.SortOrder) -> None:
        self.column, self.falling = column, order == Qt.SortOrder.DescendingOrder
        if self.paged:
            self.changed.emit()
        else:
            self._stand()

    def _on_filled(self) -> None:
        if self.column >= 0 and not self.paged:
            self._soon.start(0)

    def _stand(self) -> None:
        items = [self._table.item(row, self.column) for row in range(self._table.rowCount())]
        texts = ["" if item is None else item.text() for item in items]
        header = self._table.verticalHeader()
        self._table.setUpdatesEnabled(False)
        for place, row in enumerate(ordered(texts, self.falling) if self.column >= 0 else range(len(texts))):
            if header.visualIndex(row) != place:
                header.moveSection(header.visualIndex(row), place)
        self._table.setUpdatesEnabled(True)
