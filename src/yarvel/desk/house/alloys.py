"""Alloys: the numbers from memory, and the workshop's own in their place."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QGridLayout,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from yarvel.clock import today
from yarvel.desk.house.custom_alloy import CustomAlloyDialog
from yarvel.desk.widgets.fields import mark_wrong
from yarvel.desk.widgets.manners import open_at
from yarvel.desk.widgets.words import LineField, Words
from yarvel.exchange.price_file import read_prices
from yarvel.figures.custom import CustomAlloy, metals_document
from yarvel.figures.errors import JobError
from yarvel.figures.rules import ALLOY_NUMBERS, HouseRules, changed_rules, rules_from
from yarvel.metals.alloys import ALLOYS, GRADES, Alloy, alloys_of, custom_alloy
from yarvel.metals.elements import mixture_density
from yarvel.workshop.money.estimate import is_stale


class AlloysDialog(QDialog):
    """Returns the house rules with the workshop's own numbers in ``result_rules``, or None."""

    def __init__(self, rules: HouseRules, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Alloys")
        open_at(self, 1250, 560)
        self.result_rules: HouseRules | None = None
        self._rules = rules
        self.edits: dict[tuple[str, str], QLineEdit] = {}
        inside = QWidget(self)
        grid = QGridLayout(inside)
        for column, number in enumerate(ALLOY_NUMBERS.values(), start=1):
            title = Words(f"{number.label}\n{number.unit}".rstrip(), inside)
            title.setProperty("quiet", True)
            grid.addWidget(title, 0, column)
        mixture = Words("By its\nelements", inside)
        mixture.setProperty("quiet", True)
        grid.addWidget(mixture, 0, len(ALLOY_NUMBERS) + 1)
        self._grid, self._inside = grid, inside
        self._metals = {metal.key: metal for metal in rules.custom.metals}
        self._own_widgets: dict[str, list[QWidget]] = {}
        for alloy in alloys_of(rules).values():
            self._row(alloy)
        area = QScrollArea(self)
        area.setWidgetResizable(True)
        area.setWidget(inside)
        self._area = area
        self._problem = Words(self)
        self._problem.setProperty("problem", True)
        self._problem.setWordWrap(True)
        self._problem.setObjectName("alloys.problem")
        buttons, buttons_role = QDialogButtonBox.StandardButton, QDialogButtonBox.ButtonRole
        self._prices_on = rules.custom.prices_on
        self.told = Words(_prices_text(self._prices_on), self)
        self.told.setObjectName("alloys.told")
        self.buttons = QDialogButtonBox(buttons.Ok | buttons.Cancel | buttons.RestoreDefaults, self)
        for kind, text in (
            (buttons.Ok, "Keep these"),
            (buttons.Cancel, "Leave as they were"),
            (buttons.RestoreDefaults, "Back to those from memory"),
        ):
            self.buttons.button(kind).setText(text)
        self.prices = self.buttons.addButton("Prices from a file…", buttons_role.ActionRole)
        self.prices.setObjectName("alloys.prices")
        self.prices.clicked.connect(lambda _checked=False: self._on_prices())
        self.another = self.buttons.addButton("An alloy of our own…", buttons_role.ActionRole)
        self.another.setObjectName("alloys.another")
        self.another.clicked.connect(lambda _checked=False: self._on_another())
        self.buttons.accepted.connect(self._on_accepted)
        self.buttons.rejected.connect(self.reject)
        self.buttons.button(buttons.RestoreDefaults).clicked.connect(self._on_restore)
        words = Words(
            "Typical values from memory; put in those of your own supplier's sheet. Elongation as a fraction before it "
            "cracks.",
            self,
        )
        words.setProperty("quiet", True)
        column_of = QVBoxLayout(self)
        for widget in (words, area, self.told, self._problem, self.buttons):
            column_of.addWidget(widget)

    def _row(self, alloy: Alloy) -> None:
        grid, inside, row = self._grid, self._inside, self._grid.rowCount()
        before = set(inside.findChildren(QWidget))
        grid.setRowStretch(row - 1, 0)
        grid.setRowStretch(row, 0)
        grid.setRowStretch(row + 1, 1)
        grid.addWidget(Words(alloy.label, inside), row, 0)
        for column, (name, number) in enumerate(ALLOY_NUMBERS.items(), start=1):
            edit = LineField(f"{number_of(alloy, name):g}", inside)
            edit.setObjectName(f"alloys.{alloy.key}.{name}")
            edit.setAccessibleName(f"{alloy.label}, {number.label.lower()}")
            edit.setFixedWidth(76)
            edit.setToolTip(f"{number.low:g} to {number.high:g} {number.unit}".rstrip())
            edit.textEdited.connect(self._check)
            self.edits[alloy.key, name] = edit
            grid.addWidget(edit, row, column)
        grid.addWidget(Words(f"{mixture_density(alloy.parts):.2f}", inside), row, len(ALLOY_NUMBERS) + 1)
        origin = Words(alloy.origin, inside)
        origin.setProperty("quiet", True)
        grid.addWidget(origin, row, len(ALLOY_NUMBERS) + 2)
        if alloy.key in self._metals:
            out = QPushButton("Leave it out", inside)
            out.setObjectName(f"alloys.{alloy.key}.out")
            out.setAccessibleName(f"Leave {alloy.label} out")
            out.clicked.connect(lambda _checked=False, key=alloy.key: self._leave_out(key))
            grid.addWidget(out, row, len(ALLOY_NUMBERS) + 3)
            self._own_widgets[alloy.key] = [widget for widget in inside.findChildren(QWidget) if widget not in before]

    def _before(self, key: str) -> Alloy:
        """An alloy with the numbers that it has until the workshop puts in its own."""
        return custom_alloy(self._metals[key]) if key in self._metals else ALLOYS[key]

    def _on_another(self) -> None:
        dialog = CustomAlloyDialog([*ALLOYS, *self._metals], self)
        if dialog.exec() and dialog.result_metal is not None:
            self.take_metal(dialog.result_metal)

    def take_metal(self, metal: CustomAlloy) -> None:
        """One more alloy; it counts once these are kept."""
        self._metals[metal.key] = metal
        self._row(custom_alloy(metal))
        self._check()
        self.edits[metal.key, "density"].setFocus()
        self._area.ensureWidgetVisible(self.edits[metal.key, "density"])

    def _leave_out(self, key: str) -> None:
        for widget in self._own_widgets.pop(key):
            widget.deleteLater()
        del self._metals[key]
        self.edits = {place: edit for place, edit in self.edits.items() if place[0] != key}
        self._check()

    def _check(self) -> HouseRules | None:
        """The rules with what stands here; None, with the problem told, where something is not accepted."""
        changes: dict[str, dict[str, float]] = {}
        for (key, name), edit in self.edits.items():
            number = ALLOY_NUMBERS[name]
            try:
                value = float(edit.text().strip().replace(",", "."))
                good = number.low <= value <= number.high
            except ValueError:
                value, good = 0.0, False
            mark_wrong(edit, not good)
            if not good:
                self._problem.setText(
                    f"{self._before(key).label}, {number.label.lower()}: {edit.text()!r} is not accepted. Accepted: "
                    f"{number.low:g} to {number.high:g} {number.unit}".rstrip()
                )
                return None
            if f"{value:g}" != f"{number_of(self._before(key), name):g}":
                changes.setdefault(key, {})[name] = value
        self._problem.setText("")
        fields = {
            name: value
            for name, value in changed_rules(self._rules).items()
            if name not in ("alloys", "metals", "prices_on")
        }
        fields["metals"] = metals_document(self._metals.values())
        if self._prices_on:
            fields["prices_on"] = self._prices_on
        try:
            return rules_from({**fields, "alloys": changes})
        except JobError as error:
            self._problem.setText(str(error))
            return None

    def _on_prices(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Prices from a file", "", "Prices (*.json)")
        if name:
            self.take_prices(Path(name))

    def take_prices(self, path: Path) -> None:
        """Put the prices of a file into the lines, by each alloy's elements; they count once these are kept."""
        try:
            prices = read_prices(path)
        except JobError as error:
            self._problem.setText(str(error))
            return
        missing = []
        for key in (*ALLOYS, *self._metals):
            alloy = self._before(key)
            price = prices.of(alloy)
            if price is None:
                missing.append(alloy.label)
            else:
                self.edits[key, "price_per_g"].setText(f"{price:.2f}")
        self._prices_on = prices.at.date().isoformat()
        left = f" None for {', '.join(missing)}." if missing else ""
        self.told.setText(_prices_text(self._prices_on) + left)
        self._check()

    def _on_accepted(self) -> None:
        self.result_rules = self._check()
        if self.result_rules is not None:
            self.accept()

    def _on_restore(self) -> None:
        for (key, name), edit in self.edits.items():
            edit.setText(f"{number_of(self._before(key), name):g}")
        self._check()


def _prices_text(on: str) -> str:
    """Of which day the metal prices are, and whether they are stale."""
    if not on:
        return "Prices as they were typed in."
    stale = " They are stale: bring in newer ones." if is_stale(on, today().isoformat()) else ""
    return f"Metal prices of {on}.{stale}"


def number_of(alloy: Alloy, name: str) -> float:
    """A number of an alloy by its name among those that may be changed."""
    for grade in GRADES:
        if name == f"flow_{grade}_c":
            return alloy.flow(grade)
    return float(getattr(alloy, name))
