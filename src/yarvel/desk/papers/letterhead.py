"""The workshop's letterhead and its currency, as they stand on what customers get."""

from __future__ import annotations

from msgspec.structs import replace
from PySide6.QtWidgets import QDialog, QDialogButtonBox, QPlainTextEdit, QVBoxLayout, QWidget

from yarvel.desk.widgets.manners import open_at
from yarvel.desk.widgets.words import LineField, Words
from yarvel.figures.errors import StoreError
from yarvel.figures.rules import HouseRules
from yarvel.workshop.dockets.accepting import check_text

_MOST_LINES, _MOST_LETTERS, _MOST_CURRENCY = 6, 400, 8


class LetterheadDialog(QDialog):
    """Returns the house rules with them in ``result_rules``, or None."""

    def __init__(self, rules: HouseRules, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._rules = rules
        self.result_rules: HouseRules | None = None
        self.setWindowTitle("Letterhead and currency")
        open_at(self, 460, 340)
        self.lines = QPlainTextEdit(rules.custom.letterhead, self)
        self.lines.setObjectName("letterhead.lines")
        self.lines.setAccessibleName("Letterhead, a line each")
        self.lines.setPlaceholderText("the workshop's name, address, telephone")
        self.lines.setTabChangesFocus(True)
        self.currency = LineField(rules.custom.currency, self)
        self.currency.setObjectName("letterhead.currency")
        self.currency.setAccessibleName("Currency")
        self.currency.setPlaceholderText("as it stands behind an amount")
        self.problem = Words(self)
        self.problem.setProperty("problem", True)
        self.problem.setWordWrap(True)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Ok | QDialogButtonBox.StandardButton.Cancel, self)
        buttons.button(QDialogButtonBox.StandardButton.Ok).setText("Keep these")
        buttons.accepted.connect(self.keep)
        buttons.rejected.connect(self.reject)
        words = Words("Loss, mark-up and tax are house rules: Ctrl+H, “Time, money and metal”.", self)
        words.setProperty("quiet", True)
        words.setWordWrap(True)
        column = QVBoxLayout(self)
        for widget in (Words("Letterhead", self), self.lines, Words("Currency", self), self.currency, words):
            column.addWidget(widget)
        column.addWidget(self.problem)
        column.addWidget(buttons)

    def keep(self) -> None:
        """Keep them, where they fit onto a paper."""
        text = self.lines.toPlainText().strip()
        try:
            check_text("letterhead", text, _MOST_LETTERS)
            check_text("currency", self.currency.text().strip(), _MOST_CURRENCY)
            if len(text.splitlines()) > _MOST_LINES:
                raise StoreError(f"letterhead: {len(text.splitlines())} lines: at most {_MOST_LINES}")
        except StoreError as error:
            self.problem.setText(str(error))
            return
        self.result_rules = with_letterhead(self._rules, text, self.currency.text())
        self.accept()


def with_letterhead(rules: HouseRules, letterhead: str, currency: str) -> HouseRules:
    """The rules with another letterhead and currency."""
    return rules.but(custom=replace(rules.custom, letterhead=letterhead.strip(), currency=currency.strip()))
