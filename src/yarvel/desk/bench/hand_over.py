"""Station: hand over. Where the docket stands, and its bench sheet."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QGridLayout, QLineEdit, QPushButton, QWidget

from yarvel.desk.bench.stations import MISSING, Station
from yarvel.desk.bench.work import unticked
from yarvel.desk.widgets.fields import LABEL_WIDTH
from yarvel.desk.widgets.words import Line, Words
from yarvel.planning.calls.call import CAUTION, OK
from yarvel.workshop.dockets import HANDED_OVER, STATES

READY = "ready"


class HandOverStation(Station):
    """The state of the docket, and the sheet to print."""

    TITLE = "Hand over"

    print_wanted = Signal()
    pdf_wanted = Signal()

    def build(self) -> None:
        """State, and the sheet's buttons."""
        self.choice("docket.state", "State", [(state, state.capitalize()) for state in STATES])
        self._open = self.remark()
        self._release = QWidget(self)
        grid = QGridLayout(self._release)
        grid.setContentsMargins(0, 0, 0, 0)
        self.lines: dict[str, QLineEdit] = {}
        for row, (name, label) in enumerate((("released_by", "Released by"), ("release_reason", "Reason"))):
            edit = Line(self._release)
            edit.setObjectName(f"docket.{name}")
            edit.setAccessibleName(label)
            title = Words(label, self._release)
            title.setBuddy(edit)
            title.setMinimumWidth(LABEL_WIDTH)
            grid.addWidget(title, row, 0)
            grid.addWidget(edit, row, 1)
            edit.textEdited.connect(self._on_typed_release)
            self.lines[name] = edit
        self.release = QPushButton("Hand it over", self._release)
        self.release.setObjectName("docket.hand_over")
        self.release.clicked.connect(self._on_release)
        grid.addWidget(self.release, 2, 0, 1, 2)
        self.missing = Words(self._release)
        self.missing.setObjectName("docket.release_missing")
        self.missing.setProperty("problem", True)
        self.missing.setWordWrap(True)
        self.missing.hide()
        grid.addWidget(self.missing, 3, 0, 1, 2)
        self.column.addWidget(self._release)
        self._release.hide()
        for text, signal in (("Print the bench sheet…", self.print_wanted), ("Bench sheet as PDF…", self.pdf_wanted)):
            button = QPushButton(text, self)
            button.clicked.connect(signal)
            self.column.addWidget(button)

    def _on_chosen(self, path: str, value: object) -> None:
        """Any state but the last is set at once; handing over first asks who releases it, and why where checks are
        open."""
        leaving = value == HANDED_OVER and self.chosen_value("") != HANDED_OVER
        self._release.setVisible(leaving)
        if leaving:
            self.lines["release_reason"].setText("" if self._still_open() else "checked")
            signed = self.session.signed_name  # whoever signed in releases in that name and no other
            self.lines["released_by"].setText(signed or self.lines["released_by"].text())
            self.lines["released_by"].setReadOnly(bool(signed))
            self._on_typed_release()
            self.lines["release_reason" if signed else "released_by"].setFocus()
        else:
            self.session.set_column("state", value)

    def _on_typed_release(self) -> None:
        self.missing.hide()

    def _on_release(self) -> None:
        said = {name: edit.text().strip() for name, edit in self.lines.items()}
        empty = next((edit for edit in self.lines.values() if not edit.text().strip()), None)
        if empty is not None:
            self.missing.setText("Nothing leaves without a name and a reason: who, and why with checks open.")
            self.missing.show()
            empty.setFocus()
            return
        self.session.set_columns({**said, "state": HANDED_OVER})
        self._release.hide()

    def chosen_value(self, path: str) -> object:
        """The docket's state."""
        return None if self.session.docket is None else self.session.docket.state

    def _still_open(self) -> list[str]:
        docket, plan = self.session.docket, self.session.plan
        return [] if docket is None or plan is None else unticked(plan, docket.ticks, docket.measured)

    def refresh(self) -> None:
        """State, and what is still open when it says ready."""
        super().refresh()
        count = len(self._still_open())
        early = self.chosen_value("") in (READY, HANDED_OVER) and count
        self._open.setText(f"{count} checks are still open." if early else "")

    def telling(self) -> str:
        """The state."""
        return str(self.chosen_value("") or "no docket")

    def state(self) -> str:
        """Caution where it left, or is about to, with checks open."""
        if self.session.docket is None or (self.session.plan is None and self.chosen_value("") != HANDED_OVER):
            return MISSING
        return CAUTION if self.chosen_value("") in (READY, HANDED_OVER) and self._still_open() else OK

    def first_field(self) -> QWidget | None:
        """The state."""
        return self.choices["docket.state"].combo
