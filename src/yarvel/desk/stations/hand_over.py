"""Station: hand over. Where the docket stands, and its bench sheet."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QGridLayout, QLineEdit, QPushButton, QWidget

from yarvel.desk.stations.checks import unticked
from yarvel.desk.stations.leaving import Leaving
from yarvel.desk.stations.station import MISSING, Station
from yarvel.desk.widgets.fields import LABEL_WIDTH
from yarvel.desk.widgets.words import LineField, Words
from yarvel.planning.diagnostics.diagnostic import CAUTION, OK
from yarvel.route.checks import checks
from yarvel.workshop.dockets.records import HANDED_OVER, READY, STATES
from yarvel.workshop.dockets.release import CHECKED
from yarvel.workshop.leaving import LeftOpen


class HandOverStation(Station):
    """The state of the docket, and the sheet to print."""

    TITLE = "Hand over"

    print_wanted = Signal()
    pdf_wanted = Signal()
    open_asked = Signal(object)
    deeds_wanted = Signal(object, object)

    def build(self) -> None:
        """State, and the sheet's buttons."""
        self.choice("docket.state", "State", [(state, label.capitalize()) for state, label in STATES.items()])
        self._open = self.remark()
        self.leaving = Leaving(self)
        self.leaving.hide()
        self.column.addWidget(self.leaving)
        self._release = QWidget(self)
        grid = QGridLayout(self._release)
        grid.setContentsMargins(0, 0, 0, 0)
        self.lines: dict[str, QLineEdit] = {}
        for row, (name, label) in enumerate((("released_by", "Released by"), ("release_reason", "Reason"))):
            edit = LineField(self._release)
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
        for text, signal in (("Print the bench card…", self.print_wanted), ("Bench card as PDF…", self.pdf_wanted)):
            button = QPushButton(text, self)
            button.clicked.connect(signal)
            self.column.addWidget(button)

    def _on_chosen(self, path: str, value: object) -> None:
        """Any state but the last is set at once; handing over first shows what is still open and asks what becomes of
        it, who releases the piece, and why where checks are open."""
        leaving = value == HANDED_OVER and self.chosen_value("") != HANDED_OVER
        self._release.setVisible(leaving)
        self.leaving.setVisible(leaving)
        self.leaving.clear()
        if leaving:
            docket, still_open = self.session.docket, self._still_open()

            def show(found: LeftOpen) -> None:
                if docket is not None and self.session.docket is not None and self.session.docket.id == docket.id:
                    self.leaving.show_open(docket.number, still_open, found, self.session.rules)
                    by = self.lines["released_by"]
                    if len(found.people) == 1 and not by.text():  # who works alone need not say so
                        by.setText(found.people[0].name)

            if docket is not None:
                self.open_asked.emit(show)
            looked_at = docket is not None and bool(docket.ticks or docket.measured)
            self.lines["release_reason"].setText(CHECKED if looked_at and not still_open else "")
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
            self._miss("Nothing leaves without a name and a reason: who, and why with checks open.", empty)
            return
        unsaid = self.leaving.unanswered()
        if unsaid is not None:
            self._miss("What stays open behind a piece that has left needs a reason.", unsaid)
            return
        if not self.leaving.loaded:
            self._miss("What is still open is being looked up: a moment.", self.release)
            return
        docket = self.session.docket
        reasons = [*self.leaving.reasons()]
        values: dict[str, object] = {"released_by": said["released_by"], "state": HANDED_OVER}
        values["release_reason"] = "; ".join([said["release_reason"], *reasons])
        if self.leaving.ticks_checks and docket is not None and self.session.plan is not None:
            wanted = [check.mark for check in checks(self.session.plan) if check.mark not in docket.ticks]
            values["ticks"] = (*docket.ticks, *wanted)

        def then(refused: str) -> None:
            if refused:
                self._miss(refused, self.release)
                return
            self.session.set_columns(values)
            self._release.hide()
            self.leaving.hide()
            self.leaving.clear()

        self.deeds_wanted.emit(self.leaving.deeds(), then)

    def _miss(self, text: str, where: QWidget) -> None:
        self.missing.setText(text)
        self.missing.show()
        where.setFocus()

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
