"""House rules: every value of common practice or memory, to be changed in this one place."""

from __future__ import annotations

from typing import Any

from PySide6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QGridLayout,
    QLineEdit,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from yarvel.desk.widgets.fields import mark_wrong
from yarvel.desk.widgets.manners import open_at
from yarvel.desk.widgets.words import Line, Words
from yarvel.figures.errors import JobError
from yarvel.figures.rules import RULES, HouseRules, changed_rules, rules_from


class HouseRulesDialog(QDialog):
    """Returns the rules as edited, or None."""

    def __init__(self, rules: HouseRules, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("House rules")
        open_at(self, 760, 640)
        self.result_rules: HouseRules | None = None
        self._rules = rules
        self.edits: dict[str, QLineEdit] = {}
        inside = QWidget(self)
        grid = QGridLayout(inside)
        grid.setColumnStretch(0, 1)
        for row, info in enumerate(RULES):
            edit = Line(f"{getattr(rules, info.name):.4g}", inside)
            edit.setObjectName(f"rules.{info.name}")
            edit.setAccessibleName(info.label)
            edit.setFixedWidth(90)
            edit.setPlaceholderText(f"{info.default:.4g}")
            edit.setToolTip(f"{info.low:g} to {info.high:g} {info.unit}; {info.default:.4g} unless changed")
            edit.textEdited.connect(self._on_edited)
            self.edits[info.name] = edit
            origin = Words(f"{info.unit}  {info.origin}".strip(), inside)
            origin.setProperty("quiet", True)
            for place, widget in enumerate((Words(info.label, inside), edit, origin)):
                grid.addWidget(widget, row, place)
        area = QScrollArea(self)
        area.setWidgetResizable(True)
        area.setWidget(inside)
        self._problem = Words(self)
        self._problem.setProperty("problem", True)
        self._problem.setWordWrap(True)
        self.buttons = QDialogButtonBox(
            QDialogButtonBox.StandardButton.Ok
            | QDialogButtonBox.StandardButton.Cancel
            | QDialogButtonBox.StandardButton.RestoreDefaults,
            self,
        )
        for kind, text in (
            (QDialogButtonBox.StandardButton.Ok, "Keep these"),
            (QDialogButtonBox.StandardButton.Cancel, "Leave as they were"),
            (QDialogButtonBox.StandardButton.RestoreDefaults, "Back to the defaults"),
        ):
            self.buttons.button(kind).setText(text)
        self.buttons.accepted.connect(self._on_accepted)
        self.buttons.rejected.connect(self.reject)
        self.buttons.button(QDialogButtonBox.StandardButton.RestoreDefaults).clicked.connect(self._on_restore)
        column = QVBoxLayout(self)
        for widget in (area, self._problem, self.buttons):
            column.addWidget(widget)

    def _read(self) -> HouseRules:
        values: dict[str, Any] = {name: value for name, value in changed_rules(self._rules).items() if name == "alloys"}
        for info in RULES:
            text = self.edits[info.name].text().strip().replace(",", ".")
            if text and text != f"{info.default:.4g}":
                values[info.name] = float(text)
        return rules_from(values)

    def _on_edited(self) -> None:
        self._check()

    def _check(self) -> HouseRules | None:
        for info in RULES:
            edit = self.edits[info.name]
            wrong = False
            try:
                rules_from({info.name: float(edit.text().replace(",", ".") or info.default)})
            except (ValueError, JobError):
                wrong = True
                self._problem.setText(
                    f"{info.label}: {edit.text()!r} is not accepted. Accepted: {info.low:g} to "
                    f"{info.high:g} {info.unit}".rstrip()
                )
            mark_wrong(edit, wrong)
            if wrong:
                return None
        self._problem.setText("")
        return self._read()

    def _on_accepted(self) -> None:
        self.result_rules = self._check()
        if self.result_rules is not None:
            self.accept()

    def _on_restore(self) -> None:
        for info in RULES:
            self.edits[info.name].setText(f"{info.default:.4g}")
        self._check()
