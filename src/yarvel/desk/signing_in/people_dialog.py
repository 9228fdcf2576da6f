"""People: who works here, as what, with which skills; their PINs. What each role may do stands below."""

from __future__ import annotations

import difflib
from collections.abc import Callable, Mapping
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QAbstractItemView,
    QDialog,
    QGridLayout,
    QHBoxLayout,
    QPushButton,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from yarvel.desk.signing_in.sign_in_dialog import pin_field, result_of
from yarvel.desk.storing.asking import Ask
from yarvel.desk.storing.presses import Presses
from yarvel.desk.widgets.choice import Choice
from yarvel.desk.widgets.fields import mark_wrong
from yarvel.desk.widgets.manners import open_at
from yarvel.desk.widgets.plain_table import plain_table
from yarvel.desk.widgets.words import LineField, Words
from yarvel.workshop.people.person import Person
from yarvel.workshop.storage.rights import PEOPLE, ROLES, WHO_MAY
from yarvel.workshop.work.lacking import lacking
from yarvel.workshop.work.standards import SKILLS

if TYPE_CHECKING:
    from yarvel.workshop.store import Store


_HEADS = ("Name", "Role", "Skills", "Signs in")


class PeopleDialog(QDialog):
    """Every change goes to the store and comes back from there; what is refused is said below."""

    def __init__(self, ask: Ask, presses: Presses, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._ask, self._presses = ask, presses
        self._people: list[Person] = []
        self.setWindowTitle("People")
        open_at(self, 860, 620)
        self.rows = plain_table(self, _HEADS, "People")
        self.rows.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.name = LineField(self)
        self.role = Choice(self)
        for role, label in ROLES.items():
            self.role.addItem(label, role)
        self.skills = LineField(self)
        self.skills.setPlaceholderText(", ".join(SKILLS))
        self.pin, self.old = pin_field(self, "people.pin", "New PIN"), pin_field(self, "people.old", "Old PIN")
        for field, name, label in (
            (self.name, "people.name", "Name"),
            (self.role, "people.role", "Role"),
            (self.skills, "people.skills", "Skills"),
        ):
            field.setObjectName(name)
            field.setAccessibleName(label)
        self.told = Words(self)
        self._said = ""
        self.told.setObjectName("people.told")
        self.told.setWordWrap(True)
        self._lay_out()
        self.rows.itemSelectionChanged.connect(self._on_chosen)
        self.reload()

    def _lay_out(self) -> None:
        grid = QGridLayout()
        for column, (label, field) in enumerate((("Name", self.name), ("Role", self.role), ("Skills", self.skills))):
            grid.addWidget(Words(label, self), 0, column)
            grid.addWidget(field, 1, column)
        buttons = QHBoxLayout()
        for name, text, act in (
            ("add", "Somebody new", self._on_add),
            ("change", "Change", self._on_change),
            ("left", "Does not work here any more", self._on_left),
        ):
            buttons.addWidget(self._button(name, text, act))
        buttons.addStretch(1)
        pins = QHBoxLayout()
        for label, field in (("New PIN", self.pin), ("Old PIN, for your own", self.old)):
            pins.addWidget(Words(label, self))
            pins.addWidget(field)
        pins.addWidget(self._button("give", "Give the PIN", self._on_pin))
        may = QGridLayout()
        half = (len(WHO_MAY) + 1) // 2
        for number, (deed, roles) in enumerate(WHO_MAY.items()):
            line = Words(f"{deed[0].upper()}{deed[1:]}: {', '.join(roles)}", self)
            line.setProperty("quiet", True)
            line.setWordWrap(True)
            may.addWidget(line, number % half, number // half, Qt.AlignmentFlag.AlignTop)
        whole = QVBoxLayout(self)
        whole.addWidget(self.rows, 1)
        whole.addLayout(grid)
        whole.addLayout(buttons)
        whole.addLayout(pins)
        whole.addWidget(self.told)
        whole.addWidget(Words("Who may do what, once anybody has a PIN:", self))
        whole.addLayout(may)

    def _button(self, name: str, text: str, act: Callable[[], None]) -> QPushButton:
        button = QPushButton(text, self)
        button.setObjectName(f"people.{name}")
        button.setAutoDefault(False)
        button.clicked.connect(lambda _checked=False: act())
        return button

    def reload(self) -> None:
        """Ask the store who is here."""
        self._ask(lambda store: (store.people.all(), lacking(store)), self._show)

    def _show(self, found: tuple[list[Person], tuple[str, ...]]) -> None:
        people, nobody = found
        self._people = people
        self.told.setText(" ".join((*filter(None, (self._said,)), *nobody)))
        self.rows.setRowCount(len(people))
        for row, person in enumerate(people):
            texts = (person.name, ROLES[person.role], ", ".join(person.skills), "with a PIN" if person.has_pin else "–")
            for column, text in enumerate(texts):
                item = QTableWidgetItem(text)
                item.setData(Qt.ItemDataRole.UserRole, person.id)
                self.rows.setItem(row, column, item)
        self.rows.resizeColumnsToContents()

    def _chosen(self) -> Person | None:
        rows = {index.row() for index in self.rows.selectedIndexes()}
        return self._people[min(rows)] if rows else None

    def _meant(self) -> Person | None:
        """Whose name stands in the field: whoever presses a button reads that, not the row chosen before. None, told,
        where nobody is called so."""
        typed = self.name.text().strip()
        person = next((one for one in self._people if one.name.casefold() == typed.casefold()), None)
        mark_wrong(self.name, person is None and bool(typed))
        if person is None:
            nobody = f"Nobody here is called “{typed}”: choose a row, or “Somebody new” first."
            self.told.setText(nobody if typed else "Choose somebody above first.")
        return person

    def _on_chosen(self) -> None:
        person = self._chosen()
        if person is not None:
            self.name.setText(person.name)
            self.role.setCurrentIndex(self.role.findData(person.role))
            self.skills.setText(", ".join(person.skills))

    def _typed_skills(self) -> tuple[str, ...]:
        return tuple(skill.strip().casefold() for skill in self.skills.text().split(",") if skill.strip())

    def _skills_known(self) -> bool:
        """Whether some part of the work asks for each of them; what is meant is said where none does."""
        strange = [skill for skill in self._typed_skills() if skill not in SKILLS]
        mark_wrong(self.skills, bool(strange))
        if strange:
            near = difflib.get_close_matches(strange[0], SKILLS, 1)
            meant = f"; did you mean {near[0]}?" if near else ""
            self.told.setText(f"Skills: no work asks for “{strange[0]}”: {', '.join(SKILLS)}{meant}")
        return not strange

    def _do(self, what: Mapping[str, object] | None, work: Callable[[Store], object], done: str) -> None:
        """Have the store do something (once, where ``what`` names it), then say what became of it."""

        def answered(wrong: str) -> None:
            self._said = wrong or done
            self.told.setText(self._said)
            self.reload()

        pressed = work if what is None else self._presses.once(PEOPLE, what, work, lambda _store, _act: None)
        self._ask(result_of(pressed), answered)

    def _with_chosen(
        self, what: Mapping[str, object] | None, work: Callable[[Store, Person], object], done: str
    ) -> None:
        person = self._meant()
        if person is not None:
            named = None if what is None else {"of": person.id, **what}
            self._do(named, lambda store: work(store, person), f"{person.name}: {done}")

    def _on_add(self) -> None:
        if not self._skills_known():
            return
        name, role, skills = self.name.text(), str(self.role.currentData()), self._typed_skills()
        new = {"name": name, "role": role, "skills": skills}
        self._do(new, lambda store: store.people.add(name, role, skills), f"{name} is here.")

    def _on_change(self) -> None:
        if not self._skills_known():
            return
        role, skills = str(self.role.currentData()), self._typed_skills()
        self._with_chosen(
            {"role": role, "skills": skills},
            lambda store, person: store.people.change(person.id, role, skills),
            f"now {ROLES[role]}.",
        )

    def _on_left(self) -> None:
        self._with_chosen(
            {"left": True}, lambda store, person: store.people.left(person.id), "does not work here any more."
        )

    def _on_pin(self) -> None:
        pin, old = self.pin.text(), self.old.text()
        self._with_chosen(
            None,  # of a PIN nothing is kept here, not even a digest; given twice it is the same one
            lambda store, person: store.people.set_pin(person.id, pin, old),
            "signs in with a PIN.",
        )
        self.pin.clear()
        self.old.clear()
