"""An alloy of the workshop's own, by what stands on its supplier's sheet."""

from __future__ import annotations

from collections.abc import Collection

from PySide6.QtWidgets import QDialog, QDialogButtonBox, QFormLayout, QVBoxLayout, QWidget

from yarvel.desk.widgets.choice import Choice
from yarvel.desk.widgets.manners import open_at
from yarvel.desk.widgets.words import LineField, Words
from yarvel.figures.custom import CustomAlloy, metals_document, metals_from, own_key
from yarvel.metals.alloys import ALLOYS
from yarvel.metals.elements import mixture_density, shares_of


class CustomAlloyDialog(QDialog):
    """Returns the alloy in ``result_metal``, or None; ``taken`` are the keys that others have."""

    def __init__(self, taken: Collection[str], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._taken = taken
        self.result_metal: CustomAlloy | None = None
        self.setWindowTitle("An alloy of our own")
        open_at(self, 520, 280)
        self.label, self.parts = self._line("label", "What it is called"), self._line("parts", "Its elements")
        self.parts.setPlaceholderText("Au 75, Ag 12.5, Cu 12.5")
        self.like = Choice(self)
        self.like.setObjectName("custom_alloy.like")
        self.like.setAccessibleName("Bends and flows like")
        for alloy in ALLOYS.values():
            self.like.addItem(alloy.label, alloy.key)
        self.told = Words(self)
        self.told.setProperty("problem", True)
        self.told.setWordWrap(True)
        self.told.setObjectName("custom_alloy.told")
        self.weighs = Words(self)
        self.weighs.setObjectName("custom_alloy.weighs")
        quiet = Words(
            "Its density is that of its elements until you put in another. What it bears, and where its solders flow, "
            "is as of the alloy that it is like: put in your supplier's numbers beside it.",
            self,
        )
        quiet.setProperty("quiet", True)
        quiet.setWordWrap(True)
        kinds = QDialogButtonBox.StandardButton
        self.buttons = QDialogButtonBox(kinds.Ok | kinds.Cancel, self)
        self.buttons.button(kinds.Ok).setText("Take it")
        self.buttons.accepted.connect(self._on_accepted)
        self.buttons.rejected.connect(self.reject)
        form = QFormLayout()
        for name, widget in (
            ("Name", self.label),
            ("Elements, % or ‰", self.parts),
            ("Bends and flows like", self.like),
        ):
            form.addRow(name, widget)
        column = QVBoxLayout(self)
        column.addLayout(form)
        for below in (quiet, self.weighs, self.told, self.buttons):
            column.addWidget(below)

    def _line(self, name: str, called: str) -> LineField:
        line = LineField("", self)
        line.setObjectName(f"custom_alloy.{name}")
        line.setAccessibleName(called)
        line.textEdited.connect(self._tell)
        return line

    def _tell(self) -> None:
        """What it would weigh, as soon as its elements make up a whole."""
        try:
            density = mixture_density(shares_of(self.parts.text()))
        except ValueError:
            self.weighs.setText("")
        else:
            self.weighs.setText(f"By its elements {density:.2f} g/cm³.")
        self.told.setText("")

    def _on_accepted(self) -> None:
        try:
            parts = shares_of(self.parts.text())
        except ValueError as error:
            self.told.setText(f"Elements: {error}.")
            return
        label = " ".join(self.label.text().split())
        metal = CustomAlloy(
            own_key(label, self._taken), label, str(self.like.currentData()), tuple(sorted(parts.items()))
        )
        _, problems = metals_from(metals_document([metal]))
        if label.casefold() in {alloy.label.casefold() for alloy in ALLOYS.values()}:
            self.told.setText(f"Name: {label} stands in the list already: another name, or change its numbers.")
        elif problems:
            self.told.setText(f"Name: {problems[0].wrong}. Accepted: {problems[0].accepted}")
        else:
            self.result_metal = metal
            self.accept()
