"""Readings of one thing: each in a line of its own, always one more line than there are readings."""

from __future__ import annotations

import re
from statistics import mean, median

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QGridLayout, QWidget

from yarvel.desk.widgets.fields import GaugeEdit, mark_wrong
from yarvel.desk.widgets.words import Words

_COLUMNS = 3
MOST = 12
_ENOUGH, _FAR, _LEAST_FAR_MM = 4, 4.0, 0.05
_NUMBER = re.compile(r"\d+(\.\d+)?")
_ORDINALS = ("1st", "2nd", "3rd", *(f"{place}th" for place in range(4, MOST + 1)))


class ReadingsField(QWidget):
    """Diameter readings. Enter goes to the next line; an empty line is passed over to what follows."""

    changed = Signal(list)
    left = Signal()

    def __init__(self, label: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._label = label
        self.edits: list[GaugeEdit] = []
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 0, 0)
        self._grid.setHorizontalSpacing(6)
        self._grid.setVerticalSpacing(4)
        name = Words(f"{label} readings, mm", self)
        self._grid.addWidget(name, 0, 0, 1, _COLUMNS)
        self._mark = Words(self)
        self._mark.setProperty("problem", True)
        self._mark.setWordWrap(True)
        self._mark.hide()
        self._grid.addWidget(self._mark, MOST, 0, 1, _COLUMNS)
        self._told = Words(self)
        self._told.setObjectName("stone.diameters_mm.told")
        self._told.setProperty("quiet", True)
        self._told.setWordWrap(True)
        self._told.hide()
        self._grid.addWidget(self._told, MOST + 1, 0, 1, _COLUMNS)
        for _ in range(2):
            self._add()

    def texts(self) -> list[str]:
        """What stands in the lines, top to bottom."""
        return [edit.text() for edit in self.edits]

    def show_texts(self, texts: list[str]) -> None:
        """Show these readings; typing in progress is left alone."""
        typed = [text.strip() for text in self.texts() if text.strip()]
        if any(edit.hasFocus() for edit in self.edits) and [_plain(text) for text in typed] == [
            _plain(text) for text in texts
        ]:
            self._grow()
            return
        while len(self.edits) < len(texts):
            self._add()
        for place, edit in enumerate(self.edits):
            text = texts[place] if place < len(texts) else ""
            if edit.text() != text:
                edit.setText(text)
        self._grow()

    def show_problem(self, problem: str) -> None:
        """Mark the readings with what is wrong, or clear the mark."""
        for edit in self.edits:
            mark_wrong(edit, bool(problem) and bool(edit.text().strip()))
        self._mark.setText(problem)
        self._mark.setVisible(bool(problem))

    def _add(self) -> None:
        place = len(self.edits)
        edit = GaugeEdit(self)
        edit.setObjectName(f"stone.diameters_mm.{place}")
        edit.setAccessibleName(f"{self._label}, reading {place + 1}, mm")
        edit.setPlaceholderText(_ORDINALS[place])
        edit.textEdited.connect(self._on_edited)
        edit.left.connect(self.left)
        if self.edits:
            QWidget.setTabOrder(self.edits[-1], edit)
        self.edits.append(edit)
        self._grid.addWidget(edit, 1 + place // _COLUMNS, place % _COLUMNS)
        edit.show()

    def _on_edited(self) -> None:
        self._grow()
        self.changed.emit(self.texts())

    def _grow(self) -> None:
        """Keep one empty line behind the last reading, at least two lines, at most a dozen; say how they lie."""
        spread = spread_text([float(text) for text in map(_plain, self.texts()) if _NUMBER.fullmatch(text)])
        self._told.setText(spread)
        self._told.setVisible(bool(spread))
        filled = max((place for place, text in enumerate(self.texts()) if text.strip()), default=-1)
        wanted = min(max(filled + 2, 2), MOST)
        while len(self.edits) < wanted:
            self._add()
        for place, edit in enumerate(self.edits):
            edit.setVisible(place < wanted)


def spread_text(readings: list[float]) -> str:
    """Mean and spread of several readings of one thing, and one that stands out; "" for fewer than two.

    Of four or more, one stands out that lies farther from their median than four times the median of how far they lie,
    and than five hundredths (common practice: read it again).
    """
    if len(readings) < 2:
        return ""
    spread = f"mean {mean(readings):.2f}, spread {max(readings) - min(readings):.2f}"
    if len(readings) >= _ENOUGH:
        middle = median(readings)
        usual = max(_FAR * median(abs(reading - middle) for reading in readings), _LEAST_FAR_MM)
        far = max(readings, key=lambda one: abs(one - middle))
        if abs(far - middle) > usual:
            spread += f"; {far:.2f} stands out: read it again"
    return spread


def _plain(text: str) -> str:
    try:
        return f"{float(text.replace(',', '.')):g}"
    except ValueError:
        return text
