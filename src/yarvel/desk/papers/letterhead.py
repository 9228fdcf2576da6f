"""The workshop's letterhead and currency, as they stand on papers, and the zone in which its days begin."""

from __future__ import annotations

from msgspec.structs import replace
from PySide6.QtWidgets import QDialog, QDialogButtonBox, QPlainTextEdit, QVBoxLayout, QWidget

from yarvel.clock import zone_here, zones
from yarvel.desk.widgets.choice import Choice
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
        self.setWindowTitle("Letterhead, currency and zone")
        open_at(self, 460, 400)
        self.lines = QPlainTextEdit(rules.custom.letterhead, self)
        self.lines.setObjectName("letterhead.lines")
        self.lines.setAccessibleName("Letterhead, a line each")
        self.lines.setPlaceholderText("the workshop's name, address, telephone")
        self.lines.setTabChangesFocus(True)
        self.currency = LineField(rules.custom.currency, self)
        self.currency.setObjectName("letterhead.currency")
        self.currency.setAccessibleName("Currency")
        self.currency.setPlaceholderText("as it stands behind an amount")
        self.zone = Choice(self)
        self.zone.setObjectName("letterhead.zone")
        self.zone.setAccessibleName("Zone")
        mine = rules.custom.zone or zone_here()
        for name in zones() if mine in zones() else [mine, *zones()]:
            self.zone.addItem(name)
        self.zone.setCurrentIndex(self.zone.findText(mine))
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
        fields: tuple[tuple[str, QWidget], ...] = (
            ("Letterhead", self.lines),
            ("Currency", self.currency),
            ("Zone in which days and months begin, on every machine", self.zone),
        )
        for label, widget in fields:
            column.addWidget(Words(label, self))
            column.addWidget(widget)
        column.addWidget(words)
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
        self.result_rules = with_letterhead(self._rules, text, self.currency.text(), self.zone.currentText())
        self.accept()


def with_letterhead(rules: HouseRules, letterhead: str, currency: str, zone: str) -> HouseRules:
    """The rules with another letterhead, currency and zone."""
    return rules.but(custom=replace(rules.custom, letterhead=letterhead.strip(), currency=currency.strip(), zone=zone))
