"""Stock in hand for the band, typed as people say it: across by down by length."""

from __future__ import annotations

import re

from PySide6.QtWidgets import QGridLayout, QWidget

from yarvel.desk.session import Session
from yarvel.desk.widgets.fields import LABEL_WIDTH, mark_wrong
from yarvel.desk.widgets.words import Line, Words
from yarvel.planning.documents import value_at

_ACCEPTED = "Accepted: three numbers in mm, such as 2.5 × 2.5 × 45; nothing for none."
_LIMITS = ((1.0, 20.0), (0.8, 10.0), (5.0, 1000.0))
_NAMES = ("across_mm", "down_mm", "length_mm")


class StockLine(QWidget):
    """One line; what is not accepted stays as typed, with what is."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self._session = session
        self.edit = Line(self)
        self.edit.setObjectName("shank.stock")
        self.edit.setAccessibleName("Stock in hand, mm")
        self.edit.setPlaceholderText("none: the usual stock")
        self.edit.editingFinished.connect(self._on_typed)
        name = Words("Stock in hand", self)
        name.setBuddy(self.edit)
        name.setMinimumWidth(LABEL_WIDTH)
        self._problem = Words(self)
        self._problem.setProperty("problem", True)
        self._problem.setWordWrap(True)
        self._problem.hide()
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.addWidget(name, 0, 0)
        grid.addWidget(self.edit, 0, 1)
        grid.addWidget(self._problem, 1, 0, 1, 2)

    def _on_typed(self) -> None:
        text = self.edit.text().strip()
        values = [float(number.replace(",", ".")) for number in re.findall(r"\d+(?:[.,]\d+)?", text)]
        fits = len(values) == len(_LIMITS) and all(
            low <= value <= high for value, (low, high) in zip(values, _LIMITS, strict=False)
        )
        wrong = bool(text) and not fits
        mark_wrong(self.edit, wrong)
        self._problem.setText(_ACCEPTED if wrong else "")
        self._problem.setVisible(wrong)
        wanted = dict(zip(_NAMES, values, strict=True)) if fits else None
        if not wrong and wanted != value_at(self._session.document, "shank.stock"):
            self._session.patch({"shank": {"stock": wanted}}, "Stock in hand")

    def refresh(self) -> None:
        """The job's stock; hidden where nothing is rolled."""
        plan = self._session.plan
        self.setVisible(plan is not None and plan.job.shank is not None and not plan.job.ring_exists)
        held = value_at(self._session.document, "shank.stock")
        if not self.edit.hasFocus() and not self._problem.isVisible():
            self.edit.setText("" if not held else " × ".join(f"{held[name]:g}" for name in _NAMES))
