"""Station: hand over. Where the docket stands, and its bench sheet."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QPushButton, QWidget

from yarvel.desk.bench.stations import MISSING, Station
from yarvel.desk.bench.work import unticked
from yarvel.planning.calls.call import CAUTION, OK
from yarvel.workshop.dockets import STATES

READY, HANDED_OVER = "ready", "handed over"


class HandOverStation(Station):
    """The state of the docket, and the sheet to print."""

    TITLE = "Hand over"

    print_wanted = Signal()
    pdf_wanted = Signal()

    def build(self) -> None:
        """State, and the sheet's buttons."""
        self.choice("docket.state", "State", [(state, state.capitalize()) for state in STATES])
        self._open = self.remark()
        for text, signal in (("Print the bench sheet…", self.print_wanted), ("Bench sheet as PDF…", self.pdf_wanted)):
            button = QPushButton(text, self)
            button.clicked.connect(signal)
            self.column.addWidget(button)

    def _on_chosen(self, path: str, value: object) -> None:
        self.session.set_column("state", value)

    def chosen_value(self, path: str) -> object:
        """The docket's state."""
        return None if self.session.docket is None else self.session.docket.state

    def _still_open(self) -> list[str]:
        docket, plan = self.session.docket, self.session.plan
        return [] if docket is None or plan is None else unticked(plan, docket.ticks)

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
        if self.session.docket is None:
            return MISSING
        return CAUTION if self.chosen_value("") in (READY, HANDED_OVER) and self._still_open() else OK

    def first_field(self) -> QWidget | None:
        """The state."""
        return self.choices["docket.state"].combo
