"""House rules: every value of common practice or memory, to be changed in this one place."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject
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
from yarvel.desk.widgets.words import LineField, Words
from yarvel.figures.errors import JobError
from yarvel.figures.rule_groups import GROUPS, group_of
from yarvel.figures.rules import RULES, HouseRules, changed_rules, rules_from
from yarvel.planning.documents import Document
from yarvel.planning.job import Job
from yarvel.planning.rule_effects import effects


class HouseRulesDialog(QDialog):
    """Returns the rules as edited, or None."""

    def __init__(self, rules: HouseRules, job: Job | None = None, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("House rules")
        open_at(self, 820, 680)
        self.result_rules: HouseRules | None = None
        self._rules, self._job = rules, job
        self.edits: dict[str, QLineEdit] = {}
        self._rows: dict[str, tuple[QWidget, ...]] = {}
        self._heads: dict[str, Words] = {}
        self.search = LineField(self)
        self.search.setObjectName("rules.search")
        self.search.setPlaceholderText("find a rule: notch, tube, minutes …")
        self.search.setAccessibleName("Find a rule")
        self.search.textChanged.connect(self._on_search)
        self.effects = Words(self)
        self.effects.setObjectName("rules.effects")
        self.effects.setWordWrap(True)
        self.effects.setProperty("quiet", True)
        self.effects.setMinimumHeight(44)
        self.effects.setText("Click into a rule to see what it changes on the piece in hand.")
        inside = self._rule_rows()
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
        for widget in (self.search, area, self.effects, self._problem, self.buttons):
            column.addWidget(widget)

    def _rule_rows(self) -> QWidget:
        """Every rule in a row, under the title of its group."""
        inside = QWidget(self)
        grid = QGridLayout(inside)
        grid.setColumnStretch(0, 1)
        ordered = [(group, info) for group in GROUPS for info in RULES if group_of(info.name) == group]
        row = 0
        for group, info in ordered:
            if group not in self._heads:
                self._heads[group] = Words(group, inside)
                self._heads[group].setProperty("title", True)
                grid.addWidget(self._heads[group], row, 0, 1, 3)
                row += 1
            edit = LineField(f"{getattr(self._rules, info.name):.4g}", inside)
            edit.setObjectName(f"rules.{info.name}")
            edit.setAccessibleName(info.label)
            edit.setFixedWidth(90)
            edit.setPlaceholderText(f"{info.default:.4g}")
            edit.setToolTip(f"{info.low:g} to {info.high:g} {info.unit}; {info.default:.4g} unless changed")
            edit.textEdited.connect(self._on_edited)
            edit.installEventFilter(self)
            self.edits[info.name] = edit
            origin = Words(f"{info.unit}  {info.origin}".strip(), inside)
            origin.setProperty("quiet", True)
            self._rows[info.name] = (Words(info.label, inside), edit, origin)
            for place, widget in enumerate(self._rows[info.name]):
                grid.addWidget(widget, row, place)
            row += 1
        return inside

    def _on_search(self, text: str) -> None:
        """Only the rules that hold every word, in label, group, unit or origin; groups without any are gone."""
        words = text.casefold().split()
        shown = set()
        for info in RULES:
            lowered = f"{info.label} {group_of(info.name)} {info.unit} {info.origin}".casefold()
            fits = all(word in lowered for word in words)
            for widget in self._rows[info.name]:
                widget.setVisible(fits)
            if fits:
                shown.add(group_of(info.name))
        for group, head in self._heads.items():
            head.setVisible(group in shown)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """A rule that the cursor comes into tells what it changes."""
        if event.type() == QEvent.Type.FocusIn and isinstance(watched, QWidget):
            self._tell_effects(watched.objectName().removeprefix("rules."))
        return super().eventFilter(watched, event)

    def _tell_effects(self, name: str) -> None:
        info = next((rule for rule in RULES if rule.name == name), None)
        if info is None:
            return
        if self._job is None:
            self.effects.setText(f"{info.label}: measure a stone first, then it is told here what the rule changes.")
            return
        figures, calls = effects(self._job, self._rules, name)
        if not figures and not calls:
            self.effects.setText(f"{info.label}: changes nothing on the piece in hand.")
            return
        told = [f"figures: {_some(figures)}"] if figures else []
        told += [f"calls: {_some(calls)}"] if calls else []
        self.effects.setText(f"{info.label} changes on the piece in hand – {'; '.join(told)}.")

    def _read(self) -> HouseRules:
        values: Document = {name: value for name, value in changed_rules(self._rules).items() if name == "alloys"}
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
                    f"{info.label}: {edit.text()!r} is not accepted. Accepted: {info.low:g} to {info.high:g} "
                    f"{info.unit}".rstrip()
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


_MOST_TOLD = 6


def _some(names: list[str]) -> str:
    more = f" and {len(names) - _MOST_TOLD} more" if len(names) > _MOST_TOLD else ""
    return ", ".join(name[:1].lower() + name[1:] for name in names[:_MOST_TOLD]) + more
