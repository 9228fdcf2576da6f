"""A docket that is a repair says so over its sheet: the way out, the verdict, what was found."""

from __future__ import annotations

from PySide6.QtWidgets import QWidget

from yarvel.desk.session.session import Session
from yarvel.desk.widgets.words import Words
from yarvel.route.ways import repair_lines
from yarvel.workshop.work.docket_work import way_of, work_of


class RepairNotice(Words):
    """One line; hidden where nothing is repaired."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self._session = session
        self.setObjectName("repair.notice")
        self.setProperty("banner", True)
        self.setWordWrap(True)
        self.hide()
        session.plan_changed.connect(self.refresh)
        session.docket_changed.connect(self.refresh)

    def refresh(self) -> None:
        """Anew for the docket and plan in hand."""
        plan, docket = self._session.plan, self._session.docket
        lines: tuple[str, ...] = ()
        if plan is not None and docket is not None and way_of(docket):
            lines = repair_lines(work_of(plan, docket, self._session.rules).plan)
        self.setText(" ".join(lines))
        self.setVisible(bool(lines))
