"""Species of stones: what everybody's table says, and the workshop's own beside them."""

from __future__ import annotations

from msgspec.structs import replace
from PySide6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QGridLayout,
    QHBoxLayout,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from yarvel.desk.widgets.choice import Choice
from yarvel.desk.widgets.manners import open_at
from yarvel.desk.widgets.plain_table import plain_table
from yarvel.desk.widgets.row_filter import RowFilter
from yarvel.desk.widgets.rows_on_demand import fill_rows, fit_columns
from yarvel.desk.widgets.words import LineField, Words
from yarvel.figures.custom import NEVER, TREATMENT, CustomSpecies, own_key, species_document, species_from
from yarvel.figures.rules import HouseRules
from yarvel.stones.species import SPECIES, Species, all_species

_HEADS = ("Species", "Hardness", "Gravity", "Heat", "Acid", "Ultrasonic", "Steam", "To know")
_TREATED = ("heat", "acid", "ultrasonic", "steam")


class SpeciesDialog(QDialog):
    """Returns the house rules with the workshop's own species in ``result_rules``, or None."""

    def __init__(self, rules: HouseRules, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._rules = rules
        self._own = {species.key: species for species in rules.custom.species}
        self.result_rules: HouseRules | None = None
        self.setWindowTitle("Species of stones")
        open_at(self, 980, 640)
        words = Words(
            "Typical values from memory. A stone that is missing is put in below: what you are not sure that it bears, "
            "leave at “never”.",
            self,
        )
        words.setProperty("quiet", True)
        words.setWordWrap(True)
        self.rows = plain_table(self, _HEADS, "Species of stones")
        self.rows.itemSelectionChanged.connect(self._on_chosen)
        self.label, self.hardness, self.gravity, self.note = (
            self._line(name, called)
            for name, called in (
                ("label", "Name"),
                ("hardness", "Hardness, Mohs"),
                ("gravity", "Specific gravity"),
                ("note", "To know, such as its cleavage"),
            )
        )
        self.treated = {name: self._combo(name) for name in _TREATED}
        self.problem = Words(self)
        self.problem.setProperty("problem", True)
        self.problem.setWordWrap(True)
        self.problem.setObjectName("species.problem")
        self.add, self.out = QPushButton("Put it in", self), QPushButton("Leave the chosen one out", self)
        for button, name in ((self.add, "add"), (self.out, "out")):
            button.setObjectName(f"species.{name}")
            button.setAutoDefault(False)
        self.add.clicked.connect(lambda _checked=False: self._on_add())
        self.out.clicked.connect(lambda _checked=False: self._on_out())
        kinds = QDialogButtonBox.StandardButton
        self.buttons = QDialogButtonBox(kinds.Ok | kinds.Cancel, self)
        self.buttons.button(kinds.Ok).setText("Keep these")
        self.buttons.button(kinds.Cancel).setText("Leave as they were")
        self.buttons.accepted.connect(self._on_accepted)
        self.buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        column.addWidget(words)
        self.words = RowFilter(self, self.rows)
        column.addWidget(self.words)
        column.addWidget(self.rows, 1)
        column.addLayout(self._form())
        column.addWidget(self.problem)
        column.addWidget(self.buttons)
        self._show()

    def _line(self, name: str, called: str) -> LineField:
        line = LineField("", self)
        line.setObjectName(f"species.{name}")
        line.setAccessibleName(called)
        return line

    def _combo(self, name: str) -> Choice:
        combo = Choice(self)
        combo.setObjectName(f"species.{name}")
        combo.setAccessibleName(name.capitalize())
        combo.addItems(list(TREATMENT))
        combo.setCurrentText(NEVER)
        return combo

    def _form(self) -> QGridLayout:
        form = QGridLayout()
        named = [("Name", self.label), ("Hardness", self.hardness), ("Gravity", self.gravity)]
        fields: list[tuple[str, QWidget]] = [*named, *((name.capitalize(), self.treated[name]) for name in _TREATED)]
        for place, (called, widget) in enumerate(fields):
            form.addWidget(Words(called, self), 0, place)
            form.addWidget(widget, 1, place)
        form.setColumnStretch(0, 1)
        self.label.setMinimumWidth(160)
        for line in (self.hardness, self.gravity):
            line.setFixedWidth(92)
        form.addWidget(Words("To know", self), 2, 0)
        form.addWidget(self.note, 3, 0, 1, 3)
        buttons = QHBoxLayout()
        buttons.addWidget(self.add)
        buttons.addWidget(self.out)
        buttons.addStretch(1)
        form.addLayout(buttons, 3, 3, 1, 4)
        return form

    def _all(self) -> list[Species]:
        return list(all_species(self._with_own()).values())

    def _with_own(self) -> HouseRules:
        return self._rules.but(custom=replace(self._rules.custom, species=tuple(self._own.values())))

    def _show(self) -> None:
        self._listed = sorted(self._all(), key=lambda one: (one.key not in self._own, one.label.casefold()))
        fill_rows(self.rows, 0, [_row(row_species) for row_species in self._listed])
        fit_columns(self.rows)
        self._on_chosen()

    def _chosen(self) -> Species | None:
        row = self.rows.currentRow()
        return self._listed[row] if self.rows.selectedItems() and 0 <= row < len(self._listed) else None

    def _on_chosen(self) -> None:
        """Only what is the workshop's own can be left out; its numbers stand below, to be put in anew."""
        chosen = self._chosen()
        own = chosen is not None and chosen.key in self._own
        self.out.setVisible(own)
        if chosen is None:
            return
        self.label.setText(chosen.label if own else "")
        self.hardness.setText(f"{chosen.hardness:g}")
        self.gravity.setText(f"{chosen.gravity:g}")
        self.note.setText(chosen.note)
        for name, combo in self.treated.items():
            combo.setCurrentText(getattr(chosen, name))

    def _on_add(self) -> None:
        """What stands in the fields: a new species, or the own one of that name with other numbers."""
        label = " ".join(self.label.text().split())
        known = {row_species.label.casefold(): row_species.key for row_species in self._all()}
        same_key = known.get(label.casefold(), "")
        if same_key in SPECIES:
            self.problem.setText(f"Name: {label} stands in the table already: another name, such as {label} (ours)")
            return
        key = same_key or own_key(label, [*SPECIES, *self._own])
        document = {
            "label": label,
            "hardness": _number(self.hardness.text()),
            "gravity": _number(self.gravity.text()),
            "note": self.note.text().strip(),
            **{name: combo.currentText() for name, combo in self.treated.items()},
        }
        read_species, problems = species_from({key: document})
        if problems:
            place = problems[0].path.rsplit(".", 1)[-1].replace("label", "name").capitalize()
            self.problem.setText(f"{place}: {problems[0].wrong}. Accepted: {problems[0].accepted}")
            return
        self.problem.setText("")
        self._own[key] = read_species[0]
        self._show()

    def _on_out(self) -> None:
        chosen = self._chosen()
        if chosen is not None and chosen.key in self._own:
            del self._own[chosen.key]
            self._show()

    def _on_accepted(self) -> None:
        # twice through the reader: what is kept is what a store reads again
        read_species, problems = species_from(species_document(self._own.values()))
        if not problems:
            self.result_rules = self._rules.but(custom=replace(self._rules.custom, species=read_species))
            self.accept()


def _row(one: Species | CustomSpecies) -> tuple[str, ...]:
    treated = [str(getattr(one, name)) for name in _TREATED]
    return one.label, f"{one.hardness:g}", f"{one.gravity:.2f}", *treated, one.note


def _number(text: str) -> float | str:
    try:
        return float(text.strip().replace(",", "."))
    except ValueError:
        return text
