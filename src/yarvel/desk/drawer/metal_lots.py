"""Metal for a docket out of lots, and its offcuts back as lots: weighed, by whoever takes it, in the fine book too."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from msgspec import Struct
from msgspec.structs import asdict, replace
from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import (
    QDialog,
    QGridLayout,
    QHBoxLayout,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from yarvel.desk.widgets.choice import Choice
from yarvel.desk.widgets.fields import mark_wrong
from yarvel.desk.widgets.manners import close_on_keys, open_at
from yarvel.desk.widgets.words import LineField, Words
from yarvel.figures.rules import HouseRules
from yarvel.metals.alloys import alloy_label
from yarvel.operations.lot import BAR
from yarvel.workshop.acts import Deed, GiveBack, TakeLot
from yarvel.workshop.dockets.records import Docket
from yarvel.workshop.drawer.lots import Need, cut_length_mm, order_text, proposed, suiting
from yarvel.workshop.drawer.stock import NAMES, StockItem
from yarvel.workshop.metal.fine_book import MOST_G
from yarvel.workshop.people.person import Person

DoAll = Callable[[list[Deed], Callable[[str], None]], None]
"""Does acts one after the other; tells what stopped them, or nothing."""


class Held(Struct, frozen=True):
    """What the store knows for this: lots in the drawer, who works here."""

    lots: list[StockItem]
    people: list[Person]


class MetalLotsDialog(QDialog):
    """Not modal: the scale and the bench go on beside it. ``bar_taken`` tells what was taken for the shank: across,
    down and length in mm."""

    bar_taken = Signal(float, float, float)

    def __init__(
        self,
        docket: Docket,
        needs: Sequence[Need],
        backs: Sequence[StockItem],
        held: Held,
        rules: HouseRules,
        do_all: DoAll,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self._docket, self._rules, self._do_all = docket, rules, do_all
        self.needs, self.backs, self._held = list(needs), list(backs), held
        self.setWindowTitle(f"Metal for {docket.number}")
        open_at(self, 980, 560)
        close_on_keys(self)
        self.lots: list[Choice] = []
        self.grams: list[LineField] = []
        self.back_grams: list[LineField] = []
        self.person = Choice(self)
        self.person.setObjectName("lots.person")
        self.person.setAccessibleName("Who takes it or gives it back")
        for person in held.people:
            self.person.addItem(person.name, person.id)
        self.told = Words(self)
        self.told.setWordWrap(True)
        self.told.setObjectName("lots.told")
        inside = QWidget(self)
        self._grid = QGridLayout(inside)
        self._grid.setColumnStretch(0, 1)
        self._fill(inside)
        area = QScrollArea(self)
        area.setWidgetResizable(True)
        area.setWidget(inside)
        who = QHBoxLayout()
        who.addWidget(Words("Who", self))
        who.addWidget(self.person)
        who.addStretch(1)
        column = QVBoxLayout(self)
        column.addLayout(who)
        column.addWidget(area, 1)
        column.addWidget(self.told)
        column.addLayout(self._buttons())
        self._say_short()

    def be(self, name: str) -> None:
        """Whoever works at this machine takes it, unless somebody else is chosen."""
        self.person.setCurrentIndex(max(self.person.findText(name), 0))

    def _fill(self, inside: QWidget) -> None:
        if self.needs:
            self._head("What the work takes", "Weighed, g", inside)
        for need, item in zip(self.needs, proposed(self.needs, self._held.lots), strict=True):
            self._need(need, item, inside)
        if self.backs:
            self._head("What comes back", "Weighed, g", inside)
        for back in self.backs:
            row = self._grid.rowCount()
            whose = f", {back.owner}'s" if back.owner else ""
            text = f"{back.note}: {alloy_label(back.metal, self._rules)}{whose}"
            self._grid.addWidget(Words(text, inside), row, 0)
            self._grid.addWidget(Words(f"as {back.code}", inside), row, 1)
            self.back_grams.append(self._mass(f"lots.back.{len(self.back_grams)}", "", row, inside))
        if not self.needs and not self.backs:
            self._grid.addWidget(Words("Nothing of this work is cut from stock, and nothing comes back.", inside), 0, 0)
        self._grid.setRowStretch(self._grid.rowCount(), 1)

    def _head(self, text: str, mass: str, inside: QWidget) -> None:
        row = self._grid.rowCount()
        for column, title in ((0, text), (2, mass)):
            label = Words(title, inside)
            label.setProperty("quiet", True)
            self._grid.addWidget(label, row, column)

    def _need(self, need: Need, item: StockItem | None, inside: QWidget) -> None:
        row, place = self._grid.rowCount(), len(self.lots)
        label = Words(
            f"{need.piece}: {alloy_label(need.metal, self._rules)}, {need.measured}, {need.mass_g:.2f} g", inside
        )
        label.setWordWrap(True)
        combo = Choice(inside)
        combo.setObjectName(f"lots.lot.{place}")
        combo.setAccessibleName(f"Lot for {need.piece}")
        combo.addItem("None: to be ordered", None)
        for lot in suiting(need, self._held.lots):
            combo.addItem(lot_text(lot), lot.id)
        combo.setCurrentIndex(max(combo.findData(None if item is None else item.id), 0))
        combo.activated.connect(lambda _index: self._say_short())
        self._grid.addWidget(label, row, 0)
        self._grid.addWidget(combo, row, 1)
        self.lots.append(combo)
        self.grams.append(self._mass(f"lots.grams.{place}", f"{need.mass_g:.2f}", row, inside))

    def _mass(self, name: str, text: str, row: int, inside: QWidget) -> LineField:
        line = LineField(text, inside)
        line.setObjectName(name)
        line.setAccessibleName("Weighed, g")
        line.setProperty("reads", "g")
        line.setFixedWidth(92)
        line.setPlaceholderText("not yet")
        self._grid.addWidget(line, row, 2)
        return line

    def _buttons(self) -> QHBoxLayout:
        bar = QHBoxLayout()
        self.buttons: dict[str, QPushButton] = {}
        for name, text, act, wanted in (
            ("take", "Take these", self.take, bool(self.needs)),
            ("order", "Copy what is short", self.copy_order, bool(self.needs)),
            ("back", "Give back what was weighed", self.give_back, bool(self.backs)),
        ):
            button = QPushButton(text, self)
            button.setObjectName(f"lots.{name}")
            button.setAutoDefault(False)
            button.setVisible(wanted)
            button.clicked.connect(lambda _checked=False, act=act: act())
            self.buttons[name] = button
            bar.addWidget(button)
        bar.addStretch(1)
        return bar

    def _chosen(self) -> list[StockItem | None]:
        by_id = {lot.id: lot for lot in self._held.lots}
        return [by_id.get(combo.currentData()) for combo in self.lots]

    def _short(self) -> str:
        return order_text(self.needs, self._chosen(), lambda key: alloy_label(key, self._rules))

    def _say_short(self) -> None:
        short = self._short()
        self.buttons["order"].setVisible(bool(short))
        self.told.setText("" if not short else f"Short, to be ordered:\n{short}")

    def copy_order(self) -> None:
        """What is short onto the clipboard, a line a piece."""
        QGuiApplication.clipboard().setText(self._short())
        self.told.setText("What is short is copied.")

    def take(self) -> None:
        """The chosen lots become lighter, and the fine book has the metal issued."""
        person = self.person.currentData()
        deeds: list[Deed] = []
        taken: list[int] = []
        chosen = self._chosen()
        for place, item in enumerate(chosen):
            if item is None or not self.lots[place].isEnabled():
                continue
            mass = self._read(self.grams[place])
            if mass is None:
                return
            length = cut_length_mm(self.needs[place], item, mass)
            deeds.append(TakeLot(item.id, self._docket.id, mass, length, person))
            taken.append(place)
        if not deeds:
            self.told.setText("No lot is chosen: choose one in a line, or order what is short.")
            return

        def done(problem: str) -> None:
            if problem:
                self.told.setText(problem)
                return
            for place, deed in zip(taken, deeds, strict=True):
                self.lots[place].setEnabled(False)
                self.grams[place].setEnabled(False)
                self._tell_bar(self.needs[place], chosen[place], deed)
            self.told.setText(f"{len(taken)} taken, issued to {self.person.currentText()}. Undo puts them back.")

        self._do_all(deeds, done)

    def _tell_bar(self, need: Need, item: StockItem | None, deed: Deed) -> None:
        """The shank is judged by the bar that it is made from."""
        if item is None or need.part != "shank" or item.shape != BAR or item.size_mm is None:
            return
        length = cut_length_mm(need, item, deed.mass_g) if isinstance(deed, TakeLot) else None
        if length:
            self.bar_taken.emit(item.size_mm, item.thickness_mm or item.size_mm, round(length, 1))

    def give_back(self) -> None:
        """Offcuts with a weight become lots."""
        deeds: list[Deed] = []
        given: list[int] = []
        for place, back in enumerate(self.backs):
            line = self.back_grams[place]
            if not line.text().strip() or not line.isEnabled():
                continue
            mass = self._read(line)
            if mass is None:
                return
            lot = {name: value for name, value in asdict(replace(back, mass_g=mass)).items() if name in NAMES}
            deeds.append(GiveBack(lot, self._docket.id, self.person.currentData()))
            given.append(place)
        if not deeds:
            self.told.setText("Nothing is weighed yet: put each offcut on the scale with its line in front.")
            return

        def done(problem: str) -> None:
            if problem:
                self.told.setText(problem)
                return
            for place in given:
                self.back_grams[place].setEnabled(False)
            self.told.setText(f"{len(given)} given back by {self.person.currentText()}, as lots in the drawer.")

        self._do_all(deeds, done)

    def _read(self, line: LineField) -> float | None:
        text = line.text().strip().replace(",", ".").removesuffix("g").strip()
        try:
            mass = float(text)
        except ValueError:
            mass = 0.0
        good = 0.001 <= mass <= MOST_G
        mark_wrong(line, not good)
        if good:
            return mass
        self.told.setText(f"{line.text()!r} is no mass. Accepted: 0.001 to {MOST_G:g} g")
        line.setFocus(Qt.FocusReason.OtherFocusReason)
        return None


def lot_text(lot: StockItem) -> str:
    """A lot in a line."""
    section = "" if lot.size_mm is None else f"{lot.size_mm:.2f}"
    if lot.thickness_mm is not None:
        section += f" × {lot.thickness_mm:.2f}"
    length = "" if lot.length_mm is None else f"{lot.length_mm:.0f} mm"
    whose = f"{lot.owner}'s" if lot.owner else ""
    parts = [lot.code, f"{lot.shape} {section}".strip(), length, f"{lot.mass_g or 0:.2f} g", whose]
    return " · ".join(part for part in parts if part)
