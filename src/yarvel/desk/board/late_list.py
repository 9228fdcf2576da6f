"""Who is late by the plan, by how many days of the calendar, and both dates: a button that opens the list of all."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QMenu, QPushButton, QWidget

from yarvel.workshop.work.day_reading import DayPlan, Outcome


class LateButton(QPushButton):
    """Opens the list of everybody who is late; whoever is chosen there is chosen in the plan."""

    wished = Signal(int)
    """The key of the last task of a docket."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("board.late")
        self.list = QMenu(self)
        self.setMenu(self.list)
        self.hide()

    def show_for(self, plan: DayPlan) -> None:
        """All that are late, the latest first."""
        late = plan.late
        self.setVisible(bool(late))
        self.setText(f"{len(late)} late")
        self.list.clear()
        for outcome in late:
            keys = [bar.job.key for bar in plan.bars if bar.job.docket.id == outcome.docket.id]
            customer = f" · {outcome.docket.customer}" if outcome.docket.customer else ""
            text = f"{late_text(outcome)}{customer}".replace("&", "&&")
            self.list.addAction(text).triggered.connect(partial(self._wish, keys[-1]))

    def _wish(self, key: int) -> None:
        self.wished.emit(key)


def days_text(outcome: Outcome) -> str:
    """By how much a docket is late, in days of the calendar: a customer counts Sundays too."""
    promised = outcome.docket.promised
    days = outcome.late if promised is None else max((outcome.ready - promised).days, 1)
    return f"{days} day{'s' if days > 1 else ''}"


def late_text(outcome: Outcome) -> str:
    """A late docket with both dates."""
    promised = outcome.docket.promised
    when = "" if promised is None else f"promised {promised:%a %-d %b}, "
    return f"{outcome.docket.number} by {days_text(outcome)} ({when}ready {outcome.ready:%a %-d %b})"
