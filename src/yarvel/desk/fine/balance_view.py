"""The balance of the fine book by eye."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QSize
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from yarvel.drawing.balance import BalanceBar, balance
from yarvel.drawing.painters.qt import paint
from yarvel.figures.rules import HouseRules
from yarvel.metals.alloys import alloy_label
from yarvel.workshop.metal.fine_book import Balance

_PER_MM = 4.2
_NARROWEST = 120.0


class BalanceView(QWidget):
    """Paints a bar for each person and metal."""

    def __init__(self, colours: dict[str, str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._colours = colours
        self._rows: Sequence[BalanceBar] = ()

    def show_balances(self, found: Sequence[Balance], rules: HouseRules) -> None:
        """Show these, with the loss that the house allows."""
        self._rows = [bar_of(balance_row, rules) for balance_row in found]
        self.setAccessibleName("; ".join(f"{row.label}: {row.text}" for row in self._rows) or "Nothing at the benches")
        self.setFixedHeight(round(balance(self._rows, _NARROWEST).height * _PER_MM) + 2)
        self.setVisible(bool(self._rows))
        self.update()

    def sizeHint(self) -> QSize:
        """As wide as there is room."""
        return QSize(800, self.height())

    def paintEvent(self, _event: QPaintEvent) -> None:
        """The bars."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        paint(painter, balance(self._rows, self.width() / _PER_MM), self._colours, _PER_MM)
        painter.end()


def bar_of(one: Balance, rules: HouseRules) -> BalanceBar:
    """A balance as a bar: what is in work is told apart from what is open, which counts as lost once something is in a
    piece."""
    allowed = one.worked * rules.loss_allowance
    over = one.used > 0 and one.lost > allowed + 0.005
    text = f"{one.open:.2f} g open of {one.issued:.2f}" if not one.in_work else f"{one.in_work:.2f} g in work"
    if one.used > 0:
        lost = f"{one.lost:.2f} g lost of {one.issued:.2f}, {'over' if over else 'within'} {allowed:.2f}"
        text = f"{lost}; {text}" if one.in_work else lost
    if one.open < -0.005:
        text = f"{-one.open:.2f} g more came back than went out"
    grams = (one.used, one.returned, one.offcuts, one.filings, one.in_work, one.lost)
    return BalanceBar(f"{one.of}, {alloy_label(one.alloy, rules)}", grams, allowed, text, over or one.open < -0.005)
