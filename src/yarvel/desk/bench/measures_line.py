"""Measures of stock in hand, typed in one line as people say them: across by down by length."""

from __future__ import annotations

import re
from dataclasses import dataclass

from PySide6.QtWidgets import QGridLayout, QWidget

from yarvel.desk.session import Session
from yarvel.desk.widgets.fields import LABEL_WIDTH, mark_wrong
from yarvel.desk.widgets.words import Line, Words
from yarvel.heads.tapered_collet import BY_TUBE
from yarvel.planning.documents import value_at


@dataclass(frozen=True)
class Measures:
    """What one line holds: the job's object at ``path``, its fields ``names`` in the order in which they are typed,
    each within its ``limits`` in mm; an ``example``, and what nothing means; what
    would ``follow`` from it is no longer chosen."""

    path: str
    label: str
    names: tuple[str, ...]
    limits: tuple[tuple[float, float], ...]
    example: str
    nothing: str
    follow: tuple[str, ...] = ()


class MeasuresLine(QWidget):
    """One line; what is not accepted stays as typed, with what is. Fields of the object beside those typed stay."""

    def __init__(self, session: Session, parent: QWidget, measures: Measures) -> None:
        super().__init__(parent)
        self._session, self._measures = session, measures
        self.edit = Line(self)
        self.edit.setObjectName(measures.path)
        self.edit.setAccessibleName(f"{measures.label}, mm")
        self.edit.setPlaceholderText(measures.nothing)
        self.edit.editingFinished.connect(self._on_typed)
        name = Words(measures.label, self)
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

    def _held(self) -> dict[str, float] | None:
        held = value_at(self._session.document, self._measures.path)
        return held if isinstance(held, dict) else None

    def _on_typed(self) -> None:
        wanted, text = self._measures, self.edit.text().strip()
        values = [float(number.replace(",", ".")) for number in re.findall(r"\d+(?:[.,]\d+)?", text)]
        fits = len(values) == len(wanted.limits) and all(
            low <= value <= high for value, (low, high) in zip(values, wanted.limits, strict=False)
        )
        wrong = bool(text) and not fits
        mark_wrong(self.edit, wrong)
        accepted = f"Accepted: {_COUNTS[len(wanted.names)]} numbers in mm, such as {wanted.example}; nothing for none."
        self._problem.setText(accepted if wrong else "")
        self._problem.setVisible(wrong)
        if wrong:
            return
        held, typed = self._held(), dict(zip(wanted.names, values, strict=True)) if fits else None
        if typed != (None if held is None else {name: held.get(name) for name in wanted.names}):
            part, name = wanted.path.split(".")
            other = value_at(self._session.document, part)
            chosen = {one: None for one in wanted.follow if typed and isinstance(other, dict) and one in other}
            self._session.patch({part: {**chosen, name: typed}}, wanted.label)

    def refresh(self) -> None:
        """What the job holds."""
        held = self._held()
        if not self.edit.hasFocus() and not self._problem.isVisible():
            self.edit.setText("" if held is None else " × ".join(f"{held[name]:g}" for name in self._measures.names))


_COUNTS = {2: "two", 3: "three", 4: "four"}
STOCK = Measures(
    "shank.stock",
    "Stock in hand",
    ("across_mm", "down_mm", "length_mm"),
    ((1.0, 20.0), (0.8, 10.0), (5.0, 1000.0)),
    "2.5 × 2.5 × 45",
    "none: the usual stock",
)
TUBE = Measures(
    "head.tube",
    "Tube in hand",
    ("outside_mm", "wall_mm", "length_mm"),
    ((0.8, 40.0), (0.2, 3.0), (0.5, 30.0)),
    "5.2 × 0.7 × 4.5: outside, wall, length",
    "none: as it comes out",
    BY_TUBE,
)
